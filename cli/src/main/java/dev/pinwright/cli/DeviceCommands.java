package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;
import static dev.pinwright.cli.Context.time;

import dev.pinwright.client.api.DevicesApi.APIListDevicesRequest;
import dev.pinwright.client.api.OrganisationApi.APIExportDevicesRequest;
import dev.pinwright.client.model.ActivityPage;
import dev.pinwright.client.model.Cancelled;
import dev.pinwright.client.model.Change;
import dev.pinwright.client.model.CommandPage;
import dev.pinwright.client.model.DeviceChange;
import dev.pinwright.client.model.DeviceDetail;
import dev.pinwright.client.model.DeviceEdit;
import dev.pinwright.client.model.DeviceFilter;
import dev.pinwright.client.model.DevicePage;
import dev.pinwright.client.model.DeviceQueue;
import dev.pinwright.client.model.DeviceSettings;
import dev.pinwright.client.model.DeviceSummary;
import dev.pinwright.client.model.ExitCode;
import dev.pinwright.client.model.Placement;
import dev.pinwright.client.model.PositionPage;
import dev.pinwright.client.model.QueueOrder;
import dev.pinwright.client.model.Reason;
import dev.pinwright.client.model.RecoveryKey;
import dev.pinwright.client.model.RecoveryKeyKnown;
import dev.pinwright.client.model.RecoveryKeyWanted;
import dev.pinwright.client.model.Replacement;
import dev.pinwright.client.model.TagList;
import dev.pinwright.client.model.TrailWanted;
import java.io.IOException;
import java.nio.file.Path;
import java.time.OffsetDateTime;
import java.util.List;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code device}. A device is named by its name, serial number, IMEI or id. */
@Command(
    name = "device",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description = {
      "Devices: list, show, place, settings, activity, commands, cancel, rename, tag,",
      "exit-code, recovery-key, trail, retire, edit, export, import."
    })
final class DeviceCommands {
  private final Context context;

  DeviceCommands(Context context) {
    this.context = context;
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Lists devices.",
      footer = {"", "Example:", "  pinwright device list --standing blocked --platform tarn"})
  int list(
      @Parameters(arity = "0..1", description = "Words in name, serial, IMEI or model.")
          @Nullable String words,
      @Mixin FilterOptions filter,
      @Option(names = "--sort", defaultValue = "name", description = "name, last-seen or enrolled.")
          String sort,
      @Mixin Paging paging) {
    DeviceFilter f = filter.given(context);
    APIListDevicesRequest.Builder asked =
        APIListDevicesRequest.newBuilder()
            .q(words == null ? f.getQ() : words)
            .platform(f.getPlatform())
            .standing(f.getStanding())
            .mode(f.getMode())
            .ownership(f.getOwnership())
            .tag(f.getTag())
            .group(f.getGroup())
            .unit(f.getUnit())
            .site(f.getSite())
            .person(f.getPerson())
            .attribute(f.getAttributes())
            .rule(f.getRule())
            .profile(f.getProfile())
            .termsBelow(f.getTermsBelow())
            .sort(sort)
            .retired(filter.retired)
            .after(paging.after)
            .limit(paging.limit);
    DevicePage page = call(() -> context.client().devices().listDevices(asked.build()));
    if (filter.retired) {
      return context.list(
          page,
          page.getItems(),
          d ->
              new Object[] {
                d.getName(),
                d.getMaker() + " " + d.getModel(),
                d.getSerial(),
                time(d.getRetired().getAt()),
                d.getStandingReason(),
                d.getRetired().getBy(),
                d.getRetired().getLetGoAt() == null
                    ? "not heard yet"
                    : time(d.getRetired().getLetGoAt())
              },
          "NAME",
          "MODEL",
          "SERIAL",
          "RETIRED",
          "BECAUSE",
          "BY",
          "LET GO");
    }
    return context.list(
        page,
        page.getItems(),
        d ->
            new Object[] {
              d.getName(),
              d.getMaker() + " " + d.getModel(),
              d.getPlatform() + " " + d.getOsVersion(),
              d.getMode(),
              d.getStanding(),
              d.getStandingReason(),
              d.getBattery() == null ? "" : d.getBattery() + " %",
              time(d.getLastSeen())
            },
        "NAME",
        "MODEL",
        "OS",
        "MODE",
        "STANDING",
        "WHY",
        "BATTERY",
        "LAST SEEN");
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Says where a device belongs and who holds it; what is left out is taken away.",
      footer = {
        "",
        "Example:",
        "  pinwright device place \"Kiosk 007\" --unit VM-HAR --person ines"
      })
  int place(
      @Parameters(paramLabel = "DEVICE") String device,
      @Option(names = "--unit") @Nullable String unit,
      @Option(names = "--site") @Nullable String site,
      @Option(names = "--person") @Nullable String person) {
    DeviceDetail before = detail(device);
    Placement placement =
        new Placement()
            .unitId(unit == null ? null : context.unit(unit).getId())
            .siteId(site == null ? null : context.site(site).getId())
            .personId(person == null ? null : context.person(person).getId());
    DeviceDetail d =
        call(
            () ->
                context
                    .client()
                    .devices()
                    .placeDevice(
                        before.getDevice().getId(),
                        Context.onVersion(before.getVersion()),
                        placement));
    return context.print(d, () -> card(d));
  }

