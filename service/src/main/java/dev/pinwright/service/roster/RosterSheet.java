package dev.pinwright.service.roster;

import dev.pinwright.core.Words;
import dev.pinwright.service.sheet.Sheet;
import dev.pinwright.service.work.Caller;
import java.io.IOException;
import java.io.OutputStream;
import java.io.OutputStreamWriter;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;

/** The roster as a sheet, with headings an import reads again (RFC 4180). */
public final class RosterSheet {
  private RosterSheet() {}

  /** Writes every row, portion by portion; the roster is never held whole. */
  public static void write(Roster roster, Caller caller, OutputStream to) throws IOException {
    CSVFormat format =
        CSVFormat.RFC4180
            .builder()
            .setHeader(
                "serial", "imei", "asset", "name", "person", "unit", "site", "tags", "profile",
                "state")
            .get();
    CSVPrinter sheet = new CSVPrinter(new OutputStreamWriter(to, StandardCharsets.UTF_8), format);
    try {
      roster.export(
          caller,
          e -> {
            try {
              sheet.printRecord(
                  e.serial().orElse(""),
                  e.imei().orElse(""),
                  e.asset().orElse(""),
                  Sheet.inert(e.name()),
                  Sheet.inert(e.person().orElse("")),
                  e.unit().orElse(""),
                  Sheet.inert(e.site().orElse("")),
                  Sheet.inert(String.join(";", e.tags())),
                  Sheet.inert(e.profile().orElse("")),
                  Words.of(e.state()));
            } catch (IOException x) {
              throw new UncheckedIOException(x);
            }
          });
    } catch (UncheckedIOException x) {
      throw x.getCause();
    }
    sheet.flush();
  }
}
