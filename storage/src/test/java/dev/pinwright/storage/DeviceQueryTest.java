package dev.pinwright.storage;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.core.Words;
import dev.pinwright.core.app.AppVersion;
import dev.pinwright.core.compliance.Order;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.device.Ownership;
import dev.pinwright.core.device.Standing;
import dev.pinwright.core.organisation.Attribute;
import dev.pinwright.core.organisation.AttributeCondition.Relation;
import dev.pinwright.core.organisation.AttributeType;
import dev.pinwright.core.passcode.PasscodeStanding;
import dev.pinwright.core.query.Device;
import dev.pinwright.core.query.DeviceQuery;
import dev.pinwright.core.query.DeviceQuery.Field;
import dev.pinwright.core.query.RuleNames;
import dev.pinwright.core.query.RuleText;
import dev.pinwright.storage.device.DeviceLists;
import dev.pinwright.storage.query.AskedDevices;
import dev.pinwright.storage.query.DeviceCondition;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collections;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/**
 * A query decided for each device and the same query compiled to SQL name the same devices: on
 * devices and expressions made up anew at every run, from a seed that a failure prints.
 */
class DeviceQueryTest {
  private static final int DEVICES = 60;
  private static final int EXPRESSIONS = 1_500;
  private static final Instant DAY = Instant.parse("2026-03-01T08:00:00Z");
  private static final List<String> TEXTS =
      List.of("Quay", "quay 1", "Ångström", "100%", "a_b", "back\\slash", "Жук", "'; --", "Tower");
  private static final List<String> FACT_VALUES = List.of("true", "false", "64", "Norhaven quay");

  private static final List<String> APP_VERSIONS =
      List.of("4.1", "4.10", "4.10.0", "4.9-beta", "4", "next", "10.0.3 (12)", "004.1.0.0");

  private static final List<Standing> STANDINGS =
      List.of(Standing.SETTLED, Standing.CATCHING_UP, Standing.BLOCKED, Standing.SILENT);

  private static Database database;
  private static final long SEED = System.nanoTime();
  private static final Random RANDOM = new Random(SEED);
  private static final List<Device> FLEET = new ArrayList<>();

  @BeforeAll
  static void fill() {
    database = TestDatabase.open();
    database.run(
        tx -> {
          organisation(tx);
          for (int i = 0; i < DEVICES; i++) {
            Device d = device("D" + i);
            FLEET.add(d);
            store(tx, d);
          }
        });
  }

  @AfterAll
  static void close() {
    database.close();
  }

  private static <T> T one(List<T> from) {
    return from.get(RANDOM.nextInt(from.size()));
  }

  private static <T> T one(T[] from) {
    return from[RANDOM.nextInt(from.length)];
  }

  private static <T> Optional<T> maybe(T value) {
    return RANDOM.nextInt(3) == 0 ? Optional.empty() : Optional.of(value);
  }

  private static Set<String> some(String... from) {
    return List.of(from).stream().filter(x -> RANDOM.nextBoolean()).collect(Collectors.toSet());
  }

