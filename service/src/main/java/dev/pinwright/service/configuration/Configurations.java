package dev.pinwright.service.configuration;

import com.fasterxml.jackson.databind.JsonNode;
import dev.pinwright.catalog.Catalogue;
import dev.pinwright.catalog.ConfigurationSchema;
import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.Setting;
import dev.pinwright.core.catalog.ValueType;
import dev.pinwright.core.change.Confirmation;
import dev.pinwright.core.change.Rehearsal;
import dev.pinwright.core.configuration.Loading;
import dev.pinwright.core.configuration.Part;
import dev.pinwright.core.configuration.Step;
import dev.pinwright.core.file.FileKind;
import dev.pinwright.core.file.StoredFile;
import dev.pinwright.service.change.Changes;
import dev.pinwright.service.compliance.Checks;
import dev.pinwright.service.device.Groups;
import dev.pinwright.service.enrollment.EnrollmentProfiles;
import dev.pinwright.service.file.StoredFiles;
import dev.pinwright.service.group.Membership;
import dev.pinwright.service.organisation.Attributes;
import dev.pinwright.service.organisation.People;
import dev.pinwright.service.organisation.Sites;
import dev.pinwright.service.organisation.Units;
import dev.pinwright.service.rules.Profiles;
import dev.pinwright.service.rules.Publishing;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.terms.HolderTerms;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.ManyLines;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.change.Moves;
import dev.pinwright.storage.file.FileStore;
import dev.pinwright.storage.group.GroupStore;
import dev.pinwright.storage.row.StoredFileRow;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * The whole of rules, intake and organisation as files. Written out, it is the same to the letter
 * as long as nothing changes; loaded, it is rehearsed, and done whole or not at all, as one change.
 *
 * <p>Devices, the roster, invitations and what devices said are in no file; nor are secrets, which
 * stay where they are and are given apart where they are not.
 */
public final class Configurations {
  private static final int MOST_SECRETS_NAMED = 50;

  private final UseCases useCases;
  private final Catalogue catalogue;
  private final Vault vault;
  private final Changes changes;
  private final Membership membership;
  private final Checks checks;
  private final Groups groups;
  private final Publishing publishing;

  public Configurations(
      UseCases useCases,
      Catalogue catalogue,
      Vault vault,
      Changes changes,
      Membership membership,
      Checks checks,
      Groups groups,
      Publishing publishing) {
    this.useCases = useCases;
    this.catalogue = catalogue;
    this.vault = vault;
    this.changes = changes;
    this.membership = membership;
    this.checks = checks;
    this.groups = groups;
    this.publishing = publishing;
  }

  /**
   * All that is arranged.
   *
   * @param texts YAML by path
   * @param files what settings name; each goes beside the texts as {@code files/NAME}
   * @param leftOut what no file can say, in words
   */
  public record Files(Map<String, String> texts, List<StoredFile> files, List<String> leftOut) {}

  /**
   * What is to be loaded.
   *
   * @param texts YAML by path; a part none of them is of stays as it is
   * @param files digests (SHA-256, hex) of the files beside them, by name
   * @param secrets values that are in no file: by part, by name, by key
   * @param delete whether what is in no file is deleted; else it stays
   * @param confirmDevices how many devices change, where the rehearsal asks for it
   * @param reason why, where it asks for that
   */
  public record Load(
      @ManyLines @Nullable Map<String, String> texts,
      @Nullable Map<String, String> files,
      @Nullable Map<String, Map<String, Map<String, String>>> secrets,
      Optional<Boolean> delete,
      Optional<Long> confirmDevices,
      @ManyLines Optional<String> reason) {
    public Load {
      texts = texts == null ? Map.of() : texts;
      files = files == null ? Map.of() : files;
      secrets = secrets == null ? Map.of() : secrets;
    }

    Confirmation given() {
      return Problem.reading(
          "/reason", () -> new Confirmation(confirmDevices, reason, Optional.empty()));
    }

    Optional<String> secret(Part part, String name, String key) {
      return Optional.ofNullable(secrets.getOrDefault(Words.of(part), Map.of()).get(name))
          .map(keys -> keys.get(key));
    }

    /** Keys of the secrets of a thing that are given. */
    List<String> given(Part part, Thing thing) {
      return thing.secrets().stream()
          .filter(key -> secret(part, thing.key(), key).isPresent())
          .toList();
    }
  }

