package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;
import static dev.pinwright.cli.Context.time;

import dev.pinwright.client.model.Baseline;
import dev.pinwright.client.model.ById;
import dev.pinwright.client.model.Intent;
import dev.pinwright.client.model.NamedRefPage;
import dev.pinwright.client.model.NamedTarget;
import dev.pinwright.client.model.Profile;
import dev.pinwright.client.model.ProfileCopy;
import dev.pinwright.client.model.ProfileDraft;
import dev.pinwright.client.model.ProfileFile;
import dev.pinwright.client.model.ProfilePage;
import dev.pinwright.client.model.ProfileStanding;
import dev.pinwright.client.model.ProfileVersion;
import dev.pinwright.client.model.ProfileVersionPage;
import dev.pinwright.client.model.Publication;
import dev.pinwright.client.model.Published;
import dev.pinwright.client.model.Rehearsal;
import dev.pinwright.client.model.Setting;
import dev.pinwright.client.model.Window;
import java.nio.file.Path;
import java.time.LocalDateTime;
import java.time.OffsetDateTime;
import java.time.ZoneId;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.TreeSet;
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
        "Named sets of settings: list, show, add, set, unset, assign, rehearse, publish, versions, "
            + "compare, restore, copy, export, import, delete.")
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

  @Command(
      mixinStandardHelpOptions = true,
      description = "Says who has a profile, who waits for it, and what devices refused of it.")
  int standing(@Parameters(paramLabel = "PROFILE") String name) {
    ProfileStanding s =
        call(() -> context.client().rules().getProfileStanding(context.profile(name).getId()));
    return context.print(
        s,
        () -> {
          if (!s.getInForce()) {
            context.line("It goes to nobody now.");
          }
          Table t = new Table("STANDING", "DEVICES");
          s.getStandings().forEach(t::row);
          s.getWithheld()
              .forEach(w -> t.row(w.getTitle() + " refused, it " + w.getReason(), w.getDevices()));
          return t;
        });
  }

  private Profile get(String name) {
    String id = context.profile(name).getId();
    return call(() -> context.client().rules().getProfile(id));
  }

  private static Table table(Profile p) {
    Table t = new Table(p.getName(), "");
    new TreeMap<>(p.getWords()).forEach(t::row);
    t.row("assigned to", targets(p.getTargets())).row("except", targets(p.getExclusions()));
    Window w = p.getWindow();
    if (w.getFrom() != null) {
      t.row("from", time(w.getFrom()));
    }
    return w.getUntil() == null ? t : t.row("until", time(w.getUntil()));
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
        "  pinwright profile set \"Gallery tablets\" wifi[galleries].network=Vellmar-Galleries",
        "  pinwright profile set \"Gallery tablets\" appearance.wallpaper-picture=quay.png"
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

  private Object typed(@Nullable Setting s, String text) {
    if (s == null) {
      return text;
    }
    return switch (s.getType().getKind()) {
      case FLAG ->
          text.equals("true") || text.equals("false") ? (Object) Boolean.valueOf(text) : text;
      case WHOLE -> text.matches("-?\\d{1,18}") ? (Object) Long.valueOf(text) : text;
      case FILE -> text.startsWith("sha256:") ? text : "sha256:" + context.file(text).getId();
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
        "  pinwright profile assign \"Gallery tablets\" --tag gallery --except-device AR10-0001-4471",
        "  pinwright profile assign Christmas --everyone --from 2026-12-24T12:00 --until 2026-12-27T06:00"
      })
  int assign(
      @Parameters(paramLabel = "PROFILE") String name,
      @Mixin TargetOptions targets,
      @Mixin TargetOptions.Except exclusions,
      @Option(
              names = "--from",
              paramLabel = "TIME",
              description = "When it begins, such as 2026-12-24T12:00 here; at once without it.")
          @Nullable LocalDateTime from,
      @Option(
              names = "--until",
              paramLabel = "TIME",
              description = "When devices lose it again; never without it.")
          @Nullable LocalDateTime until) {
    Profile p = get(name);
    return save(
        p,
        new ProfileDraft()
            .targets(targets.specs(context))
            .exclusions(exclusions.specs(context))
            .window(new Window().from(here(from)).until(here(until))));
  }

  private static @Nullable OffsetDateTime here(@Nullable LocalDateTime time) {
    return time == null ? null : time.atZone(ZoneId.systemDefault()).toOffsetDateTime();
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
    Rehearsal r = call(() -> context.client().rules().rehearseProfile(id));
    return context.print(r, () -> Rehearsals.tell(context, r));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Publishes the draft.",
      footer = {"", "Example:", "  pinwright profile publish \"Gallery tablets\" --wait"})
  int publish(
      @Parameters(paramLabel = "PROFILE") String name,
      @Option(names = "--confirm", description = "The number of devices that change.")
          @Nullable Long confirm,
      @Option(names = "--reason", description = "Why, where the rehearsal asks for a reason.")
          @Nullable String reason,
      @Option(
              names = "--propose",
              paramLabel = "NOTE",
              description = "Only propose it, with a word to whoever agrees.")
          @Nullable String note,
      @Option(names = "--wait", description = "Follow until every device has it or refused it.")
          boolean wait)
      throws InterruptedException {
    Profile p = get(name);
    if (note != null) {
      return ProposalCommands.propose(
          context, new Intent().publish(new ById().id(p.getId())), note);
    }
    Published done =
        call(
            () ->
                context
                    .client()
                    .rules()
                    .publishProfile(
                        p.getId(),
                        Context.onVersion(p.getVersion()),
                        new Publication().confirmDevices(confirm).reason(reason)));
    if (wait) {
      return ChangeCommands.follow(context, done.getChange().getId());
    }
    return context.print(
        done,
        () ->
            context.line(
                "Version %1$d published; %2$d devices change. Follow with: pinwright change wait %3$s%n"
                    + "Take it back with: pinwright change undo %3$s",
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
      description = "Shows in what two versions differ; without a second one, the draft.",
      footer = {"", "Example:", "  pinwright profile compare \"Gallery tablets\" 3"})
  int compare(
      @Parameters(paramLabel = "PROFILE") String name,
      @Parameters(paramLabel = "VERSION") int then,
      @Parameters(paramLabel = "VERSION", arity = "0..1") @Nullable Integer other) {
    Profile p = get(name);
    TreeMap<String, String> before = said(version(p, then));
    TreeMap<String, String> after =
        other == null
            ? said(p.getWords(), p.getTargets(), p.getExclusions())
            : said(version(p, other));
    Table t = new Table("", "VERSION " + then, other == null ? "DRAFT" : "VERSION " + other);
    TreeSet<String> keys = new TreeSet<>(before.keySet());
    keys.addAll(after.keySet());
    keys.removeIf(k -> before.getOrDefault(k, "").equals(after.getOrDefault(k, "")));
    keys.forEach(k -> t.row(k, before.getOrDefault(k, "(none)"), after.getOrDefault(k, "(none)")));
    return keys.isEmpty()
        ? context.print(keys, () -> context.line("They say the same."))
        : context.print(keys, () -> t);
  }

  private ProfileVersion version(Profile p, int number) {
    String after = "";
    while (after != null) {
      String from = after;
      ProfileVersionPage page =
          call(() -> context.client().rules().listProfileVersions(p.getId(), from, 200));
      for (ProfileVersion v : page.getItems()) {
        if (v.getNumber() == number) {
          return v;
        }
      }
      after = page.getNext();
    }
    throw new Failure(Failure.USAGE, p.getName() + " has no published version " + number + ".");
  }

  private static TreeMap<String, String> said(ProfileVersion v) {
    return said(v.getWords(), v.getTargets(), v.getExclusions());
  }

  private static TreeMap<String, String> said(
      Map<String, String> words, List<NamedTarget> targets, List<NamedTarget> exclusions) {
    TreeMap<String, String> said = new TreeMap<>(words);
    said.put("assigned to", targets(targets));
    said.put("except", targets(exclusions));
    return said;
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Puts what a published version said back into the draft.")
  int restore(
      @Parameters(paramLabel = "PROFILE") String name,
      @Parameters(paramLabel = "VERSION") int number) {
    Profile p = get(name);
    Profile now =
        call(
            () ->
                context
                    .client()
                    .rules()
                    .restoreProfile(p.getId(), number, Context.onVersion(p.getVersion())));
    return context.print(
        now,
        () ->
            context.line(
                "The draft of %s says what version %d said; rehearse and publish it.",
                now.getName(), number));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Makes another profile that says the same, as a draft.")
  int copy(
      @Parameters(paramLabel = "PROFILE") String name,
      @Parameters(paramLabel = "NAME") String copy) {
    String id = context.profile(name).getId();
    Profile made =
        call(() -> context.client().rules().copyProfile(id, new ProfileCopy().name(copy)));
    return context.print(made, () -> context.line("Profile %s made, as a draft.", made.getName()));
  }

  @Command(
      name = "export",
      mixinStandardHelpOptions = true,
      description = "Writes the draft into a file: what it says, without whom it goes to.",
      footer = {"", "Example:", "  pinwright profile export \"Gallery tablets\" gallery.json"})
  int exportFile(
      @Parameters(paramLabel = "PROFILE") String name, @Parameters(paramLabel = "FILE") Path file) {
    String id = context.profile(name).getId();
    ProfileFile written = call(() -> context.client().rules().writeProfileFile(id));
    FileText.write(file, Context.json(written));
    List<String> left = written.getSecretsLeftOut();
    context.line(
        "%s written to %s%s.",
        written.getName(),
        file,
        left == null || left.isEmpty() ? "" : " without its secrets: " + String.join(", ", left));
    return 0;
  }

  @Command(
      name = "import",
      mixinStandardHelpOptions = true,
      description = "Writes a new profile from a file, as a draft that goes to nobody.")
  int importFile(
      @Parameters(paramLabel = "FILE") Path file,
      @Option(names = "--name", description = "What it is called here.") @Nullable String name) {
    ProfileFile read = Context.read(FileText.read(file, "a profile"), ProfileFile.class, file);
    if (name != null) {
      read.name(name);
    }
    Profile made = call(() -> context.client().rules().readProfileFile(read));
    List<String> left = read.getSecretsLeftOut();
    return context.print(
        made,
        () ->
            context.line(
                "Profile %s made, as a draft%s.",
                made.getName(),
                left == null || left.isEmpty()
                    ? ""
                    : "; its secrets have to be set: " + String.join(", ", left)));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Deletes a profile; devices that have it lose what it says.",
      footer = {"", "Example:", "  pinwright profile delete Quay --dry-run"})
  int delete(
      @Parameters(paramLabel = "PROFILE") String name,
      @Option(names = "--dry-run", description = "Only say what it would do.") boolean dryRun,
      @Option(names = "--confirm", description = "The number of devices, where it is asked for.")
          @Nullable Long confirm,
      @Option(names = "--reason", description = "Why, where it is asked for.")
          @Nullable String reason) {
    Profile p = get(name);
    if (dryRun) {
      Rehearsal r = call(() -> context.client().rules().rehearseProfileDeletion(p.getId()));
      return context.print(r, () -> Rehearsals.tell(context, r));
    }
    Context.act(
        () ->
            context
                .client()
                .rules()
                .deleteProfile(p.getId(), Context.onVersion(p.getVersion()), reason, confirm));
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