  private static Device device(String id) {
    Map<Field, String> fields = new EnumMap<>(Field.class);
    fields.put(Field.NAME, one(TEXTS) + " " + id);
    fields.put(Field.PLATFORM, one(List.of("tarn", "fjell", "moor")));
    fields.put(Field.KIND, one(List.of("tablet", "phone")));
    fields.put(Field.MAKER, one(List.of("Arbor", "Kestre")));
    fields.put(Field.MODEL, one(List.of("T10", "T8 mini")));
    maybe("AR10-" + id).ifPresent(v -> fields.put(Field.SERIAL, v));
    maybe("00440123" + id).ifPresent(v -> fields.put(Field.IMEI, v));
    maybe("VM-" + id).ifPresent(v -> fields.put(Field.ASSET, v));
    maybe(one(List.of("VM", "VM-HAR"))).ifPresent(v -> fields.put(Field.UNIT, v));
    maybe(one(List.of("s1", "s2"))).ifPresent(v -> fields.put(Field.SITE, v));
    maybe(one(List.of("ines", "bo"))).ifPresent(v -> fields.put(Field.PERSON, v));
    maybe(one(List.of("asks", "does-not"))).ifPresent(v -> fields.put(Field.ENROLLMENT_PROFILE, v));
    Set<String> above =
        switch (fields.getOrDefault(Field.UNIT, "")) {
          case "VM" -> Set.of("VM");
          case "VM-HAR" -> Set.of("VM", "VM-HAR");
          default -> Set.of();
        };
    Map<String, String> attributes = new HashMap<>();
    maybe(one(TEXTS)).ifPresent(v -> attributes.put("room", v));
    maybe(one(List.of("-3", "0", "2.5", "10"))).ifPresent(v -> attributes.put("shelf", v));
    maybe(one(List.of("2026-01-31", "2026-12-01"))).ifPresent(v -> attributes.put("lease", v));
    Map<String, String> facts = new HashMap<>();
    maybe(one(FACT_VALUES)).ifPresent(v -> facts.put("network/name", v));
    maybe(one(FACT_VALUES)).ifPresent(v -> facts.put("security/encrypted", v));
    maybe(one(List.of("true", "false"))).ifPresent(v -> facts.put(PasscodeStanding.COMPLIANT, v));
    maybe(DAY.plusSeconds(RANDOM.nextInt(5) * 3_600L))
        .ifPresent(t -> facts.put(PasscodeStanding.DUE, t.toString()));
    boolean retired = RANDOM.nextInt(5) == 0;
    return new Device(
        id,
        fields,
        one(Mode.values()),
        one(Ownership.values()),
        version(),
        retired ? Standing.RETIRED : one(STANDINGS),
        DAY.plusSeconds(RANDOM.nextInt(5) * 3_600L),
        maybe(DAY.plusSeconds(RANDOM.nextInt(5) * 3_600L)),
        retired,
        above,
        some("red", "blue", "a'b"),
        some("g1", "g2"),
        some("p1", "p2"),
        attributes,
        facts,
        apps(),
        some(
            "./Vendor/Pinwright/Policy/documents/rules/file",
            "./Vendor/Pinwright/Policy/web/filter"),
        one(Order.values()),
        maybe(1 + RANDOM.nextInt(3))
            .or(
                () ->
                    Optional.ofNullable(fields.get(Field.ENROLLMENT_PROFILE))
                        .filter("asks"::equals)
                        .map(asks -> 0)));
  }

  private static Map<String, String> apps() {
    Map<String, String> apps = new HashMap<>();
    maybe(one(APP_VERSIONS)).ifPresent(v -> apps.put("vellmar.rota", v));
    maybe(one(APP_VERSIONS)).ifPresent(v -> apps.put("lumen.reader", v));
    return apps;
  }

  private static OsVersion version() {
    return new OsVersion(6 + RANDOM.nextInt(3), RANDOM.nextInt(3), RANDOM.nextInt(2) * 11);
  }

  private static void organisation(Tx tx) {
    for (String sql :
        List.of(
            "insert into unit (id, version, code, name, created_at) values"
                + " ('VM', 0, 'VM', 'Trust', now()), ('VM-HAR', 0, 'VM-HAR', 'Harbour', now())",
            "insert into unit_within values ('VM', 'VM'), ('VM-HAR', 'VM-HAR'), ('VM-HAR', 'VM')",
            "insert into site (id, version, name, address, created_at) values"
                + " ('s1', 0, 'One', '', now()), ('s2', 0, 'Two', '', now())",
            "insert into person (id, version, name, created_at) values"
                + " ('ines', 0, 'Ines', now()), ('bo', 0, 'Bo', now())",
            "insert into device_group (id, version, name, created_at) values"
                + " ('g1', 0, 'G1', now()), ('g2', 0, 'G2', now())",
            "insert into profile (id, version, name, description, draft, draft_changed, created_at,"
                + " changed_at) values ('p1', 0, 'P1', '', '{}', false, now(), now()),"
                + " ('p2', 0, 'P2', '', '{}', false, now(), now())",
            "insert into shape (key, platform, mode, os_level, digest, line, created_at)"
                + " select k, 'tarn', 'supervised', '7.2', 'none', 'tarn|supervised|7.2|', now()"
                + " from unnest(array['', 'p1', 'p2', 'p1p2']) k",
            "insert into shape_profile (shape_key, profile_id, version, nearness)"
                + " select k, p, 1, 1 from unnest(array['p1', 'p2', 'p1p2']) k, unnest(array['p1', 'p2']) p"
                + " where k like '%' || p || '%'",
            "insert into attribute (id, name, kind, type, choices, created_at) values"
                + " ('room', 'Room', 'device', 'text', '{}', now()),"
                + " ('shelf', 'Shelf', 'device', 'number', '{}', now()),"
                + " ('lease', 'Lease ends', 'device', 'date', '{}', now())",
            "insert into terms (version, title, text, created_at) select n, 't', 't', now()"
                + " from generate_series(1, 3) n",
            "insert into enrollment_profile (id, version, name, ownership, mode, platforms, kinds,"
                + " sign_in, terms_version, minimum_os, approval, name_pattern, groups, tags,"
                + " created_at) select p, 0, p, 'corporate', 'managed', '{}', '{}', 'none', t, '{}',"
                + " false, '', '{}', '{}', now() from (values ('asks', 1), ('does-not', null)) x(p, t)")) {
      tx.execute(sql, Map.of());
    }
  }

