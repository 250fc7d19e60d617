package dev.pinwright.service.acting;

import com.fasterxml.jackson.annotation.JsonUnwrapped;
import dev.pinwright.core.device.Identifier;
import dev.pinwright.core.wipe.Proof;
import dev.pinwright.core.wipe.Wipe;
import dev.pinwright.core.wipe.WipeStage;
import dev.pinwright.service.access.Throttle;
import dev.pinwright.service.identity.TrustedMakers;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.ManyLines;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.acting.WipeStore;
import dev.pinwright.storage.change.Moves;
import dev.pinwright.storage.device.ActivityStore;
import dev.pinwright.storage.device.DeviceStore;
import dev.pinwright.storage.row.DeviceRow;
import java.security.cert.X509Certificate;
import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.Optional;

/** Wipes, from the order to the proof; revoking those that can be. */
public final class Wipes {
  private static final int LONGEST_REASON = 300;

  private final UseCases useCases;
  private final WipeCourse course;
  private final TrustedMakers makers;
  private final Throttle strangers;

  public Wipes(
      UseCases useCases, Database database, WipeCourse course, TrustedMakers makers, Clock clock) {
    this.useCases = useCases;
    this.course = course;
    this.makers = makers;
    strangers = new Throttle(database, clock, "blank devices", 60, Duration.ofMinutes(1));
  }

  private Wipes(Wipes of, UseCases useCases) {
    this.useCases = useCases;
    course = of.course;
    makers = of.makers;
    strangers = of.strangers;
  }

  /** Wipes as part of something else: what is done to them stands or falls with it. */
  public Wipes within(UseCases.Act act) {
    return new Wipes(this, useCases.within(act));
  }

  /** A wipe, how far it is, and why it cannot be revoked where it cannot. */
  public record Shown(@JsonUnwrapped Wipe wipe, WipeStage stage, Optional<String> notRevocable) {
    static Shown of(Wipe wipe) {
      return new Shown(wipe, wipe.stage(), wipe.notRevocable());
    }
  }

  /** Why something is revoked. */
  public record Revocation(@ManyLines Optional<String> reason) {}

  /**
   * Wipes, newest first.
   *
   * @param deviceId of one device; empty for all
   * @param open only those that are not over
   */
  public Page<Shown> page(Caller caller, String deviceId, boolean open, Page.Request page) {
    String[] c = page.parts(Page.Part.TEXT);
    return useCases.read(
        tx ->
            Page.of(
                new WipeStore(tx)
                    .page(deviceId, open, c.length == 0 ? "~" : c[0], page.limit() + 1),
                page.limit(),
                Shown::of,
                w -> Page.cursor(w.id())));
  }

  /** One wipe. */
  public Shown get(Caller caller, String id) {
    return useCases.read(
        tx -> Shown.of(new WipeStore(tx).find(id).orElseThrow(() -> Problem.notFound("wipe", id))));
  }

  /**
   * Revokes a wipe of a work part: everything it took comes back by itself, but for what apps kept
   * on the device and nowhere else.
   *
   * @throws Problem 400 without a reason, 404, 409 when it cannot be revoked
   */
  public Shown revoke(Caller caller, String id, Revocation revocation) {
    String reason = revocation.reason().orElse("").strip();
    if (reason.isEmpty() || reason.length() > LONGEST_REASON) {
      throw Problem.malformed("/reason", "Say why it is revoked, in 1 to 300 characters.");
    }
    useCases.run(
        caller,
        act -> {
          Moves.besideRules(act.tx());
          Wipe wipe =
              new WipeStore(act.tx()).lock(id).orElseThrow(() -> Problem.notFound("wipe", id));
          wipe.notRevocable()
              .ifPresent(
                  why -> {
                    throw Problem.conflict("not-revocable", "It cannot be revoked: " + why + ".");
                  });
          DeviceRow device = act.tx().find(DeviceRow.class, wipe.deviceId()).orElseThrow();
          if (device.retiredAt != null) {
            throw Problem.conflict(
                "device-retired", wipe.device() + " is retired; it comes back by joining again.");
          }
          course.revoke(act, wipe, reason);
        });
    return get(caller, id);
  }

  /**
   * A blank device shows itself by its maker's certificate (IEEE 802.1AR, IDevID): proof that a
   * wipe of it happened, where one was ordered.
   *
   * @param chain its certificates, leaf first
   * @throws Problem 401 when nobody trusted stands behind them, 429
   */
  public void blank(List<X509Certificate> chain, String address) {
    Caller blank = new Caller("", "a blank device", Caller.ofDevice("").role());
    Optional<String> wrong =
        useCases.act(
            blank,
            act -> {
              TrustedMakers.Proved proved;
              Identifier serial;
              try {
                proved = makers.prove(act.tx(), chain);
                serial = Identifier.of(Identifier.Kind.SERIAL, proved.serial());
              } catch (TrustedMakers.NotTrusted | IllegalArgumentException e) {
                return Optional.of(String.valueOf(e.getMessage()));
              }
              DeviceStore devices = new DeviceStore(act.tx());
              devices.holdIdentifiers(List.of(serial));
              Moves.besideRules(act.tx());
              devices.identified(List.of(serial)).stream()
                  .filter(d -> d.platform.equals(proved.platform()))
                  .findFirst()
                  .ifPresent(d -> isBlank(act, d));
              return Optional.<String>empty();
            });
    if (wrong.isPresent()) {
      Throttle.Tries tries = strangers.count(address);
      if (tries.over()) {
        throw strangers.tooMany(tries);
      }
      throw new Problem(
          401,
          "not-recognised",
          "Not recognised",
          "A blank device shows itself by its maker\u2019s certificate: " + wrong.get() + ".");
    }
  }

  private void isBlank(UseCases.Act act, DeviceRow device) {
    act.onBehalfOf(Caller.ofDevice(device.id));
    Optional<Wipe> wipe = new WipeStore(act.tx()).latest(device.id).filter(Wipe::provable);
    if (wipe.isPresent()) {
      course.proved(act, wipe.get(), Proof.BLANK);
    } else if (device.retiredAt == null) {
      new ActivityStore(act.tx())
          .add(device.id, act.now(), "wipe", "It is blank, although nobody here wiped it");
    }
  }
}
