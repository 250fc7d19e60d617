package dev.pinwright.service.rules;

import com.fasterxml.jackson.databind.JsonNode;
import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.SettingValue;
import dev.pinwright.core.organisation.Attribute;
import dev.pinwright.core.own.Placeholders;
import dev.pinwright.core.policy.KitPart;
import dev.pinwright.core.policy.ProfileKind;
import dev.pinwright.core.target.Assignment;
import dev.pinwright.core.target.Target;
import dev.pinwright.core.target.Window;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.shape.ProfileContent;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.device.RefusalStore;
import dev.pinwright.storage.organisation.AttributeStore;
import dev.pinwright.storage.profile.AssignmentStore;
import dev.pinwright.storage.profile.KitStore;
import dev.pinwright.storage.profile.ProfileStore;
import dev.pinwright.storage.row.AppRow;
import dev.pinwright.storage.row.DeviceRow;
import dev.pinwright.storage.row.GroupRow;
import dev.pinwright.storage.row.PersonRow;
import dev.pinwright.storage.row.ProfileRow;
import dev.pinwright.storage.row.ProfileVersionRow;
import dev.pinwright.storage.row.UnitRow;
import java.time.Instant;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/** Profiles: drafted, rehearsed, published. Devices only ever see published versions. */
public final class Profiles {
  private final UseCases useCases;
  private final Catalog catalog;
  private final Vault vault;
  private final NamedFiles files;
  private final KitParts parts;
  private final AppSettings apps;

  public Profiles(UseCases useCases, Catalog catalog, Vault vault) {
    this.useCases = useCases;
    this.catalog = catalog;
    this.vault = vault;
    files = new NamedFiles(catalog);
    parts = new KitParts(catalog);
    apps = new AppSettings(catalog);
  }

  /** A target with its name for people. */
  public record NamedTarget(String kind, String ref, String name) {}

  /** A profile that goes along with a kit. */
  public record Part(
      String profile, String name, Optional<Integer> publishedVersion, boolean whenInOrder) {}

  /** A profile or kit by id and name. */
  public record Named(String id, String name) {}

  /** A profile in a list. */
  public record Summary(
      String id,
      ProfileKind kind,
      String name,
      String description,
      String state,
      Optional<Integer> publishedVersion,
      boolean draftChanged,
      int settings,
      int parts,
      long devices,
      Instant changedAt) {}

  /**
   * A profile with its draft. {@code version} is the one to send in {@code If-Match}.
   *
   * @param app the app it assigns, where it assigns one
   * @param parts profiles that go along with it, where it is a kit
   * @param kits kits it goes along with
   */
  public record Detail(
      String id,
      ProfileKind kind,
      Optional<String> app,
      int version,
      String name,
      String description,
      String state,
      Optional<Integer> publishedVersion,
      boolean draftChanged,
      Map<String, JsonNode> settings,
      Map<String, String> words,
      List<Part> parts,
      List<NamedTarget> targets,
      List<NamedTarget> exclusions,
      Window window,
      List<Named> kits,
      Instant changedAt) {}

  /** A part of a kit as written. */
  public record PartSpec(@Nullable String profile, @Nullable Boolean whenInOrder) {
    KitPart part() {
      return new KitPart(String.valueOf(profile), Boolean.TRUE.equals(whenInOrder));
    }
  }

  /** A target as written. */
  public record TargetSpec(String kind, @Nullable String ref) {
    Target target(String pointer) {
      return ProfileContent.target(kind == null ? "" : kind, ref == null ? "" : ref, pointer);
    }
  }

  /**
   * A profile as an administrator writes it; what is absent stays as it is.
   *
   * @param kind what it is; said when it is made, and no other later
   * @param app the app it assigns, where it assigns one; said when it is made
   */
  public record Draft(
      Optional<String> name,
      Optional<String> description,
      Optional<Map<String, JsonNode>> settings,
      Optional<List<TargetSpec>> targets,
      Optional<List<TargetSpec>> exclusions,
      Optional<WindowSpec> window,
      Optional<ProfileKind> kind,
      Optional<List<PartSpec>> parts,
      Optional<String> app) {

    /** One that assigns no app. */
    public Draft(
        Optional<String> name,
        Optional<String> description,
        Optional<Map<String, JsonNode>> settings,
        Optional<List<TargetSpec>> targets,
        Optional<List<TargetSpec>> exclusions,
        Optional<WindowSpec> window,
        Optional<ProfileKind> kind,
        Optional<List<PartSpec>> parts) {
      this(name, description, settings, targets, exclusions, window, kind, parts, Optional.empty());
    }

    /** One that takes nothing along and says nothing of when it holds. */
    public Draft(
        Optional<String> name,
        Optional<String> description,
        Optional<Map<String, JsonNode>> settings,
        Optional<List<TargetSpec>> targets,
        Optional<List<TargetSpec>> exclusions) {
      this(
          name,
          description,
          settings,
          targets,
          exclusions,
          Optional.empty(),
          Optional.empty(),
          Optional.empty());
    }
  }