  private static void store(Tx tx, Device d) {
    Map<String, Object> p = new HashMap<>();
    p.put("id", d.id());
    for (Field f : Field.values()) {
      p.put(f == Field.ENROLLMENT_PROFILE ? "profile" : Words.of(f), d.field(f).orElse(null));
    }
    p.put("mode", Words.of(d.mode()));
    p.put("ownership", Words.of(d.ownership()));
    p.put("os", d.os().toString());
    p.put("enrolled", d.enrolled());
    p.put("retired", d.retired() ? DAY.toString() : null);
    p.put(
        "facts",
        d.facts().entrySet().stream()
            .map(e -> "\"" + e.getKey() + "\":\"" + e.getValue() + "\"")
            .collect(Collectors.joining(",", "{", "}")));
    tx.execute(
        """
        insert into device (id, name, platform, kind, maker, model, os_version, os_level, ownership,
                            mode, serial, imei, asset, unit_id, site_id, person_id, enrolled_at,
                            retired_at, facts, enrollment_profile_id)
        values (:id, :name, :platform, :kind, :maker, :model, :os, '7.2', :ownership, :mode,
                cast(:serial as text), cast(:imei as text), cast(:asset as text),
                cast(:unit as text), cast(:site as text), cast(:person as text), :enrolled,
                cast(:retired as timestamptz), cast(:facts as jsonb), cast(:profile as text))
        """,
        p);
    Map<String, Object> state = new HashMap<>();
    state.put("id", d.id());
    state.put("shape", d.profiles().stream().sorted().collect(Collectors.joining()));
    state.put("standing", Words.of(d.standing()));
    state.put(
        "refused",
        d.refused().stream().sorted().map(path -> path + "=12").collect(Collectors.joining("\n")));
    state.put("order", Words.of(d.order()));
    state.put("seen", d.lastSeen().map(Instant::toString).orElse(null));
    tx.execute(
        "insert into device_state (device_id, shape_key, desired_digest, standing, last_seen, refused,"
            + " order_state) values (:id, :shape, 'none', :standing, cast(:seen as timestamptz),"
            + " :refused, :order)",
        state);
    d.tags()
        .forEach(
            t -> tx.execute("insert into device_tag values (:d, :t)", Map.of("d", d.id(), "t", t)));
    d.groups()
        .forEach(
            g ->
                tx.execute(
                    "insert into group_member values (:g, :d)", Map.of("d", d.id(), "g", g)));
    d.attributes()
        .forEach(
            (a, v) ->
                tx.execute(
                    "insert into attribute_value values (:a, :d, :v)",
                    Map.of("a", a, "d", d.id(), "v", v)));
    d.apps()
        .forEach(
            (a, v) ->
                tx.execute(
                    "insert into device_app values (:d, :a, 'An app', :v, true, true, 1, '', '', 'x')",
                    Map.of("d", d.id(), "a", a, "v", v)));
    d.terms()
        .filter(v -> v > 0)
        .ifPresent(
            v ->
                tx.execute(
                    "insert into terms_acceptance (device_id, version, language, accepted_at)"
                        + " values (:d, :v, 'en', now())",
                    Map.of("d", d.id(), "v", v)));
  }

  private static DeviceQuery query(int depth) {
    if (depth > 0 && RANDOM.nextInt(3) > 0) {
      return switch (RANDOM.nextInt(3)) {
        case 0 -> DeviceQuery.not(query(depth - 1));
        case 1 -> new DeviceQuery.And(parts(depth));
        default -> new DeviceQuery.Or(parts(depth));
      };
    }
    return leaf();
  }

