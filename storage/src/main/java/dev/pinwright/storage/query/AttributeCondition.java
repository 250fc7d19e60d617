package dev.pinwright.storage.query;

import dev.pinwright.core.organisation.AttributeType;
import dev.pinwright.core.query.DeviceQuery;
import java.util.Map;

/** A condition on an attribute, of a device, a person or a unit alike. */
public final class AttributeCondition {
  private AttributeCondition() {}

  /**
   * The condition as SQL.
   *
   * @param subject the column with the id of what has the attribute
   * @param parameters takes the values; they are named {@code a} and how many there were
   */
  public static String on(
      String subject, DeviceQuery.HasAttribute asked, Map<String, Object> parameters) {
    String rows =
        "exists (select 1 from attribute_value x where x.subject_id = %s and x.attribute_id = %s"
            .formatted(subject, bind(asked.id(), parameters));
    if (asked.value().isEmpty()) {
      return "not " + rows + ")";
    }
    String comparison =
        asked.type() == AttributeType.NUMBER
            ? " and cast(x.value as numeric) %s cast(%s as numeric))"
            : " and lower(x.value) %s lower(%s))";
    return rows
        + comparison.formatted(asked.relation().sign(), bind(asked.value().get(), parameters));
  }

  private static String bind(Object value, Map<String, Object> parameters) {
    String name = "a" + parameters.size();
    parameters.put(name, value);
    return ":" + name;
  }
}
