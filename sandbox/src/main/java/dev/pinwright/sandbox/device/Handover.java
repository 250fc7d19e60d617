package dev.pinwright.sandbox.device;

import dev.pinwright.core.catalog.FirstRunScreen;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.enrollment.FirstRun;
import dev.pinwright.protocol.join.JoinMessages;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * What lies between joining and the first use: first-run screens, then the ready gate. Guarded by
 * the device it belongs to.
 */
final class Handover {
  private final List<FirstRunScreen> screens;
  private final Model model;
  private final State state;

  Handover(List<FirstRunScreen> screens, Model model, State state) {
    this.screens = screens;
    this.model = model;
    this.state = state;
  }

  /** Just joined. */
  void begin() {
    JoinMessages.Offer offer = state.offer;
    if (offer == null || offer.firstRun() == null) {
      return;
    }
    JoinMessages.FirstRun asked = offer.firstRun();
    state.wallpaper = asked.wallpaper();
    if (!asked.language().isEmpty()) {
      state.language = asked.language();
    }
    state.gate = "";
    state.firstRun.clear();
    if (!state.automaticHolder) {
      new FirstRun(Set.copyOf(asked.skip()), asked.language(), asked.region(), asked.wallpaper())
          .shown(screens, model.platform())
          .forEach(s -> state.firstRun.add(s.key()));
    }
  }

  /** The holder is done with the screen on show. */
  void next() {
    if (!state.firstRun.isEmpty()) {
      state.firstRun.remove(0);
    }
  }

  /** The first-run screen on show, and how many are left with it. */
  Optional<Screen.FirstRun> screen() {
    return state.firstRun.stream()
        .findFirst()
        .flatMap(k -> screens.stream().filter(f -> f.key().equals(k)).findFirst())
        .map(f -> new Screen.FirstRun(f.key(), f.title(), f.text(), state.firstRun.size()));
  }

  boolean atGate() {
    JoinMessages.Offer offer = state.offer;
    return offer != null
        && offer.firstRun() != null // another server may tell nothing of it
        && offer.firstRun().readyGate()
        && !gate().map(JoinMessages.Gate::open).orElse(false);
  }

  /** What is still to be finished, and what is done. */
  List<JoinMessages.GateStep> steps() {
    return gate().map(JoinMessages.Gate::steps).orElse(List.of());
  }

  private Optional<JoinMessages.Gate> gate() {
    return state.gate.isEmpty() ? Optional.empty() : Optional.of(Fields.gate(state.gate));
  }

  boolean updating() {
    return System.currentTimeMillis() < state.updatingUntil;
  }

  /** The OS version the gate wants and the device does not have. */
  Optional<String> updateWanted() {
    if (updating()) {
      return Optional.empty();
    }
    return gate().filter(g -> !g.open()).stream()
        .flatMap(g -> g.steps().stream())
        .filter(s -> !s.done() && s.wanted() != null)
        .map(s -> String.valueOf(s.wanted()))
        .filter(v -> !OsVersion.parse(state.osVersion).atLeast(OsVersion.parse(v)))
        .findFirst();
  }
}
