package dev.pinwright.storage.query;

import dev.pinwright.core.compliance.Order;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.device.Ownership;
import dev.pinwright.core.device.Standing;
import dev.pinwright.core.query.Device;
import dev.pinwright.core.query.DeviceQuery.Field;
import dev.pinwright.core.tree.Refused;
import dev.pinwright.storage.Planning;
import dev.pinwright.storage.Tx;
import java.time.Instant;
import java.util.Collection;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Devices with everything a query can ask of them, for deciding it without the database. */
public final class AskedDevices {
  private AskedDevices() {}

  private record Row(
      String id,
      String name,
      String platform,
      String kind,
      String maker,
      String model,
      Optional<String> serial,
      Optional<String> imei,
      Optional<String> asset,
      Optional<String> unitId,
      Optional<String> siteId,
      Optional<String> personId,
      Optional<String> enrollmentProfileId,
      Mode mode,
      Ownership ownership,
      String osVersion,
      Standing standing,
      Instant enrolledAt,
      Optional<Instant> lastSeen,
      boolean retired,
      List<String> unitsAbove,
      List<String> tags,
      List<String> groups,
      List<String> profiles,
      List<String> attributes,
      List<String> attributeValues,
      List<String> facts,
      List<String> factValues,
      List<String> apps,
      List<String> appVersions,
      String refused,
      Order orderState,
      Optional<Integer> terms,
      List<String> picked) {

    Device device() {
      Map<Field, String> fields = new EnumMap<>(Field.class);
      fields.put(Field.NAME, name);
      fields.put(Field.PLATFORM, platform);
      fields.put(Field.KIND, kind);
      fields.put(Field.MAKER, maker);
      fields.put(Field.MODEL, model);
      serial.ifPresent(v -> fields.put(Field.SERIAL, v));
      imei.ifPresent(v -> fields.put(Field.IMEI, v));
      asset.ifPresent(v -> fields.put(Field.ASSET, v));
      unitId.ifPresent(v -> fields.put(Field.UNIT, v));
      siteId.ifPresent(v -> fields.put(Field.SITE, v));
      personId.ifPresent(v -> fields.put(Field.PERSON, v));
      enrollmentProfileId.ifPresent(v -> fields.put(Field.ENROLLMENT_PROFILE, v));
      return new Device(
          id,
          fields,
          mode,
          ownership,
          OsVersion.parse(osVersion),
          standing,
          enrolledAt,
          lastSeen,
          retired,
          Set.copyOf(unitsAbove),
          Set.copyOf(tags),
          Set.copyOf(groups),
          Set.copyOf(profiles),
          paired(attributes, attributeValues),
          paired(facts, factValues),
          paired(apps, appVersions),
          Refused.parse(refused).paths(),
          orderState,
          terms);
    }

    private static Map<String, String> paired(List<String> keys, List<String> values) {
      Map<String, String> out = new HashMap<>();
      for (int i = 0; i < keys.size(); i++) {
        out.put(keys.get(i), values.get(i));
      }
      return out;
    }
  }

  /**
   * A device, and what it does not know of itself.
   *
   * @param picked ids of the groups it was picked for by hand
   */
  public record Asked(Device device, Set<String> picked) {}

  /** Devices by id; those there are not are left out. */
  public static List<Asked> of(Tx tx, Collection<String> ids) {
    // one device is looked for by a plan that is kept; what suits several depends on how many
    boolean one = ids.size() == 1;
    String which = one ? "d.id = :id" : "d.id = any(cast(:ids as text[]))";
    if (!one) {
      tx.plan(Planning.EACH_TIME);
    }
    return tx
        .select(
            Row.class,
            """
            select d.id, d.name, d.platform, d.kind, d.maker, d.model, d.serial, d.imei, d.asset,
                   d.unit_id, d.site_id, d.person_id, d.enrollment_profile_id, d.mode, d.ownership,
                   d.os_version, st.standing, d.enrolled_at, st.last_seen,
                   d.retired_at is not null as retired,
                   array(select w.ancestor_id from unit_within w where w.unit_id = d.unit_id)
                     as units_above,
                   array(select t.tag from device_tag t where t.device_id = d.id) as tags,
                   array(select m.group_id from group_member m where m.device_id = d.id) as groups,
                   array(select s.profile_id from shape_profile s
                          where s.shape_key = st.shape_key) as profiles,
                   array(select v.attribute_id from attribute_value v where v.subject_id = d.id
                          order by 1) as attributes,
                   array(select v.value from attribute_value v where v.subject_id = d.id
                          order by v.attribute_id) as attribute_values,
                   array(select f.key from jsonb_each_text(d.facts) f
                          where f.value is not null order by 1) as facts,
                   array(select f.value from jsonb_each_text(d.facts) f
                          where f.value is not null order by f.key) as fact_values,
                   array(select a.app from device_app a where a.device_id = d.id order by 1)
                     as apps,
                   array(select a.version from device_app a where a.device_id = d.id order by a.app)
                     as app_versions,
                   st.refused, st.order_state, %s as terms,
                   array(select p.group_id from group_pick p where p.device_id = d.id) as picked
              from %s
             where %s
            """
                .formatted(DeviceCondition.TERMS, DeviceCondition.FROM, which),
            one ? Map.of("id", ids.iterator().next()) : Map.of("ids", ids.toArray(String[]::new)))
        .stream()
        .map(r -> new Asked(r.device(), Set.copyOf(r.picked)))
        .toList();
  }
}
