package dev.pinwright.core.naming;

import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * What is wrong with the numbers of a sequence.
 *
 * @param devices how many devices have a number
 * @param missing numbers from the first to the highest that nobody has, as ranges in order
 * @param doubled numbers more than one device has, in order
 */
public record Numbers(long devices, List<Range> missing, List<Long> doubled) {
  /** Numbers from {@code first} to {@code last}, both included. */
  public record Range(long first, long last) {
    @Override
    public String toString() {
      return first == last ? Long.toString(first) : first + " to " + last;
    }
  }

  /**
   * Looks at the numbers in use.
   *
   * @param first the number the sequence begins with
   * @param highest the highest number given out so far
   */
  public static Numbers of(Collection<Long> inUse, long first, long highest) {
    TreeMap<Long, Integer> seen = new TreeMap<>();
    inUse.forEach(n -> seen.merge(n, 1, Integer::sum));
    List<Range> missing = new ArrayList<>();
    long next = first;
    for (long n : seen.keySet()) {
      if (n > next) {
        missing.add(new Range(next, n - 1));
      }
      next = Math.max(next, n + 1);
    }
    if (next <= highest) {
      missing.add(new Range(next, highest));
    }
    List<Long> doubled =
        seen.entrySet().stream().filter(e -> e.getValue() > 1).map(e -> e.getKey()).toList();
    return new Numbers(inUse.size(), List.copyOf(missing), doubled);
  }

  /** What stands before the number in names of a sequence, whose key has {@code #} there. */
  public static String beginning(String key) {
    return key.substring(0, key.indexOf('#'));
  }

  /**
   * Looks at the numbers names have; what is no name of the sequence is passed over.
   *
   * @param key the name with {@code #} where the number stands
   */
  public static Numbers inNames(String key, Collection<String> names, long first, long highest) {
    String before = beginning(key);
    Pattern name =
        Pattern.compile(
            Pattern.quote(before)
                + "(\\d{1,9})"
                + Pattern.quote(key.substring(before.length() + 1)));
    List<Long> numbers = new ArrayList<>();
    for (String n : names) {
      Matcher m = name.matcher(n);
      if (m.matches()) {
        numbers.add(Long.parseLong(m.group(1)));
      }
    }
    return of(numbers, first, highest);
  }
}
