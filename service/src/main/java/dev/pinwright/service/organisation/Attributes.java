package dev.pinwright.service.organisation;

import dev.pinwright.core.Words;
import dev.pinwright.core.organisation.Attribute;
import dev.pinwright.core.organisation.AttributeCondition;
import dev.pinwright.core.organisation.AttributeType;
import dev.pinwright.core.query.DeviceQuery;
import dev.pinwright.core.query.RuleNames;
import dev.pinwright.service.change.Changes;
import dev.pinwright.service.group.Membership;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.organisation.AttributeStore;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** Typed fields of an organisation's own, on devices, people and units. */
public final class Attributes {
  private static final int MOST = 100;
  private static final int MOST_CONDITIONS = 10;

  private final UseCases useCases;
  private final Changes changes;

  public Attributes(UseCases useCases, Changes changes) {
    this.changes = changes;
    this.useCases = useCases;
  }

  /** An attribute as written. */
  public record Draft(
      @Nullable String name,
      @Nullable String kind,
      @Nullable String type,
      @Nullable List<String> choices) {}

  /** An attribute of something, and its value when it has one. */
  public record Value(
      String attributeId,
      String name,
      AttributeType type,
      List<String> choices,
      Optional<String> value) {}

  /** All attributes by kind and name; at most a hundred of each kind. */
  public List<Attribute> all(Caller caller) {
    return useCases.read(tx -> new AttributeStore(tx).all());
  }

  private static Attribute.Kind kind(@Nullable String word) {
    return Problem.reading(
        "/kind", () -> Words.parse(Attribute.Kind.class, word == null ? "" : word));
  }

  private static String name(@Nullable String written) {
    String name = written == null ? "" : written.strip();
    if (!name.matches("[\\p{L}\\p{N}][\\p{L}\\p{N} ._-]{0,39}")) {
      throw Problem.malformed(
          "/name", "A name has 1 to 40 letters, digits, spaces, dots or hyphens.");
    }
    return name;
  }

  private static List<String> choices(AttributeType type, @Nullable List<String> written) {
    List<String> choices =
        written == null
            ? List.of()
            : written.stream().map(String::strip).filter(c -> !c.isEmpty()).distinct().toList();
    if ((type == AttributeType.CHOICE) == choices.isEmpty() || choices.size() > 50) {
      throw Problem.malformed("/choices", "A choice has 1 to 50 words, another type none.");
    }
    return choices;
  }

  private static void free(List<Attribute> there, String but, String name) {
    if (there.stream().anyMatch(a -> !a.id().equals(but) && a.isCalled(name))) {
      throw Problem.conflict(
          "name-taken", "There is an attribute " + name + " of this kind already.");
    }
  }

  /**
   * Another name for an attribute, or other words for a choice. What is left out stays; what it is
   * of and its type never change.
   *
   * @throws Problem 409 when a word that would go is somebody's value
   */
  public Attribute change(Caller caller, String id, int version, Draft d) {
    return useCases.act(
        caller,
        act -> {
          AttributeStore store = new AttributeStore(act.tx());
          Attribute before = locked(store, id, version);
          if (d.kind() != null && !d.kind().equals(Words.of(before.kind()))
              || d.type() != null && !d.type().equals(Words.of(before.type()))) {
            throw Problem.malformed(
                "/type", "What an attribute is of and its type never change; make another.");
          }
          String name = d.name() == null ? before.name() : name(d.name());
          free(store.of(before.kind()), id, name);
          List<String> choices =
              d.choices() == null ? before.choices() : choices(before.type(), d.choices());
          List<AttributeStore.Held> held =
              store.held(id, before.choices().stream().filter(c -> !choices.contains(c)).toList());
          if (!held.isEmpty()) {
            throw Problem.conflict(
                "in-use",
                held.stream()
                        .map(h -> "'" + h.value() + "' is the value of " + h.n())
                        .collect(Collectors.joining(", "))
                    + "; give those another value first.");
          }
          Attribute changed =
              new Attribute(
                  id, name, before.kind(), before.type(), choices, before.used(), version + 1);
          store.update(changed);
          act.done(Noun.ATTRIBUTE, "changed", id, "Attribute " + name + " changed");
          return changed;
        });
  }

  private static Attribute locked(AttributeStore store, String id, int version) {
    Attribute there = store.lock(id).orElseThrow(() -> Problem.notFound("attribute", id));
    Known.unchanged("attribute", version, there.version());
    return there;
  }

