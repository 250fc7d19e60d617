package dev.pinwright.service.own;

import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.device.Mode;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.protocol.pki.WrappedKeys;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.device.ActivityStore;
import dev.pinwright.storage.device.RecoveryKeyStore;
import dev.pinwright.storage.device.RecoveryKeyStore.Kept;
import dev.pinwright.storage.row.DeviceRow;
import java.time.Duration;
import java.time.Instant;
import java.util.Base64;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Keys that open the disks of devices: kept as the devices wrapped them, shown with a reason. */
public final class RecoveryKeys {
  private static final String ESCROW = "encryption.escrow";
  private static final String REFUSED = "recovery-key-refused";
  private static final Pattern TOLD = Pattern.compile("(\\d{1,6})\\s+([A-Za-z0-9+/=\\s]+)");
  private static final int MOST_TOLD = 3;
  private static final int LONGEST_REASON = 300;

  private final UseCases useCases;
  private final Pki.Identity recipient;

  /**
   * @param recipient whom devices wrap their keys for
   */
  public RecoveryKeys(UseCases useCases, Pki.Identity recipient) {
    this.useCases = useCases;
    this.recipient = recipient;
  }

  /** Whether devices of a platform and mode can be told to hand their keys in. */
  static boolean handedIn(Catalog catalog, String platform, Mode mode) {
    return catalog
        .setting(ESCROW)
        .filter(
            s ->
                s.support().stream()
                    .anyMatch(x -> x.platform().equals(platform) && x.modes().contains(mode)))
        .isPresent();
  }

  /**
   * What is known of a device's key, besides the key.
   *
   * @param number of the latest key that is kept; empty for none
   * @param wanted number of the key it is to have; another one was asked for when this is higher
   */
  public record Known(
      Optional<Integer> number,
      Optional<Instant> receivedAt,
      Optional<Instant> shownAt,
      Optional<String> shownBy,
      int wanted) {}

  /** A key, as it is typed into the device. */
  public record Shown(String key, int number, Instant receivedAt) {}

  /** What is known of the key of a device, retired ones too. */
  public Known of(Caller caller, String deviceId) {
    return useCases.read(
        tx -> {
          device(tx, deviceId);
          RecoveryKeyStore store = new RecoveryKeyStore(tx);
          Optional<Kept> kept = store.latest(deviceId);
          return new Known(
              kept.map(Kept::number),
              kept.map(Kept::receivedAt),
              kept.flatMap(Kept::shownAt),
              kept.flatMap(Kept::shownBy),
              store.wanted(deviceId));
        });
  }

  private static DeviceRow device(Tx tx, String id) {
    return tx.find(DeviceRow.class, id).orElseThrow(() -> Problem.notFound("device", id));
  }

  /**
   * Shows the key of a device; who saw it and why is told in the journal, and the device makes
   * another.
   *
   * @throws Problem 400 without a reason, 404, 409 no-recovery-key
   */
  public Shown show(Caller caller, String deviceId, String reason) {
    String why = reason.strip();
    if (why.isEmpty() || why.length() > LONGEST_REASON) {
      throw Problem.malformed(
          "/reason", "Say in 1 to " + LONGEST_REASON + " characters why it has to be seen.");
    }
    return useCases.act(
        caller,
        act -> {
          DeviceRow device = device(act.tx(), deviceId);
          RecoveryKeyStore store = new RecoveryKeyStore(act.tx());
          Kept kept =
              store
                  .latest(deviceId)
                  .orElseThrow(
                      () ->
                          Problem.conflict(
                              "no-recovery-key",
                              device.name + " has not handed in a key that opens its disk."));
          String key =
              WrappedKeys.unwrap(kept.wrapped(), recipient)
                  .orElseThrow(
                      () ->
                          Problem.conflict(
                              "no-recovery-key",
                              "The key of " + device.name + " cannot be opened any more."));
          store.shown(deviceId, kept.number(), act.now(), caller.login());
          act.done(
              Noun.DEVICE,
              "recovery-key-shown",
              deviceId,
              "Recovery key " + kept.number() + " of " + device.name + " shown; reason: " + why);
          new ActivityStore(act.tx())
              .add(
                  deviceId,
                  act.now(),
                  "recovery-key",
                  caller.login() + " saw its recovery key; it makes another");
          act.touch(Noun.DEVICE);
          return new Shown(key, kept.number(), kept.receivedAt());
        });
  }

  /**
   * Keeps what a device hands in. What cannot be opened is not kept, and said once a day.
   *
   * @param told each a number, a space and the wrapped key in base64
   */
  public void heard(UseCases.Act act, DeviceRow device, List<String> told) {
    for (String one : told.stream().limit(MOST_TOLD).toList()) {
      Optional<byte[]> wrapped = wrapped(one);
      int number = number(one);
      RecoveryKeyStore store = new RecoveryKeyStore(act.tx());
      boolean good =
          wrapped.flatMap(w -> WrappedKeys.unwrap(w, recipient)).isPresent()
              && number >= store.latest(device.id).map(Kept::number).orElse(0)
              && number <= store.wanted(device.id);
      ActivityStore activity = new ActivityStore(act.tx());
      if (good) {
        store.keep(device.id, number, wrapped.orElseThrow(), act.now());
        activity.add(
            device.id, act.now(), "recovery-key", "Its recovery key " + number + " is kept here");
        act.done(
            Noun.DEVICE,
            "recovery-key-kept",
            device.id,
            "Recovery key " + number + " of " + device.name + " is kept");
      } else if (activity
          .latest(device.id, REFUSED, act.now().minus(Duration.ofDays(1)), 1)
          .isEmpty()) {
        activity.add(
            device.id, act.now(), REFUSED, "It handed in a recovery key that is of no use here");
      }
    }
  }

  private static int number(String told) {
    Matcher m = TOLD.matcher(told);
    return m.matches() ? Integer.parseInt(m.group(1)) : 0;
  }

  private static Optional<byte[]> wrapped(String told) {
    Matcher m = TOLD.matcher(told);
    try {
      return m.matches()
          ? Optional.of(Base64.getMimeDecoder().decode(m.group(2)))
          : Optional.empty();
    } catch (IllegalArgumentException e) {
      return Optional.empty();
    }
  }
}
