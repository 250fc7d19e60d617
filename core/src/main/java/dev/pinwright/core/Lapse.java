package dev.pinwright.core;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.OptionalInt;

/** When something ends that has to be renewed before it does. */
public record Lapse(Instant at) {
  /** Days before the end on which somebody is told, most first. */
  public static final List<Integer> NOTICE_DAYS = List.of(60, 30, 14, 7, 1);

  /** Whole days left; 0 on the last day, negative once it has ended. */
  public long daysLeft(Instant now) {
    return Math.floorDiv(Duration.between(now, at).toSeconds(), 86_400L);
  }

  /**
   * The notice that is due: the smallest of {@link #NOTICE_DAYS} that the days left have come down
   * to, 0 when it has ended; empty when it was given already.
   *
   * @param told the notice given last; empty when none was
   */
  public OptionalInt noticeDue(Instant now, OptionalInt told) {
    long left = daysLeft(now);
    int due =
        left < 0 ? 0 : NOTICE_DAYS.stream().filter(d -> left <= d).min(Integer::compare).orElse(-1);
    return due < 0 || told.isPresent() && told.getAsInt() <= due
        ? OptionalInt.empty()
        : OptionalInt.of(due);
  }

  /** In words: {@code lapses in 14 days}. */
  public String words(Instant now) {
    long left = daysLeft(now);
    if (left < 0) {
      return "has lapsed";
    }
    return left == 0 ? "lapses today" : "lapses in " + left + (left == 1 ? " day" : " days");
  }
}
