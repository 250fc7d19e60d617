package dev.pinwright.service.arrival;

import dev.pinwright.core.device.Identifier;
import dev.pinwright.core.enrollment.EnrollmentDecision.InvitationState;
import dev.pinwright.core.enrollment.EnrollmentDecision.Refusal;
import dev.pinwright.core.enrollment.EnrollmentDecision.Refused;
import dev.pinwright.core.enrollment.JoinAttempt;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.invitation.InvitationStore;
import dev.pinwright.storage.row.EnrollmentProfileRow;
import dev.pinwright.storage.row.InvitationRow;
import java.util.Optional;

/**
 * The way a device comes in.
 *
 * @param profile what it joins by
 * @param invitation whose code it has; none for a device that comes by its own identity
 * @param serial the serial number its identity proves; empty for one that has a code
 */
record WayIn(EnrollmentProfileRow profile, Optional<InvitationRow> invitation, String serial) {

  /** There is no such way in. */
  static final class Closed extends RuntimeException {
    private final transient Refused refused;

    Closed(Refusal refusal, String detail) {
      super(detail, null, false, false);
      refused = new Refused(refusal, detail, Optional.empty());
    }

    Refused refused() {
      return refused;
    }
  }

  /** What tries at a secret are counted by. */
  String key() {
    return invitation.map(i -> i.id).orElse("serial " + serial);
  }

  InvitationState state() {
    InvitationRow i = invitation.orElseThrow();
    return new InvitationState(i.withdrawnAt != null, i.expiresAt, i.uses, i.usesAllowed);
  }

  /** Whom the invitation was written for. */
  Optional<String> person() {
    return invitation.map(i -> i.personId);
  }

  /** The same way, read in another transaction. */
  WayIn again(Tx tx) {
    return new WayIn(
        tx.find(EnrollmentProfileRow.class, profile.id).orElseThrow(),
        invitation.map(i -> tx.find(InvitationRow.class, i.id).orElseThrow()),
        serial);
  }

  /** Counts one use; false when there was none left. */
  boolean count(Tx tx) {
    return invitation.isEmpty() || new InvitationStore(tx).use(invitation.get().id);
  }

  /**
   * Holds an attempt against what the device's identity proves.
   *
   * @throws IllegalArgumentException when it names another serial number
   */
  void mustName(JoinAttempt attempt) {
    boolean named =
        attempt.identifiers().stream()
            .anyMatch(i -> i.kind() == Identifier.Kind.SERIAL && i.value().equals(serial));
    if (invitation.isEmpty() && !named) {
      throw new IllegalArgumentException(
          "the serial number has to be " + serial + ", as the device's certificate says");
    }
  }
}
