package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;

import dev.pinwright.client.model.Rehearsal;
import dev.pinwright.client.model.Unit;
import dev.pinwright.client.model.UnitDraft;
import dev.pinwright.client.model.UnitMove;
import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code unit}. A unit is named by its code. */
@Command(
    name = "unit",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description = "The organisation tree: list, add, rename, move, delete, export, import.")
final class UnitCommands {
  private final Context context;

  UnitCommands(Context context) {
    this.context = context;
  }

  @Command(mixinStandardHelpOptions = true, description = "Shows the tree.")
  int list() {
    List<Unit> units = call(() -> context.client().organisation().listUnits());
    return context.list(
        units,
        units,
        u ->
            new Object[] {
              "  ".repeat(u.getDepth()) + u.getCode(), u.getName(), u.getDevices(), u.getPeople()
            },
        "UNIT",
        "NAME",
        "DEVICES",
        "PEOPLE");
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Makes a unit. Its code never changes.",
      footer = {"", "Example:", "  pinwright unit add VM-HAR \"Harbour Museum\" --in VM"})
  int add(
      @Parameters(paramLabel = "CODE") String code,
      @Parameters(paramLabel = "NAME") String name,
      @Option(names = "--in", description = "Code of the unit it lies in.")
          @Nullable String parent) {
    String parentId = parent == null ? null : context.unit(parent).getId();
    Unit u =
        call(
            () ->
                context
                    .client()
                    .organisation()
                    .addUnit(new UnitDraft().code(code).name(name).parentId(parentId)));
    return context.print(u, () -> context.line("Unit %s made.", u.getCode()));
  }

  @Command(mixinStandardHelpOptions = true, description = "Gives a unit another name.")
  int rename(
      @Parameters(paramLabel = "CODE") String code, @Parameters(paramLabel = "NAME") String name) {
    Unit u = context.unit(code);
    Unit now =
        call(
            () ->
                context
                    .client()
                    .organisation()
                    .renameUnit(
                        u.getId(), Context.onVersion(u.getVersion()), new UnitDraft().name(name)));
    return context.print(now, () -> context.line("%s is %s.", now.getCode(), now.getName()));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Moves a unit with all that is in it.",
      footer = {"", "Example:", "  pinwright unit move VM-TEX --in VM --dry-run"})
  int move(
      @Parameters(paramLabel = "CODE") String code,
      @Option(names = "--in", description = "Code of its new parent; the top without.")
          @Nullable String parent,
      @Option(names = "--dry-run", description = "Only say what it would do.") boolean dryRun,
      @Option(names = "--confirm", description = "The number of devices, where it is asked for.")
          @Nullable Long confirm) {
    Unit u = context.unit(code);
    String parentId = parent == null ? null : context.unit(parent).getId();
    UnitMove move = new UnitMove().parentId(parentId).confirmDevices(confirm);
    if (dryRun) {
      Rehearsal r = call(() -> context.client().organisation().rehearseUnitMove(u.getId(), move));
      return context.print(
          r,
          () ->
              context.line(
                  "%d of %d devices change: %d gain, %d change, %d lose.",
                  r.getChanging(), r.getDevices(), r.getGain(), r.getChange(), r.getLose()));
    }
    Unit now =
        call(
            () ->
                context
                    .client()
                    .organisation()
                    .moveUnit(u.getId(), Context.onVersion(u.getVersion()), move));
    return context.print(now, () -> context.line("%s moved.", now.getCode()));
  }

  @Command(mixinStandardHelpOptions = true, description = "Deletes a unit nothing is in.")
  int delete(@Parameters(paramLabel = "CODE") String code) {
    Unit u = context.unit(code);
    Context.act(
        () ->
            context
                .client()
                .organisation()
                .deleteUnit(u.getId(), Context.onVersion(u.getVersion())));
    context.line("Unit %s deleted.", u.getCode());
    return 0;
  }

  @Command(mixinStandardHelpOptions = true, description = "Writes the sheet of all units.")
  int export(@Parameters(paramLabel = "FILE") Path file) throws IOException {
    return FileText.keep(context, call(() -> context.client().organisation().exportUnits()), file);
  }

  @Command(
      name = "import",
      mixinStandardHelpOptions = true,
      description = "Checks a sheet of units; takes it over with --save.")
  int take(@Parameters(paramLabel = "FILE") Path file, @Option(names = "--save") boolean save)
      throws IOException {
    return Sheets.in(
        context,
        file,
        save,
        (rows, keep) -> context.client().organisation().importUnits(rows, keep, null, null));
  }
}
