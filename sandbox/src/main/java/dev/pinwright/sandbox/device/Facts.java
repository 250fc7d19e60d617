package dev.pinwright.sandbox.device;

import static java.time.temporal.ChronoUnit.SECONDS;

import dev.pinwright.core.tree.Leaf;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/** What a device knows of itself. Guarded by the device it belongs to. */
record Facts(Model model, State state) {
  private static final int BACKUP_DAYS = 11;

  /**
   * Every fact by its path below {@code ./Vendor/Pinwright/Facts}.
   *
   * @param network the Wi-Fi it was told to use; empty for its own
   * @param goodPasscode whether its passcode is as the organisation wants it
   * @param passcodeDue until when the holder has to choose another, where it is not
   * @param update the version of the system that waits to be installed
   */
  Map<String, Leaf> read(
      String network,
      boolean goodPasscode,
      Optional<Instant> passcodeDue,
      Optional<String> update,
      KioskBox kiosk) {
    Map<String, Leaf> out = new TreeMap<>();
    out.put("system/os-version", new Leaf("chr", state.osVersion));
    out.put("system/build", new Leaf("chr", state.osVersion.replace(".", "") + "A41"));
    update.ifPresent(version -> out.put("system/update", new Leaf("chr", version)));
    out.put("system/zone", new Leaf("chr", state.zoneId().getId()));
    out.put("system/model", new Leaf("chr", model.maker() + " " + model.name()));
    out.put("storage/capacity", whole(model.capacity()));
    out.put(
        "storage/free",
        whole(
            state.faults.contains("full")
                ? 0
                : model.capacity()
                    - state.storageUsed
                    - state.apps.values().stream().mapToLong(State.App::bytes).sum()));
    out.put("battery/level", whole(Math.round(state.battery)));
    out.put("battery/charging", flag(state.charging));
    String given = network.isEmpty() ? state.wifi : network;
    out.put("network/name", new Leaf("chr", given.isEmpty() ? "Vellmar-Staff" : given));
    if (!state.pushEndpoint.isEmpty()) {
      out.put("push/endpoint", new Leaf("chr", state.pushEndpoint));
    }
    out.put("network/wifi-address", new Leaf("chr", state.wifiAddress));
    out.put("network/bluetooth-address", new Leaf("chr", nextTo(state.wifiAddress)));
    if (model.cellular() && model.kind().equals("phone")) {
      out.put(
          "network/phone-number",
          new Leaf(
              "chr",
              "+000 5550 " + state.serial.substring(Math.max(0, state.serial.length() - 4))));
    }
    if (model.cellular()) {
      out.put("network/sim", new Leaf("chr", sim()));
    }
    out.put("battery/health", whole(state.faults.contains("worn") ? 71 : 96));
    out.put("security/encrypted", flag(!state.faults.contains("unencrypted")));
    out.put("security/passcode-present", flag(state.passcode != null));
    out.put("security/passcode-compliant", flag(goodPasscode));
    passcodeDue.ifPresent(t -> out.put("security/passcode-due", moment(t)));
    Instant now = Instant.now();
    if (kiosk.asked().isPresent()) {
      out.put("kiosk/state", new Leaf("chr", kiosk.inside(now).isPresent() ? "in" : "left"));
      kiosk.backAt(now).ifPresent(t -> out.put("kiosk/back", moment(t)));
      if (!kiosk.missing().isEmpty()) {
        out.put("kiosk/missing", new Leaf("chr", String.join(", ", kiosk.missing())));
      }
    }
    int days = Math.floorMod(state.serial.hashCode(), BACKUP_DAYS);
    out.put(
        "backup/last",
        moment(now.truncatedTo(ChronoUnit.DAYS).minus(Duration.ofDays(days)).plusSeconds(7_200)));
    out.put("security/locked", flag(state.locked));
    for (String fault : List.of("tampered", "unknown-sources", "anti-theft")) {
      out.put("security/" + fault, flag(state.faults.contains(fault)));
    }
    return out;
  }

  /** The address after a network card's, which makers give to its other radio. */
  private static String nextTo(String address) {
    int colon = address.lastIndexOf(':');
    return colon < 0
        ? ""
        : "%s:%02x"
            .formatted(
                address.substring(0, colon),
                (Integer.parseInt(address.substring(colon + 1), 16) + 1) & 0xff);
  }

  /** The number of its SIM (ITU-T E.118), of a range that nobody issues. */
  private String sim() {
    return state.sim.isEmpty()
        ? "8999900" + "%012d".formatted(Math.floorMod(state.serial.hashCode(), 1_000_000_007L))
        : state.sim;
  }

  private static Leaf moment(Instant t) {
    return new Leaf("chr", t.truncatedTo(SECONDS).toString());
  }

  private static Leaf flag(boolean on) {
    return new Leaf("bool", Boolean.toString(on));
  }

  private static Leaf whole(long n) {
    return new Leaf("int", Long.toString(n));
  }
}
