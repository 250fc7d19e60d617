package dev.pinwright.service.device;

import dev.pinwright.core.Words;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.Ownership;
import dev.pinwright.core.device.Standing;
import dev.pinwright.core.organisation.Attribute;
import dev.pinwright.core.query.DeviceQuery;
import dev.pinwright.core.query.DeviceQuery.Field;
import dev.pinwright.core.query.RuleFault;
import dev.pinwright.core.query.RuleText;
import dev.pinwright.service.group.RuleNamesHere;
import dev.pinwright.service.organisation.Attributes;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.TermsRow;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;

/**
 * Which devices of all on file. Empty texts do not filter.
 *
 * @param words each has to be part of name, serial, IMEI, asset number, maker or model
 * @param unit id of a unit they are in, or below
 * @param profile id of a profile that is assigned to them
 * @param attributes conditions on attributes, such as {@code Room=Tower}
 * @param rule a condition in words, as {@link RuleText} reads it
 * @param retired retired devices instead of managed ones
 */
public record DeviceFilter(
    String words,
    String platform,
    String standing,
    String mode,
    String ownership,
    String tag,
    String group,
    String unit,
    String site,
    String person,
    String profile,
    List<String> attributes,
    String rule,
    int termsBelow,
    boolean retired) {

  /** Every managed device. */
  public static final DeviceFilter ALL =
      new DeviceFilter("", "", "", "", "", "", "", "", "", "", "", List.of(), "", 0, false);

  /**
   * A filter in the body of a request: every managed device it matches, but for some.
   *
   * @param termsBelow only devices whose holder accepted no later version of the terms than one
   *     before this
   * @param except ids of devices that are left out
   */
  public record Written(
      Optional<String> q,
      Optional<String> platform,
      Optional<String> standing,
      Optional<String> mode,
      Optional<String> ownership,
      Optional<String> tag,
      Optional<String> group,
      Optional<String> unit,
      Optional<String> site,
      Optional<String> person,
      Optional<String> profile,
      Optional<List<String>> attributes,
      Optional<String> rule,
      Optional<Integer> termsBelow,
      Optional<List<String>> except) {

    /** The query at a time; never of retired devices. */
    public DeviceQuery query(Tx tx, Instant now) {
      DeviceQuery all = filter().query(tx, now);
      return except
          .filter(e -> !e.isEmpty())
          .map(e -> DeviceQuery.allOf(all, DeviceQuery.not(new DeviceQuery.Among(Set.copyOf(e)))))
          .orElse(all);
    }

    /** The filter; never of retired devices. */
    public DeviceFilter filter() {
      return new DeviceFilter(
          q.orElse(""),
          platform.orElse(""),
          standing.orElse(""),
          mode.orElse(""),
          ownership.orElse(""),
          tag.orElse(""),
          group.orElse(""),
          unit.orElse(""),
          site.orElse(""),
          person.orElse(""),
          profile.orElse(""),
          attributes.orElse(List.of()),
          rule.orElse(""),
          termsBelow.orElse(0),
          false);
    }
  }

  /**
   * The filter as a query.
   *
   * @param now what a rule counts from
   * @throws dev.pinwright.service.work.Problem 400 when it asks for what there cannot be
   */
  public DeviceQuery query(Tx tx, Instant now) {
    List<DeviceQuery> parts = new ArrayList<>();
    parts.add(retired ? DeviceQuery.not(DeviceQuery.MANAGED) : DeviceQuery.MANAGED);
    ask(parts, platform, v -> new DeviceQuery.Is(Field.PLATFORM, v));
    ask(parts, standing, v -> new DeviceQuery.Stands(word("standing", Standing.class, v)));
    ask(parts, mode, v -> new DeviceQuery.InMode(word("mode", Mode.class, v)));
    ask(parts, ownership, v -> new DeviceQuery.Owned(word("ownership", Ownership.class, v)));
    ask(parts, words, DeviceQuery.Words::new);
    ask(parts, tag, DeviceQuery.Tagged::new);
    ask(parts, group, DeviceQuery.InGroup::new);
    ask(parts, unit, DeviceQuery.Within::new);
    ask(parts, site, v -> new DeviceQuery.Is(Field.SITE, v));
    ask(parts, profile, DeviceQuery.HasProfile::new);
    ask(parts, person, v -> new DeviceQuery.Is(Field.PERSON, v));
    if (termsBelow > 0) {
      if (tx.find(TermsRow.class, termsBelow).isEmpty()) {
        throw Problem.malformed(
            "/termsBelow", "There is no version " + termsBelow + " of the terms.");
      }
      parts.add(new DeviceQuery.TermsBelow(termsBelow));
    }
    if (!rule.isBlank()) {
      parts.add(rule(tx, now));
    }
    parts.addAll(Attributes.asked(tx, Attribute.Kind.DEVICE, attributes));
    return new DeviceQuery.And(parts);
  }

  private DeviceQuery rule(Tx tx, Instant now) {
    try {
      return RuleText.read(rule, new RuleNamesHere(tx), now);
    } catch (RuleFault e) {
      throw Problem.malformed("/rule", e).with("column", e.column());
    }
  }

  private static void ask(
      List<DeviceQuery> parts, String value, Function<String, DeviceQuery> query) {
    if (!value.isEmpty()) {
      parts.add(query.apply(value));
    }
  }

  private static <E extends Enum<E>> E word(String field, Class<E> type, String value) {
    try {
      return Words.parse(type, value);
    } catch (IllegalArgumentException e) {
      throw Problem.malformed("/" + field, e);
    }
  }
}
