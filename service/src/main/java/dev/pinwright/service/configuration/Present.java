package dev.pinwright.service.configuration;

import com.fasterxml.jackson.core.type.TypeReference;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.TextNode;
import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.Setting;
import dev.pinwright.core.catalog.ValueType;
import dev.pinwright.core.configuration.Part;
import dev.pinwright.core.file.StoredFile;
import dev.pinwright.core.group.DeviceGroup;
import dev.pinwright.core.organisation.Attribute;
import dev.pinwright.core.organisation.Person;
import dev.pinwright.core.organisation.Site;
import dev.pinwright.core.organisation.Unit;
import dev.pinwright.core.place.Outline;
import dev.pinwright.core.policy.ProfileKind;
import dev.pinwright.core.target.Assignment;
import dev.pinwright.core.target.Target;
import dev.pinwright.service.device.Groups;
import dev.pinwright.service.organisation.Sites;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.shape.ProfileContent;
import dev.pinwright.service.terms.HolderTerms;
import dev.pinwright.service.work.Json;
import dev.pinwright.storage.After;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.compliance.CheckStore;
import dev.pinwright.storage.device.DeviceStore;
import dev.pinwright.storage.enrollment.EnrollmentStore;
import dev.pinwright.storage.file.FileStore;
import dev.pinwright.storage.organisation.AttributeStore;
import dev.pinwright.storage.organisation.PersonStore;
import dev.pinwright.storage.organisation.SiteStore;
import dev.pinwright.storage.organisation.UnitStore;
import dev.pinwright.storage.profile.ProfileStore;
import dev.pinwright.storage.row.CheckRow;
import dev.pinwright.storage.row.EnrollmentProfileRow;
import dev.pinwright.storage.row.TermsRow;
import dev.pinwright.storage.terms.TermsStore;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.BiFunction;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * What is arranged now, as it would be in files, with the ids behind the names. Read by a fixed
 * number of statements for each part, whatever its size, and by pages.
 */
final class Present {
  private static final int PAGE = 1_000;

  private final Tx tx;
  private final Catalog catalog;
  private final Vault vault;
  private final Map<Part, List<? extends Thing>> things = new EnumMap<>(Part.class);
  private final Map<Part, Map<String, String>> ids = new EnumMap<>(Part.class);
  private final Map<Part, Map<String, String>> keys = new EnumMap<>(Part.class);
  private final Set<String> files = new TreeSet<>();
  private final List<String> leftOut = new ArrayList<>();
  private Map<String, String> fileNames = Map.of();
  private Arrangement arrangement = new Arrangement(Map.of());

  private Present(Tx tx, Catalog catalog, Vault vault) {
    this.tx = tx;
    this.catalog = catalog;
    this.vault = vault;
  }

  /** What is arranged, in one transaction. */
  static Present read(Tx tx, Catalog catalog, Vault vault) {
    Present present = new Present(tx, catalog, vault);
    present.organisation();
    present.rules(present.intake());
    present.arrangement = Arrangement.of(present.things);
    return present;
  }

  /** All of it. */
  Arrangement arrangement() {
    return arrangement;
  }

  /** Ids by key. */
  Map<String, String> ids(Part part) {
    return ids.computeIfAbsent(part, p -> new HashMap<>());
  }

  /** Ids of the files that settings name. */
  Set<String> files() {
    return files;
  }

  /** What could not be put into a file, in words. */
  List<String> leftOut() {
    return leftOut;
  }

  private <T> void take(
      Part part, List<T> all, Function<T, String> id, Function<T, ? extends Thing> thing) {
    Map<String, String> called = keys.computeIfAbsent(part, p -> new HashMap<>());
    Map<String, Thing> placed = new LinkedHashMap<>();
    for (T t : all) {
      Thing written = thing.apply(t);
      if (placed.putIfAbsent(written.key(), written) != null) {
        leftOut.add(
            "There are several of " + written.key() + "; the files have the first of them alone.");
        continue;
      }
      called.put(id.apply(t), written.key());
      ids(part).put(written.key(), id.apply(t));
    }
    things.put(part, List.copyOf(placed.values()));
  }

  private static <T> List<T> all(
      BiFunction<After, Integer, List<T>> page, Function<T, String> name, Function<T, String> id) {
    List<T> all = new ArrayList<>();
    After after = After.START;
    for (List<T> more = page.apply(after, PAGE); ; more = page.apply(after, PAGE)) {
      all.addAll(more);
      if (more.size() < PAGE) {
        return all;
      }
      T last = more.get(PAGE - 1);
      after = new After(name.apply(last).toLowerCase(Locale.ROOT), id.apply(last));
    }
  }

  // ---- organisation ----------------------------------------------------------------------------