  @Command(mixinStandardHelpOptions = true, description = "Shows one device.")
  int show(@Parameters(paramLabel = "DEVICE") String device) {
    DeviceDetail d = detail(device);
    return context.print(d, () -> card(d));
  }

  private DeviceDetail detail(String device) {
    String id = context.device(device).getId();
    return call(() -> context.client().devices().getDevice(id));
  }

  private Table card(DeviceDetail d) {
    DeviceSummary s = d.getDevice();
    Table t =
        new Table(s.getName(), "")
            .row("id", s.getId())
            .row(
                "standing",
                s.getStanding()
                    + (s.getStandingReason().isEmpty() ? "" : ": " + s.getStandingReason())
                    + ", since "
                    + time(d.getStandingSince()))
            .row("checks", s.getOrder())
            .row("model", s.getMaker() + " " + s.getModel() + ", " + s.getKind())
            .row("system", s.getPlatform() + " " + s.getOsVersion())
            .row("ownership, mode", s.getOwnership() + ", " + s.getMode())
            .row("serial", s.getSerial())
            .row("IMEI", s.getImei())
            .row("unit", s.getUnit())
            .row("site", s.getSite())
            .row("held by", s.getPerson())
            .row("joined by", d.getEnrollmentProfile())
            .row("joined", time(s.getEnrolledAt()))
            .row("last seen", time(s.getLastSeen()))
            .row("tags", String.join(", ", s.getTags()))
            .row(
                "attributes",
                s.getAttributes().entrySet().stream()
                    .map(a -> a.getKey() + " " + a.getValue())
                    .collect(Collectors.joining(", ")))
            .row(
                "groups",
                d.getGroups().stream().map(g -> g.getName()).collect(Collectors.joining(", ")));
    d.getFacts().forEach(f -> t.row(f.getTitle(), f.getWords()));
    d.getRefused().forEach(r -> t.row("refused", r.getTitle() + ": " + r.getReason()));
    return t;
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Shows the settings in effect, where each comes from and what it overruled.",
      footer = {
        "",
        "Examples:",
        "  pinwright device settings \"VM-HAR kiosk 003\"",
        "  pinwright device settings \"VM-HAR kiosk 003\" --in-group \"Dome screens\""
      })
  int settings(
      @Parameters(paramLabel = "DEVICE") String device,
      @Option(
              names = "--in-group",
              paramLabel = "GROUP",
              description = "As they would be if it were in this group besides; may be repeated.")
          @Nullable List<String> inGroup) {
    String id = context.device(device).getId();
    List<String> groups =
        inGroup == null ? null : inGroup.stream().map(g -> context.group(g).getId()).toList();
    DeviceSettings s = call(() -> context.client().devices().getDeviceSettings(id, groups));
    return context.print(
        s,
        () -> {
          Table t = new Table("SETTING", "VALUE", "FROM", "OVERRULED");
          s.getInEffect()
              .forEach(
                  e ->
                      t.row(
                          e.getSetting(),
                          e.getRefused() == null
                              ? e.getWords()
                              : e.getWords() + " (refused: " + e.getRefused() + ")",
                          e.getFrom().stream()
                              .map(f -> f.getProfile() + " v" + f.getVersion())
                              .collect(Collectors.joining(", ")),
                          e.getOverruled().stream()
                              .map(
                                  o ->
                                      o.getFrom().getProfile()
                                          + " "
                                          + o.getWords()
                                          + ": "
                                          + o.getReason())
                              .collect(Collectors.joining("; "))));
          s.getUnavailable()
              .forEach(
                  u -> t.row(u.getSetting(), "cannot", u.getFrom().getProfile(), u.getReason()));
          return t;
        });
  }

