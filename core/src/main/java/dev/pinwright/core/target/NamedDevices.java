package dev.pinwright.core.target;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.regex.Pattern;
import java.util.stream.IntStream;

/**
 * Devices as somebody named them, one by one, by serial number, IMEI or asset number.
 *
 * @param found each once, in the order they were named in
 * @param unknown what no managed device has, in the same order
 * @param doubled what was named more than once, or names a device that something else names too
 * @param several what more than one device has: none of them is found by it
 */
public record NamedDevices(
    List<Found> found, List<String> unknown, List<String> doubled, List<String> several) {
  /** Most that can be named at once. */
  public static final int MOST = 10_000;

  /** A device that was found. */
  public record Found(String id, String name, String identifier) {}

  private static final Pattern HEADING =
      Pattern.compile("(?i)(serial|imei|asset)( ?(number|no\\.?|tag))?");
  private static final Pattern BETWEEN_CELLS = Pattern.compile("[,;\t]");

  /**
   * What lines name, as a list or a sheet has them: single words, or cells between commas,
   * semicolons or tabs, in quotes or not. Where the first line is one of headings, each line after
   * it names what stands first under those of serial numbers, IMEIs and asset numbers.
   */
  public static List<String> read(List<String> lines) {
    List<String> out = new ArrayList<>();
    List<Integer> columns = List.of();
    boolean began = false;
    for (String line : lines) {
      List<String> cells = cells(line);
      if (cells.stream().allMatch(String::isEmpty)) {
        continue;
      }
      List<Integer> headings =
          IntStream.range(0, cells.size())
              .filter(i -> HEADING.matcher(cells.get(i)).matches())
              .boxed()
              .toList();
      if (!began && !headings.isEmpty()) {
        columns = headings;
      } else if (columns.isEmpty()) {
        cells.stream().filter(c -> !c.isEmpty()).forEach(out::add);
      } else {
        columns.stream()
            .filter(i -> i < cells.size() && !cells.get(i).isEmpty())
            .findFirst()
            .ifPresent(i -> out.add(cells.get(i)));
      }
      began = true;
    }
    return out;
  }

  private static List<String> cells(String line) {
    String plain = line.replace("\uFEFF", "").strip();
    boolean row = BETWEEN_CELLS.matcher(line).find();
    String[] cells =
        row
            ? BETWEEN_CELLS.split(plain, -1)
            : HEADING.matcher(plain).matches() ? new String[] {plain} : plain.split("\\s+");
    return Arrays.stream(cells)
        .map(c -> c.strip().replaceAll("^[\"']|[\"']$", "").strip())
        .toList();
  }

  /** As it is compared: without the blanks around it, in capitals. */
  public static String plain(String typed) {
    return typed.strip().toUpperCase(Locale.ROOT);
  }

  /** What was typed, each once, without what is empty. */
  public static Set<String> plain(Collection<String> typed) {
    Set<String> out = new LinkedHashSet<>();
    typed.stream().map(NamedDevices::plain).filter(t -> !t.isEmpty()).forEach(out::add);
    return out;
  }

  /**
   * Sorts what was typed by what it names.
   *
   * @param matches every managed device that has one of {@link #plain} of it
   */
  public static NamedDevices of(List<String> typed, Collection<Found> matches) {
    Map<String, Set<Found>> by = new LinkedHashMap<>();
    matches.forEach(m -> by.computeIfAbsent(m.identifier(), i -> new LinkedHashSet<>()).add(m));
    Map<String, Found> found = new LinkedHashMap<>();
    Set<String> unknown = new LinkedHashSet<>();
    Set<String> doubled = new LinkedHashSet<>();
    Set<String> several = new LinkedHashSet<>();
    Set<String> seen = new LinkedHashSet<>();
    for (String t : typed) {
      String plain = plain(t);
      if (plain.isEmpty()) {
        continue;
      }
      if (!seen.add(plain)) {
        doubled.add(plain);
        continue;
      }
      Set<Found> devices = by.getOrDefault(plain, Set.of());
      if (devices.isEmpty()) {
        unknown.add(plain);
      } else if (devices.size() > 1) {
        several.add(plain);
      } else {
        Found one = devices.iterator().next();
        if (found.putIfAbsent(one.id(), one) != null) {
          doubled.add(plain);
        }
      }
    }
    return new NamedDevices(
        List.copyOf(found.values()),
        List.copyOf(unknown),
        List.copyOf(doubled),
        List.copyOf(several));
  }
}
