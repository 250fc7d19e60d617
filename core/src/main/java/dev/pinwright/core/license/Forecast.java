package dev.pinwright.core.license;

import java.time.Duration;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;

/** How long licenses last when they go on being taken as they were lately. */
public final class Forecast {
  /** How far back it is looked at what was taken. */
  public static final Duration LOOKED_AT = Duration.ofDays(28);

  private Forecast() {}

  /**
   * The licenses of an app at one place.
   *
   * @param site whose devices draw on it; empty where those of every site do
   * @param taken how many were taken within {@link #LOOKED_AT}, and kept
   */
  public record Place(String name, Optional<String> site, long free, long taken) {}

  /**
   * What runs out.
   *
   * @param place the one at which none is left then; empty where none is left anywhere
   * @param days until that
   * @param free how many there still are
   */
  public record RunsOut(Optional<String> place, long days, long free) {}

  /**
   * What runs out first within some days: all there are, or those of a site whose devices find none
   * elsewhere.
   */
  public static Optional<RunsOut> runsOut(List<Place> places, long within) {
    long free = places.stream().mapToLong(Place::free).sum();
    OptionalLong all = daysLeft(free, places.stream().mapToLong(Place::taken).sum());
    if (soon(all, within)) {
      return Optional.of(new RunsOut(Optional.empty(), all.getAsLong(), free));
    }
    if (places.stream().anyMatch(p -> p.site().isEmpty() && p.free() > 0)) {
      return Optional.empty();
    }
    return places.stream()
        .filter(p -> soon(daysLeft(p.free(), p.taken()), within))
        .map(
            p ->
                new RunsOut(
                    Optional.of(p.name()), daysLeft(p.free(), p.taken()).getAsLong(), p.free()))
        .min(Comparator.comparingLong(RunsOut::days));
  }

  private static boolean soon(OptionalLong days, long within) {
    return days.isPresent() && days.getAsLong() > 0 && days.getAsLong() <= within;
  }

  /**
   * Whole days until none is left.
   *
   * @param taken how many were taken within {@link #LOOKED_AT}, and kept
   * @return 0 when none is left; empty when none was taken, so that they last
   */
  public static OptionalLong daysLeft(long free, long taken) {
    if (free <= 0) {
      return OptionalLong.of(0);
    }
    return taken <= 0 ? OptionalLong.empty() : OptionalLong.of(free * LOOKED_AT.toDays() / taken);
  }
}
