package dev.pinwright.service.configuration;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.TextNode;
import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.ValueType;
import dev.pinwright.core.configuration.Part;
import dev.pinwright.core.configuration.Step;
import dev.pinwright.core.enrollment.EnrollmentForm;
import dev.pinwright.core.file.StoredFile;
import dev.pinwright.core.policy.ProfileKind;
import dev.pinwright.core.target.Target;
import dev.pinwright.service.compliance.Checks;
import dev.pinwright.service.device.Groups;
import dev.pinwright.service.enrollment.EnrollmentProfiles;
import dev.pinwright.service.organisation.Attributes;
import dev.pinwright.service.organisation.People;
import dev.pinwright.service.organisation.Sites;
import dev.pinwright.service.organisation.Units;
import dev.pinwright.service.rules.Profiles;
import dev.pinwright.service.rules.Publishing;
import dev.pinwright.service.shape.ProfileContent;
import dev.pinwright.service.terms.HolderTerms;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.device.DeviceStore;
import dev.pinwright.storage.file.FileStore;
import dev.pinwright.storage.row.EnrollmentProfileRow;
import dev.pinwright.storage.row.PersonRow;
import dev.pinwright.storage.row.ProfileRow;
import dev.pinwright.storage.row.SiteRow;
import dev.pinwright.storage.row.UnitRow;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.BiConsumer;
import java.util.function.Function;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * Writes what files say, one thing after the other, by the use cases a person would have used, in
 * one transaction. Devices are let follow afterwards.
 */
final class Writing {
  private final UseCases.Act act;
  private final Caller caller;
  private final Nouns nouns;
  private final Present present;
  private final Arrangement wanted;
  private final Configurations.Load load;
  private final List<String> leftOut;
  private final Map<String, String> devices;

  /** The use cases, within the one that loads; but for those that move devices. */
  record Nouns(
      ValueTypes types,
      Attributes attributes,
      Units units,
      Sites sites,
      People people,
      HolderTerms terms,
      EnrollmentProfiles enrollments,
      Profiles profiles,
      Publishing publishing,
      Checks checks,
      Groups groups) {}

  /** The type of a setting by its key. */
  interface ValueTypes extends Function<String, Optional<ValueType>> {}

  Writing(
      UseCases.Act act,
      Nouns nouns,
      Present present,
      Arrangement wanted,
      Configurations.Load load,
      List<String> leftOut) {
    this.act = act;
    this.caller = act.caller();
    this.nouns = nouns;
    this.present = present;
    this.wanted = wanted;
    this.load = load;
    this.leftOut = leftOut;
    devices = new DeviceStore(act.tx()).withSerials(serials());
  }

  private Set<String> serials() {
    Set<String> serials = new TreeSet<>();
    for (Part part : List.of(Part.PROFILE, Part.KIT)) {
      wanted
          .of(part)
          .values()
          .forEach(
              p -> {
                Thing.OfProfile profile = (Thing.OfProfile) p.thing();
                for (List<String> list : List.of(profile.targets(), profile.exclusions())) {
                  list.stream()
                      .filter(t -> t.startsWith("device "))
                      .forEach(t -> serials.add(t.substring("device ".length())));
                }
              });
    }
    return serials;
  }

  /** Does the steps that write; those that delete are {@link #delete}'s. */
  void write(List<Step> steps) {
    Map<Part, List<Step>> byPart =
        steps.stream()
            .filter(s -> s.verb() == Step.Verb.ADD || s.verb() == Step.Verb.CHANGE)
            .collect(Collectors.groupingBy(Step::part));
    for (Part part : Part.values()) {
      List<Step> own = new ArrayList<>(byPart.getOrDefault(part, List.of()));
      switch (part) {
        case UNIT -> own.sort(Comparator.comparingInt(s -> depth(s.name())));
        case TERMS -> own.sort(Comparator.comparingInt(s -> Integer.parseInt(s.name())));
        // groups may name each other, whichever is written first
        case GROUP -> own.stream().filter(this::isNew).forEach(this::found);
        default -> {
          // in any order
        }
      }
      own.forEach(this::write);
    }
  }

  private boolean isNew(Step s) {
    return s.verb() == Step.Verb.ADD;
  }

