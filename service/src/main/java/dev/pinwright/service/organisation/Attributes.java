package dev.pinwright.service.organisation;

import com.github.f4b6a3.ulid.UlidCreator;
import dev.pinwright.core.Words;
import dev.pinwright.core.organisation.AttributeCondition;
import dev.pinwright.core.organisation.AttributeCondition.Relation;
import dev.pinwright.core.organisation.AttributeType;
import dev.pinwright.core.query.DeviceQuery;
import dev.pinwright.service.journal.Journal;
import dev.pinwright.service.live.Events;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Role;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import java.time.Clock;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** Typed fields of an organisation's own, on devices, people and units. */
public final class Attributes {
  /** What can have attributes, with the table it is in. */
  static final Map<String, String> KINDS =
      Map.of("device", "device", "person", "person", "unit", "unit");

  private static final int MOST = 100;
  private static final int MOST_CONDITIONS = 10;
  private final Database database;
  private final Journal journal;
  private final Events events;
  private final Clock clock;

  public Attributes(Database database, Journal journal, Events events, Clock clock) {
    this.database = database;
    this.journal = journal;
    this.events = events;
    this.clock = clock;
  }

  /**
   * An attribute.
   *
   * @param kind {@code device}, {@code person} or {@code unit}
   * @param type {@code text}, {@code number}, {@code date} or {@code choice}
   * @param choices the words of a choice
   * @param used how many have a value
   */
  public record Attribute(
      String id, String name, String kind, String type, List<String> choices, long used) {
    /** A value in the form it is kept in; {@link IllegalArgumentException} when it cannot be. */
    public String read(String typed) {
      return Words.parse(AttributeType.class, type).read(typed, choices);
    }
  }

  /** An attribute as written. */
  public record Draft(
      @Nullable String name,
      @Nullable String kind,
      @Nullable String type,
      @Nullable List<String> choices) {}

  /** An attribute of something, and its value when it has one. */
  public record Value(
      String attributeId, String name, String type, List<String> choices, Optional<String> value) {}

  private static final String SELECT =
      "select a.id, a.name, a.kind, a.type, a.choices,"
          + " (select count(*) from attribute_value where attribute_id = a.id) from attribute a";

  private static Attribute view(Object[] r) {
    return new Attribute(
        (String) r[0],
        (String) r[1],
        (String) r[2],
        (String) r[3],
        List.of((String[]) r[4]),
        ((Number) r[5]).longValue());
  }

  /** All attributes by kind and name; at most a hundred of each kind. */
  public List<Attribute> all(Caller caller) {
    caller.needs(Role.READER);
    return database.call(
        tx ->
            tx.rows(SELECT + " order by a.kind, lower(a.name)", Map.of()).stream()
                .map(Attributes::view)
                .toList());
  }

  /** The attributes of a kind, by name. */
  public static List<Attribute> of(Tx tx, String kind) {
    return tx.rows(SELECT + " where a.kind = :k order by lower(a.name)", Map.of("k", kind)).stream()
        .map(Attributes::view)
        .toList();
  }

  private static String kind(@Nullable String word) {
    String kind = word == null ? "" : word;
    if (!KINDS.containsKey(kind)) {
      throw Problem.malformed("/kind", "kind has to be one of device, person, unit.");
    }
    return kind;
  }

  private static String name(@Nullable String written) {
    String name = written == null ? "" : written.strip();
    if (!name.matches("[\\p{L}\\p{N}][\\p{L}\\p{N} ._-]{0,39}")) {
      throw Problem.malformed(
          "/name", "A name has 1 to 40 letters, digits, spaces, dots or hyphens.");
    }
    return name;
  }

  private static List<String> choices(String type, @Nullable List<String> written) {
    List<String> choices =
        written == null
            ? List.of()
            : written.stream().map(String::strip).filter(c -> !c.isEmpty()).distinct().toList();
    if (type.equals("choice") != !choices.isEmpty() || choices.size() > 50) {
      throw Problem.malformed("/choices", "A choice has 1 to 50 words, another type none.");
    }
    return choices;
  }

  private static void free(List<Attribute> there, String but, String name) {
    if (there.stream().anyMatch(a -> !a.id().equals(but) && a.name().equalsIgnoreCase(name))) {
      throw Problem.conflict(
          "name-taken", "There is an attribute " + name + " of this kind already.");
    }
  }

  private static Attribute one(Tx tx, String id) {
    return tx.rows(SELECT + " where a.id = :id", Map.of("id", id)).stream()
        .findFirst()
        .map(Attributes::view)
        .orElseThrow(() -> Problem.notFound("attribute", id));
  }

