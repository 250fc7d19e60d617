package dev.pinwright.service.bench;

import dev.pinwright.core.enrollment.Admission;
import dev.pinwright.core.naming.NamePattern;
import dev.pinwright.core.organisation.Place;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.bench.BenchStore;
import java.util.Optional;

/** What a bench session asks for each device that joins by it. */
public final class BenchOrder {
  private BenchOrder() {}

  /** The order of the session an invitation belongs to. */
  public static Optional<Admission.Bench> of(Tx tx, String invitationId) {
    return new BenchStore(tx)
        .ofInvitation(invitationId)
        .map(
            s ->
                new Admission.Bench(
                    new NamePattern(s.namePattern()),
                    s.firstNumber(),
                    s.groupId(),
                    new Place(s.unitId(), s.siteId()),
                    s.assetPrefix()));
  }
}