  /** A secret that is in no file and not on file either. */
  public record Secret(Part part, String name, String key) {}

  /**
   * What loading would do.
   *
   * @param steps what is added, changed, deleted, or stays though it is in no file
   * @param filesWanted names of files that have to be stored first
   * @param leftOut what cannot be taken over, in words
   * @param outOfOrder how many devices more would be out of order
   * @param settings what becomes of devices; absent where their settings stay
   * @param confirmDevices when present, this number has to be repeated
   */
  public record Rehearsed(
      List<Step> steps,
      List<String> filesWanted,
      List<String> leftOut,
      long outOfOrder,
      Optional<Rehearsal> settings,
      Optional<Long> confirmDevices,
      boolean reasonWanted,
      boolean secondWanted) {}

  /**
   * What was loaded.
   *
   * @param change what devices follow; absent where their settings stay
   */
  public record Loaded(List<Step> steps, List<String> leftOut, Optional<Changes.Change> change) {}

  /** Writes everything out, as it is at one moment. */
  public Files write(Caller caller) {
    return useCases.snapshot(
        tx -> {
          Present present = present(tx);
          return new Files(
              ConfigurationTexts.write(present.arrangement()),
              new FileStore(tx).of(present.files()),
              present.leftOut());
        });
  }

  /** What the files are, as a JSON Schema (draft 2020-12). */
  public JsonNode schema() {
    return ConfigurationSchema.of(catalogue);
  }

  private Present present(Tx tx) {
    return Present.read(tx, catalogue.catalog(), vault);
  }

  /**
   * Says what loading would do; nothing is stored.
   *
   * @throws Problem 400 naming the file and what is wrong in it, 409 when it cannot be done
   */
  public Rehearsed rehearse(Caller caller, Load load) {
    Arrangement wanted = ConfigurationTexts.read(load.texts());
    return useCases.rehearse(
        caller,
        act -> {
          // before anything is written, as whoever loads does: the two never wait in a circle
          Moves.besideRules(act.tx());
          Worked worked = work(act, wanted, load, true);
          Rehearsal settings = worked.proposal().rehearsal();
          worked.writing().delete(worked.steps());
          return new Rehearsed(
              worked.steps(),
              worked.filesWanted(),
              worked.leftOut(),
              worked.outOfOrder(),
              Optional.of(settings).filter(s -> s.changing() > 0),
              settings.confirmDevices(),
              settings.reasonWanted(),
              settings.secondWanted());
        });
  }

  /** {@link #load(Caller, Load, Confirmation)}, with what is given in it. */
  public Loaded load(Caller caller, Load load) {
    return load(caller, load, load.given());
  }

  /**
   * Loads what is in files: all of it, or nothing.
   *
   * @param given what the rehearsal asks for
   * @throws Problem 400 naming the file and what is wrong in it, 409 when it cannot be done or
   *     something that is asked for is missing
   */
  public Loaded load(Caller caller, Load load, Confirmation given) {
    Arrangement wanted = ConfigurationTexts.read(load.texts());
    return useCases.act(
        caller,
        act -> {
          Moves.aloneWithRules(act.tx());
          Worked worked = work(act, wanted, load, false);
          Optional<Changes.Change> change =
              worked
                  .proposal()
                  .confirmed(given, "load it")
                  .applyIfAny(caller, "Load a configuration")
                  .map(c -> Changes.follow(act.tx(), c));
          worked.writing().delete(worked.steps());
          if (worked.steps().stream().anyMatch(s -> s.verb() != Step.Verb.STAY)) {
            act.done(
                Noun.CONFIGURATION,
                "loaded",
                "all",
                "Configuration loaded: " + words(worked.steps()) + given.words());
            act.touch(Noun.values());
          }
          return new Loaded(worked.steps(), worked.leftOut(), change);
        });
  }

