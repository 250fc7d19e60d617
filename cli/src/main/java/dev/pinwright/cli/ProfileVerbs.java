package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;
import static dev.pinwright.cli.Context.time;

import dev.pinwright.client.model.Intent;
import dev.pinwright.client.model.KitPart;
import dev.pinwright.client.model.NamedRefPage;
import dev.pinwright.client.model.NamedTarget;
import dev.pinwright.client.model.Profile;
import dev.pinwright.client.model.ProfileCopy;
import dev.pinwright.client.model.ProfileDraft;
import dev.pinwright.client.model.ProfileFile;
import dev.pinwright.client.model.ProfileKind;
import dev.pinwright.client.model.ProfilePage;
import dev.pinwright.client.model.ProfileStanding;
import dev.pinwright.client.model.ProfileSummary;
import dev.pinwright.client.model.ProfileVersion;
import dev.pinwright.client.model.ProfileVersionPage;
import dev.pinwright.client.model.Publication;
import dev.pinwright.client.model.PublicationIntent;
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

/**
 * What is done to a profile and to a kit alike. The verbs are public: those of a class that is
 * extended are found only so.
 */
abstract class ProfileVerbs {
  final Context context;
  private final ProfileKind kind;

  ProfileVerbs(Context context, ProfileKind kind) {
    this.context = context;
    this.kind = kind;
  }

  private String id(String name) {
    return context.profile(kind, name).getId();
  }

  @Command(mixinStandardHelpOptions = true, description = "Lists all, by name.")
  public int list(@Mixin Paging paging) {
    boolean kits = kind == ProfileKind.KIT;
    ProfilePage page =
        call(() -> context.client().rules().listProfiles(kind, "", paging.after, paging.limit));
    return context.list(
        page,
        page.getItems(),
        p ->
            new Object[] {
              p.getName(),
              state(p),
              kits ? p.getParts() : p.getSettings(),
              p.getDevices(),
              time(p.getChangedAt())
            },
        "NAME",
        "STATE",
        kits ? "PROFILES" : "SETTINGS",
        "DEVICES",
        "CHANGED");
  }