  private void organisation() {
    AttributeStore store = new AttributeStore(tx);
    List<Attribute> attributes = store.all();
    take(
        Part.ATTRIBUTE,
        attributes,
        Attribute::id,
        a -> new Thing.OfAttribute(a.name(), Words.of(a.kind()), Words.of(a.type()), a.choices()));
    Map<String, String> names =
        attributes.stream().collect(Collectors.toMap(Attribute::id, Attribute::name));
    List<Unit> units = new UnitStore(tx).all();
    Map<String, String> codes = units.stream().collect(Collectors.toMap(Unit::id, Unit::code));
    var ofUnits = store.values(Attribute.Kind.UNIT);
    take(
        Part.UNIT,
        units,
        Unit::id,
        u ->
            new Thing.OfUnit(
                u.code(),
                u.name(),
                u.parentId().map(codes::get),
                named(names, ofUnits.get(u.id()))));
    take(
        Part.SITE,
        all(new SiteStore(tx)::page, Site::name, Site::id),
        Site::id,
        s ->
            new Thing.OfSite(
                s.name(),
                Optional.of(s.address()).filter(a -> !a.isEmpty()),
                s.latitude(),
                s.longitude(),
                Optional.of(s.outline()).filter(o -> !o.isEmpty()).map(o -> new Outline(o).text()),
                s.largePackages().map(l -> new Sites.Large(l.aboveMegabytes(), l.hours()))));
    var ofPeople = store.values(Attribute.Kind.PERSON);
    take(
        Part.PERSON,
        all(
            (after, limit) -> new PersonStore(tx).page("", "", false, List.of(), after, limit),
            Person::name,
            Person::id),
        Person::id,
        p ->
            new Thing.OfPerson(
                p.name(),
                p.login(),
                p.mail(),
                p.unitId().map(codes::get),
                p.siteId().flatMap(s -> key(Part.SITE, s)),
                named(names, ofPeople.get(p.id()))));
  }

  private static Map<String, String> named(
      Map<String, String> names, @Nullable Map<String, String> values) {
    Map<String, String> named = new TreeMap<>();
    if (values != null) {
      values.forEach((id, value) -> named.put(names.get(id), value));
    }
    return named;
  }

  // ---- intake ----------------------------------------------------------------------------------

  /** Reads terms, groups and enrollment profiles; groups by id. */
  private Map<String, DeviceGroup> intake() {
    TermsStore terms = new TermsStore(tx);
    var translations = terms.translations();
    take(
        Part.TERMS,
        terms.all().stream().sorted(Comparator.comparingInt((TermsRow t) -> t.version)).toList(),
        t -> String.valueOf(t.version),
        t ->
            new Thing.OfTerms(
                t.version,
                t.language,
                t.title,
                t.text,
                translations.getOrDefault(t.version, List.of()).stream()
                    .map(x -> new HolderTerms.Text(x.language(), x.title(), x.text()))
                    .sorted(Comparator.comparing(HolderTerms.Text::language))
                    .toList()));
    Map<String, DeviceGroup> groups =
        all((after, limit) -> Groups.page(tx, "", after, limit), DeviceGroup::name, DeviceGroup::id)
            .stream()
            .collect(
                Collectors.toMap(
                    DeviceGroup::id, Function.identity(), (a, b) -> a, LinkedHashMap::new));
    take(
        Part.ENROLLMENT_PROFILE,
        all(new EnrollmentStore(tx)::page, r -> r.name, r -> r.id),
        r -> r.id,
        r -> enrollment(r, groups));
    return groups;
  }

  private Thing.OfEnrollment enrollment(EnrollmentProfileRow r, Map<String, DeviceGroup> groups) {
    return new Thing.OfEnrollment(
        r.name,
        r.ownership,
        r.mode,
        List.of(r.platforms),
        List.of(r.kinds),
        r.signIn,
        r.passphraseHash == null ? List.of() : List.of(Thing.OfEnrollment.PASSPHRASE),
        Optional.ofNullable(r.directoryGroup),
        Optional.ofNullable(r.termsVersion),
        Json.read(r.minimumOs, new TypeReference<>() {}),
        r.approval,
        r.rosterOnly,
        r.namePattern,
        r.fillGaps,
        key(Part.UNIT, r.unitId),
        key(Part.SITE, r.siteId),
        Stream.of(r.groups).filter(groups::containsKey).map(g -> groups.get(g).name()).toList(),
        List.of(r.tags),
        told(Json.tree(r.firstRun)),
        told(Json.tree(r.readyGate)),
        r.removable,
        r.comesBack);
  }

  /** What says something; null where all of it is empty. */
  private static @Nullable JsonNode told(JsonNode node) {
    boolean empty =
        node.properties().stream()
            .allMatch(
                e ->
                    e.getValue().isContainerNode() && e.getValue().isEmpty()
                        || e.getValue().asText().isEmpty() && e.getValue().isValueNode()
                        || e.getValue().isBoolean() && !e.getValue().booleanValue());
    return empty ? null : node;
  }

  private Optional<String> key(Part part, @Nullable String id) {
    return Optional.ofNullable(id).map(keys.getOrDefault(part, Map.of())::get);
  }

  // ---- rules -----------------------------------------------------------------------------------

