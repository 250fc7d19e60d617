package dev.pinwright.core.roster;

import dev.pinwright.core.Words;
import java.util.Arrays;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/** What a column of a roster sheet can hold. */
public enum Column {
  SERIAL("serial number", "serial no", "sn", "s/n"),
  IMEI("imei 1", "imei1", "meid/imei"),
  ASSET("asset number", "asset no", "asset tag", "inventory", "inventory number"),
  NAME("device name", "device"),
  PERSON("holder", "user", "login", "mail", "e-mail", "email"),
  UNIT("unit code", "department", "org unit"),
  SITE("location", "place"),
  TAGS("tag", "labels", "label"),
  PROFILE("enrollment profile"),
  STATE;

  private final List<String> alsoCalled;

  Column(String... alsoCalled) {
    this.alsoCalled = List.of(alsoCalled);
  }

  private boolean isCalled(String heading) {
    return heading.equals(Words.of(this)) || alsoCalled.contains(heading);
  }

  /** The column of a heading as it stands in a sheet, if it is one we know. */
  public static Optional<Column> called(String heading) {
    String plain = heading.strip().toLowerCase(Locale.ROOT).replaceAll("[\\s_]+", " ");
    return Arrays.stream(values()).filter(c -> c.isCalled(plain)).findFirst();
  }

  /**
   * Matches a sheet's headings: first as they were matched before, then by what they are called.
   * Each column is matched once, the leftmost heading first.
   *
   * @param remembered heading to word of the column, as chosen in earlier sheets
   */
  public static Map<String, Column> match(
      Collection<String> headings, Map<String, String> remembered) {
    Map<String, Column> out = new LinkedHashMap<>();
    for (String heading : headings) {
      Optional<Column> column =
          Optional.ofNullable(remembered.get(heading))
              .map(w -> Words.parse(Column.class, w))
              .or(() -> called(heading));
      column.filter(c -> !out.containsValue(c)).ifPresent(c -> out.put(heading, c));
    }
    return out;
  }
}
