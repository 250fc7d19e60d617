package dev.pinwright.sandbox.device;

import dev.pinwright.core.Sha256;
import dev.pinwright.core.passcode.PasscodePolicy;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** The passcode of a device, and what is asked of it. Guarded by the device it belongs to. */
final class Passcode {
  private final State state;
  private final Obedience obedience;

  Passcode(State state, Obedience obedience) {
    this.state = state;
    this.obedience = obedience;
  }

  /** The policy in force. */
  PasscodePolicy policy() {
    return PasscodePolicy.read(obedience.section("passcode"));
  }

  /** Whether the one it has is not as it is wanted. */
  boolean mustChoose() {
    PasscodePolicy policy = policy();
    return !policy.objections(state.passcode == null ? "" : state.passcode).isEmpty()
        || state.passcode != null
            && policy.aged(Instant.ofEpochMilli(state.passcodeAt), Instant.now());
  }

  /** How the holder is asked for another; it counts from here on when they are. */
  PasscodePolicy.Demand demand() {
    boolean good = !mustChoose();
    if (good) {
      state.passcodeAsked = 0;
    } else if (state.passcodeAsked == 0) {
      state.passcodeAsked = System.currentTimeMillis();
    }
    return policy().demand(good, Instant.ofEpochMilli(state.passcodeAsked), Instant.now());
  }

  /** Until when the holder has to choose another, where they have to. */
  Optional<Instant> until() {
    return demand() == PasscodePolicy.Demand.NONE
        ? Optional.empty()
        : Optional.of(policy().until(Instant.ofEpochMilli(state.passcodeAsked)));
  }

  /** Sets one; the objections when it is not good enough, and nothing is changed then. */
  List<String> choose(String typed) {
    List<String> objections = new ArrayList<>(policy().objections(typed));
    String digest = Sha256.hex(state.id + typed);
    int ago = state.earlierPasscodes.indexOf(digest);
    if (ago >= 0) {
      policy().returning(ago).ifPresent(objections::add);
    }
    if (typed.isEmpty() && objections.isEmpty()) {
      objections.add("Type a passcode.");
    }
    if (objections.isEmpty()) {
      state.passcode = typed;
      state.passcodeAt = System.currentTimeMillis();
      state.earlierPasscodes.remove(digest);
      state.earlierPasscodes.add(0, digest);
      state.wrongTries = 0;
    }
    return objections;
  }

  /** Whether it is this one, or there is none; a wrong one is counted. */
  boolean opens(String typed) {
    if (state.passcode != null && !state.passcode.equals(typed)) {
      state.wrongTries++;
      return false;
    }
    state.wrongTries = 0;
    return true;
  }

  /** Whether so many wrong ones were typed that the device erases itself. */
  boolean erases() {
    return policy().erases(state.wrongTries);
  }
}