  private static String words(List<Step> steps) {
    Map<Step.Verb, Long> n = new TreeMap<>();
    steps.forEach(s -> n.merge(s.verb(), 1L, Long::sum));
    return "%d added, %d changed, %d deleted"
        .formatted(
            n.getOrDefault(Step.Verb.ADD, 0L),
            n.getOrDefault(Step.Verb.CHANGE, 0L),
            n.getOrDefault(Step.Verb.DELETE, 0L));
  }

  // ---- working it out --------------------------------------------------------------------------

  /** What was written, in a transaction that may still be rolled back. */
  private record Worked(
      List<Step> steps,
      List<String> filesWanted,
      List<String> leftOut,
      long outOfOrder,
      Changes.Proposal proposal,
      Writing writing) {}

  private Worked work(UseCases.Act act, Arrangement wanted, Load load, boolean rehearsing) {
    Tx tx = act.tx();
    // before all else: another content under the same name is another file
    List<String> filesWanted = files(act, wanted, load, rehearsing);
    Present present = present(tx);
    secrets(present.arrangement(), wanted, load);
    List<Step> steps = steps(present.arrangement(), wanted, load);
    List<String> leftOut = new ArrayList<>();
    Writing writing =
        new Writing(new Desk(act, nouns(useCases.within(act)), present, wanted, load, leftOut));
    writing.write(steps);
    writing.withdraw(steps);
    tx.flush();
    if (!steps.isEmpty()) {
      membership.settle(tx, new GroupStore(tx).ids());
    }
    long outOfOrder = steps.isEmpty() ? 0 : Checks.outOfOrder(checks.judged(act));
    Set<String> profiles = new TreeSet<>();
    steps.stream()
        .filter(s -> s.part() == Part.PROFILE || s.part() == Part.KIT)
        .filter(s -> s.verb() != Step.Verb.STAY)
        .forEach(s -> profiles.add(present.ids(s.part()).get(s.name())));
    return new Worked(
        steps, filesWanted, leftOut, outOfOrder, changes.ofAll(tx).about(profiles), writing);
  }

  private Writing.Nouns nouns(UseCases within) {
    Catalog catalog = catalogue.catalog();
    return new Writing.Nouns(
        key -> catalog.setting(key).map(Setting::type),
        new Attributes(within, changes),
        new Units(within, changes),
        new Sites(within),
        new People(within),
        new HolderTerms(within, catalogue),
        new EnrollmentProfiles(within, catalogue),
        new Profiles(within, catalog, vault),
        publishing,
        checks,
        new Groups(within, changes, membership));
  }

  /** The steps; that a secret is given anew is a difference too. */
  private static List<Step> steps(Arrangement now, Arrangement wanted, Load load) {
    Map<Part, Map<String, Loading.Entry>> asked = wanted.entries();
    for (Part part : List.of(Part.ENROLLMENT_PROFILE, Part.PROFILE, Part.KIT)) {
      wanted
          .of(part)
          .forEach(
              (name, placed) -> {
                List<String> anew = load.given(part, placed.thing());
                if (!anew.isEmpty()) {
                  asked
                      .get(part)
                      .computeIfPresent(name, (k, e) -> e.with("secrets given anew", anew));
                }
              });
    }
    return Loading.steps(now.entries(), asked, load.delete().orElse(false));
  }

