package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;
import static dev.pinwright.cli.Context.time;

import dev.pinwright.client.model.Baseline;
import dev.pinwright.client.model.NamedRefPage;
import dev.pinwright.client.model.NamedTarget;
import dev.pinwright.client.model.Profile;
import dev.pinwright.client.model.ProfileDraft;
import dev.pinwright.client.model.ProfilePage;
import dev.pinwright.client.model.ProfileVersionPage;
import dev.pinwright.client.model.Publication;
import dev.pinwright.client.model.Published;
import dev.pinwright.client.model.Rehearsal;
import dev.pinwright.client.model.Setting;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code profile}. */
@Command(
    name = "profile",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description =
        "Named sets of settings: list, show, add, set, unset, assign, rehearse, publish, versions, delete.")
final class ProfileCommands {
  private final Context context;

  ProfileCommands(Context context) {
    this.context = context;
  }

  @Command(mixinStandardHelpOptions = true, description = "Lists profiles.")
  int list(@Mixin Paging paging) {
    ProfilePage page =
        call(() -> context.client().rules().listProfiles("", paging.after, paging.limit));
    return context.list(
        page,
        page.getItems(),
        p ->
            new Object[] {
              p.getName(),
              p.getPublishedVersion() == null
                  ? "draft"
                  : "version "
                      + p.getPublishedVersion()
                      + (p.getDraftChanged() ? ", draft changed" : ""),
              p.getSettings(),
              p.getDevices(),
              time(p.getChangedAt())
            },
        "NAME",
        "STATE",
        "SETTINGS",
        "DEVICES",
        "CHANGED");
  }

  @Command(mixinStandardHelpOptions = true, description = "Shows the draft of a profile.")
  int show(@Parameters(paramLabel = "PROFILE") String name) {
    Profile p = get(name);
    return context.print(p, () -> table(p));
  }

  private Profile get(String name) {
    String id = context.profile(name).getId();
    return call(() -> context.client().rules().getProfile(id));
  }

  private static Table table(Profile p) {
    Table t = new Table(p.getName(), "");
    new TreeMap<>(p.getWords()).forEach(t::row);
    return t.row("assigned to", targets(p.getTargets())).row("except", targets(p.getExclusions()));
  }

  private static String targets(List<NamedTarget> targets) {
    return targets.stream()
        .map(x -> x.getKind().equals("everyone") ? "everyone" : x.getKind() + " " + x.getName())
        .collect(Collectors.joining(", "));
  }

  @Command(mixinStandardHelpOptions = true, description = "Writes a new, empty profile.")
  int add(
      @Parameters(paramLabel = "NAME") String name,
      @Option(names = "--description", defaultValue = "") String description) {
    Profile p =
        call(
            () ->
                context
                    .client()
                    .rules()
                    .addProfile(new ProfileDraft().name(name).description(description)));
    return context.print(p, () -> context.line("Profile %s made, as a draft.", p.getName()));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Sets settings in the draft; find their names with: pinwright setting find",
      footer = {
        "",
        "Example:",
        "  pinwright profile set \"Gallery tablets\" passcode.min-length=8 restrictions.camera-off=true",
        "  pinwright profile set \"Gallery tablets\" wifi[galleries].network=Vellmar-Galleries"
      })
  int set(
      @Parameters(paramLabel = "PROFILE") String name,
      @Parameters(paramLabel = "SETTING=VALUE", arity = "1..*") Map<String, String> values) {
    Profile p = get(name);
    Map<String, Setting> known =
        call(() -> context.client().catalogue().searchSettings("")).stream()
            .collect(Collectors.toMap(Setting::getKey, s -> s));
    Map<String, Object> settings = new HashMap<>(p.getSettings());
    // the settings of an entry are known without it: wifi[staff].network is a wifi.network
    values.forEach((k, v) -> settings.put(k, typed(known.get(k.replaceAll("\\[.*?]", "")), v)));
    return save(p, new ProfileDraft().settings(settings));
  }

  private static Object typed(@Nullable Setting s, String text) {
    if (s == null) {
      return text;
    }
    return switch (s.getType().getKind()) {
      case FLAG ->
          text.equals("true") || text.equals("false") ? (Object) Boolean.valueOf(text) : text;
      case WHOLE -> text.matches("-?\\d{1,18}") ? (Object) Long.valueOf(text) : text;
      case ITEMS -> text.isEmpty() ? List.of() : List.of(text.split("\\s*;\\s*"));
      default -> text;
    };
  }

  @Command(mixinStandardHelpOptions = true, description = "Takes settings out of the draft.")
  int unset(
      @Parameters(paramLabel = "PROFILE") String name,
      @Parameters(paramLabel = "SETTING", arity = "1..*") List<String> keys) {
    Profile p = get(name);
    Map<String, Object> settings = new HashMap<>(p.getSettings());
    settings.keySet().removeAll(keys);
    return save(p, new ProfileDraft().settings(settings));
  }