  private void found(Step s) {
    String id = at(s, () -> Groups.define(act, Optional.empty(), Groups.Draft.picked(s.name())));
    present.ids(Part.GROUP).put(s.name(), id);
  }

  private int depth(String code) {
    int depth = 0;
    for (Optional<String> up = within(code);
        up.isPresent() && depth < Units.MAX_UNITS;
        up = within(up.get())) {
      depth++;
    }
    return depth;
  }

  private Optional<String> within(String code) {
    return wanted.one(Part.UNIT, code).flatMap(u -> ((Thing.OfUnit) u).within());
  }

  private static <T> T at(Step s, Supplier<T> work) {
    return At.file(s.file().isEmpty() ? s.name() : s.file(), work);
  }

  private void write(Step s) {
    Thing thing = wanted.one(s.part(), s.name()).orElseThrow();
    at(
        s,
        () -> {
          switch (s.part()) {
            case ATTRIBUTE -> attribute((Thing.OfAttribute) thing);
            case UNIT -> unit((Thing.OfUnit) thing);
            case SITE -> site((Thing.OfSite) thing);
            case PERSON -> person((Thing.OfPerson) thing);
            case TERMS -> terms(s, (Thing.OfTerms) thing);
            case GROUP -> group((Thing.OfGroup) thing);
            case ENROLLMENT_PROFILE -> enrollment((Thing.OfEnrollment) thing);
            case PROFILE -> profile(ProfileKind.PROFILE, (Thing.OfProfile) thing);
            case KIT -> profile(ProfileKind.KIT, (Thing.OfProfile) thing);
            case CHECK -> check((Thing.OfCheck) thing);
          }
          return s;
        });
  }

  private Optional<String> id(Thing thing, Part part) {
    return Optional.ofNullable(present.ids(part).get(thing.key()));
  }

  private Optional<Thing> now(Part part, String key) {
    return present.arrangement().one(part, key);
  }

  /** The id of what a file names, which has to be there or in a file. */
  private String id(Part part, String name, String pointer) {
    String id = present.ids(part).get(name);
    if (id == null) {
      throw Problem.malformed(
          pointer, "There is no " + Words.of(part).replace('-', ' ') + " " + name + ".");
    }
    return id;
  }

  private @Nullable String id(Part part, Optional<String> name, String pointer) {
    return name.map(n -> id(part, n, pointer)).orElse(null);
  }

  // ---- organisation ----------------------------------------------------------------------------

  private void attribute(Thing.OfAttribute a) {
    Attributes.Draft draft = new Attributes.Draft(a.name(), a.of(), a.type(), a.choices());
    Optional<String> id = id(a, Part.ATTRIBUTE);
    if (id.isEmpty()) {
      present.ids(Part.ATTRIBUTE).put(a.key(), nouns.attributes().add(caller, draft).id());
      return;
    }
    var there =
        nouns.attributes().all(caller).stream()
            .filter(x -> x.id().equals(id.get()))
            .findFirst()
            .orElseThrow();
    nouns
        .attributes()
        .change(
            caller,
            id.get(),
            there.version(),
            new Attributes.Draft(
                a.name(), a.of(), a.type(), a.choices().isEmpty() ? null : a.choices()));
  }

  private void unit(Thing.OfUnit u) {
    String parent = id(Part.UNIT, u.within(), "/within");
    Optional<String> id = id(u, Part.UNIT);
    if (id.isEmpty()) {
      String made = nouns.units().add(caller, new Units.Draft(u.code(), u.name(), parent)).id();
      present.ids(Part.UNIT).put(u.code(), made);
    } else {
      Thing.OfUnit before = (Thing.OfUnit) now(Part.UNIT, u.code()).orElseThrow();
      if (!before.name().equals(u.name())) {
        int version = one(UnitRow.class, id.get()).version;
        nouns.units().change(caller, id.get(), version, new Units.Draft(null, u.name(), null));
      }
      if (!before.within().equals(u.within())) {
        Units.put(act, id.get(), parent);
      }
    }
    values(Part.UNIT, u, u.attributes());
  }