  /**
   * Another name for an attribute, or other words for a choice. What is left out stays; what it is
   * of and its type never change.
   *
   * @throws Problem 409 when a word that would go is somebody's value
   */
  public Attribute change(Caller caller, String id, Draft d) {
    caller.needs(Role.OPERATOR);
    Attribute changed =
        database.call(
            tx -> {
              tx.rows("select id, 1 from attribute where id = :id for update", Map.of("id", id));
              Attribute before = one(tx, id);
              if (d.kind() != null && !d.kind().equals(before.kind())
                  || d.type() != null && !d.type().equals(before.type())) {
                throw Problem.malformed(
                    "/type", "What an attribute is of and its type never change; make another.");
              }
              String name = d.name() == null ? before.name() : name(d.name());
              free(of(tx, before.kind()), id, name);
              List<String> choices =
                  d.choices() == null ? before.choices() : choices(before.type(), d.choices());
              List<String> gone =
                  before.choices().stream().filter(c -> !choices.contains(c)).toList();
              List<Object[]> held =
                  tx.rows(
                      "select value, count(*) from attribute_value where attribute_id = :id"
                          + " and value = any(cast(:gone as text[])) group by value order by value",
                      Map.of("id", id, "gone", gone.toArray(String[]::new)));
              if (!held.isEmpty()) {
                throw Problem.conflict(
                    "in-use",
                    held.stream()
                            .map(r -> "'" + r[0] + "' is the value of " + r[1])
                            .collect(Collectors.joining(", "))
                        + "; give those another value first.");
              }
              tx.execute(
                  "update attribute set name = :n, choices = cast(:c as text[]) where id = :id",
                  Map.of("n", name, "c", choices.toArray(String[]::new), "id", id));
              journal.write(
                  tx,
                  caller,
                  "attribute.changed",
                  "attribute:" + id,
                  "Attribute " + name + " changed");
              return one(tx, id);
            });
    events.touch("attributes");
    return changed;
  }

  /** Makes an attribute. */
  public Attribute add(Caller caller, Draft d) {
    caller.needs(Role.OPERATOR);
    String kind = kind(d.kind());
    String name = name(d.name());
    String type;
    try {
      type = Words.of(Words.parse(AttributeType.class, d.type() == null ? "text" : d.type()));
    } catch (IllegalArgumentException e) {
      throw Problem.malformed("/type", e);
    }
    List<String> choices = choices(type, d.choices());
    Attribute made =
        database.call(
            tx -> {
              List<Attribute> there = of(tx, kind);
              free(there, "", name);
              if (there.size() >= MOST) {
                throw Problem.conflict("too-many", "A kind has at most 100 attributes.");
              }
              String id = UlidCreator.getMonotonicUlid().toString();
              tx.execute(
                  "insert into attribute values (:id, :n, :k, :t, cast(:c as text[]), :now)",
                  Map.of(
                      "id",
                      id,
                      "n",
                      name,
                      "k",
                      kind,
                      "t",
                      type,
                      "c",
                      choices.toArray(String[]::new),
                      "now",
                      clock.instant()));
              journal.write(
                  tx, caller, "attribute.made", "attribute:" + id, "Attribute " + name + " made");
              return new Attribute(id, name, kind, type, choices, 0);
            });
    events.touch("attributes");
    return made;
  }

  /** Deletes an attribute with its values. */
  public void delete(Caller caller, String id) {
    caller.needs(Role.OPERATOR);
    database.run(
        tx -> {
          Attribute a = one(tx, id);
          tx.execute("delete from attribute where id = :id", Map.of("id", id));
          journal.write(
              tx,
              caller,
              "attribute.deleted",
              "attribute:" + id,
              "Attribute " + a.name() + " deleted with " + a.used() + " values");
        });
    events.touch("attributes");
  }

  /** The attributes of one device, person or unit, those without a value too. */
  public List<Value> values(Caller caller, String kind, String subject) {
    caller.needs(Role.READER);
    return database.call(tx -> values(tx, kind(kind), subject));
  }

  private static List<Value> values(Tx tx, String kind, String subject) {
    if (tx.rows("select id, 1 from " + KINDS.get(kind) + " where id = :id", Map.of("id", subject))
        .isEmpty()) {
      throw Problem.notFound(kind, subject);
    }
    Map<String, String> held = new HashMap<>();
    tx.rows(
            "select attribute_id, value from attribute_value where subject_id = :s",
            Map.of("s", subject))
        .forEach(r -> held.put((String) r[0], (String) r[1]));
    return of(tx, kind).stream()
        .map(
            a ->
                new Value(
                    a.id(), a.name(), a.type(), a.choices(), Optional.ofNullable(held.get(a.id()))))
        .toList();
  }

