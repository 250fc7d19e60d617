package dev.pinwright.core.query;

import dev.pinwright.core.app.AppVersion;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.compliance.Order;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.device.Ownership;
import dev.pinwright.core.device.Standing;
import dev.pinwright.core.organisation.AttributeCondition.Relation;
import dev.pinwright.core.organisation.AttributeType;
import dev.pinwright.core.passcode.PasscodeStanding;
import java.math.BigDecimal;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import java.util.stream.Stream;

/**
 * Which devices: the one language of list filters, search, orders, exports, sheets and everything
 * else that picks some out of all. It is decided here for one device ({@link #test}) and compiled
 * to SQL in {@code storage.query} for all of them; a property holds the two together.
 *
 * <p>There are two truth values: a condition on something a device has not is false, and its
 * negation true.
 */
public sealed interface DeviceQuery extends Predicate<Device> {
  /** Every device on file, retired ones too. */
  DeviceQuery ALL = new And(List.of());

  /** Every device that is managed. */
  DeviceQuery MANAGED = new Managed();

  /** All of these. */
  static DeviceQuery allOf(DeviceQuery... parts) {
    return new And(List.of(parts));
  }

  /** One of these, or several. */
  static DeviceQuery anyOf(DeviceQuery... parts) {
    return new Or(List.of(parts));
  }

  /** Not this. */
  static DeviceQuery not(DeviceQuery part) {
    return new Not(part);
  }

  /** All of the parts; true without any. */
  record And(List<DeviceQuery> parts) implements DeviceQuery {
    public And {
      parts = List.copyOf(parts);
    }

    @Override
    public boolean test(Device d) {
      return parts.stream().allMatch(p -> p.test(d));
    }
  }

  /** At least one of the parts; false without any. */
  record Or(List<DeviceQuery> parts) implements DeviceQuery {
    public Or {
      parts = List.copyOf(parts);
    }

    @Override
    public boolean test(Device d) {
      return parts.stream().anyMatch(p -> p.test(d));
    }
  }

  /** The opposite. */
  record Not(DeviceQuery part) implements DeviceQuery {
    @Override
    public boolean test(Device d) {
      return !part.test(d);
    }
  }

  /** It is managed, not retired. */
  record Managed() implements DeviceQuery {
    @Override
    public boolean test(Device d) {
      return !d.retired();
    }
  }

  /** It is one of these, by id. */
  record Among(Set<String> ids) implements DeviceQuery {
    public Among {
      ids = Set.copyOf(ids);
    }

    @Override
    public boolean test(Device d) {
      return ids.contains(d.id());
    }
  }

  /** Each word is part of its name, an identifier, its maker or its model, in any letters. */
  record Words(String typed) implements DeviceQuery {
    /** The words in small letters; none for an empty text. */
    public List<String> words() {
      return Stream.of(typed.strip().toLowerCase(Locale.ROOT).split("\\s+"))
          .filter(w -> !w.isEmpty())
          .toList();
    }

    @Override
    public boolean test(Device d) {
      return words().stream().allMatch(d.sought()::contains);
    }
  }

  /** Things about a device that are texts and are asked for as they are. */
  enum Field {
    NAME,
    PLATFORM,
    KIND,
    MAKER,
    MODEL,
    SERIAL,
    IMEI,
    ASSET,
    UNIT,
    SITE,
    PERSON,
    ENROLLMENT_PROFILE
  }

  /** A field is exactly one of these. */
  record Is(Field field, Set<String> values) implements DeviceQuery {
    public Is {
      values = Set.copyOf(values);
    }

    /** A field is exactly this. */
    public Is(Field field, String value) {
      this(field, Set.of(value));
    }

    @Override
    public boolean test(Device d) {
      return d.field(field).filter(values::contains).isPresent();
    }
  }

  /** There is something in a field. */
  record Has(Field field) implements DeviceQuery {
    @Override
    public boolean test(Device d) {
      return d.field(field).isPresent();
    }
  }

  /** It stands so. */
  record Stands(Standing standing) implements DeviceQuery {
    @Override
    public boolean test(Device d) {
      return d.standing() == standing;
    }
  }

  /** It is managed in this mode. */
  record InMode(Mode mode) implements DeviceQuery {
    @Override
    public boolean test(Device d) {
      return d.mode() == mode;
    }
  }

  /** It belongs to whom. */
  record Owned(Ownership ownership) implements DeviceQuery {
    @Override
    public boolean test(Device d) {
      return d.ownership() == ownership;
    }
  }