  private void rules(Map<String, DeviceGroup> groups) {
    List<CheckRow> checks = new CheckStore(tx).all();
    Set<String> own =
        checks.stream().filter(c -> c.ownGroup).map(c -> c.groupId).collect(Collectors.toSet());
    take(
        Part.GROUP,
        groups.values().stream().filter(g -> !own.contains(g.id())).toList(),
        DeviceGroup::id,
        g ->
            new Thing.OfGroup(
                g.name(),
                g.rule(),
                g.inside().stream().map(DeviceGroup.Inner::name).sorted().toList()));
    take(
        Part.CHECK,
        checks,
        c -> c.id,
        c ->
            new Thing.OfCheck(
                c.name,
                c.advice,
                Optional.of(groups.get(c.groupId)).filter(g -> c.ownGroup).flatMap(g -> g.rule()),
                Optional.of(groups.get(c.groupId).name()).filter(g -> !c.ownGroup),
                c.ladder()));
    profiles(groups);
  }

  private record Loaded(ProfileStore.Whole whole, ProfileContent content) {}

  private void profiles(Map<String, DeviceGroup> groups) {
    Map<ProfileKind, List<Loaded>> loaded = new EnumMap<>(ProfileKind.class);
    for (ProfileKind kind : List.of(ProfileKind.PROFILE, ProfileKind.KIT)) {
      loaded.put(
          kind,
          new ProfileStore(tx)
              .all(kind).stream()
                  .map(w -> new Loaded(w, ProfileContent.load(w.content(), vault)))
                  .toList());
    }
    List<Loaded> all = loaded.values().stream().flatMap(List::stream).toList();
    all.forEach(
        l -> l.content().settings().forEach((key, v) -> file(key, v.text()).ifPresent(files::add)));
    fileNames = new FileStore(tx).names(files);
    Map<String, String> names =
        all.stream().collect(Collectors.toMap(l -> l.whole().id(), l -> l.whole().name()));
    Map<String, String> targets = targets(all, groups);
    loaded.forEach(
        (kind, list) ->
            take(
                kind == ProfileKind.KIT ? Part.KIT : Part.PROFILE,
                list,
                l -> l.whole().id(),
                l -> profile(l, names, targets)));
  }

  /** Words of targets by reference. */
  private Map<String, String> targets(List<Loaded> all, Map<String, DeviceGroup> groups) {
    Map<String, String> words = new HashMap<>();
    groups.forEach((id, g) -> words.put(id, g.name()));
    for (Part part : List.of(Part.UNIT, Part.PERSON)) {
      words.putAll(keys.getOrDefault(part, Map.of()));
    }
    Collection<String> devices =
        all.stream()
            .map(l -> l.content().assignment())
            .flatMap(a -> Stream.concat(a.targets().stream(), a.exclusions().stream()))
            .filter(t -> t.kind() == Target.Kind.DEVICE)
            .map(Target::ref)
            .collect(Collectors.toSet());
    words.putAll(new DeviceStore(tx).serials(devices));
    return words;
  }

  private Thing.OfProfile profile(
      Loaded l, Map<String, String> names, Map<String, String> targets) {
    Map<String, JsonNode> settings = new TreeMap<>(l.content().shown(catalog));
    List<String> secrets =
        settings.keySet().stream()
            .filter(key -> catalog.setting(key).filter(Setting::sensitive).isPresent())
            .toList();
    settings.keySet().removeAll(secrets);
    settings.replaceAll(
        (key, value) ->
            file(key, value.asText())
                .map(fileNames::get)
                .<JsonNode>map(TextNode::valueOf)
                .orElse(value));
    Assignment a = l.content().assignment();
    return new Thing.OfProfile(
        l.whole().name(),
        Optional.of(l.whole().description()).filter(d -> !d.isEmpty()),
        l.whole().published() ? Thing.OfProfile.PUBLISHED : Thing.OfProfile.DRAFT,
        settings,
        secrets,
        l.content().parts().stream()
            .filter(p -> names.containsKey(p.profileId()))
            .map(p -> new Thing.OfPart(names.get(p.profileId()), p.whenInOrder()))
            .toList(),
        words(l, a.targets(), targets),
        words(l, a.exclusions(), targets),
        a.window().from(),
        a.window().until());
  }

  private List<String> words(Loaded l, List<Target> targets, Map<String, String> words) {
    List<String> told = new ArrayList<>();
    for (Target t : targets) {
      String kind = Words.of(t.kind());
      String name = t.kind() == Target.Kind.TAG ? t.ref() : words.get(t.ref());
      if (t.kind() == Target.Kind.EVERYONE) {
        told.add(kind);
      } else if (name != null) {
        told.add(kind + " " + name);
      } else {
        leftOut.add(
            l.whole().name() + " goes to a " + kind + " that no file can name; that is left out.");
      }
    }
    return told;
  }

  /** The id of the file a setting names. */
  private Optional<String> file(String key, String value) {
    return catalog
        .setting(key)
        .filter(s -> s.type() instanceof ValueType.FileType)
        .flatMap(s -> StoredFile.referred(value));
  }
}