  private void values(Part part, Thing thing, Map<String, String> wanted) {
    Map<String, String> before =
        now(part, thing.key())
            .map(
                t ->
                    t instanceof Thing.OfUnit u
                        ? u.attributes()
                        : ((Thing.OfPerson) t).attributes())
            .orElse(Map.of());
    if (before.equals(wanted)) {
      return;
    }
    Map<String, String> values = new TreeMap<>(wanted);
    before.keySet().forEach(name -> values.putIfAbsent(name, ""));
    nouns.attributes().set(caller, Words.of(part), id(thing, part).orElseThrow(), values);
  }

  private void site(Thing.OfSite s) {
    Sites.Draft draft =
        new Sites.Draft(
            s.name(),
            s.address().orElse(null),
            s.latitude().orElse(null),
            s.longitude().orElse(null));
    Optional<String> id = id(s, Part.SITE);
    if (id.isPresent()) {
      int version = one(SiteRow.class, id.get()).version;
      nouns.sites().change(caller, id.get(), version, draft);
    } else {
      present.ids(Part.SITE).put(s.key(), nouns.sites().add(caller, draft).id());
    }
  }

  private void person(Thing.OfPerson p) {
    People.Draft draft =
        new People.Draft(
            p.name(),
            p.login().orElse(null),
            p.mail().orElse(null),
            id(Part.UNIT, p.unit(), "/unit"),
            id(Part.SITE, p.site(), "/site"));
    Optional<String> id = id(p, Part.PERSON);
    if (id.isPresent()) {
      int version = one(PersonRow.class, id.get()).version;
      nouns.people().change(caller, id.get(), version, draft);
    } else {
      present.ids(Part.PERSON).put(p.key(), nouns.people().add(caller, draft).id());
    }
    values(Part.PERSON, p, p.attributes());
  }

  // ---- intake ----------------------------------------------------------------------------------

  private void terms(Step s, Thing.OfTerms t) {
    if (s.verb() == Step.Verb.CHANGE) {
      throw Problem.conflict(
          "terms-stay",
          "Version "
              + t.version()
              + " of the terms was accepted as it is; write what is new as the next version.");
    }
    HolderTerms.Shown written =
        nouns
            .terms()
            .add(
                caller, new HolderTerms.Draft(t.language(), t.title(), t.text(), t.translations()));
    if (written.version() != t.version()) {
      throw Problem.malformed(
          "/version",
          "The next version of the terms is " + written.version() + ", not " + t.version() + ".");
    }
  }

  private void enrollment(Thing.OfEnrollment e) {
    Optional<String> id = id(e, Part.ENROLLMENT_PROFILE);
    EnrollmentForm form =
        new EnrollmentForm(
            e.name(),
            e.ownership(),
            e.mode(),
            e.platforms(),
            e.kinds(),
            e.signIn(),
            load.secret(Part.ENROLLMENT_PROFILE, e.name(), Thing.OfEnrollment.PASSPHRASE)
                .orElse(null),
            e.directoryGroup().orElse(null),
            e.termsVersion().orElse(null),
            e.minimumOs(),
            e.approval(),
            e.rosterOnly(),
            e.namePattern(),
            e.fillGaps(),
            id(Part.UNIT, e.unit(), "/unit"),
            id(Part.SITE, e.site(), "/site"),
            e.groups().stream().map(g -> id(Part.GROUP, g, "/groups")).toList(),
            e.tags(),
            form(e.firstRun(), EnrollmentForm.FirstRunForm.class),
            form(e.readyGate(), EnrollmentForm.GateForm.class),
            e.removable(),
            e.comesBack());
    if (id.isPresent()) {
      int version = one(EnrollmentProfileRow.class, id.get()).version;
      nouns.enrollments().change(caller, id.get(), version, form);
    } else {
      present.ids(Part.ENROLLMENT_PROFILE).put(e.key(), nouns.enrollments().add(caller, form).id());
    }
  }

  private static <T> @Nullable T form(@Nullable JsonNode written, Class<T> type) {
    return written == null || written.isNull() ? null : Json.request(written, type);
  }

  // ---- rules -----------------------------------------------------------------------------------

  private void group(Thing.OfGroup g) {
    Groups.define(
        act,
        id(g, Part.GROUP),
        new Groups.Draft(
            g.name(),
            g.rule(),
            Optional.of(g.inside().stream().map(i -> id(Part.GROUP, i, "/inside")).toList()),
            Optional.empty(),
            Optional.empty()));
  }

