package dev.pinwright.core.watch;

import dev.pinwright.core.device.OsVersion;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.stream.Stream;

/** A fact whose change is told, when it is not one for the better. */
public enum Watch {
  /** Another SIM is in it, or none. */
  SIM(true) {
    @Override
    Optional<String> change(Map<String, String> before, Map<String, String> after) {
      String was = before.getOrDefault(SIM_FACT, "");
      String is = after.getOrDefault(SIM_FACT, "");
      if (was.isEmpty() || was.equals(is)) {
        return Optional.empty();
      }
      return Optional.of(
          is.isEmpty() ? "Its SIM " + was + " was taken out" : "Its SIM " + was + " became " + is);
    }
  },
  /** Its system was tampered with. */
  TAMPERED(true) {
    @Override
    Optional<String> change(Map<String, String> before, Map<String, String> after) {
      boolean was = "true".equals(before.get("security/tampered"));
      boolean is = "true".equals(after.get("security/tampered"));
      return is && !was ? Optional.of("Its system was tampered with") : Optional.empty();
    }
  },
  /** Its OS is an older one than it was. */
  OS_BACK(true) {
    @Override
    Optional<String> change(Map<String, String> before, Map<String, String> after) {
      Optional<OsVersion> was = version(before);
      Optional<OsVersion> is = version(after);
      return was.isPresent() && is.isPresent() && !is.get().atLeast(was.get())
          ? Optional.of("Its OS went back from " + was.get() + " to " + is.get())
          : Optional.empty();
    }
  },
  /** Its storage is nearly full. */
  STORAGE(false) {
    @Override
    Optional<String> change(Map<String, String> before, Map<String, String> after) {
      return falls(free(before), free(after), LITTLE_ROOM)
          ? Optional.of("Its storage is nearly full")
          : Optional.empty();
    }
  },
  /** Its battery is worn. */
  BATTERY(false) {
    @Override
    Optional<String> change(Map<String, String> before, Map<String, String> after) {
      OptionalDouble was = number(before, "battery/health");
      OptionalDouble is = number(after, "battery/health");
      return falls(was, is, WORN)
          ? Optional.of(
              "Its battery holds " + Math.round(is.getAsDouble()) + " % of what it held new")
          : Optional.empty();
    }
  };

  private static final String SIM_FACT = "network/sim";

  /** Share of the storage below which it is nearly full. */
  private static final double LITTLE_ROOM = 0.05;

  /** Percent of its first capacity below which a battery is worn. */
  private static final double WORN = 80;

  private final boolean urgent;

  Watch(boolean urgent) {
    this.urgent = urgent;
  }

  /** Whether somebody should know of it at once. */
  public boolean urgent() {
    return urgent;
  }

  /** What changed, as a sentence; empty where nothing did that is to be told. */
  abstract Optional<String> change(Map<String, String> before, Map<String, String> after);

  /** A change that is to be told. */
  public record Change(Watch watch, String words) {}

  /**
   * What changed of a device that is to be told.
   *
   * @param before its facts by key; none of a device that was never read
   */
  public static Stream<Change> between(Map<String, String> before, Map<String, String> after) {
    return before.isEmpty()
        ? Stream.empty()
        : Stream.of(values())
            .flatMap(w -> w.change(before, after).map(words -> new Change(w, words)).stream());
  }

  private static boolean falls(OptionalDouble was, OptionalDouble is, double below) {
    return is.isPresent()
        && is.getAsDouble() < below
        && (was.isEmpty() || was.getAsDouble() >= below);
  }

  private static OptionalDouble free(Map<String, String> facts) {
    OptionalDouble free = number(facts, "storage/free");
    OptionalDouble capacity = number(facts, "storage/capacity");
    return free.isPresent() && capacity.isPresent() && capacity.getAsDouble() > 0
        ? OptionalDouble.of(free.getAsDouble() / capacity.getAsDouble())
        : OptionalDouble.empty();
  }

  private static OptionalDouble number(Map<String, String> facts, String key) {
    try {
      return OptionalDouble.of(Double.parseDouble(facts.getOrDefault(key, "none")));
    } catch (NumberFormatException e) {
      return OptionalDouble.empty();
    }
  }

  private static Optional<OsVersion> version(Map<String, String> facts) {
    try {
      return Optional.of(OsVersion.parse(facts.getOrDefault("system/os-version", "")));
    } catch (IllegalArgumentException e) {
      return Optional.empty();
    }
  }
}
