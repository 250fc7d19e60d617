package dev.pinwright.sandbox.device;

import dev.pinwright.core.catalog.Hours;
import java.time.Duration;
import java.time.LocalDateTime;
import java.time.format.TextStyle;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/** When a device sleeps, wakes, restarts and turns itself off. Guarded by the device it is of. */
record Power(State state, Obedience obedience) {
  private static final int NIGHT = 3;
  private static final double FULL = 99;

  /** What it is to do now. */
  enum Due {
    NOTHING,
    SWITCH_OFF,
    SWITCH_ON,
    RESTART
  }

  private Map<String, String> told() {
    return obedience.section("power");
  }

  /** Up to which level it is charged, in percent. */
  double most() {
    return Optional.ofNullable(told().get("charge-most")).map(Double::valueOf).orElse(FULL);
  }

  /** Somebody touched it: it is awake, and stays so for as long as its settings let it. */
  void touched(long now) {
    state.touchedAt = now;
  }

  /** Whether it sleeps: nobody touched it for a while, or its lid is closed. */
  boolean asleep(long now) {
    if (state.lidClosed && lid().equals("sleep")) {
      return true;
    }
    String minutes = told().get(state.charging ? "sleep-plugged" : "sleep-battery");
    long longest = minutes == null ? 0 : Duration.ofMinutes(Long.parseLong(minutes)).toMillis();
    return longest > 0 && !state.inUse && state.touchedAt > 0 && now - state.touchedAt > longest;
  }

  private String lid() {
    return told().getOrDefault("lid", "nothing");
  }

  /** Closes its lid, or opens it; whether that turns it off. */
  boolean lid(boolean closed, long now) {
    state.lidClosed = closed;
    touched(now);
    return closed && lid().equals("off");
  }

  /**
   * What the time that has come asks for. Turned off at the end of its hours, it comes back at
   * their beginning; whoever switches it on in between has it until they end again.
   */
  Due due(LocalDateTime now, long millis) {
    if (state.touchedAt == 0) {
      touched(millis); // it begins to count when there is something to count
    }
    Optional<Boolean> hold =
        Optional.ofNullable(told().get("on-hours"))
            .flatMap(Hours::read)
            .map(h -> h.hold(now.getDayOfWeek(), now.toLocalTime()));
    boolean ended = state.inHours && hold.filter(h -> !h).isPresent();
    boolean began = hold.filter(h -> h).isPresent() && state.offByHours && state.off;
    state.inHours = hold.orElse(false);
    if (ended && !state.off) {
      state.offByHours = true;
      return Due.SWITCH_OFF;
    }
    if (began) {
      state.offByHours = false;
      return Due.SWITCH_ON;
    }
    String day = now.getDayOfWeek().getDisplayName(TextStyle.SHORT, Locale.ENGLISH);
    String today = now.toLocalDate().toString();
    if (!state.off
        && now.getHour() == NIGHT
        && day.equalsIgnoreCase(told().get("restart-day"))
        && !today.equals(state.restartedOn)) {
      state.restartedOn = today;
      return Due.RESTART;
    }
    return Due.NOTHING;
  }
}