  private int save(Profile p, ProfileDraft draft) {
    Profile saved =
        call(
            () ->
                context
                    .client()
                    .rules()
                    .changeProfile(p.getId(), Context.onVersion(p.getVersion()), draft));
    return context.print(saved, () -> table(saved));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Says whom the draft goes to, in place of what it said before.",
      footer = {
        "",
        "Example:",
        "  pinwright profile assign \"Gallery tablets\" --tag gallery --except-device AR10-0001-4471"
      })
  int assign(
      @Parameters(paramLabel = "PROFILE") String name,
      @Mixin TargetOptions targets,
      @Mixin TargetOptions.Except exclusions) {
    Profile p = get(name);
    return save(
        p,
        new ProfileDraft().targets(targets.specs(context)).exclusions(exclusions.specs(context)));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Shows what publishing would do; does nothing.")
  int rehearse(
      @Parameters(paramLabel = "PROFILE") String name,
      @Option(
              names = "--effect",
              description = "List the devices behind one effect, by the id it was shown with.")
          @Nullable String effect,
      @Mixin Paging paging) {
    String id = context.profile(name).getId();
    if (effect != null) {
      NamedRefPage page =
          call(
              () ->
                  context
                      .client()
                      .rules()
                      .listRehearsedDevices(id, effect, paging.after, paging.limit));
      return context.list(
          page, page.getItems(), d -> new Object[] {d.getName(), d.getId()}, "DEVICE", "ID");
    }
    return rehearsed(call(() -> context.client().rules().rehearseProfile(id)));
  }

  private int rehearsed(Rehearsal r) {
    return context.print(
        r,
        () -> {
          context.line(
              "%d of %d devices change: %d gain, %d change, %d lose.",
              r.getChanging(), r.getDevices(), r.getGain(), r.getChange(), r.getLose());
          r.getEffects()
              .forEach(
                  e -> {
                    context.line("");
                    context.line(
                        "%d %s, %s, from OS %s: %s",
                        e.getDevices(),
                        e.getPlatform(),
                        e.getMode(),
                        e.getOsLevel(),
                        e.getExamples().stream()
                                .map(x -> x.getName())
                                .collect(Collectors.joining(", "))
                            + (e.getDevices() > e.getExamples().size()
                                ? ", ... (all: --effect " + e.getId() + ")"
                                : ""));
                    e.getSteps()
                        .forEach(
                            s ->
                                context.line(
                                    "  %-28s %s -> %s",
                                    s.getTitle(),
                                    s.getFrom() == null ? "(none)" : s.getFrom(),
                                    s.getTo() == null ? "(none)" : s.getTo()));
                  });
          r.getConflicts()
              .forEach(
                  c ->
                      context.line(
                          "Conflict: %s on %d devices; %s wins over %s.",
                          c.getTitle(),
                          c.getDevices(),
                          c.getWins(),
                          String.join(", ", c.getLoses())));
          r.getUnsupported()
              .forEach(
                  u ->
                      context.line(
                          "Cannot: %s on %d devices, it %s.",
                          u.getTitle(), u.getDevices(), u.getReason()));
          if (r.getConfirmDevices() != null) {
            context.line("To publish, add --confirm %d.", r.getConfirmDevices());
          }
        });
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Publishes the draft.",
      footer = {"", "Example:", "  pinwright profile publish \"Gallery tablets\" --wait"})
  int publish(
      @Parameters(paramLabel = "PROFILE") String name,
      @Option(names = "--confirm", description = "The number of devices that change.")
          @Nullable Long confirm,
      @Option(names = "--wait", description = "Follow until every device has it or refused it.")
          boolean wait)
      throws InterruptedException {
    Profile p = get(name);
    Published done =
        call(
            () ->
                context
                    .client()
                    .rules()
                    .publishProfile(
                        p.getId(),
                        Context.onVersion(p.getVersion()),
                        new Publication().confirmDevices(confirm)));
    if (wait) {
      return ChangeCommands.follow(context, done.getChange().getId());
    }
    return context.print(
        done,
        () ->
            context.line(
                "Version %d published; %d devices change. Follow with: pinwright change wait %s",
                done.getVersion(), done.getChange().getTotal(), done.getChange().getId()));
  }

  @Command(mixinStandardHelpOptions = true, description = "Lists published versions.")
  int versions(@Parameters(paramLabel = "PROFILE") String name, @Mixin Paging paging) {
    String id = context.profile(name).getId();
    ProfileVersionPage page =
        call(() -> context.client().rules().listProfileVersions(id, paging.after, paging.limit));
    return context.list(
        page,
        page.getItems(),
        v ->
            new Object[] {
              v.getNumber(),
              time(v.getPublishedAt()),
              v.getPublishedBy(),
              v.getSettings().size(),
              targets(v.getTargets())
            },
        "VERSION",
        "PUBLISHED",
        "BY",
        "SETTINGS",
        "ASSIGNED TO");
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Deletes a profile; devices that have it lose what it says.",
      footer = {"", "Example:", "  pinwright profile delete Quay --dry-run"})
  int delete(
      @Parameters(paramLabel = "PROFILE") String name,
      @Option(names = "--dry-run", description = "Only say what it would do.") boolean dryRun,
      @Option(names = "--confirm", description = "The number of devices, where it is asked for.")
          @Nullable Long confirm) {
    Profile p = get(name);
    if (dryRun) {
      return rehearsed(call(() -> context.client().rules().rehearseProfileDeletion(p.getId())));
    }
    Context.act(
        () ->
            context
                .client()
                .rules()
                .deleteProfile(p.getId(), Context.onVersion(p.getVersion()), confirm));
    context.line("Profile %s deleted.", p.getName());
    return 0;
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = {
        "Writes the sane baseline as a draft for everyone: passcode, encryption, approved sources.",
        "Shows and explains it first; rehearse and publish it like any profile."
      })
  int baseline(@Option(names = "--write", description = "Write it.") boolean write) {
    Baseline b = call(() -> context.client().rules().getBaseline());
    if (!write) {
      return context.list(
          b,
          b.getSettings(),
          p -> new Object[] {p.getTitle(), p.getValue(), p.getHelp()},
          "SETTING",
          "VALUE",
          "WHAT IT DOES");
    }
    Profile p = call(() -> context.client().rules().writeBaseline());
    return context.print(
        p,
        () ->
            context.line(
                "%s is drafted for everyone. Next: pinwright profile rehearse %s",
                p.getName(), p.getName()));
  }
}