  @Command(mixinStandardHelpOptions = true, description = "Shows the draft.")
  public int show(@Parameters(paramLabel = "NAME") String name) {
    Profile p = get(name);
    return context.print(p, () -> table(p));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Says who has it, who waits for it, and what devices refused of it.")
  public int standing(@Parameters(paramLabel = "NAME") String name) {
    ProfileStanding s = call(() -> context.client().rules().getProfileStanding(id(name)));
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

  final Profile get(String name) {
    String id = id(name);
    return call(() -> context.client().rules().getProfile(id));
  }

  private static Table table(Profile p) {
    Table t = new Table(p.getName(), "");
    new TreeMap<>(p.getWords()).forEach(t::row);
    p.getParts().forEach(x -> t.row("takes along", said(x)));
    p.getKits().forEach(k -> t.row("goes along with", k.getName()));
    t.row("assigned to", targets(p.getTargets())).row("except", targets(p.getExclusions()));
    Window w = p.getWindow();
    if (w.getFrom() != null) {
      t.row("from", time(w.getFrom()));
    }
    return w.getUntil() == null ? t : t.row("until", time(w.getUntil()));
  }

  private static String said(KitPart part) {
    return part.getName()
        + (part.getPublishedVersion() == null ? ", never published" : "")
        + (part.getWhenInOrder() ? ", while in order" : "");
  }

  static String called(Profile p) {
    return switch (p.getKind()) {
          case KIT -> "Kit ";
          case APP -> "Assignment ";
          default -> "Profile ";
        }
        + p.getName();
  }

  private static String state(ProfileSummary p) {
    return p.getPublishedVersion() == null
        ? "draft"
        : "version " + p.getPublishedVersion() + (p.getDraftChanged() ? ", draft changed" : "");
  }

  private static String targets(List<NamedTarget> targets) {
    return targets.stream()
        .map(x -> x.getKind().equals("everyone") ? "everyone" : x.getKind() + " " + x.getName())
        .collect(Collectors.joining(", "));
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
  public int set(
      @Parameters(paramLabel = "NAME") String name,
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
  public int unset(
      @Parameters(paramLabel = "NAME") String name,
      @Parameters(paramLabel = "SETTING", arity = "1..*") List<String> keys) {
    Profile p = get(name);
    Map<String, Object> settings = new HashMap<>(p.getSettings());
    settings.keySet().removeAll(keys);
    return save(p, new ProfileDraft().settings(settings));
  }

  final int save(Profile p, ProfileDraft draft) {
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
  public int assign(
      @Parameters(paramLabel = "NAME") String name,
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
  public int rehearse(
      @Parameters(paramLabel = "NAME") String name,
      @Option(
              names = "--effect",
              description = "List the devices behind one effect, by the id it was shown with.")
          @Nullable String effect,
      @Mixin Paging paging) {
    String id = id(name);
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
      footer = {
        "",
        "Example:",
        "  pinwright profile publish \"Gallery tablets\" --wait",
        "  pinwright profile publish \"Gallery tablets\" --waves \"5,5%,25%\" --hold 120 --bound 5"
      })
  public int publish(
      @Parameters(paramLabel = "NAME") String name,
      @Option(names = "--confirm", description = "The number of devices that change.")
          @Nullable Long confirm,
      @Option(names = "--reason", description = "Why, where the rehearsal asks for a reason.")
          @Nullable String reason,
      @Option(
              names = "--propose",
              paramLabel = "NOTE",
              description = "Only propose it, with a word to whoever agrees.")
          @Nullable String note,
      @Mixin WaveOptions waves,
      @Option(names = "--wait", description = "Follow until every device has it or refused it.")
          boolean wait)
      throws InterruptedException {
    Profile p = get(name);
    if (note != null) {
      return ProposalCommands.propose(
          context,
          new Intent().publish(new PublicationIntent().id(p.getId()).waves(waves.spec(context))),
          note);
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
                        new Publication()
                            .confirmDevices(confirm)
                            .reason(reason)
                            .waves(waves.spec(context))));
    if (wait) {
      return ChangeCommands.follow(context, done.getChange().getId());
    }
    return context.print(
        done,
        () ->
            context.line(
                "Version %1$d published; it changes %2$s. Follow with: pinwright change wait %3$s%n"
                    + "Take it back with: pinwright change undo %3$s",
                done.getVersion(),
                Context.counted(done.getChange().getTotal(), "device"),
                done.getChange().getId()));
  }

  @Command(mixinStandardHelpOptions = true, description = "Lists published versions.")
  public int versions(@Parameters(paramLabel = "NAME") String name, @Mixin Paging paging) {
    String id = id(name);
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
  public int compare(
      @Parameters(paramLabel = "NAME") String name,
      @Parameters(paramLabel = "VERSION") int then,
      @Parameters(paramLabel = "VERSION", arity = "0..1") @Nullable Integer other) {
    Profile p = get(name);
    TreeMap<String, String> before = said(version(p, then));
    TreeMap<String, String> after =
        other == null
            ? said(p.getWords(), p.getParts(), p.getTargets(), p.getExclusions())
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
    return said(v.getWords(), v.getParts(), v.getTargets(), v.getExclusions());
  }

  private static TreeMap<String, String> said(
      Map<String, String> words,
      List<KitPart> parts,
      List<NamedTarget> targets,
      List<NamedTarget> exclusions) {
    TreeMap<String, String> said = new TreeMap<>(words);
    parts.forEach(
        x -> said.put("takes along " + x.getName(), x.getWhenInOrder() ? "while in order" : "yes"));
    said.put("assigned to", targets(targets));
    said.put("except", targets(exclusions));
    return said;
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Puts what a published version said back into the draft.")
  public int restore(
      @Parameters(paramLabel = "NAME") String name,
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
      description = "Makes another that says the same, as a draft.")
  public int copy(
      @Parameters(paramLabel = "NAME") String name,
      @Parameters(paramLabel = "NEW-NAME") String copy) {
    String id = id(name);
    Profile made =
        call(() -> context.client().rules().copyProfile(id, new ProfileCopy().name(copy)));
    return context.print(made, () -> context.line("%s made, as a draft.", called(made)));
  }

  @Command(
      name = "export",
      mixinStandardHelpOptions = true,
      description = "Writes the draft into a file: what it says, without whom it goes to.",
      footer = {"", "Example:", "  pinwright profile export \"Gallery tablets\" gallery.json"})
  public int exportFile(
      @Parameters(paramLabel = "NAME") String name, @Parameters(paramLabel = "FILE") Path file) {
    String id = id(name);
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
      description = "Writes a new one from a file, as a draft that goes to nobody.")
  public int importFile(
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
                "%s made, as a draft%s.",
                called(made),
                left == null || left.isEmpty()
                    ? ""
                    : "; its secrets have to be set: " + String.join(", ", left)));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Deletes it; devices that have it lose what it says.",
      footer = {"", "Example:", "  pinwright profile delete Quay --dry-run"})
  public int delete(
      @Parameters(paramLabel = "NAME") String name,
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
    context.line("%s deleted.", called(p));
    return 0;
  }
}
