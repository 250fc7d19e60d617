package dev.pinwright.service.enrollment;

import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.enrollment.ReadyGate;
import dev.pinwright.protocol.join.JoinMessages.Gate;
import dev.pinwright.protocol.join.JoinMessages.GateStep;
import dev.pinwright.service.work.Json;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.arrival.ArrivalStore;
import dev.pinwright.storage.row.DeviceRow;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Collectors;

/** Devices at the ready gate: what they are told, and when they are handed over. */
public final class ReadyGates {
  private ReadyGates() {}

  /**
   * What a device has to be told now; empty when it is at no gate or knows already.
   *
   * @param settings how it stands to what it should hold
   */
  public static Optional<String> news(DeviceRow device, ReadyGate.Settings settings) {
    if (device.readyGate == null) {
      return Optional.empty();
    }
    List<ReadyGate.Step> steps = steps(device, settings);
    String text =
        Json.write(
            new Gate(
                steps.stream().allMatch(ReadyGate.Step::done),
                steps.stream()
                    .map(
                        s ->
                            new GateStep(
                                s.key(),
                                s.title(),
                                s.done(),
                                s.wanted().orElse(null),
                                s.why().orElse(null)))
                    .toList()));
    return text.equals(device.gateTold) ? Optional.empty() : Optional.of(text);
  }

  private static List<ReadyGate.Step> steps(DeviceRow device, ReadyGate.Settings settings) {
    return EnrollmentRows.gate(device.readyGate)
        .steps(device.platform, OsVersion.parse(device.osVersion), settings);
  }

  /** The device has been told; it is handed over when the gate was said to be open. */
  public static void told(DeviceRow device, String text) {
    device.gateTold = text;
    if (Json.read(text, Gate.class).open()) {
      device.readyGate = null;
    }
  }

  /**
   * Puts into the log how far an arrival is, now that its device has been heard.
   *
   * @param settings how it stands to what it should hold
   */
  public static void arrival(Tx tx, DeviceRow device, ReadyGate.Settings settings, Instant now) {
    ArrivalStore arrivals = new ArrivalStore(tx);
    if (device.readyGate == null) {
      arrivals.done(device.id, now);
    } else {
      arrivals.atGate(device.id, pending(device, settings), now);
    }
  }

  private static String pending(DeviceRow device, ReadyGate.Settings settings) {
    return steps(device, settings).stream()
        .filter(s -> !s.done())
        .map(
            s ->
                s.title().substring(0, 1).toLowerCase(Locale.ROOT)
                    + s.title().substring(1)
                    + s.why().map(w -> ": " + w).orElse(""))
        .collect(Collectors.joining(", "));
  }
}
