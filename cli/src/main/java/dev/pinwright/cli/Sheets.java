package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;
import static dev.pinwright.cli.Context.counted;

import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.Rehearsal;
import dev.pinwright.client.model.SheetReport;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Sheets of devices, units, sites and people, taken in. */
final class Sheets {
  private Sheets() {}

  /** A call that takes a sheet in. */
  interface Taking {
    SheetReport take(String rows, boolean save) throws ApiException;
  }

  /** Checks a sheet, and takes it over when it is to be saved and sound. */
  static int in(Context context, Path file, boolean save, Taking taking) {
    String rows = FileText.read(file, "rows");
    SheetReport r = call(() -> taking.take(rows, save));
    context.print(
        r,
        () -> {
          List<String> what = new ArrayList<>();
          if (r.getAdded() > 0) {
            what.add(r.getAdded() + (r.getSaved() ? " added" : " would be added"));
          }
          what.add(r.getChanged() + (r.getSaved() ? " changed" : " would be changed"));
          if (!r.getFaults().isEmpty()) {
            what.add(r.getFaults().size() + " faulty");
          }
          context.line("%s: %s.", counted(r.getRows(), "row"), String.join(", ", what));
          Rehearsal rehearsal = r.getRehearsal();
          if (rehearsal != null) {
            context.line(
                "Other settings %s %s: %d gain, %d change, %d lose.",
                r.getSaved() ? "go to" : "would go to",
                counted(rehearsal.getChanging(), "device"),
                rehearsal.getGain(),
                rehearsal.getChange(),
                rehearsal.getLose());
          }
          r.getFaults().forEach(f -> context.line("  line %d: %s", f.getLine(), f.getFault()));
          if (!r.getSaved()) {
            context.line(
                "Nothing is saved yet%s.", save ? "" : "; add --save" + confirm(rehearsal));
          }
        });
    return r.getFaults().isEmpty() ? 0 : Failure.REFUSED;
  }

  private static String confirm(@Nullable Rehearsal rehearsal) {
    return rehearsal == null || rehearsal.getConfirmDevices() == null
        ? ""
        : " --confirm " + rehearsal.getConfirmDevices();
  }
}