  private void check(Thing.OfCheck c) {
    nouns
        .checks()
        .define(
            act,
            id(c, Part.CHECK),
            new Checks.Draft(
                c.name(),
                c.rule(),
                c.group().map(g -> id(Part.GROUP, g, "/group")),
                c.advice(),
                Optional.ofNullable(c.ladder())
                    .map(l -> new Checks.Steps(l.grace(), l.holder(), l.house(), l.withhold())),
                Optional.empty(),
                Optional.empty()));
  }

  private void profile(ProfileKind kind, Thing.OfProfile p) {
    Part part = kind == ProfileKind.KIT ? Part.KIT : Part.PROFILE;
    Optional<Thing.OfProfile> before = now(part, p.key()).map(Thing.OfProfile.class::cast);
    boolean publish = p.state().equals(Thing.OfProfile.PUBLISHED);
    if (!publish && !p.state().equals(Thing.OfProfile.DRAFT)) {
      throw Problem.malformed("/state", "A state is published or draft.");
    }
    boolean published = before.filter(b -> b.state().equals(Thing.OfProfile.PUBLISHED)).isPresent();
    if (published && !publish) {
      throw Problem.conflict(
          "published",
          "It is published and cannot be a draft again; let it go to nobody, or delete it.");
    }
    if (published && before.get().describedAs(p).equals(p) && !load.renews(part, p)) {
      draft(part, p, Optional.empty());
      return;
    }
    draft(part, p, Optional.of(settings(part, p)));
    if (publish) {
      nouns.publishing().put(act, id(p, part).orElseThrow());
    }
  }

  /** Writes the draft; its description alone where there are no settings. */
  private void draft(Part part, Thing.OfProfile p, Optional<Map<String, JsonNode>> settings) {
    boolean whole = settings.isPresent();
    Profiles.Draft draft =
        new Profiles.Draft(
            Optional.of(p.name()),
            Optional.of(p.description().orElse("")),
            settings,
            Optional.of(targets(p, p.targets(), "/targets")).filter(t -> whole),
            Optional.of(targets(p, p.exclusions(), "/exclusions")).filter(t -> whole),
            Optional.of(new Profiles.WindowSpec(p.from(), p.until())).filter(w -> whole),
            Optional.of(part == Part.KIT ? ProfileKind.KIT : ProfileKind.PROFILE),
            Optional.of(parts(p)).filter(x -> whole));
    Optional<String> id = id(p, part);
    if (id.isEmpty()) {
      present.ids(part).put(p.key(), nouns.profiles().add(caller, draft).id());
      return;
    }
    one(ProfileRow.class, id.get());
    Profiles.Detail there = nouns.profiles().get(caller, id.get());
    if (whole && there.draftChanged() && there.publishedVersion().isPresent()) {
      leftOut.add("The draft of " + p.name() + " that nobody published is replaced.");
      there =
          nouns
              .profiles()
              .restore(caller, id.get(), there.version(), there.publishedVersion().get());
    }
    nouns.profiles().change(caller, id.get(), there.version(), draft);
  }

  private List<Profiles.PartSpec> parts(Thing.OfProfile p) {
    return p.parts().stream()
        .map(
            x ->
                new Profiles.PartSpec(
                    id(Part.PROFILE, String.valueOf(x.profile()), "/parts"), x.whenInOrder()))
        .toList();
  }

  private Map<String, JsonNode> settings(Part part, Thing.OfProfile p) {
    Map<String, JsonNode> settings = new HashMap<>(p.settings());
    settings.replaceAll(
        (key, value) ->
            nouns.types().apply(key).filter(t -> t instanceof ValueType.FileType).isPresent()
                ? file(value)
                : value);
    p.secrets()
        .forEach(
            key ->
                settings.put(
                    key,
                    TextNode.valueOf(
                        load.secret(part, p.name(), key).orElse(ProfileContent.MASK))));
    return settings;
  }

  /** A file by its name as the reference settings keep. */
  private JsonNode file(JsonNode named) {
    String name = named.asText();
    return Optional.ofNullable(load.files().get(name))
        .or(() -> new FileStore(act.tx()).byName(name).map(f -> f.id))
        .<JsonNode>map(id -> TextNode.valueOf(StoredFile.reference(id)))
        .orElse(named);
  }

