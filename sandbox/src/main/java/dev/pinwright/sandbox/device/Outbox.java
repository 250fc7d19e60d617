package dev.pinwright.sandbox.device;

import dev.pinwright.core.session.Subtree;
import dev.pinwright.protocol.dm.DeviceSession.Outstanding;
import dev.pinwright.protocol.dm.Dm;
import dev.pinwright.protocol.dm.Positions;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;

/** What a device has to tell in one session, as it was when the session began. */
record Outbox(
    SimulatedDevice device,
    List<Outstanding> first,
    List<State.Report> reports,
    List<State.AppReport> appReports,
    List<String> wishes,
    List<String> kioskLefts,
    String recoveryKey,
    List<State.Place> trail,
    List<State.Found> found,
    List<String> readMessages,
    boolean leaving) {

  static Outbox of(SimulatedDevice device) {
    synchronized (device) {
      State state = device.state();
      List<Outstanding> first = new ArrayList<>();
      for (Subtree subtree : Subtree.values()) {
        first.add(alert(subtree.digestAlert(), device.tree().digest(subtree)));
      }
      if (state.leaving) {
        first.add(device.leaving());
      }
      if (state.factsChanged) {
        first.add(alert(Dm.TYPE_FACTS_CHANGED, "1"));
      }
      return new Outbox(
          device,
          first,
          List.copyOf(state.reports),
          List.copyOf(state.appReports),
          List.copyOf(state.wishes),
          List.copyOf(state.kioskLefts),
          state.recoveryToTell,
          device.trail(),
          List.copyOf(state.found),
          List.copyOf(state.readToTell),
          state.leaving);
    }
  }

  private static Outstanding alert(String type, String data) {
    return new Outstanding(type, data, Optional.empty());
  }

  /** The alerts of the session's first message. */
  List<Outstanding> alerts() {
    List<Outstanding> out = new ArrayList<>(first);
    add(out, kioskLefts, at -> alert(Dm.TYPE_KIOSK_LEFT, at));
    if (!recoveryKey.isEmpty()) {
      out.add(alert(Dm.TYPE_RECOVERY_KEY, recoveryKey));
    }
    if (!trail.isEmpty()) {
      out.add(
          alert(
              Dm.TYPE_POSITION,
              Positions.write(trail.stream().map(State.Place::position).toList())));
    }
    add(
        out,
        found,
        f ->
            new Outstanding(
                Dm.TYPE_POSITION,
                Positions.write(List.of(f.place().position())),
                Optional.of(f.correlator())));
    add(out, readMessages, m -> new Outstanding(Dm.TYPE_MESSAGE_READ, "1", Optional.of(m)));
    add(out, reports, r -> new Outstanding(r.type(), r.data(), Optional.of(r.correlator())));
    add(
        out,
        appReports,
        r -> new Outstanding(Dm.TYPE_APP_DONE, r.data(), Optional.of(r.correlator())));
    add(out, wishes, app -> alert(Dm.TYPE_SHELF_WISH, app));
    return out;
  }

  private static <T> void add(List<Outstanding> out, List<T> all, Function<T, Outstanding> alert) {
    all.stream().map(alert).forEach(out::add);
  }

  /** All of it was told, and is not to be told again. */
  void told() {
    synchronized (device) {
      State state = device.state();
      state.reports.removeAll(reports);
      state.appReports.removeAll(appReports);
      state.wishes.removeAll(wishes);
      state.kioskLefts.removeAll(kioskLefts);
      state.found.removeAll(found);
      state.readToTell.removeAll(readMessages);
      device.toldTrail(trail);
      if (state.recoveryToTell.equals(recoveryKey)) {
        state.recoveryToTell = "";
      }
    }
  }

  /** Whether there is something to tell, in another session. */
  static boolean waits(SimulatedDevice device) {
    synchronized (device) {
      State state = device.state();
      return state.factsChanged
          || !state.reports.isEmpty()
          || state.leaving
          || !state.found.isEmpty()
          || !state.readToTell.isEmpty()
          || !state.appReports.isEmpty()
          || !state.wishes.isEmpty()
          || device.keepRecoveryKey()
          || !device.trail().isEmpty();
    }
  }
}