  private static List<DeviceQuery> parts(int depth) {
    List<DeviceQuery> parts = new ArrayList<>();
    for (int i = RANDOM.nextInt(4); i > 0; i--) {
      parts.add(query(depth - 1));
    }
    return parts;
  }

  private static DeviceQuery leaf() {
    Device like = one(FLEET);
    return switch (RANDOM.nextInt(22)) {
      case 0 -> DeviceQuery.MANAGED;
      case 1 -> new DeviceQuery.Among(new TreeSet<>(List.of(like.id(), one(FLEET).id())));
      case 2 -> new DeviceQuery.Words(words());
      case 3, 4 -> {
        Field f = one(Field.values());
        yield RANDOM.nextInt(4) == 0
            ? new DeviceQuery.Has(f)
            : new DeviceQuery.Is(
                f,
                RANDOM.nextBoolean()
                    ? Set.of(like.field(f).orElse("nothing"))
                    : Stream.of(like, one(FLEET), one(FLEET))
                        .flatMap(d -> d.field(f).stream())
                        .collect(Collectors.toSet()));
      }
      case 5 -> new DeviceQuery.Stands(one(Standing.values()));
      case 6 -> new DeviceQuery.InMode(one(Mode.values()));
      case 7 -> new DeviceQuery.Owned(one(Ownership.values()));
      case 8 -> new DeviceQuery.Os(one(Relation.values()), version());
      case 9 ->
          new DeviceQuery.Before(
              one(DeviceQuery.Time.values()), DAY.plusSeconds(RANDOM.nextInt(6) * 3_600L - 1_800));
      case 10 -> new DeviceQuery.Within(one(List.of("VM", "VM-HAR", "none")));
      case 11 -> new DeviceQuery.Tagged(one(List.of("red", "blue", "a'b", "none")));
      case 12 -> new DeviceQuery.InGroup(one(List.of("g1", "g2", "none")));
      case 17 -> new DeviceQuery.HasProfile(one(List.of("p1", "p2", "none")));
      case 18 -> new DeviceQuery.Refuses(one(List.of("documents", "web", "none")));
      case 19 -> new DeviceQuery.InOrder(one(Order.values()));
      case 20 -> new DeviceQuery.HasApp(one(List.of("vellmar.rota", "lumen.reader", "no.app")));
      case 21 ->
          new DeviceQuery.AppIs(
              one(List.of("vellmar.rota", "lumen.reader")),
              one(Relation.values()),
              AppVersion.of(one(APP_VERSIONS)).orElseGet(() -> AppVersion.parse("4")));
      case 13 -> new DeviceQuery.TermsBelow(1 + RANDOM.nextInt(4));
      case 14 -> new DeviceQuery.PasscodeIs(one(PasscodeStanding.values()), DAY);
      case 15 ->
          new DeviceQuery.Fact(
              one(List.of("network/name", "security/encrypted")), maybe(one(FACT_VALUES)));
      default -> attribute();
    };
  }

  private static DeviceQuery attribute() {
    return switch (RANDOM.nextInt(3)) {
      case 0 ->
          new DeviceQuery.HasAttribute(
              "room", AttributeType.TEXT, Relation.IS, maybe(one(TEXTS).toUpperCase()));
      case 1 -> number(one(Relation.values()), maybe(one(List.of("-3.0", "0", "2.50", "7", "10"))));
      default ->
          new DeviceQuery.HasAttribute(
              "lease", AttributeType.DATE, one(Relation.values()), Optional.of("2026-06-01"));
    };
  }

  private static DeviceQuery number(Relation relation, Optional<String> value) {
    return new DeviceQuery.HasAttribute(
        "shelf", AttributeType.NUMBER, value.isEmpty() ? Relation.IS : relation, value);
  }

  private static String words() {
    String text = one(TEXTS);
    int from = RANDOM.nextInt(text.length());
    return (RANDOM.nextBoolean() ? text.substring(from).toUpperCase() : text)
        + (RANDOM.nextBoolean() ? " arb" : "  ");
  }