  /** Goes on when no secret is in a file, and every one is on file or given. */
  private void secrets(Arrangement now, Arrangement wanted, Load load) {
    Stream.of(Part.PROFILE, Part.KIT)
        .map(wanted::of)
        .flatMap(all -> all.values().stream())
        .forEach(
            placed ->
                ((Thing.OfProfile) placed.thing())
                    .settings().keySet().stream()
                        .filter(this::sensitive)
                        .findFirst()
                        .ifPresent(
                            key -> {
                              throw Problem.malformed(
                                  "",
                                  placed.file()
                                      + ": "
                                      + key
                                      + " is a secret and does not belong in a file; name it under"
                                      + " secrets and give it apart.");
                            }));
    List<Secret> missing = new ArrayList<>();
    for (Part part : List.of(Part.ENROLLMENT_PROFILE, Part.PROFILE, Part.KIT)) {
      wanted
          .of(part)
          .forEach(
              (name, placed) -> {
                Set<String> there =
                    new TreeSet<>(now.one(part, name).map(Thing::secrets).orElse(List.of()));
                placed.thing().secrets().stream()
                    .filter(key -> !there.contains(key))
                    .filter(key -> load.secret(part, name, key).isEmpty())
                    .forEach(key -> missing.add(new Secret(part, name, key)));
              });
    }
    if (!missing.isEmpty()) {
      Secret first = missing.get(0);
      throw Problem.conflict(
              "secrets-wanted",
              "Secrets are in no file and "
                  + missing.size()
                  + (missing.size() == 1 ? " is" : " are")
                  + " not here either, such as "
                  + first.key()
                  + " of "
                  + first.name()
                  + "; give them apart.")
          .with("secrets", missing.stream().limit(MOST_SECRETS_NAMED).toList());
    }
  }

  private boolean sensitive(String key) {
    return catalogue.catalog().setting(key).filter(Setting::sensitive).isPresent();
  }

  // ---- files -----------------------------------------------------------------------------------

  /**
   * Lets files have the names they have beside the texts, and finds those that are not stored.
   *
   * @throws Problem 409 naming those, where it is not a rehearsal
   */
  private List<String> files(UseCases.Act act, Arrangement wanted, Load load, boolean rehearsing) {
    FileStore store = new FileStore(act.tx());
    Map<String, String> names = new TreeMap<>(load.files());
    Map<String, FileKind> used = used(wanted);
    names.keySet().retainAll(used.keySet());
    names.forEach(
        (name, id) -> {
          if (!id.matches("[0-9a-f]{64}")) {
            throw Problem.malformed(
                "/files", name + ": a digest is SHA-256 in 64 small hexadecimal digits.");
          }
        });
    Set<String> there = new TreeSet<>();
    store.held(names.values()).forEach(f -> there.add(f.id()));
    List<String> missing =
        names.keySet().stream().filter(name -> !there.contains(names.get(name))).toList();
    if (!missing.isEmpty() && !rehearsing) {
      throw Problem.conflict(
              "files-wanted", "Store these files first: " + String.join(", ", missing) + ".")
          .with("files", missing);
    }
    names.forEach((name, id) -> StoredFiles.call(act, name, id));
    missing.forEach(name -> act.tx().insert(awaited(act, name, names.get(name), used.get(name))));
    act.tx().flush();
    return missing;
  }

  /** Files that settings name, with the kind they have to be of. */
  private Map<String, FileKind> used(Arrangement wanted) {
    Map<String, FileKind> used = new TreeMap<>();
    Stream.of(Part.PROFILE, Part.KIT)
        .map(wanted::of)
        .map(Map::values)
        .flatMap(Collection::stream)
        .map(p -> (Thing.OfProfile) p.thing())
        .forEach(
            p ->
                p.settings()
                    .forEach(
                        (key, value) ->
                            catalogue
                                .catalog()
                                .setting(key)
                                .map(Setting::type)
                                .filter(ValueType.FileType.class::isInstance)
                                .ifPresent(
                                    t -> used.put(value.asText(), ((ValueType.FileType) t).of()))));
    return used;
  }

  /** Stands for a file that is not stored yet, in a rehearsal. */
  private static StoredFileRow awaited(UseCases.Act act, String name, String id, FileKind kind) {
    StoredFileRow row = new StoredFileRow();
    row.id = id;
    row.name = name;
    row.kind = Words.of(kind);
    row.mediaType = "application/octet-stream";
    row.about = "yet to be stored";
    row.storedAt = act.now();
    row.storedBy = act.caller().login();
    return row;
  }
}