  @Command(mixinStandardHelpOptions = true, description = "Shows what happened to a device.")
  int activity(@Parameters(paramLabel = "DEVICE") String device, @Mixin Paging paging) {
    String id = context.device(device).getId();
    ActivityPage page =
        call(() -> context.client().devices().getDeviceActivity(id, paging.after, paging.limit));
    return context.print(
        page,
        () -> {
          Table t = new Table("WHEN", "WHAT", "");
          page.getItems().forEach(a -> t.row(time(a.getAt()), a.getKind(), a.getText()));
          return t;
        });
  }

  @Command(mixinStandardHelpOptions = true, description = "Lists a device's commands.")
  int commands(@Parameters(paramLabel = "DEVICE") String device, @Mixin Paging paging) {
    String id = context.device(device).getId();
    CommandPage page =
        call(() -> context.client().devices().getDeviceCommands(id, paging.after, paging.limit));
    return context.print(page, () -> DispatchCommands.table(page));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Shows what waits for a device; puts it in order, or cancels all of it.")
  int queue(
      @Parameters(paramLabel = "DEVICE") String device,
      @Option(
              names = "--first",
              split = ",",
              paramLabel = "COMMAND-ID",
              description = "These are handed over first, in this order.")
          @Nullable List<String> first,
      @Option(names = "--clear", description = "Cancels all of it.") boolean clear) {
    String id = context.device(device).getId();
    if (clear) {
      Cancelled c = call(() -> context.client().acting().clearQueue(id));
      return context.print(
          c, () -> context.line("%s cancelled.", Context.counted(c.getCancelled(), "command")));
    }
    DeviceQueue queue =
        call(
            () ->
                first == null
                    ? context.client().acting().getQueue(id)
                    : context.client().acting().arrangeQueue(id, new QueueOrder().commands(first)));
    return context.print(
        queue,
        () -> {
          Table t = new Table("PLACE", "COMMAND", "ID");
          for (int i = 0; i < queue.getItems().size(); i++) {
            t.row(i + 1, queue.getItems().get(i).getCommand(), queue.getItems().get(i).getId());
          }
          return t;
        });
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Cancels a command that has not been delivered yet.")
  int cancel(@Parameters(paramLabel = "COMMAND-ID") String id) {
    Context.act(() -> context.client().acting().cancelCommand(id));
    context.line("Cancelled.");
    return 0;
  }

  @Command(mixinStandardHelpOptions = true, description = "Renames a device.")
  int rename(
      @Parameters(paramLabel = "DEVICE") String device,
      @Parameters(paramLabel = "NAME") String name) {
    DeviceDetail before = detail(device);
    DeviceDetail d =
        call(
            () ->
                context
                    .client()
                    .devices()
                    .changeDevice(
                        before.getDevice().getId(),
                        Context.onVersion(before.getVersion()),
                        new DeviceChange().name(name)));
    return context.print(d, () -> context.line("Now called %s.", d.getDevice().getName()));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Gives a device exactly these tags.",
      footer = {"", "Example:", "  pinwright device tag AR10-0042-7731 gallery quay"})
  int tag(
      @Parameters(paramLabel = "DEVICE") String device,
      @Parameters(paramLabel = "TAG", arity = "0..*") List<String> tags) {
    DeviceDetail before = detail(device);
    DeviceDetail d =
        call(
            () ->
                context
                    .client()
                    .devices()
                    .tagDevice(
                        before.getDevice().getId(),
                        Context.onVersion(before.getVersion()),
                        new TagList().tags(tags == null ? List.of() : tags)));
    return context.print(
        d, () -> context.line("Tags: %s", String.join(", ", d.getDevice().getTags())));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Stops managing a device; its record stays on file.")
  int retire(
      @Parameters(paramLabel = "DEVICE") String device,
      @Option(names = "--reason", required = true) String reason) {
    DeviceSummary d = context.device(device);
    Context.act(
        () -> context.client().devices().retireDevice(d.getId(), new Reason().reason(reason)));
    context.line("%s is retired.", d.getName());
    return 0;
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = {
        "Lets another device take the place of one, which is retired: its name, unit, site,",
        "holder, groups and tags."
      },
      footer = {
        "",
        "Example:",
        "  pinwright device replace \"Quay door\" AR10-0042-7731 --reason \"broken screen\""
      })
  int replace(
      @Parameters(paramLabel = "DEVICE") String device,
      @Parameters(paramLabel = "BY") String by,
      @Option(names = "--reason", required = true) String reason) {
    DeviceSummary old = context.device(device);
    Replacement order = new Replacement().by(context.device(by).getId()).reason(reason);
    Change change = call(() -> context.client().devices().replaceDevice(old.getId(), order));
    return context.print(change, () -> context.line("%s is another device now.", old.getName()));
  }

  @Command(
      name = "recovery-key",
      mixinStandardHelpOptions = true,
      description = {
        "Shows the key that opens the disk of a laptop; it makes another.",
        "Without a reason it says only what is known of the key."
      },
      footer = {
        "",
        "Example:",
        "  pinwright device recovery-key \"VM laptop 08\" --reason \"forgotten passcode\""
      })
  int recoveryKey(
      @Parameters(paramLabel = "DEVICE") String device,
      @Option(names = "--reason", description = "Why it has to be seen.") @Nullable String reason) {
    String id = context.device(device).getId();
    if (reason == null) {
      RecoveryKeyKnown known = call(() -> context.client().devices().getRecoveryKey(id));
      return context.print(
          known,
          () ->
              context.line(
                  known.getNumber() == null
                      ? "It has handed in no key."
                      : "Key "
                          + known.getNumber()
                          + " is kept since "
                          + time(known.getReceivedAt())
                          + "; add --reason to see it."));
    }
    RecoveryKey key =
        call(
            () ->
                context
                    .client()
                    .devices()
                    .showRecoveryKey(id, new RecoveryKeyWanted().reason(reason)));
    return context.print(key, () -> context.line("%s", key.getKey()));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = {
        "Shows where a device was, the latest first, while a profile lets it keep a trail.",
        "Each look is told in the journal. Of a personal device nothing of the kind is kept."
      },
      footer = {
        "",
        "Examples:",
        "  pinwright device trail \"Dig tablet 02\" --from 2026-03-01T00:00:00Z",
        "  pinwright device trail \"Dig tablet 02\" --out dig-02.gpx"
      })
  int trail(
      @Parameters(paramLabel = "DEVICE") String device,
      @Option(names = "--from", paramLabel = "TIME", description = "Not what is before (ISO 8601).")
          @Nullable OffsetDateTime from,
      @Option(names = "--to", paramLabel = "TIME", description = "Not what is after (ISO 8601).")
          @Nullable OffsetDateTime to,
      @Option(names = "--after", description = "Goes on after a page.") @Nullable String after,
      @Option(
              names = "--out",
              paramLabel = "FILE",
              description = "Writes all of it to a file: .gpx (GPX 1.1) or .geojson (RFC 7946).")
          @Nullable Path out) {
    String id = context.device(device).getId();
    if (out != null) {
      boolean gpx = out.toString().endsWith(".gpx");
      if (!gpx && !out.toString().endsWith(".geojson")) {
        throw new Failure(
            Failure.USAGE, "Name the file .gpx or .geojson; that says how the trail is written.");
      }
      var devices = context.client().devices();
      return FileText.keep(
          context,
          call(
              () ->
                  gpx ? devices.getTrailGpx(id, from, to) : devices.getTrailGeojson(id, from, to)),
          out);
    }
    PositionPage page =
        call(
            () ->
                context
                    .client()
                    .devices()
                    .lookAtTrail(id, new TrailWanted().from(from).to(to).after(after)));
    return context.list(
        page,
        page.getItems(),
        p ->
            new Object[] {
              time(p.getAt()),
              "%.5f".formatted(p.getLatitude()),
              "%.5f".formatted(p.getLongitude()),
              p.getAccuracy() == null ? "" : "%.0f m".formatted(p.getAccuracy()),
              p.getSource()
            },
        "WHEN",
        "LATITUDE",
        "LONGITUDE",
        "WITHIN",
        "BY");
  }

  @Command(
      name = "exit-code",
      mixinStandardHelpOptions = true,
      description = {
        "Shows the code that leaves a device's kiosk, with or without a network on it.",
        "Each showing is told in the journal."
      },
      footer = {"", "Example:", "  pinwright device exit-code \"Kiosk 007\""})
  int exitCode(@Parameters(paramLabel = "DEVICE") String device) {
    DeviceSummary d = context.device(device);
    ExitCode code = call(() -> context.client().devices().showExitCode(d.getId()));
    return context.print(
        code,
        () -> {
          context.line("%s  leaves the kiosk of %s", code.getCode(), d.getName());
          context.line(
              "until %s and half a minute longer; it comes back after %d minutes",
              time(code.getUntil()), code.getMinutes());
        });
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = {
        "Places, hands over, tags, renames or retires many devices as one change.",
        "Place, holder and tags go together; --name and --retire stand alone."
      },
      footer = {
        "",
        "Examples:",
        "  pinwright device edit --where unit=VM-HAR --add-tag quay --dry-run",
        "  pinwright device edit \"Kiosk 007\" \"Kiosk 008\" --unit VM-CAFE --person none",
        "  pinwright device edit --where tag=gallery --name \"Kiosk {unit} {seq:3}\"",
        "  pinwright device edit --where q=T10 --retire \"sold in spring\" --confirm 14"
      })
  int edit(
      @Parameters(paramLabel = "DEVICE", arity = "0..*") @Nullable List<String> named,
      @Mixin WhereOptions which,
      @Option(names = "--unit", description = "By code; none takes it away.") @Nullable String unit,
      @Option(names = "--site", description = "By name; none takes it away.") @Nullable String site,
      @Option(names = "--person", description = "By login or name; none for nobody.")
          @Nullable String person,
      @Option(names = "--add-tag", paramLabel = "TAG") @Nullable List<String> add,
      @Option(names = "--remove-tag", paramLabel = "TAG") @Nullable List<String> remove,
      @Option(names = "--name", paramLabel = "PATTERN") @Nullable String pattern,
      @Option(names = "--retire", paramLabel = "REASON") @Nullable String reason,
      @Option(names = "--confirm", description = "The number of devices, where it is asked for.")
          @Nullable Long confirm,
      @Option(names = "--dry-run", description = "Only say what it would do.") boolean dryRun) {
    DeviceEdit edit =
        new DeviceEdit()
            .ids(named == null ? null : named.stream().map(d -> context.device(d).getId()).toList())
            .matching(which.filter(context))
            .unitId(id(unit, u -> context.unit(u).getId()))
            .siteId(id(site, s -> context.site(s).getId()))
            .personId(id(person, p -> context.person(p).getId()))
            .addTags(add)
            .removeTags(remove)
            .namePattern(pattern)
            .retire(reason)
            .confirmDevices(confirm);
    if (dryRun) {
      return ChangeCommands.rehearsed(
          context, call(() -> context.client().devices().rehearseDeviceEdit(edit)));
    }
    return ChangeCommands.changed(
        context, call(() -> context.client().devices().editDevices(edit)));
  }

  private static @Nullable String id(@Nullable String given, Function<String, String> find) {
    return given == null ? null : given.equals("none") ? "" : find.apply(given);
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Writes a sheet of devices with their tags and attributes.",
      footer = {
        "",
        "Examples:",
        "  pinwright device export devices.csv",
        "  pinwright device export harbour.csv --unit VM-HAR --standing blocked"
      })
  int export(@Parameters(paramLabel = "FILE") Path file, @Mixin FilterOptions filter)
      throws IOException {
    DeviceFilter f = filter.given(context);
    APIExportDevicesRequest asked =
        APIExportDevicesRequest.newBuilder()
            .q(f.getQ())
            .platform(f.getPlatform())
            .standing(f.getStanding())
            .mode(f.getMode())
            .ownership(f.getOwnership())
            .tag(f.getTag())
            .group(f.getGroup())
            .unit(f.getUnit())
            .site(f.getSite())
            .person(f.getPerson())
            .attribute(f.getAttributes())
            .rule(f.getRule())
            .profile(f.getProfile())
            .termsBelow(f.getTermsBelow())
            .retired(filter.retired)
            .build();
    return FileText.keep(
        context, call(() -> context.client().organisation().exportDevices(asked)), file);
  }

  @Command(
      name = "import",
      mixinStandardHelpOptions = true,
      description = "Checks a sheet of tags and attributes; takes it over with --save.",
      footer = {
        "",
        "Its columns are identifier, tags and the attributes of devices.",
        "",
        "Example:",
        "  pinwright device export devices.csv",
        "  pinwright device import devices.csv --save"
      })
  int take(
      @Parameters(paramLabel = "FILE") Path file,
      @Option(names = "--save") boolean save,
      @Option(
              names = "--confirm",
              description = "How many devices get other settings, where it is asked for.")
          @Nullable Long confirm,
      @Option(names = "--reason", description = "Why, where it is asked for.")
          @Nullable String reason)
      throws IOException {
    return Sheets.in(
        context,
        file,
        save,
        (rows, keep) -> context.client().organisation().importDevices(rows, keep, reason, confirm));
  }
}
