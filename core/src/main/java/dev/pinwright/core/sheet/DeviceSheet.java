package dev.pinwright.core.sheet;

import dev.pinwright.core.organisation.Attribute;
import dev.pinwright.core.organisation.TagList;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Stream;

/**
 * What a sheet of devices would change. A column that is left out leaves things as they are; an
 * empty cell takes away what was there.
 *
 * @param tags all tags a device has afterwards, by its id, of those that get other tags
 * @param values values by the device's id, of those that get other values; empty to take one away
 * @param faults rows that cannot be taken
 */
public record DeviceSheet(
    Map<String, Set<String>> tags,
    Map<String, Map<Attribute, String>> values,
    List<Row.Fault> faults) {
  /** Its columns, but for those of attributes; the first is needed, the name is a check only. */
  public static final List<String> COLUMNS = List.of("identifier", "name", "tags");

  /**
   * A device with its tags and the values of its attributes.
   *
   * @param identifier what a sheet names it by
   * @param attributeValues in the order of {@code attributeIds}
   */
  public record Own(
      String identifier,
      String id,
      String name,
      List<String> tags,
      List<String> attributeIds,
      List<String> attributeValues) {
    private String value(Attribute a) {
      int at = attributeIds.indexOf(a.id());
      return at < 0 ? "" : attributeValues.get(at);
    }

    /** Its row in a sheet with these attributes. */
    public List<String> cells(List<Attribute> attributes) {
      return Stream.concat(
              Stream.of(identifier, name, String.join(";", tags)).map(Row::inert),
              attributes.stream().map(a -> Row.written(a, value(a))))
          .toList();
    }
  }

  /** An identifier as it is compared: without spaces, in capitals. */
  public static String plain(String identifier) {
    return identifier.replace(" ", "").toUpperCase(Locale.ROOT);
  }

  /** Ways to find the devices of rows by: what is written, and its plain form. */
  public static List<String> identifiers(List<Row> rows) {
    return rows.stream()
        .map(r -> r.cell("identifier"))
        .flatMap(i -> Stream.of(i, plain(i)))
        .distinct()
        .toList();
  }

  /**
   * Decides what rows do.
   *
   * @param known devices by their {@link #plain} identifiers
   */
  public static DeviceSheet of(
      List<Row> rows, Map<String, Own> known, Collection<Attribute> attributes) {
    Map<String, Integer> seen = new HashMap<>();
    Map<String, Set<String>> tags = new LinkedHashMap<>();
    Map<String, Map<Attribute, String>> values = new LinkedHashMap<>();
    List<Row.Fault> faults = new ArrayList<>();
    for (Row row : rows) {
      try {
        Own own = device(row, known);
        Integer before = seen.putIfAbsent(own.id(), row.line());
        if (before != null) {
          throw new IllegalArgumentException("the same device is on line " + before);
        }
        Set<String> wanted = new TreeSet<>(TagList.ofCell(row.cell("tags")));
        if (row.has("tags") && !wanted.equals(new TreeSet<>(own.tags()))) {
          tags.put(own.id(), wanted);
        }
        Map<Attribute, String> other = row.values(attributes);
        other.entrySet().removeIf(v -> v.getValue().equals(own.value(v.getKey())));
        if (!other.isEmpty()) {
          values.put(own.id(), other);
        }
      } catch (IllegalArgumentException e) {
        faults.add(new Row.Fault(row.line(), String.valueOf(e.getMessage())));
      }
    }
    return new DeviceSheet(tags, values, faults);
  }

  private static Own device(Row row, Map<String, Own> known) {
    String identifier = row.cell("identifier");
    if (identifier.isEmpty()) {
      throw new IllegalArgumentException("a serial number, IMEI or asset number is needed");
    }
    Own own = known.get(plain(identifier));
    if (own == null) {
      throw new IllegalArgumentException("no managed device has '" + identifier + "'");
    }
    String name = row.cell("name");
    if (!name.isEmpty() && !name.equals(own.name())) {
      throw new IllegalArgumentException(
          identifier + " is " + own.name() + "; a sheet gives devices no other names");
    }
    return own;
  }

  /** How many devices get something else. */
  public int changed() {
    Set<String> ids = new TreeSet<>(tags.keySet());
    ids.addAll(values.keySet());
    return ids.size();
  }
}