  /** When it goes to them, as written: moments, absent for at once and for ever. */
  public record WindowSpec(Optional<Instant> from, Optional<Instant> until) {}

  /** Profiles or kits by name. */
  public Page<Summary> page(Caller caller, ProfileKind kind, String words, Page.Request page) {
    return useCases.read(
        tx -> {
          Page<ProfileStore.Line> lines =
              Page.byName(
                  (after, limit) -> new ProfileStore(tx).page(kind, words, after, limit),
                  page,
                  ProfileStore.Line::name,
                  ProfileStore.Line::id);
          return new Page<>(
              lines.items().stream()
                  .map(
                      l ->
                          new Summary(
                              l.id(),
                              kind,
                              l.name(),
                              l.description(),
                              l.publishedVersion().isEmpty() ? "draft" : "published",
                              l.publishedVersion(),
                              l.draftChanged(),
                              l.settings(),
                              l.parts(),
                              l.devices(),
                              l.changedAt()))
                  .toList(),
              lines.next());
        });
  }

  /** One profile. */
  public Detail get(Caller caller, String id) {
    return useCases.read(tx -> view(tx, row(tx, id)));
  }

  /**
   * How devices are with a profile.
   *
   * @param inForce whether its published version goes to anybody now
   * @param standings devices it is assigned to, by how they stand; none where nobody does
   * @param withheld settings of it that devices refused
   */
  public record Standing(boolean inForce, Map<String, Long> standings, List<Withheld> withheld) {}

  /** A setting some devices refused, and why. */
  public record Withheld(String setting, String title, String reason, long devices) {}

  /** Who has a profile, who waits for it, who refused some of it. */
  public Standing standing(Caller caller, String id) {
    return useCases.snapshot(
        tx -> {
          ProfileRow row = row(tx, id);
          Map<String, Long> standings = new TreeMap<>();
          new ProfileStore(tx).standings(id).forEach(s -> standings.put(s.standing(), s.devices()));
          Set<String> said = said(tx, row);
          List<Withheld> withheld =
              new RefusalStore(tx)
                  .ofProfile(id).stream()
                      .flatMap(
                          r ->
                              catalog.settingAt(r.path()).stream()
                                  .filter(s -> said.contains(s.key()))
                                  .map(
                                      s ->
                                          new Withheld(
                                              s.key(), s.title(), r.reason(), r.devices())))
                      .toList();
          return new Standing(row.publishedVersion != null && row.inForce, standings, withheld);
        });
  }

  /** Keys of the settings its published version gives, and what goes along with it. */
  private Set<String> said(Tx tx, ProfileRow row) {
    Set<String> said = new HashSet<>();
    published(tx, row)
        .ifPresent(
            content -> {
              said.addAll(content.settings().keySet());
              for (KitPart part : content.parts()) {
                tx.find(ProfileRow.class, part.profileId())
                    .flatMap(p -> published(tx, p))
                    .ifPresent(p -> said.addAll(p.settings().keySet()));
              }
            });
    return said;
  }

  private Optional<ProfileContent> published(Tx tx, ProfileRow row) {
    return Optional.ofNullable(row.publishedVersion)
        .flatMap(n -> tx.find(ProfileVersionRow.class, new ProfileVersionRow.Key(row.id, n)))
        .map(v -> ProfileContent.load(v.content, vault));
  }

  /** What it is and what it is called. */
  static String said(ProfileRow row) {
    return switch (row.kind()) {
          case PROFILE -> "Profile ";
          case KIT -> "Kit ";
          case APP -> "Assignment ";
        }
        + row.name;
  }

