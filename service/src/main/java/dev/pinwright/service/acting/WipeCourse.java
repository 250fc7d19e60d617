package dev.pinwright.service.acting;

import dev.pinwright.core.command.CommandState;
import dev.pinwright.core.notice.News;
import dev.pinwright.core.wipe.Proof;
import dev.pinwright.core.wipe.Wipe;
import dev.pinwright.core.wipe.WipeKind;
import dev.pinwright.service.device.Retirement;
import dev.pinwright.service.live.Wakes;
import dev.pinwright.service.shape.Shapes;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.acting.WipeStore;
import dev.pinwright.storage.device.ActivityStore;
import dev.pinwright.storage.device.DeviceStates;
import dev.pinwright.storage.identity.CertificateStore;
import java.util.List;
import java.util.Optional;

/**
 * What becomes of wipes as their devices are heard. A device that says that it begins is to hold
 * nothing from then on, until the wipe is revoked, it joins anew, or it turns out to have said so
 * for nothing.
 */
public final class WipeCourse {
  private static final String ACTIVITY = "wipe";

  private final Shapes shapes;

  public WipeCourse(Shapes shapes) {
    this.shapes = shapes;
  }

  /**
   * A device said that it begins.
   *
   * @return what it wipes; empty when it had said so
   */
  public Optional<WipeKind> begun(UseCases.Act act, String commandId) {
    WipeStore store = new WipeStore(act.tx());
    if (!store.begun(commandId, act.now())) {
      return Optional.empty();
    }
    // read once that is noted: whoever revoked it meanwhile is seen, and whoever does so later sees
    Wipe w = store.find(commandId).orElseThrow();
    if (w.keepsEmpty()) {
      hold(act.tx(), w.deviceId(), true);
    } else {
      Wakes.device(act.tx(), w.deviceId());
    }
    tell(
        act,
        w,
        "begun",
        w.kind() == WipeKind.DEVICE
            ? "It said that it begins to erase itself"
            : "It said that it takes off what is the organisation's");
    return Optional.of(w.kind());
  }

  private void hold(Tx tx, String deviceId, boolean nothing) {
    if (new DeviceStates(tx).empty(deviceId, nothing)) {
      shapes.place(tx, List.of(deviceId));
    }
  }

  private static void tell(UseCases.Act act, Wipe w, String verb, String words) {
    new ActivityStore(act.tx()).add(w.deviceId(), act.now(), ACTIVITY, words);
    act.done(Noun.WIPE, verb, Noun.DEVICE, w.deviceId(), w.device() + ": " + words);
    act.touch(Noun.DISPATCH);
  }

  /** A device that said that it erases itself speaks as if nothing had happened. */
  public void denied(UseCases.Act act, Wipe w) {
    if (!new WipeStore(act.tx()).denied(w.id(), act.now())) {
      return;
    }
    hold(act.tx(), w.deviceId(), false);
    String words = "It said that it erases itself, and speaks as if nothing had happened";
    tell(act, w, "denied", words);
    act.say(News.notWiped(w.id(), w.deviceId(), w.device(), words));
  }

  /**
   * A device whose work part was wiped was read.
   *
   * @param left what of the organisation's is still there
   */
  public static void read(UseCases.Act act, Wipe w, List<String> left) {
    WipeStore store = new WipeStore(act.tx());
    store.told(w.id(), true, left);
    if (left.isEmpty() && store.proved(w.id(), Proof.READ, act.now())) {
      tell(act, w, "proved", "It was read: nothing of the organisation's is left on it");
    }
  }

  /** Everything a revoked wipe took is back. */
  public static void restored(UseCases.Act act, Wipe w) {
    if (new WipeStore(act.tx()).restored(w.id(), act.now())) {
      tell(act, w, "restored", "Everything its wipe took is back");
    }
  }

  /** A device that was to erase itself shows by its maker's certificate that it is blank. */
  public void proved(UseCases.Act act, Wipe w, Proof proof) {
    Tx tx = act.tx();
    if (!new WipeStore(tx).proved(w.id(), proof, act.now())) {
      return;
    }
    Commands.step(tx, w.deviceId(), w.id(), CommandState.DONE, "", act.now());
    hold(tx, w.deviceId(), true);
    new CertificateStore(tx).withdraw(w.deviceId());
    Wakes.drop(tx, List.of(w.deviceId()));
    tell(
        act,
        w,
        "proved",
        proof == Proof.BLANK
            ? "It is blank: it showed itself by its maker's certificate"
            : "It is blank: it asks to join anew by its maker's certificate");
    if (w.retire() && proof == Proof.BLANK) {
      Retirement.retire(act, List.of(w.deviceId()), "wiped, and proved blank");
      act.done(Noun.DEVICE, "retired", w.deviceId(), w.device() + " retired: proved blank");
    }
  }

  /**
   * A device joins anew: what it was to hold, or not, is over.
   *
   * @param proved whether it showed by its maker's certificate that it is this one
   */
  public void joins(UseCases.Act act, String deviceId, boolean proved) {
    WipeStore store = new WipeStore(act.tx());
    store
        .latest(deviceId)
        .ifPresent(
            w -> {
              if (proved && w.provable()) {
                proved(act, w, Proof.JOINED);
              } else if (w.kind() == WipeKind.WORK
                  && w.keepsEmpty()
                  && store.revoked(w.id(), act.caller().login(), act.now())) {
                tell(act, w, "revoked", "It joined anew; what its wipe took comes back");
              }
            });
    new DeviceStates(act.tx()).empty(deviceId, false);
  }

  /** Somebody revokes a wipe of a work part. */
  void revoke(UseCases.Act act, Wipe w, String reason) {
    Tx tx = act.tx();
    new WipeStore(tx).revoked(w.id(), act.caller().login(), act.now());
    hold(tx, w.deviceId(), false);
    tell(
        act,
        w,
        "revoked",
        "Its wipe was revoked by "
            + act.caller().login()
            + ", and everything comes back: "
            + reason);
    Wakes.device(tx, w.deviceId());
  }
}
