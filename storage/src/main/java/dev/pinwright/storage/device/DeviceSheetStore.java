package dev.pinwright.storage.device;

import dev.pinwright.storage.Tx;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/** Devices with what they have of their own, as sheets of them are made and read. */
public final class DeviceSheetStore {
  private static final String SELECT =
      """
      select %s as identifier, d.id, d.name,
             array(select t.tag from device_tag t where t.device_id = d.id order by t.tag) as tags,
             array(select v.attribute_id from attribute_value v where v.subject_id = d.id
                    order by v.attribute_id) as attribute_ids,
             array(select v.value from attribute_value v where v.subject_id = d.id
                    order by v.attribute_id) as attribute_values
        from device d where d.retired_at is null
      """;

  private final Tx tx;

  public DeviceSheetStore(Tx tx) {
    this.tx = tx;
  }

  /** A device with its tags and the values of its attributes. */
  public record Own(
      String identifier,
      String id,
      String name,
      List<String> tags,
      List<String> attributeIds,
      List<String> attributeValues) {
    /** Values by attribute; those without a value are left out. */
    public Map<String, String> values() {
      Map<String, String> values = new HashMap<>();
      for (int i = 0; i < attributeIds.size(); i++) {
        values.put(attributeIds.get(i), attributeValues.get(i));
      }
      return values;
    }
  }

  /** All managed devices by name, at most {@code limit}. */
  public List<Own> all(int limit) {
    return tx.select(
        Own.class,
        SELECT.formatted("coalesce(d.serial, d.imei, d.asset, '')")
            + " order by lower(d.name), d.id limit :limit",
        Map.of("limit", limit));
  }

  /** Managed devices with one of these identifiers of one kind. */
  public List<Own> identified(Kind kind, Collection<String> identifiers) {
    String column = "d." + kind.name().toLowerCase(Locale.ROOT);
    return tx.select(
        Own.class,
        SELECT.formatted(column) + " and " + column + " = any(cast(:asked as text[]))",
        Map.of("asked", identifiers.toArray(String[]::new)));
  }

  /** What a device can be named by in a sheet. */
  public enum Kind {
    ASSET,
    IMEI,
    SERIAL
  }
}
