package dev.pinwright.core.catalog;

import java.time.DayOfWeek;
import java.time.LocalTime;
import java.time.format.TextStyle;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Times of the week, in the time zone of the device: {@code Mon-Fri 08:00-17:30; Sat,Sun
 * 10:00-14:00}. A window that ends before it begins ends the day after.
 */
public record Hours(List<Window> windows) {
  private static final Pattern WINDOW =
      Pattern.compile("([A-Za-z,-]+) ([0-2]\\d:[0-5]\\d)-([0-2]\\d:[0-5]\\d)");
  private static final int MOST = 14;

  /** Some days, and from when to when on each. */
  public record Window(Set<DayOfWeek> days, LocalTime from, LocalTime to) {
    public Window {
      days = Set.copyOf(days);
    }

    private boolean holds(DayOfWeek day, LocalTime at) {
      if (from.isBefore(to)) {
        return days.contains(day) && !at.isBefore(from) && at.isBefore(to);
      }
      return days.contains(day) && !at.isBefore(from)
          || days.contains(day.minus(1)) && at.isBefore(to);
    }
  }

  public Hours {
    windows = List.copyOf(windows);
  }

  /** Whether a time of the week is in one of the windows. */
  public boolean hold(DayOfWeek day, LocalTime at) {
    return windows.stream().anyMatch(w -> w.holds(day, at));
  }

  /** Reads them; empty when a part is none, or they are more than fourteen. */
  public static Optional<Hours> read(String text) {
    List<Window> windows = new ArrayList<>();
    for (String part : text.split(";", -1)) {
      Matcher m = WINDOW.matcher(part.strip());
      Optional<Set<DayOfWeek>> days = m.matches() ? days(m.group(1)) : Optional.empty();
      if (days.isEmpty() || late(m.group(2)) || late(m.group(3)) || m.group(2).equals(m.group(3))) {
        return Optional.empty();
      }
      windows.add(new Window(days.get(), LocalTime.parse(m.group(2)), LocalTime.parse(m.group(3))));
    }
    return windows.size() > MOST ? Optional.empty() : Optional.of(new Hours(windows));
  }

  private static boolean late(String time) {
    return time.compareTo("23:59") > 0;
  }

  private static Optional<Set<DayOfWeek>> days(String text) {
    Set<DayOfWeek> out = EnumSet.noneOf(DayOfWeek.class);
    for (String part : text.split(",", -1)) {
      String[] ends = part.split("-", -1);
      Optional<DayOfWeek> first = day(ends[0]);
      Optional<DayOfWeek> last = day(ends[ends.length - 1]);
      if (ends.length > 2 || first.isEmpty() || last.isEmpty()) {
        return Optional.empty();
      }
      DayOfWeek d = first.get();
      out.add(d);
      while (d != last.get()) {
        d = d.plus(1);
        out.add(d);
      }
    }
    return Optional.of(out);
  }

  private static Optional<DayOfWeek> day(String word) {
    for (DayOfWeek d : DayOfWeek.values()) {
      if (d.getDisplayName(TextStyle.SHORT, Locale.ENGLISH).equalsIgnoreCase(word)) {
        return Optional.of(d);
      }
    }
    return Optional.empty();
  }
}
