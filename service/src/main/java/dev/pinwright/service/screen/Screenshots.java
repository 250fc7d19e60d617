package dev.pinwright.service.screen;

import com.fasterxml.jackson.core.type.TypeReference;
import dev.pinwright.core.Sha256;
import dev.pinwright.core.Words;
import dev.pinwright.core.device.Ownership;
import dev.pinwright.core.screen.Screenshot;
import dev.pinwright.core.screen.Shows;
import dev.pinwright.service.file.FileJudge;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.acting.CommandStore;
import dev.pinwright.storage.row.DeviceRow;
import dev.pinwright.storage.screen.ScreenshotStore;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * Pictures of screens, taken with the holder's consent and kept for a week. A device hands one in
 * with a right it was given with the command and that is good for one picture; each look is told in
 * the journal.
 */
public final class Screenshots {
  private static final int SHOWN = 50;
  private static final TypeReference<Map<String, String>> TEXTS = new TypeReference<>() {};

  private final UseCases useCases;
  private final Vault vault;

  public Screenshots(UseCases useCases, Vault vault) {
    this.useCases = useCases;
    this.vault = vault;
  }

  /** The right to hand in the picture a command asks for. */
  public static String right(Vault vault, String commandId) {
    return Base64.getUrlEncoder().withoutPadding().encodeToString(vault.seal(commandId));
  }

  /**
   * A device hands a picture in.
   *
   * @param sha256 in the address, lower-case hexadecimal
   * @param right as it was told
   * @param bytes at most {@link Screenshot#MOST_BYTES}
   * @throws Problem 403 for a right that is none, not this device's or no longer good; 400 when the
   *     picture is none or not of this digest
   */
  public void handIn(String deviceId, String sha256, String right, byte[] bytes) {
    String command = opened(right);
    String fields =
        useCases
            .read(tx -> new CommandStore(tx).underWay(command, Screenshot.COMMAND, deviceId))
            .orElseThrow(Screenshots::noRight);
    if (!Sha256.hex(bytes).equals(sha256)) {
      throw Problem.malformed("", "The picture is not the one whose digest is in the address.");
    }
    String type = FileJudge.picture(bytes);
    useCases.run(
        Caller.ofDevice(deviceId),
        act -> {
          DeviceRow device = act.tx().find(DeviceRow.class, deviceId).orElseThrow();
          Shows shows =
              Shows.of(Words.parse(Ownership.class, device.ownership), Json.read(fields, TEXTS));
          ScreenshotStore.Taken taken =
              new ScreenshotStore.Taken(command, deviceId, shows, sha256, type, bytes);
          ScreenshotStore store = new ScreenshotStore(act.tx());
          if (!store.keep(taken, act.now()) && !store.has(command, sha256)) {
            throw noRight();
          }
          act.touch(Noun.SCREENSHOT);
        });
  }

  private static Problem noRight() {
    return new Problem(
        403,
        "no-right",
        "Not taken in",
        "This right is none, another device's, or used; one comes with each command.");
  }

  private String opened(String right) {
    try {
      return vault.open(Base64.getUrlDecoder().decode(right));
    } catch (IllegalArgumentException | IllegalStateException e) {
      throw noRight();
    }
  }

  /** Those of a device, the newest first. */
  public List<Screenshot> ofDevice(Caller caller, String deviceId) {
    return useCases.read(tx -> new ScreenshotStore(tx).ofDevice(deviceId, useCases.now(), SHOWN));
  }

  /** A picture as it is looked at. */
  public record Seen(String mediaType, byte[] picture) {}

  /**
   * Shows one; that somebody looked is told in the journal.
   *
   * @throws Problem 404
   */
  public Seen look(Caller caller, String id) {
    return useCases.act(
        caller,
        act -> {
          ScreenshotStore store = new ScreenshotStore(act.tx());
          Screenshot s = found(store.find(id, act.now()), id);
          act.done(
              Noun.SCREENSHOT,
              "seen",
              Noun.DEVICE,
              s.deviceId(),
              "Screenshot of " + s.device() + " of " + s.takenAt() + " looked at");
          return new Seen(s.mediaType(), store.picture(id));
        });
  }

  private static Screenshot found(Optional<Screenshot> screenshot, String id) {
    return screenshot.orElseThrow(() -> Problem.notFound("screenshot", id));
  }

  /**
   * Throws one away before its time.
   *
   * @throws Problem 404
   */
  public void delete(Caller caller, String id) {
    useCases.run(
        caller,
        act -> {
          ScreenshotStore store = new ScreenshotStore(act.tx());
          Screenshot s = found(store.find(id, act.now()), id);
          store.delete(id);
          act.done(
              Noun.SCREENSHOT,
              "deleted",
              Noun.DEVICE,
              s.deviceId(),
              "Screenshot of " + s.device() + " of " + s.takenAt() + " deleted");
        });
  }

  /** Throws away what is too old. */
  public void tidy() {
    useCases.run(Caller.SERVICE, act -> new ScreenshotStore(act.tx()).tidy(act.now()));
  }
}
