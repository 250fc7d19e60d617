package dev.pinwright.storage.device;

import dev.pinwright.core.Words;
import dev.pinwright.core.query.DeviceQuery;
import dev.pinwright.core.sheet.DeviceSheet.Own;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.query.DeviceCondition;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Set;

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
        from %s where %s
      """;

  private final Tx tx;

  public DeviceSheetStore(Tx tx) {
    this.tx = tx;
  }

  /** Devices of a query by name, at most {@code limit}. */
  public List<Own> matching(DeviceQuery query, int limit) {
    DeviceCondition condition = DeviceCondition.of(query);
    Map<String, Object> values = condition.parameters();
    values.put("limit", limit);
    return tx.select(
        Own.class,
        select("coalesce(d.serial, d.imei, d.asset, '')", condition)
            + " order by lower(d.name), d.id limit :limit",
        values);
  }

  /** Managed devices that have one of these in a field, named by it. */
  public List<Own> identified(DeviceQuery.Field by, Collection<String> identifiers) {
    DeviceCondition condition =
        DeviceCondition.of(
            DeviceQuery.allOf(
                DeviceQuery.MANAGED, new DeviceQuery.Is(by, Set.copyOf(identifiers))));
    return tx.select(Own.class, select("d." + Words.of(by), condition), condition.parameters());
  }

  private static String select(String identifier, DeviceCondition condition) {
    return SELECT.formatted(identifier, DeviceCondition.FROM, condition.sql());
  }
}
