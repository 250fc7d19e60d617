package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;
import static dev.pinwright.cli.Context.counted;
import static dev.pinwright.cli.Context.time;

import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.AppBrought;
import dev.pinwright.client.model.AppByItself;
import dev.pinwright.client.model.AppDetail;
import dev.pinwright.client.model.AppDevicePage;
import dev.pinwright.client.model.AppLook;
import dev.pinwright.client.model.AppOrigin;
import dev.pinwright.client.model.AppPage;
import dev.pinwright.client.model.AppPush;
import dev.pinwright.client.model.AppSource;
import dev.pinwright.client.model.AppSourceSpec;
import dev.pinwright.client.model.AppVersion;
import dev.pinwright.client.model.AppVersionPage;
import dev.pinwright.client.model.AppWith;
import dev.pinwright.client.model.AppsBehind;
import dev.pinwright.client.model.DeviceApps;
import dev.pinwright.client.model.PlatformKey;
import dev.pinwright.client.model.Profile;
import dev.pinwright.client.model.ProfileDraft;
import dev.pinwright.client.model.ProfileKind;
import dev.pinwright.client.model.Rehearsal;
import dev.pinwright.client.model.ReleaseChannel;
import dev.pinwright.client.model.ReleaseSpec;
import dev.pinwright.client.model.Released;
import dev.pinwright.client.model.WebAppSpec;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code app}. */
@Command(
    name = "app",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description =
        "Apps: list, show, bring, web, web-change, follow, versions, release, assign, devices, export, on, behind, push, delete. What"
            + " assigns them is changed with: pinwright assignment",
    footer = {
      "",
      "Example:",
      "  pinwright app bring rota-4.2.pkg",
      "  pinwright app release Rota 4.2",
      "  pinwright app assign Rota required --unit VM",
      "  pinwright assignment publish \"Rota, required\"",
      "  pinwright app devices Rota --with missing"
    })
final class AppCommands {
  private static final int ALL = 200;

  private final Context context;

  AppCommands(Context context) {
    this.context = context;
  }

  private AppDetail app(String name) {
    String id = context.app(name).getId();
    return call(() -> context.client().apps().getApp(id));
  }

