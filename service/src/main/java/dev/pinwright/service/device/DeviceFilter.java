package dev.pinwright.service.device;

import dev.pinwright.service.Sought;
import dev.pinwright.service.organisation.Attributes;
import dev.pinwright.storage.Tx;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * Which devices of all on file. Empty texts do not filter.
 *
 * @param words each has to be part of name, serial, IMEI, asset number, maker or model
 * @param unit id of a unit they are in, or below
 * @param attributes conditions on attributes, such as {@code Room=Tower}
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
    List<String> attributes,
    int termsBelow,
    boolean retired) {

  /** Every managed device. */
  public static final DeviceFilter ALL =
      new DeviceFilter("", "", "", "", "", "", "", "", "", "", List.of(), 0, false);

  /** A condition on {@code device d} with its parameters. */
  public record Clause(String sql, Map<String, Object> parameters) {}

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
      Optional<List<String>> attributes,
      Optional<Integer> termsBelow,
      Optional<List<String>> except) {

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
          attributes.orElse(List.of()),
          termsBelow.orElse(0),
          false);
    }
  }

  /**
   * The filter as a condition.
   *
   * @throws dev.pinwright.service.Problem 400 when it asks for attributes there are not
   */
  public Clause clause(Tx tx) {
    Map<String, Object> p = new HashMap<>();
    StringBuilder where = new StringBuilder();
    where.append(retired ? "d.retired_at is not null" : "d.retired_at is null");
    equal(where, p, "platform", platform);
    equal(where, p, "standing", standing);
    equal(where, p, "mode", mode);
    equal(where, p, "ownership", ownership);
    where.append(" and ").append(Sought.in("d.sought", words, p));
    if (!tag.isEmpty()) {
      where.append(
          " and exists (select 1 from device_tag t where t.device_id = d.id and t.tag = :tag)");
      p.put("tag", tag);
    }
    if (!group.isEmpty()) {
      where.append(
          " and exists (select 1 from group_member g"
              + " where g.device_id = d.id and g.group_id = :group)");
      p.put("group", group);
    }
    if (!unit.isEmpty()) {
      where.append(
          " and d.unit_id in (select w.unit_id from unit_within w where w.ancestor_id = :unit)");
      p.put("unit", unit);
    }
    if (!site.isEmpty()) {
      where.append(" and d.site_id = :site");
      p.put("site", site);
    }
    if (!person.isEmpty()) {
      where.append(" and d.person_id = :person");
      p.put("person", person);
    }
    if (termsBelow > 0) {
      where.append(
          " and (select max(a.version) from terms_acceptance a where a.device_id = d.id)"
              + " < :termsBelow");
      p.put("termsBelow", termsBelow);
    }
    where.append(Attributes.where(tx, "device", "d.id", attributes, p));
    return new Clause(where.toString(), p);
  }

  private static void equal(
      StringBuilder where, Map<String, Object> p, String column, String value) {
    if (!value.isEmpty()) {
      where.append(" and d.").append(column).append(" = :").append(column);
      p.put(column, value);
    }
  }
}
