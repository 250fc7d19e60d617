package dev.pinwright.service.arrival;

import dev.pinwright.core.device.Identifier;
import dev.pinwright.core.enrollment.EnrollmentDecision.Refusal;
import dev.pinwright.core.enrollment.InvitationCode;
import dev.pinwright.service.arrival.Joining.Asking;
import dev.pinwright.service.identity.TrustedMakers;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.invitation.InvitationStore;
import dev.pinwright.storage.roster.RosterStore;
import dev.pinwright.storage.row.EnrollmentProfileRow;
import dev.pinwright.storage.row.InvitationRow;
import dev.pinwright.storage.row.RosterRow;
import java.util.List;
import java.util.Optional;

/** Finds the way in of whoever asks: a code's invitation, or the roster and the registrar. */
final class WaysIn {
  private final TrustedMakers makers;

  WaysIn(TrustedMakers makers) {
    this.makers = makers;
  }

  /**
   * @throws WayIn.Closed when there is none, saying why
   */
  WayIn find(Tx tx, Asking asking) {
    return asking.code().equals(Asking.BY_IDENTIFIER)
        ? byIdentity(tx, asking)
        : byCode(tx, asking.code());
  }

  private static WayIn byCode(Tx tx, String typed) {
    InvitationRow invitation =
        InvitationCode.read(typed)
            .flatMap(code -> new InvitationStore(tx).byCode(Vault.hash(code.value())))
            .orElseThrow(
                () -> new WayIn.Closed(Refusal.UNKNOWN_CODE, "no invitation has this code"));
    return new WayIn(
        tx.find(EnrollmentProfileRow.class, invitation.profileId).orElseThrow(),
        Optional.of(invitation),
        "");
  }

  private WayIn byIdentity(Tx tx, Asking asking) {
    TrustedMakers.Proved proved;
    try {
      proved = makers.prove(tx, asking.identity());
    } catch (TrustedMakers.NotTrusted e) {
      throw new WayIn.Closed(Refusal.SIGN_IN_FAILED, String.valueOf(e.getMessage()));
    }
    Identifier serial;
    try {
      serial = Identifier.of(Identifier.Kind.SERIAL, proved.serial());
    } catch (IllegalArgumentException e) {
      throw new WayIn.Closed(Refusal.MALFORMED, String.valueOf(e.getMessage()));
    }
    RosterRow row =
        new RosterStore(tx)
            .identified(List.of(serial)).stream()
                .findFirst()
                .orElseThrow(
                    () ->
                        new WayIn.Closed(
                            Refusal.NOT_ON_ROSTER,
                            serial.value() + " is not on the organisation's roster"));
    String profile = row.profileId != null ? row.profileId : proved.defaultProfile().orElse(null);
    return Optional.ofNullable(profile)
        .flatMap(id -> tx.find(EnrollmentProfileRow.class, id))
        .filter(p -> p.removedAt == null)
        .map(p -> new WayIn(p, Optional.empty(), serial.value()))
        .orElseThrow(
            () ->
                new WayIn.Closed(
                    Refusal.NOT_ON_ROSTER,
                    serial.value() + " is on the roster, but without an enrollment profile"));
  }
}
