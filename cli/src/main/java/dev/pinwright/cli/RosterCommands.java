package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;

import dev.pinwright.client.model.RosterChange;
import dev.pinwright.client.model.RosterChange.BecomesEnum;
import dev.pinwright.client.model.RosterColumns;
import dev.pinwright.client.model.RosterDraft;
import dev.pinwright.client.model.RosterEntry;
import dev.pinwright.client.model.RosterImport;
import dev.pinwright.client.model.RosterImport.StateEnum;
import dev.pinwright.client.model.RosterImportRow;
import dev.pinwright.client.model.RosterImportRowPage;
import dev.pinwright.client.model.RosterPage;
import dev.pinwright.client.model.RosterState;
import dev.pinwright.client.model.SequencePage;
import dev.pinwright.client.model.TakeOver;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.function.Function;
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
    description =
        "Devices known before they arrive: list, add, change, import, export, bar, withdraw, numbers.")
final class RosterCommands {
  private static final int SHOWN_ROWS = 50;
  private static final int SAYING = 10;
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
      @Option(names = "--state", description = "expected, arrived, withdrawn or barred.")
          @Nullable RosterState state,
      @Option(names = "--waiting-days", description = "On file longer ago than so many days.")
          @Nullable Integer waiting,
      @Mixin Paging paging) {
    RosterPage page =
        call(
            () ->
                context
                    .client()
                    .intake()
                    .listRoster(words, null, state, waiting, paging.after, paging.limit));
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
      throws InterruptedException {
    String rows = FileText.read(file, "rows");
    String profileId = profile == null ? null : context.enrollmentProfile(profile).getId();
    String name = String.valueOf(file.getFileName());
    RosterImport sheet =
        call(() -> context.client().intake().checkRosterSheet(rows, name, profileId));
    String id = sheet.getId();
    if (columns != null) {
      RosterColumns said = new RosterColumns().columns(columns);
      sheet = call(() -> context.client().intake().matchRosterSheet(id, said));
    }
    if (sheet.getState() == StateEnum.UNMATCHED) {
      throw new Failure(
          Failure.REFUSED,
          sheet.getReason()
              + " Add --column HEADING=COLUMN; the headings are "
              + String.join(", ", sheet.getColumns().keySet())
              + ".");
    }
    sheet = checked(id, sheet);
    if (sheet.getState() == StateEnum.FAILED) {
      throw new Failure(Failure.REFUSED, sheet.getReason());
    }
    if (save) {
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

  /** Waits until a sheet is checked, and says how far it is where that takes long. */
  private RosterImport checked(String id, RosterImport begun) throws InterruptedException {
    RosterImport sheet = begun;
    int said = 0;
    for (int looks = 1; sheet.getState() == StateEnum.CHECKING; looks++) {
      Thread.sleep(200);
      if (looks % SAYING == 0 && sheet.getDone() > said) {
        said = sheet.getDone();
        context.progress("Checking: %d of %d rows", said, sheet.getTotal());
      }
      sheet = call(() -> context.client().intake().getRosterImport(id));
    }
    return sheet;
  }

  private void told(RosterImport sheet, boolean saved) {
    context.line(
        "%d rows: %d new, %d changed, %d as they are; %d faulty. %s",
        sheet.getTotal(),
        sheet.getAdded(),
        sheet.getChanged(),
        sheet.getSound() - sheet.getAdded() - sheet.getChanged(),
        sheet.getFaulty(),
        saved ? "Taken over." : "Nothing is saved yet; add --save.");
    if (!saved) {
      shown(sheet, "changed", RosterImportRow::getNotes);
    }
    shown(sheet, "faulty", RosterImportRow::getFaults);
  }

  private void shown(
      RosterImport sheet, String only, Function<RosterImportRow, List<String>> what) {
    RosterImportRowPage rows =
        call(
            () ->
                context
                    .client()
                    .intake()
                    .listRosterImportRows(sheet.getId(), only, null, SHOWN_ROWS));
    rows.getItems()
        .forEach(r -> context.line("  line %d: %s", r.getLine(), String.join("; ", what.apply(r))));
    if (rows.getNext() != null) {
      context.line("  and more; the first %d are shown.", SHOWN_ROWS);
    }
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Writes the roster, or the rows that match, as a sheet (CSV).")
  int export(
      @Parameters(paramLabel = "FILE") Path file,
      @Parameters(arity = "0..1", defaultValue = "", description = "Any part of an identifier.")
          String words,
      @Option(names = "--state", description = "expected, arrived, withdrawn or barred.")
          @Nullable RosterState state,
      @Option(names = "--waiting-days", description = "On file longer ago than so many days.")
          @Nullable Integer waiting) {
    return FileText.keep(
        context,
        call(() -> context.client().intake().getRosterSheet(words, null, state, waiting)),
        file);
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Corrects a row; \"\" takes away what is there.",
      footer = {"", "Example:", "  pinwright roster change AR10-0042-7731 --unit VM-CAFE"})
  int change(
      @Parameters(paramLabel = "IDENTIFIER") String identifier,
      @Option(names = "--serial") @Nullable String serial,
      @Option(names = "--imei") @Nullable String imei,
      @Option(names = "--asset") @Nullable String asset,
      @Option(names = "--name") @Nullable String name,
      @Option(names = "--person") @Nullable String person,
      @Option(names = "--unit") @Nullable String unit,
      @Option(names = "--site") @Nullable String site,
      @Option(names = "--tag") @Nullable List<String> tags,
      @Option(names = "--profile") @Nullable String profile) {
    RosterEntry e = row(identifier);
    RosterDraft draft =
        new RosterDraft()
            .serial(or(serial, e.getSerial()))
            .imei(or(imei, e.getImei()))
            .asset(or(asset, e.getAsset()))
            .name(or(name, e.getName()))
            .personId(id(person, e.getPersonId(), p -> context.person(p).getId()))
            .unitId(id(unit, e.getUnitId(), u -> context.unit(u).getId()))
            .siteId(id(site, e.getSiteId(), w -> context.site(w).getId()))
            .tags(tags == null ? e.getTags() : tags.stream().filter(t -> !t.isEmpty()).toList())
            .profileId(id(profile, e.getProfileId(), p -> context.enrollmentProfile(p).getId()))
            .barred(e.getState() == RosterState.BARRED);
    RosterEntry after =
        call(
            () ->
                context
                    .client()
                    .intake()
                    .changeRosterEntry(e.getId(), Context.onVersion(e.getVersion()), draft));
    return context.print(after, () -> context.line("%s changed.", identifiers(after)));
  }

  private static @Nullable String or(@Nullable String given, @Nullable String before) {
    return given == null ? before : given;
  }

  private static @Nullable String id(
      @Nullable String given, @Nullable String before, Function<String, String> of) {
    return given == null ? before : given.isEmpty() ? null : of.apply(given);
  }

  /** The row that has this identifier; one in force before those withdrawn. */
  private RosterEntry row(String identifier) {
    List<RosterEntry> rows =
        call(() -> context.client().intake().listRoster(null, identifier, null, null, null, 50))
            .getItems();
    return rows.stream()
        .filter(e -> e.getState() != RosterState.WITHDRAWN)
        .findFirst()
        .or(() -> rows.stream().findFirst())
        .orElseThrow(() -> new Failure(Failure.REFUSED, identifier + " is not on the roster."));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Takes a row off the roster; a device that came by it stays.")
  int delete(@Parameters(paramLabel = "IDENTIFIER") String identifier) {
    RosterEntry e = row(identifier);
    Context.act(
        () ->
            context
                .client()
                .intake()
                .deleteRosterEntry(e.getId(), Context.onVersion(e.getVersion())));
    context.line("%s taken off the roster.", identifiers(e));
    return 0;
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Bars devices: they are let in by no way. Those not listed are put on it.",
      footer = {"", "Example:", "  pinwright roster bar AR10-0042-7731"})
  int bar(@Parameters(paramLabel = "SERIAL", arity = "1..*") List<String> serials) {
    for (String serial : serials) {
      List<RosterEntry> rows =
          call(() -> context.client().intake().listRoster(null, serial, null, null, null, 50))
              .getItems();
      if (rows.isEmpty()) {
        call(
            () ->
                context
                    .client()
                    .intake()
                    .addToRoster(new RosterDraft().serial(serial).barred(true)));
      } else {
        become(List.of(row(serial).getId()), BecomesEnum.BARRED);
      }
      context.line("%s is barred.", serial);
    }
    return 0;
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Expects rows again that were barred or withdrawn.")
  int expect(@Parameters(paramLabel = "IDENTIFIER", arity = "1..*") List<String> identifiers) {
    become(identifiers.stream().map(i -> row(i).getId()).toList(), BecomesEnum.EXPECTED);
    context.line("%s expected again.", String.join(", ", identifiers));
    return 0;
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Withdraws rows: it is as if they were not there.")
  int withdraw(@Parameters(paramLabel = "IDENTIFIER", arity = "1..*") List<String> identifiers) {
    Long n = become(identifiers.stream().map(i -> row(i).getId()).toList(), BecomesEnum.WITHDRAWN);
    context.line("%d %s withdrawn.", n, n == 1 ? "row" : "rows");
    return 0;
  }

  private Long become(List<String> ids, BecomesEnum state) {
    return call(
        () ->
            context
                .client()
                .intake()
                .changeRoster(new RosterChange().ids(ids).becomes(state))
                .getCount());
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