  private static @Nullable String app(Tx tx, ProfileKind kind, Optional<String> written) {
    if (kind != ProfileKind.APP) {
      written.ifPresent(
          a -> {
            throw Problem.malformed("/app", "Only an assignment of an app is of one.");
          });
      return null;
    }
    String id = written.orElseThrow(() -> Problem.malformed("/app", "Say which app this assigns."));
    return tx.find(AppRow.class, id)
        .orElseThrow(() -> Problem.malformed("/app", "There is no app " + id + "."))
        .id;
  }

  static ProfileRow row(Tx tx, String id) {
    return tx.find(ProfileRow.class, id).orElseThrow(() -> Problem.notFound("profile", id));
  }

  /** Writes a new profile as a draft. */
  public Detail add(Caller caller, Draft draft) {
    return useCases.act(
        caller,
        act -> {
          ProfileRow row = new ProfileRow();
          row.id = act.newId();
          row.name =
              draft.name().orElseThrow(() -> Problem.malformed("/name", "A profile needs a name."));
          row.kind = Words.of(draft.kind().orElse(ProfileKind.PROFILE));
          row.appId = app(act.tx(), row.kind(), draft.app());
          row.description = "";
          row.createdAt = act.now();
          row.draft = ProfileContent.EMPTY.store(catalog, vault);
          write(act, row, draft);
          act.tx().insert(row);
          act.tx().flush();
          act.done(Noun.PROFILE, "made", row.id, said(row) + " made");
          return view(act.tx(), row);
        });
  }

  /**
   * Changes the draft.
   *
   * @param version the version it was read in
   * @throws Problem 412 when someone else changed it meanwhile
   */
  public Detail change(Caller caller, String id, int version, Draft draft) {
    return useCases.act(
        caller,
        act -> {
          ProfileRow row = locked(act.tx(), id, version);
          write(act, row, draft);
          act.tx().flush();
          act.done(Noun.PROFILE, "drafted", id, "Draft of " + row.name + " saved");
          return view(act.tx(), row);
        });
  }

  /**
   * Makes another profile that says the same to the same devices, as a draft.
   *
   * @throws Problem 409 when there is a profile of this name
   */
  public Detail copy(Caller caller, String id, String name) {
    return useCases.act(
        caller,
        act -> {
          ProfileRow of = row(act.tx(), id);
          ProfileRow row = new ProfileRow();
          row.id = act.newId();
          row.kind = of.kind;
          row.name = name(act.tx(), name, row.id);
          row.description = of.description;
          row.appId = of.appId;
          row.createdAt = act.now();
          row.changedAt = act.now();
          row.draft = of.draft;
          row.draftChanged = true;
          act.tx().insert(row);
          act.tx().flush();
          act.done(Noun.PROFILE, "made", row.id, row.name + " made as a copy of " + of.name);
          return view(act.tx(), row);
        });
  }

  /**
   * Writes what a published version said into the draft, its secrets too.
   *
   * @param version the version of the profile's record it was read in
   * @param number of the published version
   * @throws Problem 404 when there is no such version, 412 when someone else changed it meanwhile
   */
  public Detail restore(Caller caller, String id, int version, int number) {
    return useCases.act(
        caller,
        act -> {
          ProfileRow row = locked(act.tx(), id, version);
          ProfileVersionRow then =
              act.tx()
                  .find(ProfileVersionRow.class, new ProfileVersionRow.Key(id, number))
                  .orElseThrow(() -> Problem.notFound("version", String.valueOf(number)));
          row.draft = then.content;
          row.draftChanged = !Integer.valueOf(number).equals(row.publishedVersion);
          row.changedAt = act.now();
          act.tx().flush();
          act.done(
              Noun.PROFILE,
              "drafted",
              id,
              "Version " + number + " of " + row.name + " put back into its draft");
          return view(act.tx(), row);
        });
  }

  static ProfileRow locked(Tx tx, String id, int version) {
    return Known.locked(tx, ProfileRow.class, "profile", id, version, r -> r.version);
  }

