package dev.pinwright.storage.organisation;

import dev.pinwright.core.Words;
import dev.pinwright.core.organisation.Attribute;
import dev.pinwright.storage.Tx;
import java.time.Instant;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;

/** Attributes and their values. */
public final class AttributeStore {
  private static final String SELECT =
      """
      select a.id, a.name, a.kind, a.type, a.choices, a.version,
             (select count(*) from attribute_value where attribute_id = a.id) as used
        from attribute a
      """;

  private final Tx tx;

  public AttributeStore(Tx tx) {
    this.tx = tx;
  }

  /** All attributes, by kind and name. */
  public List<Attribute> all() {
    return tx.select(Attribute.class, SELECT + " order by a.kind, lower(a.name)", Map.of());
  }

  /** The attributes of a kind, by name. */
  public List<Attribute> of(Attribute.Kind kind) {
    return tx.select(
        Attribute.class,
        SELECT + " where a.kind = :k order by lower(a.name)",
        Map.of("k", Words.of(kind)));
  }

  /** The attributes of devices by id, not counting where they are used. */
  public Map<String, Attribute> ofDevices() {
    return tx
        .select(
            Attribute.class,
            "select id, name, kind, type, choices, version, cast(0 as bigint) as used"
                + " from attribute where kind = 'device'",
            Map.of())
        .stream()
        .collect(Collectors.toMap(Attribute::id, a -> a));
  }

  /** One attribute. */
  public Optional<Attribute> find(String id) {
    return tx.select(Attribute.class, SELECT + " where a.id = :id", Map.of("id", id)).stream()
        .findFirst();
  }

  /** {@link #find}, held against other writers until the transaction ends. */
  public Optional<Attribute> lock(String id) {
    tx.column(String.class, "select id from attribute where id = :id for update", Map.of("id", id));
    return find(id);
  }

  /** Keeps a new one. */
  public void insert(Attribute a, Instant now) {
    tx.execute(
        "insert into attribute values (:id, :n, :k, :t, cast(:c as text[]), :now, :v)",
        Map.of(
            "id", a.id(),
            "n", a.name(),
            "k", Words.of(a.kind()),
            "t", Words.of(a.type()),
            "c", a.choices().toArray(String[]::new),
            "now", now,
            "v", a.version()));
  }

  /** Writes name and choices anew. */
  public void update(Attribute a) {
    tx.execute(
        "update attribute set name = :n, choices = cast(:c as text[]), version = :v where id = :id",
        Map.of(
            "n",
            a.name(),
            "c",
            a.choices().toArray(String[]::new),
            "v",
            a.version(),
            "id",
            a.id()));
  }

  /** Deletes one with its values. */
  public void delete(String id) {
    tx.execute("delete from attribute where id = :id", Map.of("id", id));
  }

  /** A value and how many have it. */
  public record Held(String value, long n) {}

  /** Which of some values somebody has, and how many do. */
  public List<Held> held(String id, Collection<String> values) {
    return tx.select(
        Held.class,
        "select value, count(*) as n from attribute_value where attribute_id = :id"
            + " and value = any(cast(:v as text[])) group by value order by value",
        Map.of("id", id, "v", values.toArray(String[]::new)));
  }

  /** Whether there is a device, a person or a unit of this id. */
  public boolean known(Attribute.Kind kind, String subject) {
    return tx.any("select 1 from " + Words.of(kind) + " where id = :id", Map.of("id", subject));
  }

  private record Value(String subjectId, String attributeId, String value) {}

  /** The values of one device, person or unit by attribute. */
  public Map<String, String> values(String subject) {
    return tx
        .select(
            Value.class,
            "select subject_id, attribute_id, value from attribute_value where subject_id = :s",
            Map.of("s", subject))
        .stream()
        .collect(Collectors.toMap(Value::attributeId, Value::value));
  }

  /** The values of all of a kind: by subject, then by attribute. */
  public Map<String, Map<String, String>> values(Attribute.Kind kind) {
    Map<String, Map<String, String>> out = new HashMap<>();
    tx.select(
            Value.class,
            "select v.subject_id, v.attribute_id, v.value from attribute_value v"
                + " join attribute a on a.id = v.attribute_id where a.kind = :k",
            Map.of("k", Words.of(kind)))
        .forEach(
            v ->
                out.computeIfAbsent(v.subjectId(), x -> new HashMap<>())
                    .put(v.attributeId(), v.value()));
    return out;
  }

  /**
   * Sets values, however many, by two statements.
   *
   * @param values by subject, then by attribute; in the form {@link Attribute#read} gives them,
   *     empty to take one away
   */
  public void put(Map<String, Map<Attribute, String>> values) {
    List<Value> given =
        values.entrySet().stream()
            .flatMap(
                s ->
                    s.getValue().entrySet().stream()
                        .map(v -> new Value(s.getKey(), v.getKey().id(), v.getValue())))
            .toList();
    if (given.isEmpty()) {
      return;
    }
    Map<String, Object> p =
        Map.of(
            "a", given.stream().map(Value::attributeId).toArray(String[]::new),
            "s", given.stream().map(Value::subjectId).toArray(String[]::new),
            "v", given.stream().map(Value::value).toArray(String[]::new));
    String rows =
        " unnest(cast(:a as text[]), cast(:s as text[]), cast(:v as text[]))"
            + " g(attribute_id, subject_id, value)";
    tx.execute(
        "delete from attribute_value v using"
            + rows
            + " where v.attribute_id = g.attribute_id and v.subject_id = g.subject_id",
        p);
    tx.execute("insert into attribute_value select g.* from" + rows + " where g.value <> ''", p);
  }
}
