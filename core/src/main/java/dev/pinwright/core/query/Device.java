package dev.pinwright.core.query;

import dev.pinwright.core.compliance.Order;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.device.Ownership;
import dev.pinwright.core.device.Standing;
import java.time.Instant;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * Everything about a device that can be asked for.
 *
 * @param fields texts by field; those it has not are left out
 * @param unitsAbove ids of its unit and of those that lies within
 * @param groups ids of the groups it is in
 * @param profiles ids of the profiles that are assigned to it and in force
 * @param attributes values by id of the attribute, in the form their type keeps them in
 * @param facts values by key, as it last told them
 * @param apps the versions of its apps, by id, as it last told them
 * @param refused paths of the settings it turned down
 * @param order how it is with the checks
 * @param terms the latest version of the terms its holders accepted; 0 when they were to accept
 *     some and have accepted none
 */
public record Device(
    String id,
    Map<DeviceQuery.Field, String> fields,
    Mode mode,
    Ownership ownership,
    OsVersion os,
    Standing standing,
    Instant enrolled,
    Optional<Instant> lastSeen,
    boolean retired,
    Set<String> unitsAbove,
    Set<String> tags,
    Set<String> groups,
    Set<String> profiles,
    Map<String, String> attributes,
    Map<String, String> facts,
    Map<String, String> apps,
    Set<String> refused,
    Order order,
    Optional<Integer> terms) {
  public Device {
    fields = Map.copyOf(fields);
    unitsAbove = Set.copyOf(unitsAbove);
    tags = Set.copyOf(tags);
    groups = Set.copyOf(groups);
    profiles = Set.copyOf(profiles);
    attributes = Map.copyOf(attributes);
    facts = Map.copyOf(facts);
    apps = Map.copyOf(apps);
    refused = Set.copyOf(refused);
  }

  /** It as it would be in these groups. */
  public Device in(Set<String> these) {
    return new Device(
        id,
        fields,
        mode,
        ownership,
        os,
        standing,
        enrolled,
        lastSeen,
        retired,
        unitsAbove,
        tags,
        these,
        profiles,
        attributes,
        facts,
        apps,
        refused,
        order,
        terms);
  }

  /** A text of it. */
  public Optional<String> field(DeviceQuery.Field field) {
    return Optional.ofNullable(fields.get(field));
  }

  /** What words are looked for in, in small letters. */
  String sought() {
    return Stream.of(
            DeviceQuery.Field.NAME,
            DeviceQuery.Field.SERIAL,
            DeviceQuery.Field.IMEI,
            DeviceQuery.Field.ASSET,
            DeviceQuery.Field.MAKER,
            DeviceQuery.Field.MODEL)
        .map(f -> field(f).orElse(""))
        .collect(Collectors.joining(" "))
        .toLowerCase(Locale.ROOT);
  }
}
