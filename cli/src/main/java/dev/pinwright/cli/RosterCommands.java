package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;

import dev.pinwright.client.model.RosterChange;
import dev.pinwright.client.model.RosterDraft;
import dev.pinwright.client.model.RosterEntry;
import dev.pinwright.client.model.RosterImport;
import dev.pinwright.client.model.RosterImport.StateEnum;
import dev.pinwright.client.model.RosterImportDraft;
import dev.pinwright.client.model.RosterImportRowPage;
import dev.pinwright.client.model.RosterPage;
import dev.pinwright.client.model.SequencePage;
import dev.pinwright.client.model.TakeOver;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code roster}. */
@Command(
    name = "roster",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description = "Devices known before they arrive: list, add, import, export, withdraw, numbers.")
final class RosterCommands {
  private static final int SHOWN_FAULTS = 50;
  private final Context context;

  RosterCommands(Context context) {
    this.context = context;
  }

  private static String identifiers(RosterEntry e) {
    return Stream.of(e.getSerial(), e.getImei(), e.getAsset())
        .filter(Objects::nonNull)
        .collect(Collectors.joining(", "));
  }

  @Command(mixinStandardHelpOptions = true, description = "Lists the roster, newest first.")
  int list(
      @Parameters(arity = "0..1", defaultValue = "", description = "Any part of an identifier.")
          String words,
      @Option(names = "--state", defaultValue = "", description = "expected, arrived or withdrawn.")
          String state,
      @Mixin Paging paging) {
    RosterPage page =
        call(() -> context.client().intake().listRoster(words, state, paging.after, paging.limit));
    return context.list(
        page,
        page.getItems(),
        e ->
            new Object[] {
              identifiers(e),
              e.getName(),
              e.getPerson(),
              e.getUnit(),
              e.getState(),
              e.getProfile(),
              e.getSource()
            },
        "IDENTIFIERS",
        "NAME",
        "PERSON",
        "UNIT",
        "STATE",
        "PROFILE",
        "FROM");
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Puts one device on the roster.",
      footer = {"", "Example:", "  pinwright roster add --serial AR10-0042-7731 --unit VM-HAR"})
  int add(
      @Option(names = "--serial") @Nullable String serial,
      @Option(names = "--imei") @Nullable String imei,
      @Option(names = "--asset") @Nullable String asset,
      @Option(names = "--name") @Nullable String name,
      @Option(names = "--person") @Nullable String person,
      @Option(names = "--unit") @Nullable String unit,
      @Option(names = "--site") @Nullable String site,
      @Option(names = "--tag") @Nullable List<String> tags,
      @Option(names = "--profile") @Nullable String profile) {
    RosterDraft draft =
        new RosterDraft()
            .serial(serial)
            .imei(imei)
            .asset(asset)
            .name(name)
            .personId(person == null ? null : context.person(person).getId())
            .unitId(unit == null ? null : context.unit(unit).getId())
            .siteId(site == null ? null : context.site(site).getId())
            .tags(tags)
            .profileId(profile == null ? null : context.enrollmentProfile(profile).getId());
    RosterEntry e = call(() -> context.client().intake().addToRoster(draft));
    return context.print(
        e, () -> context.line("%s is %s.", identifiers(e), e.getState().getValue()));
  }

  @Command(
      name = "import",
      mixinStandardHelpOptions = true,
      description = {
        "Checks a sheet (CSV) and says row by row what is wrong; saves with --save.",
        "Columns: serial, imei, asset, name, person, unit, site, tags, profile."
      },
      footer = {
        "",
        "Examples:",
        "  pinwright roster import cart.csv",
        "  pinwright roster import cart.csv --column \"Inventory=asset\" --save --leave-out-faulty"
      })
  int read(
      @Parameters(paramLabel = "FILE") Path file,
      @Option(names = "--column", description = "HEADING=COLUMN, remembered for the next sheet.")
          @Nullable Map<String, String> columns,
      @Option(names = "--profile", description = "Of rows that name none.")
          @Nullable String profile,
      @Option(names = "--save", description = "Take the sound rows over.") boolean save,
      @Option(names = "--leave-out-faulty", description = "Save although some rows are faulty.")
          boolean leaveOut)
      throws IOException, InterruptedException {
    RosterImportDraft draft =
        new RosterImportDraft()
            .csv(Files.readString(file))
            .sheet(String.valueOf(file.getFileName()))
            .columns(columns)
            .profileId(profile == null ? null : context.enrollmentProfile(profile).getId());
    RosterImport sheet = call(() -> context.client().intake().checkRosterSheet(draft));
    while (sheet.getState() == StateEnum.CHECKING) {
      Thread.sleep(200);
      String id = sheet.getId();
      sheet = call(() -> context.client().intake().getRosterImport(id));
    }
    if (sheet.getState() == StateEnum.FAILED) {
      throw new Failure(Failure.REFUSED, sheet.getReason());
    }
    if (save) {
      String id = sheet.getId();
      sheet =
          call(
              () ->
                  context
                      .client()
                      .intake()
                      .takeOverRosterSheet(id, new TakeOver().leaveOutFaulty(leaveOut)));
    }
    RosterImport end = sheet;
    context.print(end, () -> told(end, save));
    return save || end.getFaulty() == 0 ? 0 : Failure.REFUSED;
  }

  private void told(RosterImport sheet, boolean saved) {
    context.line(
        "%d rows: %d sound (%d repaired), %d faulty. %s",
        sheet.getTotal(),
        sheet.getSound(),
        sheet.getRepaired(),
        sheet.getFaulty(),
        saved ? "Taken over." : "Nothing is saved yet; add --save.");
    if (sheet.getFaulty() > 0) {
      RosterImportRowPage rows =
          call(
              () ->
                  context
                      .client()
                      .intake()
                      .listRosterImportRows(sheet.getId(), "faulty", null, SHOWN_FAULTS));
      rows.getItems()
          .forEach(
              r -> context.line("  line %d: %s", r.getLine(), String.join("; ", r.getFaults())));
      if (rows.getNext() != null) {
        context.line("  and more; the first %d are shown.", SHOWN_FAULTS);
      }
    }
  }

  @Command(mixinStandardHelpOptions = true, description = "Writes the roster as a sheet (CSV).")
  int export(@Parameters(paramLabel = "FILE") Path file) throws IOException {
    return FileText.keep(context, call(() -> context.client().intake().getRosterSheet()), file);
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Withdraws rows that are still expected, by any part of an identifier.")
  int withdraw(@Parameters(paramLabel = "WORDS") String words) {
    Long n =
        call(
            () ->
                context
                    .client()
                    .intake()
                    .changeRoster(new RosterChange().q(words).state("expected").withdraw(true))
                    .getCount());
    context.line("%d rows withdrawn.", n);
    return 0;
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Shows running numbers in names, with those missing or doubled.")
  int numbers(@Mixin Paging paging) {
    SequencePage page =
        call(() -> context.client().intake().listSequences(paging.after, paging.limit));
    return context.list(
        page,
        page.getItems(),
        s ->
            new Object[] {
              s.getKey(),
              s.getLast(),
              s.getDevices(),
              String.join(", ", s.getMissing()),
              s.getDoubled().stream().map(String::valueOf).collect(Collectors.joining(", "))
            },
        "NAMES",
        "LAST",
        "DEVICES",
        "MISSING",
        "DOUBLED");
  }
}
