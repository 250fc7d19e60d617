package dev.pinwright.service.file;

import dev.pinwright.core.file.FileKind;
import dev.pinwright.service.work.Problem;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.security.cert.CertificateException;
import java.security.cert.CertificateFactory;
import java.security.cert.X509Certificate;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Optional;
import javax.naming.InvalidNameException;
import javax.naming.ldap.LdapName;
import javax.naming.ldap.Rdn;

/** What certificates a file holds (RFC 5280, RFC 7292, RFC 7468). */
final class CertificateJudge {
  private static final String PEM = "application/x-pem-file";
  private static final String DER = "application/pkix-cert";
  private static final String PKCS12 = "application/x-pkcs12";

  private CertificateJudge() {}

  /** One certificate or several, one after the other, between their lines. */
  static Judged pem(byte[] bytes) {
    return judged(read(bytes).orElseThrow(() -> broken("certificate")), false, PEM);
  }

  /** A certificate, or a PKCS#12. */
  static Judged der(byte[] bytes, Optional<String> password) {
    Optional<List<X509Certificate>> plain = read(bytes);
    return plain.isPresent() ? judged(plain.get(), false, DER) : keyed(bytes, password.orElse(""));
  }

  private static Optional<List<X509Certificate>> read(byte[] bytes) {
    try {
      List<X509Certificate> found = new ArrayList<>();
      for (var c :
          CertificateFactory.getInstance("X.509")
              .generateCertificates(new ByteArrayInputStream(bytes))) {
        found.add((X509Certificate) c);
      }
      return found.isEmpty() ? Optional.empty() : Optional.of(found);
    } catch (CertificateException e) {
      return Optional.empty();
    }
  }

  private static Judged keyed(byte[] bytes, String password) {
    KeyStore store;
    try {
      store = KeyStore.getInstance("PKCS12");
      store.load(new ByteArrayInputStream(bytes), password.toCharArray());
    } catch (IOException e) {
      if (!(e.getCause() instanceof GeneralSecurityException)) {
        throw broken("PKCS#12");
      }
      throw Problem.malformed(
          "/password",
          password.isEmpty()
              ? "This is a PKCS#12; give its password too, so that it can be looked into. The"
                  + " password is not kept."
              : "This password does not open the PKCS#12.");
    } catch (GeneralSecurityException e) {
      throw broken("PKCS#12");
    }
    try {
      List<X509Certificate> found = new ArrayList<>();
      boolean key = false;
      for (String alias : Collections.list(store.aliases())) {
        key |= store.isKeyEntry(alias);
        if (store.getCertificate(alias) instanceof X509Certificate c) {
          found.add(c);
        }
      }
      if (found.isEmpty() || !key) {
        throw FileJudge.refused(
            "The PKCS#12 holds " + (found.isEmpty() ? "no certificate." : "no private key."));
      }
      return judged(found, true, PKCS12);
    } catch (GeneralSecurityException e) {
      throw broken("PKCS#12");
    }
  }

  private static Problem broken(String what) {
    return FileJudge.refused("The " + what + " cannot be read: it is broken or ends too early.");
  }

  private static Judged judged(List<X509Certificate> found, boolean key, String mediaType) {
    X509Certificate first = found.get(0);
    Instant until =
        found.stream().map(c -> c.getNotAfter().toInstant()).min(Instant::compareTo).orElseThrow();
    String more = found.size() == 1 ? "" : " and " + (found.size() - 1) + " more";
    return new Judged(
        FileKind.CERTIFICATE,
        mediaType,
        (key ? "key and certificate of " : "certificate of ")
            + name(first)
            + more
            + ", until "
            + until.atZone(ZoneOffset.UTC).toLocalDate(),
        Optional.of(until));
  }

  /** The common name of whom a certificate is of, or all that is said of them. */
  private static String name(X509Certificate certificate) {
    String all = certificate.getSubjectX500Principal().getName();
    try {
      return new LdapName(all)
          .getRdns().stream()
              .filter(r -> r.getType().equalsIgnoreCase("CN"))
              .map(Rdn::getValue)
              .map(String::valueOf)
              .findFirst()
              .orElse(all);
    } catch (InvalidNameException e) {
      return all;
    }
  }
}
