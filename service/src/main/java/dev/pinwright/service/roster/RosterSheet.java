package dev.pinwright.service.roster;

import dev.pinwright.core.Words;
import dev.pinwright.core.sheet.Row;
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

  /** Writes every row that matches, portion by portion; the roster is never held whole. */
  public static void write(Roster roster, Caller caller, Roster.Filter filter, OutputStream to)
      throws IOException {
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
          filter,
          e -> {
            try {
              sheet.printRecord(
                  e.serial().orElse(""),
                  e.imei().orElse(""),
                  e.asset().orElse(""),
                  Row.inert(e.name()),
                  Row.inert(e.personLogin().or(e::person).orElse("")),
                  e.unit().orElse(""),
                  Row.inert(e.site().orElse("")),
                  Row.inert(String.join(";", e.tags())),
                  Row.inert(e.profile().orElse("")),
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
