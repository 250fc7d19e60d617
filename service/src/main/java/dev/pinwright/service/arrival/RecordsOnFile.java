package dev.pinwright.service.arrival;

import dev.pinwright.core.Words;
import dev.pinwright.core.enrollment.EnrollmentDecision.OnFile;
import dev.pinwright.core.enrollment.EnrollmentProfile;
import dev.pinwright.core.enrollment.JoinAttempt;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.service.identity.Authority;
import dev.pinwright.service.identity.DeviceCertificates;
import dev.pinwright.service.identity.TrustedMakers;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.arrival.ArrivalStore;
import dev.pinwright.storage.bench.BenchStore;
import dev.pinwright.storage.identity.CertificateStore;
import dev.pinwright.storage.row.DeviceRow;
import java.security.cert.X509Certificate;
import java.util.List;
import java.util.Optional;

/** What the records a device asks for say against its having them, and what it proves. */
final class RecordsOnFile {
  private final TrustedMakers makers;
  private final Authority authority;

  RecordsOnFile(TrustedMakers makers, Authority authority) {
    this.makers = makers;
    this.authority = authority;
  }

  /** Who asks, as far as it bears on records. */
  record Asker(
      WayIn way,
      EnrollmentProfile profile,
      JoinAttempt attempt,
      List<X509Certificate> identity,
      Optional<String> signedIn) {}

  List<OnFile> of(Tx tx, List<DeviceRow> known, Asker asker) {
    return known.stream().map(d -> of(tx, d, asker)).toList();
  }

  private OnFile of(Tx tx, DeviceRow d, Asker asker) {
    EnrollmentProfile p = asker.profile();
    return new OnFile(
        d.id,
        d.name,
        d.retiredAt == null && new CertificateStore(tx).inForce(d.id),
        d.ownership + ", " + d.mode,
        d.platform.equals(asker.attempt().platform()) && d.model.equals(asker.attempt().model()),
        d.ownership.equals(Words.of(p.ownership())) && d.mode.equals(Words.of(p.mode())),
        proved(tx, d, asker),
        asker.way().invitation().filter(i -> new ArrivalStore(tx).opened(i.id, d.id)).isPresent());
  }

  private boolean proved(Tx tx, DeviceRow d, Asker asker) {
    return asker.signedIn().filter(person -> person.equals(d.personId)).isPresent()
        || releasedOnBench(tx, d, asker.way())
        || ownCertificate(tx, d, asker.identity())
        || makersCertificate(tx, d, asker.identity());
  }

  /** Whether somebody who has it in front of them said that it may be erased and joined anew. */
  static boolean releasedOnBench(Tx tx, DeviceRow d, WayIn way) {
    return d.serial != null
        && way.invitation().filter(i -> new BenchStore(tx).released(i.id, d.serial)).isPresent();
  }

  private boolean ownCertificate(Tx tx, DeviceRow d, List<X509Certificate> chain) {
    try {
      X509Certificate leaf = authority.ours(chain.toArray(X509Certificate[]::new));
      return Pki.commonName(leaf).equals(d.id)
          && new CertificateStore(tx).inForce(d.id, DeviceCertificates.serial(leaf));
    } catch (Problem notOurs) {
      return false;
    }
  }

  /** Whether a certificate of its maker's says that this is the device. */
  boolean makersCertificate(Tx tx, DeviceRow d, List<X509Certificate> chain) {
    try {
      TrustedMakers.Proved proved = makers.prove(tx, chain);
      return proved.platform().equals(d.platform) && proved.serial().equals(d.serial);
    } catch (TrustedMakers.NotTrusted nobody) {
      return false;
    }
  }
}
