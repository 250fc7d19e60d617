package dev.pinwright.protocol.pki;

import java.io.ByteArrayInputStream;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.cert.CertPathValidator;
import java.security.cert.CertificateFactory;
import java.security.cert.PKIXParameters;
import java.security.cert.TrustAnchor;
import java.security.cert.X509Certificate;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Date;
import java.util.List;
import java.util.stream.Collectors;

/** Chains of certificates that others issued. */
public final class Chains {
  private Chains() {}

  /**
   * Whether a chain, leaf first, ends in one of the roots and is in date (RFC 5280, 6.1).
   * Revocation is not looked at.
   */
  public static boolean endsIn(
      List<X509Certificate> chain, Collection<X509Certificate> roots, Instant now) {
    if (chain.isEmpty() || roots.isEmpty()) {
      return false;
    }
    try {
      PKIXParameters parameters =
          new PKIXParameters(
              roots.stream().map(r -> new TrustAnchor(r, null)).collect(Collectors.toSet()));
      parameters.setRevocationEnabled(false);
      parameters.setDate(Date.from(now));
      CertPathValidator.getInstance("PKIX")
          .validate(CertificateFactory.getInstance("X.509").generateCertPath(chain), parameters);
      return true;
    } catch (GeneralSecurityException e) {
      return false;
    }
  }

  /**
   * Every certificate in a PEM text.
   *
   * @throws IllegalArgumentException when there is none, or something else
   */
  public static List<X509Certificate> certificates(String pem) {
    try {
      List<X509Certificate> out = new ArrayList<>();
      for (var c :
          CertificateFactory.getInstance("X.509")
              .generateCertificates(
                  new ByteArrayInputStream(pem.getBytes(StandardCharsets.UTF_8)))) {
        out.add((X509Certificate) c);
      }
      if (out.isEmpty()) {
        throw new IllegalArgumentException("there is no certificate in this text");
      }
      return out;
    } catch (GeneralSecurityException e) {
      throw new IllegalArgumentException("this is not a certificate in PEM", e);
    }
  }
}
