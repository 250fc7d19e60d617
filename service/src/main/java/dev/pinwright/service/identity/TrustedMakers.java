package dev.pinwright.service.identity;

import dev.pinwright.storage.Tx;
import java.security.cert.X509Certificate;
import java.util.List;
import java.util.Optional;

/** Says whether a device's own identity comes from a maker that is trusted here. */
public interface TrustedMakers {

  /**
   * A proved identity.
   *
   * @param serial the device's serial number (IEEE 802.1AR-2018, 8.6)
   * @param defaultProfile enrollment profile of devices that have none of their own
   */
  record Proved(String platform, String serial, Optional<String> defaultProfile) {}

  /** Nobody trusted stands behind the identity; the message says what is wrong. */
  final class NotTrusted extends RuntimeException {
    public NotTrusted(String detail) {
      super(detail, null, false, false);
    }
  }

  /**
   * Checks an IDevID.
   *
   * @param chain certificates presented, leaf first; empty without one
   * @throws NotTrusted when there is none or it comes from nobody trusted
   */
  Proved prove(Tx tx, List<X509Certificate> chain);
}