  private void write(UseCases.Act act, ProfileRow row, Draft draft) {
    Tx tx = act.tx();
    draft
        .kind()
        .filter(k -> k != row.kind())
        .ifPresent(
            k -> {
              throw Problem.malformed("/kind", "This is a " + row.kind + ", and stays one.");
            });
    draft.name().ifPresent(n -> row.name = name(tx, n, row.id));
    draft
        .description()
        .ifPresent(
            d -> {
              if (d.length() > 500) {
                throw Problem.malformed(
                    "/description", "A description has at most 500 characters.");
              }
              row.description = d.strip();
            });
    ProfileContent before = ProfileContent.load(row.draft, vault);
    Assignment assignment =
        new Assignment(
            targets(tx, draft.targets(), "/targets", before.assignment().targets()),
            targets(tx, draft.exclusions(), "/exclusions", before.assignment().exclusions()),
            draft
                .window()
                .map(w -> Problem.reading("/window", () -> new Window(w.from(), w.until())))
                .orElse(before.assignment().window()));
    ProfileContent after =
        new ProfileContent(
            draft
                .settings()
                .map(s -> sound(tx, row, ProfileContent.written(s, catalog, before)))
                .orElse(before.settings()),
            draft.parts().map(p -> parts.require(tx, row, p)).orElse(before.parts()),
            assignment);
    row.changedAt = act.now();
    if (!after.equals(before) || row.publishedVersion == null) {
      row.draft = after.store(catalog, vault);
      row.draftChanged = true;
    }
  }

  /** Refuses what no device could fill in or fetch. */
  private Map<String, SettingValue> sound(
      Tx tx, ProfileRow row, Map<String, SettingValue> settings) {
    parts.onlyFiles(row, settings);
    files.require(tx, settings);
    return placeholders(tx, apps.sound(tx, row, settings));
  }

  private static Map<String, SettingValue> placeholders(Tx tx, Map<String, SettingValue> settings) {
    List<String> attributes =
        settings.values().stream().anyMatch(v -> v.text().contains(Placeholders.ATTRIBUTE))
            ? new AttributeStore(tx)
                .of(Attribute.Kind.DEVICE).stream().map(Attribute::name).toList()
            : List.of();
    settings.forEach(
        (key, value) ->
            Placeholders.objection(value.text(), attributes)
                .ifPresent(
                    o -> {
                      throw Problem.malformed("/settings/" + key, "The value " + o + ".");
                    }));
    return settings;
  }

  private static String name(Tx tx, String wanted, String ownId) {
    String name = Known.name(wanted);
    if (new ProfileStore(tx).byName(name).filter(p -> !p.id.equals(ownId)).isPresent()) {
      throw Problem.conflict(
          "name-taken", "There is a profile or kit called " + name + " already.");
    }
    return name;
  }

  private static List<Target> targets(
      Tx tx, Optional<List<TargetSpec>> written, String pointer, List<Target> before) {
    if (written.isEmpty()) {
      return before;
    }
    List<Target> targets = written.get().stream().map(t -> t.target(pointer)).distinct().toList();
    for (Target t : targets) {
      boolean known =
          switch (t.kind()) {
            case EVERYONE, TAG -> true;
            case GROUP -> tx.find(GroupRow.class, t.ref()).isPresent();
            case UNIT -> tx.find(UnitRow.class, t.ref()).isPresent();
            case PERSON -> tx.find(PersonRow.class, t.ref()).filter(p -> !p.removed()).isPresent();
            case DEVICE -> tx.find(DeviceRow.class, t.ref()).isPresent();
          };
      if (!known) {
        throw Problem.malformed(pointer, "There is no " + Words.of(t.kind()) + " " + t.ref() + ".");
      }
    }
    return targets;
  }

  private Detail view(Tx tx, ProfileRow row) {
    ProfileContent content = ProfileContent.load(row.draft, vault);
    return new Detail(
        row.id,
        row.kind(),
        Optional.ofNullable(row.appId),
        row.version,
        row.name,
        row.description,
        row.publishedVersion == null ? "draft" : "published",
        Optional.ofNullable(row.publishedVersion),
        row.draftChanged,
        content.shown(catalog),
        files.words(tx, content),
        parts.shown(tx, content.parts()),
        named(tx, content.assignment().targets()),
        named(tx, content.assignment().exclusions()),
        content.assignment().window(),
        row.kind() == ProfileKind.KIT
            ? List.of()
            : new KitStore(tx)
                .taking(row.id).stream().map(k -> new Named(k.id(), k.name())).toList(),
        row.changedAt);
  }

  static List<NamedTarget> named(Tx tx, List<Target> targets) {
    Map<String, String> names =
        new AssignmentStore(tx).names(targets.stream().map(Target::ref).toList());
    return targets.stream()
        .map(
            t ->
                new NamedTarget(
                    Words.of(t.kind()),
                    t.ref(),
                    t.kind() == Target.Kind.EVERYONE
                        ? "everyone"
                        : names.getOrDefault(t.ref(), t.ref())))
        .toList();
  }
}