  @Command(mixinStandardHelpOptions = true, description = "Lists apps.")
  int list(
      @Parameters(paramLabel = "WORDS", arity = "0..1", defaultValue = "") String words,
      @Option(
              names = "--from",
              description = "Those alone that come from there: ${COMPLETION-CANDIDATES}.")
          @Nullable AppOrigin from,
      @Mixin Paging paging) {
    AppPage page =
        call(() -> context.client().apps().listApps(words, from, paging.after, paging.limit));
    return context.list(
        page,
        page.getItems(),
        a ->
            new Object[] {
              a.getName(),
              a.getOrigin(),
              String.join(", ", a.getPlatforms()),
              a.getForAll() != null
                  ? a.getForAll()
                  : a.getOrigin() == AppOrigin.SYSTEM ? "" : "not yet",
              a.getAssigned(),
              a.getOrigin() == AppOrigin.SYSTEM ? "" : a.getThere(),
              a.getFailing()
            },
        "NAME",
        "FROM",
        "PLATFORMS",
        "RELEASED",
        "ASSIGNED",
        "THERE",
        "FAILING");
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Shows an app and how devices are with it.")
  int show(@Parameters(paramLabel = "APP") String name) {
    AppDetail a = app(name);
    return context.print(
        a,
        () -> {
          Table t =
              new Table(a.getApp().getName(), "")
                  .row("id", a.getApp().getPackageId())
                  .row("publisher", a.getApp().getPublisher())
                  .row("signed by", a.getSigner() == null ? "" : a.getSigner())
                  .row("released to all", said(a.getForAll()))
                  .row("released early", said(a.getForEarly()))
                  .row("brought last", said(a.getLatest()))
                  .row("there on", counted(a.getCounts().getThere(), "device"))
                  .row("missing on", counted(a.getCounts().getMissing(), "device"))
                  .row("another version on", counted(a.getCounts().getOld(), "device"))
                  .row("on its way to", counted(a.getCounts().getUnderWay(), "device"))
                  .row("failing on", counted(a.getCounts().getFailing(), "device"));
          a.getAssignments().forEach(x -> t.row("assignment", x.getName()));
          return t;
        });
  }

  /** What is said of a page of the web that is to be an app. */
  static final class PageOptions {
    @Option(
        names = "--platform",
        split = ",",
        description = "Platforms it is for; all without this.")
    @Nullable List<String> platforms;

    @Option(names = "--publisher", description = "Whose page it is.")
    @Nullable String publisher;

    @Option(names = "--summary", description = "One sentence for the shelf.")
    @Nullable String summary;

    @Option(names = "--category", description = "One word for the shelf.")
    @Nullable String category;

    @Option(
        names = "--icon",
        paramLabel = "FILE",
        description = "A picture among the files, a PNG: its name there.")
    @Nullable String icon;

    WebAppSpec spec(Context context) {
      return new WebAppSpec()
          .platforms(
              platforms == null ? null : platforms.stream().map(PlatformKey::fromValue).toList())
          .publisher(publisher)
          .summary(summary)
          .category(category)
          .icon(icon == null ? null : context.file(icon).getId());
    }
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Makes an app of a page of the web; it is released to all.")
  int web(
      @Parameters(paramLabel = "NAME") String name,
      @Parameters(paramLabel = "ADDRESS") String address,
      @Mixin PageOptions page) {
    WebAppSpec spec = page.spec(context).name(name).address(address);
    AppDetail a = call(() -> context.client().apps().makeWebApp(spec));
    return context.print(
        a,
        () ->
            context.line(
                "%s is an app now and opens %s. No device gets it before it is assigned.",
                a.getApp().getName(), a.getLatest().getOpens()));
  }

  @Command(
      name = "web-change",
      mixinStandardHelpOptions = true,
      description = "Brings another version of an app that is a page of the web.")
  int webChange(
      @Parameters(paramLabel = "APP") String name,
      @Option(names = "--name", description = "What it is called from now on.")
          @Nullable String renamed,
      @Option(names = "--address", description = "What it opens from now on.")
          @Nullable String address,
      @Mixin PageOptions page) {
    AppDetail a = app(name);
    WebAppSpec spec = page.spec(context).name(renamed).address(address);
    AppBrought b =
        call(
            () ->
                context
                    .client()
                    .apps()
                    .changeWebApp(a.getApp().getId(), Context.onVersion(a.getVersion()), spec));
    return context.print(
        b,
        () ->
            context.line(
                "%s %s is here. No device gets it before it is released.",
                b.getApp().getApp().getName(), b.getVersion().getVersion()));
  }

  private static String said(@Nullable AppVersion v) {
    return v == null ? "none" : v.getVersion();
  }

  @Command(
      mixinStandardHelpOptions = true,
      description =
          "Takes in a package, once its signature and its files were checked. Where the line breaks"
              + " it goes on where it stopped.")
  int bring(
      @Parameters(paramLabel = "FILE") Path file,
      @Option(
              names = "--upload",
              paramLabel = "ID",
              description = "Goes on with what was begun before, as it said when it broke off.")
          @Nullable String upload) {
    if (!Files.isRegularFile(file) || !Files.isReadable(file)) {
      throw new Failure(Failure.USAGE, "There is no file " + file + " that can be read.");
    }
    String[] begun = {upload};
    AppBrought b =
        call(
            () -> {
              try {
                return context
                    .client()
                    .bringPackage(
                        file,
                        upload,
                        (id, there, bytes) -> {
                          begun[0] = id;
                          context.progress("Sent %d %%", there * 100 / bytes);
                        });
              } catch (IOException e) {
                throw new Failure(
                    Failure.UNREACHABLE,
                    "The service cannot be reached: "
                        + e.getMessage()
                        + "."
                        + (begun[0] == null
                            ? ""
                            : " Go on with: pinwright app bring "
                                + file
                                + " --upload "
                                + begun[0]));
              }
            });
    return context.print(
        b,
        () -> {
          String called = b.getApp().getApp().getName() + " " + b.getVersion().getVersion();
          context.line(
              b.getBefore()
                  ? "%s is here already; nothing changed."
                  : "%s is here, signed by %s. No device gets it before it is released.",
              called,
              b.getApp().getSigner());
          if (!b.getNewPermissions().isEmpty()) {
            context.line(
                "It may do what the version before might not: %s.",
                String.join(", ", b.getNewPermissions()));
          }
        });
  }

  @Command(
      mixinStandardHelpOptions = true,
      description =
          "Looks for later versions at an address. What is found is brought, and released by itself"
              + " only where that is said.",
      footer = {
        "",
        "Example:",
        "  pinwright app follow Rota https://workshop.vellmar.example/rota/latest.pkg",
        "  pinwright app follow Rota --no-more"
      })
  int follow(
      @Parameters(paramLabel = "APP") String name,
      @Parameters(paramLabel = "ADDRESS", arity = "0..1") @Nullable String address,
      @Option(
              names = "--release",
              description = "What becomes of a version by itself: ${COMPLETION-CANDIDATES}.")
          @Nullable AppByItself release,
      @Option(names = "--no-more", description = "Looks there no longer.") boolean noMore) {
    String id = context.app(name).getId();
    AppSource now = source(id);
    if (noMore) {
      if (now != null) {
        call(
            () -> {
              context.client().apps().forgetAppSource(id, Context.onVersion(now.getVersion()));
              return true;
            });
      }
      return context.print(
          Map.of("followed", false), () -> context.line("%s is not followed any more.", name));
    }
    if (address == null) {
      AppLook look = call(() -> context.client().apps().lookAtSource(id));
      return context.print(look, () -> context.line("%s", said(look)));
    }
    AppSource set =
        call(
            () ->
                context
                    .client()
                    .apps()
                    .setAppSource(
                        id,
                        Context.onVersion(now == null ? 0 : now.getVersion()),
                        new AppSourceSpec().address(address).release(release)));
    return context.print(
        set,
        () ->
            context.line(
                "Versions of %s are looked for at %s. Look now with: pinwright app follow \"%s\"",
                name, set.getAddress(), name));
  }

  private @Nullable AppSource source(String id) {
    return call(() -> {
          try {
            return Optional.of(context.client().apps().getAppSource(id));
          } catch (ApiException e) {
            if (e.getCode() == 404) {
              return Optional.<AppSource>empty();
            }
            throw e;
          }
        })
        .orElse(null);
  }

  private static String said(AppLook look) {
    if (look.getFault() != null) {
      return "That failed: " + look.getFault() + ".";
    }
    return look.getFound() == null
        ? "There is no later version."
        : "Version "
            + look.getFound()
            + " is here"
            + (look.getReleased() ? ", and was released." : "; release it when it suits.");
  }

  @Command(mixinStandardHelpOptions = true, description = "Lists the versions of an app.")
  int versions(@Parameters(paramLabel = "APP") String name, @Mixin Paging paging) {
    AppDetail a = app(name);
    AppVersionPage page =
        call(
            () ->
                context
                    .client()
                    .apps()
                    .listAppVersions(a.getApp().getId(), paging.after, paging.limit));
    return context.list(
        page,
        page.getItems(),
        v ->
            new Object[] {
              v.getVersion(),
              v.getCode(),
              channel(a, v),
              v.getDevices(),
              v.getLowestOs().entrySet().stream()
                  .map(e -> e.getKey() + " " + e.getValue())
                  .sorted()
                  .collect(Collectors.joining(", ")),
              time(v.getBroughtAt())
            },
        "VERSION",
        "CODE",
        "RELEASED",
        "DEVICES",
        "FROM OS",
        "BROUGHT");
  }

  private static String channel(AppDetail a, AppVersion v) {
    if (a.getForAll() != null && a.getForAll().getCode().equals(v.getCode())) {
      return "to all";
    }
    return a.getForEarly() != null && a.getForEarly().getCode().equals(v.getCode()) ? "early" : "";
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Releases a version: devices that follow it get it.",
      footer = {
        "",
        "Examples:",
        "  pinwright app release Rota 4.2 --dry-run",
        "  pinwright app release Rota 4.3 --early",
        "  pinwright app release Rota 4.3 --waves \"5,5%,25%\" --bound 5"
      })
  int release(
      @Parameters(paramLabel = "APP") String name,
      @Parameters(paramLabel = "VERSION") String version,
      @Option(names = "--early", description = "For those that follow early releases only.")
          boolean early,
      @Option(names = "--dry-run", description = "Only say what it would do.") boolean dryRun,
      @Option(names = "--confirm", description = "The number of devices, where it is asked for.")
          @Nullable Long confirm,
      @Option(names = "--reason", description = "Why, where it is asked for.")
          @Nullable String reason,
      @Mixin WaveOptions waves,
      @Option(names = "--wait", description = "Follow until every device has it or failed.")
          boolean wait)
      throws InterruptedException {
    AppDetail a = app(name);
    String id = a.getApp().getId();
    ReleaseSpec spec =
        new ReleaseSpec()
            .code(code(a, version))
            .channel(early ? ReleaseChannel.EARLY : ReleaseChannel.ALL)
            .confirmDevices(confirm)
            .reason(reason)
            .waves(waves.spec(context));
    if (dryRun) {
      Rehearsal r = call(() -> context.client().apps().rehearseRelease(id, spec));
      return context.print(r, () -> Rehearsals.tell(context, r));
    }
    Released done =
        call(
            () ->
                context
                    .client()
                    .apps()
                    .releaseVersion(id, Context.onVersion(a.getVersion()), spec));
    if (wait) {
      int worst = 0;
      for (String change : done.getChanges()) {
        worst = Math.max(worst, ChangeCommands.follow(context, change));
      }
      return worst;
    }
    return context.print(
        done,
        () -> {
          context.line(
              "%s %s released%s.", a.getApp().getName(), version, early ? " early" : " to all");
          done.getChanges().forEach(c -> context.line("Follow with: pinwright change wait %s", c));
        });
  }

  private long code(AppDetail a, String version) {
    AppVersionPage page =
        call(() -> context.client().apps().listAppVersions(a.getApp().getId(), null, ALL));
    return page.getItems().stream()
        .filter(v -> v.getVersion().equals(version) || v.getCode().toString().equals(version))
        .findFirst()
        .orElseThrow(
            () ->
                new Failure(
                    Failure.REFUSED,
                    a.getApp().getName()
                        + " has no version "
                        + version
                        + "; it has "
                        + page.getItems().stream()
                            .map(AppVersion::getVersion)
                            .collect(Collectors.joining(", "))
                        + "."))
        .getCode();
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Assigns an app, as a draft: required, offered or forbidden, and to whom.",
      footer = {
        "",
        "Example:",
        "  pinwright app assign Rota required --unit VM --set wifi-only=true",
        "  pinwright assignment rehearse \"Rota, required\"",
        "  pinwright assignment publish \"Rota, required\""
      })
  int assign(
      @Parameters(paramLabel = "APP") String name,
      @Parameters(paramLabel = "PRESENCE", description = "required, offered or forbidden")
          String presence,
      @Option(names = "--name", description = "What the assignment is called.")
          @Nullable String called,
      @Option(
              names = "--set",
              paramLabel = "SETTING=VALUE",
              description =
                  "How: follows, version, take-over, wifi-only, charging-only, hours,"
                      + " remove-with-management, configuration, secrets.")
          @Nullable Map<String, String> settings,
      @Mixin TargetOptions targets,
      @Mixin TargetOptions.Except exclusions) {
    AppDetail a = app(name);
    String entry = "apps[" + a.getApp().getKey() + "].";
    Map<String, Object> said = new TreeMap<>();
    said.put(entry + "presence", presence);
    if (settings != null) {
      settings.forEach((k, v) -> said.put(entry + k, typed(v)));
    }
    Profile p =
        call(
            () ->
                context
                    .client()
                    .rules()
                    .addProfile(
                        new ProfileDraft()
                            .kind(ProfileKind.APP)
                            .app(a.getApp().getId())
                            .name(called == null ? a.getApp().getName() + ", " + presence : called)
                            .settings(said)
                            .targets(targets.specs(context))
                            .exclusions(exclusions.specs(context))));
    return context.print(
        p,
        () ->
            context.line(
                "%s made, as a draft. Publish it with: pinwright assignment publish \"%s\"",
                ProfileVerbs.called(p), p.getName()));
  }

  private static Object typed(String text) {
    if (text.equals("true") || text.equals("false")) {
      return Boolean.valueOf(text);
    }
    return text.matches("\\d{1,10}") ? (Object) Long.valueOf(text) : text;
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Lists the devices that are some way with an app.")
  int devices(
      @Parameters(paramLabel = "APP") String name,
      @Option(
              names = "--with",
              description = "there, missing, old, under-way or failing; there without it.")
          @Nullable AppWith with,
      @Mixin Paging paging) {
    String id = context.app(name).getId();
    AppDevicePage page =
        call(() -> context.client().apps().listAppDevices(id, with, paging.after, paging.limit));
    return context.list(
        page,
        page.getItems(),
        d ->
            new Object[] {
              d.getName(),
              d.getVersion() == null ? "not there" : d.getVersion(),
              d.getAttempt() == null ? "" : d.getAttempt(),
              d.getReason() == null ? "" : d.getReason()
            },
        "DEVICE",
        "VERSION",
        "ATTEMPT",
        "WHY");
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Writes the devices that are some way with an app into a sheet.",
      footer = {"", "Example:", "  pinwright app export Rota old.csv --with old"})
  int export(
      @Parameters(paramLabel = "APP") String name,
      @Parameters(paramLabel = "FILE") Path file,
      @Option(
              names = "--with",
              description = "there, missing, old, under-way or failing; there without it.")
          @Nullable AppWith with) {
    String id = context.app(name).getId();
    return FileText.keep(
        context, call(() -> context.client().apps().exportAppDevices(id, with)), file);
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Lists the apps that devices are behind with.")
  int behind() {
    AppsBehind all = call(() -> context.client().apps().listAppsBehind());
    return context.list(
        all,
        all.getItems(),
        a ->
            new Object[] {
              a.getName(),
              a.getDevices(),
              a.getMissing(),
              a.getOld(),
              a.getUnderWay(),
              a.getFailing()
            },
        "APP",
        "DEVICES",
        "MISSING",
        "OLD",
        "ON ITS WAY",
        "FAILING");
  }

  @Command(mixinStandardHelpOptions = true, description = "Lists the apps of a device.")
  int on(@Parameters(paramLabel = "DEVICE") String device) {
    String id = context.device(device).getId();
    DeviceApps all = call(() -> context.client().devices().listDeviceApps(id));
    return context.list(
        all,
        all.getApps(),
        a ->
            new Object[] {
              a.getName(),
              a.getPresence() == null ? "" : a.getPresence(),
              a.getWanted() == null ? "" : a.getWanted(),
              a.getVersion() == null ? "" : a.getVersion(),
              a.getState(),
              a.getReason() != null
                  ? a.getReason()
                  : a.getComes() == null ? "" : "comes " + a.getComes()
            },
        "APP",
        "ASSIGNED",
        "WANTED",
        "THERE",
        "STATE",
        "WHY");
  }

  @Command(
      mixinStandardHelpOptions = true,
      description =
          "Pushes an app at once to the devices that do not have it as they should, or to one.")
  int push(
      @Parameters(paramLabel = "APP") String name,
      @Option(names = "--device") @Nullable String device) {
    String id = context.app(name).getId();
    AppPush where = new AppPush().device(device == null ? null : context.device(device).getId());
    var pushed = call(() -> context.client().apps().pushApp(id, where));
    return context.print(
        pushed, () -> context.line("Pushed to %s.", counted(pushed.getDevices(), "device")));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Deletes an app nothing assigns; devices keep what they have.")
  int delete(@Parameters(paramLabel = "APP") String name) {
    AppDetail a = app(name);
    call(
        () -> {
          context.client().apps().deleteApp(a.getApp().getId(), Context.onVersion(a.getVersion()));
          return List.of();
        });
    return context.print(
        Map.of("deleted", a.getApp().getId()),
        () -> context.line("%s deleted.", a.getApp().getName()));
  }
}