  @Test
  void whatIsDecidedForEachDeviceIsWhatTheStatementFinds() {
    for (int i = 0; i < EXPRESSIONS; i++) {
      DeviceQuery query = query(3);
      Set<String> decided =
          FLEET.stream()
              .filter(query)
              .map(Device::id)
              .collect(Collectors.toCollection(TreeSet::new));
      DeviceCondition condition = DeviceCondition.of(query);
      List<String> found =
          database.call(
              tx ->
                  tx.column(
                      String.class,
                      "select d.id from " + DeviceCondition.FROM + " where " + condition.sql(),
                      condition.parameters()));
      assertThat(new TreeSet<>(found))
          .as("seed %d, expression %d: %s", SEED, i, query)
          .isEqualTo(decided);
      assertThat(database.<Long>call(tx -> new DeviceLists(tx).count(query)))
          .as("the count, seed %d, expression %d: %s", SEED, i, query)
          .isEqualTo(decided.size());
    }
  }

  @Test
  void aDeviceIsReadWithAllThatCanBeAskedOfIt() {
    List<AskedDevices.Asked> read =
        database.call(tx -> AskedDevices.of(tx, FLEET.stream().map(Device::id).toList()));
    assertThat(read)
        .as("seed %d", SEED)
        .extracting(AskedDevices.Asked::device)
        .containsExactlyInAnyOrderElementsOf(FLEET);
    List<AskedDevices.Asked> one =
        database.call(tx -> AskedDevices.of(tx, List.of(FLEET.get(0).id())));
    assertThat(one).extracting(AskedDevices.Asked::device).containsExactly(FLEET.get(0));
  }

  /** Everything is called what its id is. */
  private static final RuleNames NAMES =
      new RuleNames() {
        @Override
        public Optional<String> id(Kind kind, String name) {
          return Optional.of(name);
        }

        @Override
        public Optional<String> name(Kind kind, String id) {
          return Optional.of(id);
        }

        @Override
        public Optional<Attribute> attribute(String name) {
          AttributeType type =
              switch (name) {
                case "shelf" -> AttributeType.NUMBER;
                case "lease" -> AttributeType.DATE;
                default -> AttributeType.TEXT;
              };
          return Optional.of(
              new Attribute(name, name, Attribute.Kind.DEVICE, type, List.of(), 0, 0));
        }
      };

  /** One that rules can say: a group may not follow from profiles, which follow from groups. */
  private static DeviceQuery written(int depth) {
    DeviceQuery query = query(depth);
    return query.toString().contains("HasProfile") ? written(depth) : query;
  }

  @Test
  void writtenInWordsAndReadAgainItMeansTheSame() {
    for (int i = 0; i < 2_000; i++) {
      DeviceQuery query = written(3);
      String rule = RuleText.write(query, NAMES);
      DeviceQuery again = RuleText.read(rule, NAMES, DAY);
      assertThat(FLEET.stream().filter(again).map(Device::id).toList())
          .as("seed %d: %s", SEED, rule)
          .isEqualTo(FLEET.stream().filter(query).map(Device::id).toList());
      String settled = RuleText.write(again, NAMES);
      assertThat(RuleText.write(RuleText.read(settled, NAMES, DAY), NAMES)).isEqualTo(settled);
    }
  }

  @Test
  void anExpressionFindsSomeAndLeavesSomeOut() {
    List<Integer> sizes = new ArrayList<>();
    for (int i = 0; i < 300; i++) {
      DeviceQuery query = query(3);
      sizes.add((int) FLEET.stream().filter(query).count());
    }
    assertThat(sizes.stream().filter(n -> n > 0 && n < DEVICES).count())
        .as("how many of 300 made-up expressions tell devices apart; seed %d", SEED)
        .isGreaterThan(100);
  }

  @Test
  void everyOrderWalksTheFleetOnceWithoutGapsOrDoubles() {
    for (DeviceLists.Order order : DeviceLists.Order.values()) {
      for (DeviceQuery query : List.of(DeviceQuery.ALL, DeviceQuery.MANAGED, query(2))) {
        List<String> seen = new ArrayList<>();
        Optional<DeviceLists.Place> after = Optional.empty();
        while (true) {
          Optional<DeviceLists.Place> from = after;
          List<DeviceLists.Line> page =
              database.call(tx -> new DeviceLists(tx).page(query, order, from, 7));
          if (page.isEmpty()) {
            break;
          }
          page.forEach(l -> seen.add(l.device().id()));
          after = Optional.of(page.get(page.size() - 1).place());
        }
        List<String> all = new ArrayList<>(FLEET.stream().filter(query).map(Device::id).toList());
        Collections.sort(all);
        assertThat(seen.stream().sorted().toList())
            .as("%s of %s, seed %d", order, query, SEED)
            .isEqualTo(all);
      }
    }
  }
}