  private List<Profiles.TargetSpec> targets(
      Thing.OfProfile p, List<String> written, String pointer) {
    List<Profiles.TargetSpec> targets = new ArrayList<>();
    for (String text : written) {
      int space = text.indexOf(' ');
      String kind = space < 0 ? text : text.substring(0, space);
      String name = space < 0 ? "" : text.substring(space + 1).strip();
      Target.Kind of = Problem.reading(pointer, () -> Words.parse(Target.Kind.class, kind));
      if (of == Target.Kind.DEVICE && !devices.containsKey(name)) {
        leftOut.add(
            p.name() + " goes to the device " + name + ", which is not here; that is left out.");
        continue;
      }
      targets.add(
          new Profiles.TargetSpec(
              kind,
              switch (of) {
                case EVERYONE, TAG -> name;
                case UNIT -> id(Part.UNIT, name, pointer);
                case GROUP -> id(Part.GROUP, name, pointer);
                case PERSON -> id(Part.PERSON, name, pointer);
                case DEVICE -> devices.get(name);
              }));
    }
    return targets;
  }

  // ---- deleting --------------------------------------------------------------------------------

  /** Takes checks away, and profiles from everybody, where they are in no file. */
  void withdraw(List<Step> steps) {
    gone(steps, Part.CHECK).forEach(s -> at(s, () -> told(s, nouns.checks()::leave)));
    gone(steps, Part.KIT, Part.PROFILE).forEach(s -> at(s, () -> told(s, Publishing::leave)));
  }

  /**
   * Deletes what is in no file, once devices have followed; those first that nothing else needs.
   *
   * @throws Problem 409 naming what something is still needed by
   */
  void delete(List<Step> steps) {
    gone(steps, Part.KIT).forEach(s -> at(s, () -> told(s, Publishing::forget)));
    gone(steps, Part.PROFILE).forEach(s -> at(s, () -> told(s, Publishing::forget)));
    List<Step> left =
        new ArrayList<>(
            gone(
                steps,
                Part.ENROLLMENT_PROFILE,
                Part.GROUP,
                Part.PERSON,
                Part.SITE,
                Part.UNIT,
                Part.ATTRIBUTE));
    Optional<Problem> objection = Optional.empty();
    for (int before = left.size() + 1; left.size() < before && !left.isEmpty(); ) {
      before = left.size();
      for (Step s : List.copyOf(left)) {
        try {
          at(s, () -> told(s, (a, id) -> delete(s.part(), id)));
          left.remove(s);
        } catch (Problem p) {
          // what needs it may go as well, and then it is tried again
          objection = Optional.of(p);
        }
      }
    }
    if (!left.isEmpty()) {
      throw objection.orElseThrow();
    }
  }

  private static List<Step> gone(List<Step> steps, Part... parts) {
    return steps.stream()
        .filter(s -> s.verb() == Step.Verb.DELETE && List.of(parts).contains(s.part()))
        .sorted(Comparator.comparing(Step::part).reversed())
        .toList();
  }

  private Step told(Step s, BiConsumer<UseCases.Act, String> deletion) {
    deletion.accept(act, present.ids(s.part()).get(s.name()));
    act.tx().flush();
    return s;
  }

  private void delete(Part part, String id) {
    switch (part) {
      case ATTRIBUTE -> {
        int version =
            nouns.attributes().all(caller).stream()
                .filter(a -> a.id().equals(id))
                .findFirst()
                .orElseThrow()
                .version();
        nouns.attributes().delete(caller, id, version);
      }
      case UNIT -> nouns.units().delete(caller, id, one(UnitRow.class, id).version);
      case SITE -> nouns.sites().delete(caller, id, one(SiteRow.class, id).version);
      case PERSON -> nouns.people().delete(caller, id, one(PersonRow.class, id).version);
      case GROUP -> nouns.groups().delete(caller, id);
      case ENROLLMENT_PROFILE ->
          nouns.enrollments().delete(caller, id, nouns.enrollments().get(caller, id).version());
      default -> throw new IllegalArgumentException(part + " is not deleted like this");
    }
  }

  /** A row, held: whoever wants to change it meanwhile waits. */
  private <R> R one(Class<R> row, String id) {
    return act.tx().lock(row, id).orElseThrow();
  }
}
