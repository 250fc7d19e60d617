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
import java.util.Optional;
import java.util.stream.Collectors;

/** Devices at the ready gate: what they are told, and when they are handed over. */
public final class ReadyGates {
  private ReadyGates() {}

  /**
   * What a device has to be told now; empty when it is at no gate or knows already.
   *
   * @param settled whether its settings are on it
   */
  public static Optional<String> news(DeviceRow device, boolean settled) {
    if (device.readyGate == null) {
      return Optional.empty();
    }
    List<ReadyGate.Step> steps = steps(device, settled);
    String text =
        Json.write(
            new Gate(
                steps.stream().allMatch(ReadyGate.Step::done),
                steps.stream()
                    .map(s -> new GateStep(s.key(), s.title(), s.done(), s.wanted().orElse(null)))
                    .toList()));
    return text.equals(device.gateTold) ? Optional.empty() : Optional.of(text);
  }

  private static List<ReadyGate.Step> steps(DeviceRow device, boolean settled) {
    return EnrollmentRows.gate(device.readyGate)
        .steps(device.platform, OsVersion.parse(device.osVersion), settled);
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
   * @param settled whether its settings are on it
   */
  public static void arrival(Tx tx, DeviceRow device, boolean settled, Instant now) {
    ArrivalStore arrivals = new ArrivalStore(tx);
    if (device.readyGate == null) {
      arrivals.done(device.id, now);
    } else {
      arrivals.atGate(device.id, pending(device, settled), now);
    }
  }

  private static String pending(DeviceRow device, boolean settled) {
    return steps(device, settled).stream()
        .filter(s -> !s.done())
        .map(s -> s.title().substring(0, 1).toLowerCase() + s.title().substring(1))
        .collect(Collectors.joining(", "));
  }
}