  /** Its OS lies so to a version. */
  record Os(Relation relation, OsVersion version) implements DeviceQuery {
    @Override
    public boolean test(Device d) {
      return holds(relation, d.os().compareTo(version));
    }
  }

  /** Times of a device. */
  enum Time {
    LAST_SEEN,
    ENROLLED
  }

  /** A time lies before another; of a device never heard, {@code LAST_SEEN} is before all. */
  record Before(Time time, Instant instant) implements DeviceQuery {
    @Override
    public boolean test(Device d) {
      return switch (time) {
        case LAST_SEEN -> d.lastSeen().map(t -> t.isBefore(instant)).orElse(true);
        case ENROLLED -> d.enrolled().isBefore(instant);
      };
    }
  }

  /** It is in a unit or below it, by id. */
  record Within(String unitId) implements DeviceQuery {
    @Override
    public boolean test(Device d) {
      return d.unitsAbove().contains(unitId);
    }
  }

  /** It has a tag. */
  record Tagged(String tag) implements DeviceQuery {
    @Override
    public boolean test(Device d) {
      return d.tags().contains(tag);
    }
  }

  /** It is in a group, by id. */
  record InGroup(String groupId) implements DeviceQuery {
    @Override
    public boolean test(Device d) {
      return d.groups().contains(groupId);
    }
  }

  /** A published profile, by id, is assigned to it and in force. */
  record HasProfile(String profileId) implements DeviceQuery {
    @Override
    public boolean test(Device d) {
      return d.profiles().contains(profileId);
    }
  }

  /** Its holder accepted an earlier version of the terms last, or none of those asked for. */
  record TermsBelow(int version) implements DeviceQuery {
    @Override
    public boolean test(Device d) {
      return d.terms().map(t -> t < version).orElse(false);
    }
  }

  /** A fact it last told is exactly this, or, without a value, it never told it. */
  record Fact(String key, Optional<String> value) implements DeviceQuery {
    @Override
    public boolean test(Device d) {
      return Optional.ofNullable(d.facts().get(key)).equals(value);
    }
  }

  /** It told that it has an app, see {@link dev.pinwright.core.app.AppId}. */
  record HasApp(String app) implements DeviceQuery {
    @Override
    public boolean test(Device d) {
      return d.apps().containsKey(app);
    }
  }

  /** It has an app, in a version that lies so to another. */
  record AppIs(String app, Relation relation, AppVersion version) implements DeviceQuery {
    @Override
    public boolean test(Device d) {
      return Optional.ofNullable(d.apps().get(app))
          .flatMap(AppVersion::of)
          .filter(there -> holds(relation, there.compareTo(version)))
          .isPresent();
    }
  }

  /** It turned down a setting of a section, by the section's key. */
  record Refuses(String section) implements DeviceQuery {
    @Override
    public boolean test(Device d) {
      return d.refused().stream().anyMatch(path -> path.startsWith(beginning()));
    }

    /** What the paths of the section's settings begin with. */
    public String beginning() {
      return Catalog.POLICY_ROOT + "/" + section + "/";
    }
  }

  /** How it is with the checks. */
  record InOrder(Order order) implements DeviceQuery {
    @Override
    public boolean test(Device d) {
      return d.order() == order;
    }
  }

  /** Its holder is there with its passcode, at a time. */
  record PasscodeIs(PasscodeStanding standing, Instant at) implements DeviceQuery {
    public PasscodeIs {
      at = at.truncatedTo(ChronoUnit.SECONDS);
    }

    @Override
    public boolean test(Device d) {
      return PasscodeStanding.of(d.facts(), at).equals(Optional.of(standing));
    }
  }

  /**
   * An attribute lies so to a value, or, without a value, has none.
   *
   * @param id of the attribute
   * @param value in the form the type keeps it in
   */
  record HasAttribute(String id, AttributeType type, Relation relation, Optional<String> value)
      implements DeviceQuery {
    @Override
    public boolean test(Device d) {
      String there = d.attributes().get(id);
      if (value.isEmpty() || there == null) {
        return value.isEmpty() && there == null;
      }
      return holds(
          relation,
          type == AttributeType.NUMBER
              ? new BigDecimal(there).compareTo(new BigDecimal(value.get()))
              : there.toLowerCase(Locale.ROOT).compareTo(value.get().toLowerCase(Locale.ROOT)));
    }
  }

  private static boolean holds(Relation relation, int comparison) {
    return switch (relation) {
      case IS -> comparison == 0;
      case BELOW -> comparison < 0;
      case ABOVE -> comparison > 0;
    };
  }
}