  /** Makes an attribute. */
  public Attribute add(Caller caller, Draft d) {
    Attribute.Kind kind = kind(d.kind());
    String name = name(d.name());
    AttributeType type =
        Problem.reading(
            "/type", () -> Words.parse(AttributeType.class, d.type() == null ? "text" : d.type()));
    List<String> choices = choices(type, d.choices());
    return useCases.act(
        caller,
        act -> {
          AttributeStore store = new AttributeStore(act.tx());
          List<Attribute> there = store.of(kind);
          free(there, "", name);
          if (there.size() >= MOST) {
            throw Problem.conflict("too-many", "A kind has at most " + MOST + " attributes.");
          }
          Attribute made = new Attribute(act.newId(), name, kind, type, choices, 0, 0);
          store.insert(made, act.now());
          act.done(Noun.ATTRIBUTE, "made", made.id(), "Attribute " + name + " made");
          return made;
        });
  }

  /** Deletes an attribute with its values. */
  public void delete(Caller caller, String id, int version) {
    useCases.run(
        caller,
        act -> {
          AttributeStore store = new AttributeStore(act.tx());
          Attribute a = locked(store, id, version);
          Membership.refuseNamed(act.tx(), RuleNames.Kind.ATTRIBUTE, id, a.name());
          store.delete(id);
          act.done(
              Noun.ATTRIBUTE,
              "deleted",
              id,
              "Attribute " + a.name() + " deleted with " + a.used() + " values");
        });
  }

  /** The attributes of one device, person or unit, those without a value too. */
  public List<Value> values(Caller caller, String kind, String subject) {
    return useCases.read(tx -> values(tx, kind(kind), subject));
  }

  private static List<Value> values(Tx tx, Attribute.Kind kind, String subject) {
    AttributeStore store = new AttributeStore(tx);
    if (!store.known(kind, subject)) {
      throw Problem.notFound(Words.of(kind), subject);
    }
    Map<String, String> held = store.values(subject);
    return store.of(kind).stream()
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
  public List<Value> set(Caller caller, String word, String subject, Map<String, String> wanted) {
    Attribute.Kind kind = kind(word);
    return useCases.act(
        caller,
        act -> {
          values(act.tx(), kind, subject);
          AttributeStore store = new AttributeStore(act.tx());
          List<Attribute> known = store.of(kind);
          Map<Attribute, String> values = new LinkedHashMap<>();
          wanted.forEach(
              (name, typed) -> {
                Attribute a = named(known, word, name);
                values.put(
                    a, typed.isBlank() ? "" : Problem.reading("/" + name, () -> a.read(typed)));
              });
          store.put(Map.of(subject, values));
          if (kind == Attribute.Kind.DEVICE) {
            changes
                .ofDevices(act.tx(), List.of(subject))
                .applyIfAny(caller, "Attributes of a device");
          }
          act.done(
              switch (kind) {
                case DEVICE -> Noun.DEVICE;
                case PERSON -> Noun.PERSON;
                case UNIT -> Noun.UNIT;
              },
              "attributes",
              subject,
              "Attributes set: " + String.join(", ", wanted.keySet()));
          act.touch(Noun.ATTRIBUTE);
          return values(act.tx(), kind, subject);
        });
  }

  private static Attribute named(List<Attribute> known, String word, String name) {
    return known.stream()
        .filter(a -> a.isCalled(name))
        .findFirst()
        .orElseThrow(
            () ->
                Problem.malformed(
                    "/" + name, "There is no attribute " + name + " on a " + word + "."));
  }

  /**
   * Conditions on attributes.
   *
   * @param asked conditions as {@link AttributeCondition} reads them, at most ten
   * @throws Problem 400 naming the attributes there are, or what the value would have to be
   */
  public static List<DeviceQuery.HasAttribute> asked(
      Tx tx, Attribute.Kind kind, List<String> asked) {
    if (asked.isEmpty()) {
      return List.of();
    }
    if (asked.size() > MOST_CONDITIONS) {
      throw Problem.malformed(
          "/attribute", "At most " + MOST_CONDITIONS + " conditions can be asked for.");
    }
    List<Attribute> known = new AttributeStore(tx).of(kind);
    return asked.stream()
        .map(text -> Problem.reading("/attribute", () -> condition(known, kind, text)))
        .toList();
  }

  private static DeviceQuery.HasAttribute condition(
      List<Attribute> known, Attribute.Kind kind, String text) {
    AttributeCondition written = AttributeCondition.parse(text);
    Attribute a =
        known.stream()
            .filter(k -> k.isCalled(written.name()))
            .findFirst()
            .orElseThrow(
                () ->
                    new IllegalArgumentException(
                        "there is no attribute '"
                            + written.name()
                            + "' on a "
                            + Words.of(kind)
                            + (known.isEmpty() ? "" : "; there are " + names(known))));
    AttributeCondition sound = written.on(a.type(), a.choices());
    return new DeviceQuery.HasAttribute(
        a.id(), a.type(), sound.relation(), Optional.of(sound.value()).filter(v -> !v.isEmpty()));
  }

  private static String names(List<Attribute> known) {
    return known.stream().map(Attribute::name).collect(Collectors.joining(", "));
  }
}
