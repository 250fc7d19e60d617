package dev.pinwright.sandbox.device;

import dev.pinwright.core.kiosk.ExitCode;
import dev.pinwright.core.kiosk.Kiosk;
import dev.pinwright.core.own.OwnDetails;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.function.UnaryOperator;

/** The kiosk of a device: what it shows, how it is left. Guarded by the device it belongs to. */
final class KioskBox {
  private static final int FREE_TRIES = 3;
  private static final Duration FIRST_WAIT = Duration.ofSeconds(30);
  private static final int MOST_DOUBLINGS = 7;

  private final AppBox apps;
  private final State state;
  private final Obedience obedience;

  KioskBox(AppBox apps, State state, Obedience obedience) {
    this.apps = apps;
    this.state = state;
    this.obedience = obedience;
  }

  /** The kiosk it is told to be. */
  Optional<Kiosk> asked() {
    return Kiosk.read(obedience.section("kiosk"));
  }

  /** The kiosk it is in now. */
  Optional<Kiosk> inside(Instant now) {
    return asked().filter(k -> now.toEpochMilli() >= state.kioskBackAt);
  }

  /** When the kiosk comes back, where it was left for a time. */
  Optional<Instant> backAt(Instant now) {
    boolean out = asked().isPresent() && now.toEpochMilli() < state.kioskBackAt;
    return out && state.kioskBackAt != Long.MAX_VALUE
        ? Optional.of(Instant.ofEpochMilli(state.kioskBackAt))
        : Optional.empty();
  }

  /** Leaves it for a time; without one until it is told to go back. */
  void leave(Optional<Duration> time, Instant now) {
    state.kioskBackAt = time.map(t -> now.plus(t).toEpochMilli()).orElse(Long.MAX_VALUE);
  }

  /** Goes back into it. */
  void enter() {
    state.kioskBackAt = 0;
    state.opened = "";
  }

  /** Takes a code that was typed; why it does not open, when it does not. */
  Optional<String> typed(String code, Instant now) {
    Kiosk kiosk = inside(now).orElse(null);
    if (kiosk == null) {
      return Optional.of("This device is in no kiosk.");
    }
    String[] secret = state.own.get(OwnDetails.path(OwnDetails.EXIT_SECRET));
    if (!kiosk.exitCode() || secret == null) {
      return Optional.of("This kiosk takes no codes.");
    }
    long wait = state.exitTryAt - now.toEpochMilli();
    if (wait > 0) {
      return Optional.of("Too many wrong codes. Try again in " + (wait / 1_000 + 1) + " seconds.");
    }
    Optional<Long> step =
        ExitCode.opens(secret[1], code.replaceAll("\\s", ""), now, state.exitStep);
    if (step.isEmpty()) {
      state.exitTries++;
      int beyond = state.exitTries - FREE_TRIES;
      if (beyond >= 0) {
        Duration next = FIRST_WAIT.multipliedBy(1L << Math.min(beyond, MOST_DOUBLINGS));
        state.exitTryAt = now.plus(next).toEpochMilli();
      }
      return Optional.of("That is not the code.");
    }
    state.exitStep = step.get();
    state.exitTries = 0;
    state.exitTryAt = 0;
    state.kioskLefts.add(now.toString());
    leave(Optional.of(kiosk.exitFor()), now);
    return Optional.empty();
  }

  /** Opens an app of the kiosk; why not, when it cannot be opened. */
  Optional<String> open(String app, Instant now) {
    boolean offered = inside(now).filter(k -> k.apps().contains(app)).isPresent();
    if (!offered) {
      return Optional.of("This app is not part of the kiosk.");
    }
    if (!apps.usable().contains(app)) {
      return Optional.of("This app is not on the device.");
    }
    state.opened = app;
    return Optional.empty();
  }

  /** Goes home from an app, where there is a way. */
  void home(Instant now) {
    if (inside(now).filter(k -> !k.off().contains("home-button")).isPresent()) {
      state.opened = "";
    }
  }

  /** Ids of the apps of the kiosk that are not on it. */
  List<String> missing() {
    return asked().map(k -> k.shown(apps.usable()).missing()).orElse(List.of());
  }

  /** What is seen of it. */
  Optional<Screen.KioskView> view(UnaryOperator<String> filled, Instant now) {
    return inside(now)
        .map(
            k -> {
              Kiosk.Shown shown = k.shown(apps.usable());
              Optional<String> open =
                  shown.app().or(() -> Optional.of(state.opened).filter(o -> !o.isEmpty()));
              return new Screen.KioskView(
                  filled.apply(k.title()),
                  k.one(),
                  k.home().columns(),
                  k.home().rows().stream()
                      .map(row -> row.stream().map(a -> a.map(this::app)).toList())
                      .toList(),
                  k.home().dock().stream().map(this::app).toList(),
                  open.map(this::app),
                  shown.missing().stream().map(this::app).toList(),
                  k.off().stream().sorted().toList(),
                  k.changes(),
                  k.exitCode());
            });
  }

  private Screen.App app(String id) {
    return new Screen.App(id, apps.name(id), apps.usable().contains(id), apps.opens(id));
  }
}