  /**
   * Sets attributes by name; an empty text takes a value away, what is not named stays.
   *
   * @throws Problem 400 naming the attribute that cannot have this value
   */
  public List<Value> set(Caller caller, String kind, String subject, Map<String, String> wanted) {
    caller.needs(Role.OPERATOR);
    List<Value> now =
        database.call(
            tx -> {
              values(tx, kind(kind), subject);
              Map<String, Attribute> known = new LinkedHashMap<>();
              of(tx, kind).forEach(a -> known.put(a.name().toLowerCase(Locale.ROOT), a));
              wanted.forEach(
                  (name, typed) -> {
                    Attribute a = known.get(name.toLowerCase(Locale.ROOT));
                    if (a == null) {
                      throw Problem.malformed(
                          "/" + name, "There is no attribute " + name + " on a " + kind + ".");
                    }
                    try {
                      put(tx, a, subject, typed);
                    } catch (IllegalArgumentException e) {
                      throw Problem.malformed("/" + name, e);
                    }
                  });
              journal.write(
                  tx,
                  caller,
                  kind + ".attributes",
                  kind + ":" + subject,
                  "Attributes set: " + String.join(", ", wanted.keySet()));
              return values(tx, kind, subject);
            });
    events.touch("attributes");
    return now;
  }

  /**
   * Conditions on attributes of devices.
   *
   * @param asked conditions as {@link AttributeCondition} reads them, at most ten
   * @throws Problem 400 naming the attributes there are, or what the value would have to be
   */
  public static List<DeviceQuery> asked(Tx tx, List<String> asked) {
    return conditions(tx, "device", asked).stream()
        .<DeviceQuery>map(
            c ->
                new DeviceQuery.HasAttribute(
                    c.attribute().id(),
                    c.type(),
                    c.condition().relation(),
                    Optional.of(c.condition().value()).filter(v -> !v.isEmpty())))
        .toList();
  }

  private record Asked(Attribute attribute, AttributeType type, AttributeCondition condition) {}

  private static List<Asked> conditions(Tx tx, String kind, List<String> asked) {
    if (asked.isEmpty()) {
      return List.of();
    }
    if (asked.size() > MOST_CONDITIONS) {
      throw Problem.malformed(
          "/attribute", "At most " + MOST_CONDITIONS + " conditions can be asked for.");
    }
    List<Attribute> known = of(tx, kind);
    List<Asked> out = new ArrayList<>();
    for (String text : asked) {
      try {
        AttributeCondition written = AttributeCondition.parse(text);
        Attribute a = named(known, kind, written.name());
        AttributeType type = Words.parse(AttributeType.class, a.type());
        out.add(new Asked(a, type, written.on(type, a.choices())));
      } catch (IllegalArgumentException e) {
        throw Problem.malformed("/attribute", e);
      }
    }
    return out;
  }

  /**
   * Conditions on attributes as SQL, each led by {@code and}; values are bound to {@code p}.
   *
   * @param subject the column with the ids of people or units
   * @param asked conditions as {@link AttributeCondition} reads them, at most ten
   * @throws Problem 400 naming the attributes there are, or what the value would have to be
   */
  public static String where(
      Tx tx, String kind, String subject, List<String> asked, Map<String, Object> p) {
    StringBuilder where = new StringBuilder();
    int i = 0;
    for (Asked c : conditions(tx, kind, asked)) {
      boolean none = c.condition().value().isEmpty();
      where.append(none ? " and not exists" : " and exists");
      where.append(
          " (select 1 from attribute_value v where v.subject_id = %s and v.attribute_id = :a%d"
              .formatted(subject, i));
      p.put("a" + i, c.attribute().id());
      if (!none) {
        where.append(comparison(c.condition().relation(), c.attribute().type(), "v" + i));
        p.put("v" + i, c.condition().value());
      }
      where.append(')');
      i++;
    }
    return where.toString();
  }

  private static String comparison(Relation relation, String type, String parameter) {
    return type.equals("number")
        ? " and cast(v.value as numeric) "
            + relation.sign()
            + " cast(:"
            + parameter
            + " as numeric)"
        : " and lower(v.value) " + relation.sign() + " lower(:" + parameter + ")";
  }

  private static Attribute named(List<Attribute> known, String kind, String name) {
    return known.stream()
        .filter(a -> a.name().equalsIgnoreCase(name))
        .findFirst()
        .orElseThrow(
            () ->
                new IllegalArgumentException(
                    "there is no attribute '"
                        + name
                        + "' on a "
                        + kind
                        + (known.isEmpty()
                            ? ""
                            : "; there are "
                                + known.stream()
                                    .map(Attribute::name)
                                    .collect(Collectors.joining(", ")))));
  }

  /** Sets one value, or takes it away when the text is empty. */
  static void put(Tx tx, Attribute a, String subject, String typed) {
    if (typed.isBlank()) {
      tx.execute(
          "delete from attribute_value where attribute_id = :a and subject_id = :s",
          Map.of("a", a.id(), "s", subject));
      return;
    }
    tx.execute(
        "insert into attribute_value values (:a, :s, :v)"
            + " on conflict (attribute_id, subject_id) do update set value = excluded.value",
        Map.of("a", a.id(), "s", subject, "v", a.read(typed)));
  }
}
