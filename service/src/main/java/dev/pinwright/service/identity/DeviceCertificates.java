package dev.pinwright.service.identity;

import dev.pinwright.protocol.pki.CsrRefused;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.service.access.Throttle;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.arrival.ArrivalStore;
import dev.pinwright.storage.identity.CertificateStore;
import dev.pinwright.storage.row.DeviceCertificateRow;
import dev.pinwright.storage.row.EstGrantRow;
import java.security.MessageDigest;
import java.security.PublicKey;
import java.security.cert.X509Certificate;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Base64;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** Certificates of devices, by Enrollment over Secure Transport (RFC 7030). */
public final class DeviceCertificates {
  private static final int MOST_NAME = 64;
  private final UseCases useCases;
  private final Authority authority;
  private final Clock clock;
  private final Throttle guesses;

  public DeviceCertificates(
      UseCases useCases, Database database, Authority authority, Clock clock) {
    guesses = new Throttle(database, clock, "certificate passwords", 10, Duration.ofMinutes(1));
    this.useCases = useCases;
    this.authority = authority;
    this.clock = clock;
  }

  /** {@code /cacerts}: the root, as a base64 certs-only CMS. */
  public String cacerts() {
    return Pki.estCertificates(List.of(authority.root()));
  }

  /** {@code /csrattrs}. */
  public String csrattrs() {
    return Pki.estAttributes();
  }

  /**
   * {@code /simpleenroll}: one certificate for a password from a join answer. The password is spent
   * when the certificate is first used, so a device that loses the answer asks again; and only then
   * an older certificate stops working.
   *
   * @param body base64 PKCS#10
   * @return base64 certs-only CMS
   * @throws Problem 401 for a wrong, used or old password, 400 for a request that is not signed
   */
  public String enroll(String username, String password, String body) {
    Instant now = clock.instant();
    EstGrantRow grant =
        useCases
            .read(tx -> tx.find(EstGrantRow.class, username))
            .filter(g -> same(g.passwordHash, Vault.hash(password)))
            .orElseThrow(() -> wrong(username));
    if (grant.usedAt != null) {
      throw noted(grant.deviceId, refused("The password was used already; join again."));
    }
    if (!now.isBefore(grant.expiresAt)) {
      throw noted(grant.deviceId, refused("The password has lapsed; join again."));
    }
    X509Certificate issued = sign(grant.deviceId, body);
    useCases.run(
        Caller.ofDevice(grant.deviceId),
        act -> {
          Tx tx = act.tx();
          EstGrantRow locked = tx.lock(EstGrantRow.class, username).orElseThrow();
          if (locked.usedAt != null) {
            throw refused("The password was used already; join again.");
          }
          new CertificateStore(tx).supersede(grant.deviceId);
          keep(tx, grant.deviceId, issued, Optional.of(username), now);
          new ArrivalStore(tx).certified(grant.deviceId, now);
          act.done(
              Noun.CERTIFICATE,
              "issued",
              Noun.DEVICE,
              grant.deviceId,
              "Certificate " + serial(issued) + " issued");
          act.touch(Noun.ARRIVAL);
        });
    return Pki.estCertificates(List.of(issued));
  }

  /**
   * {@code /simplereenroll}: a new certificate for one that still holds. The old one stops working
   * when the new one is first used, so a device that loses the answer is not locked out.
   */
  public String reenroll(X509Certificate[] chain, String body) {
    X509Certificate old = authority.ours(chain);
    String deviceId = Pki.commonName(old);
    String state =
        useCases
            .read(tx -> tx.find(DeviceCertificateRow.class, serial(old)))
            .filter(c -> c.deviceId.equals(deviceId))
            .map(c -> c.state)
            .orElse("revoked");
    if (state.equals("revoked")) {
      throw new Problem(
          403,
          "certificate-revoked",
          "The certificate no longer holds",
          "The certificate was replaced or withdrawn; join again.");
    }
    if (state.equals("issued")) {
      activate(serial(old), deviceId);
    }
    X509Certificate issued = sign(deviceId, body);
    useCases.run(
        Caller.ofDevice(deviceId),
        act -> {
          keep(act.tx(), deviceId, issued, Optional.empty(), act.now());
          act.done(
              Noun.CERTIFICATE,
              "renewed",
              Noun.DEVICE,
              deviceId,
              "Certificate " + serial(issued) + " issued in place of " + serial(old));
        });
    return Pki.estCertificates(List.of(issued));
  }

  private X509Certificate sign(String deviceId, String body) {
    try {
      byte[] der;
      try {
        der = Base64.getMimeDecoder().decode(body);
      } catch (IllegalArgumentException e) {
        throw new CsrRefused(
            CsrRefused.Reason.UNREADABLE, "the body is not a PKCS#10 request in base64");
      }
      PublicKey key = Pki.checkRequest(der, deviceId);
      return authority.issue(deviceId, key);
    } catch (CsrRefused e) {
      String type = "csr-" + e.reason().name().toLowerCase(Locale.ROOT).replace('_', '-');
      throw noted(
          deviceId, new Problem(400, type, "The request was not signed", sentence(e.getMessage())));
    }
  }

  private static String sentence(String text) {
    return Character.toUpperCase(text.charAt(0)) + text.substring(1) + ".";
  }

  private Problem noted(String deviceId, Problem problem) {
    useCases.run(
        Caller.ofDevice(deviceId),
        act -> act.done(Noun.CERTIFICATE, "refused", Noun.DEVICE, deviceId, problem.getMessage()));
    return problem;
  }

  private Problem wrong(String username) {
    Throttle.Tries tries =
        guesses.count(username.length() > MOST_NAME ? username.substring(0, MOST_NAME) : username);
    return tries.over() ? guesses.tooMany(tries) : refused("The name or the password is wrong.");
  }

  private static Problem refused(String detail) {
    return new Problem(401, "est-sign-in-failed", "Not let in", detail);
  }

  private static boolean same(String a, String b) {
    return MessageDigest.isEqual(a.getBytes(), b.getBytes());
  }

  private static void keep(
      Tx tx, String deviceId, X509Certificate certificate, Optional<String> grant, Instant now) {
    DeviceCertificateRow row = new DeviceCertificateRow();
    row.serial = serial(certificate);
    row.deviceId = deviceId;
    row.state = "issued";
    row.grantName = grant.orElse(null);
    row.notAfter = certificate.getNotAfter().toInstant();
    row.createdAt = now;
    tx.insert(row);
  }

  /** Serial number as kept: lower-case hex. */
  public static String serial(X509Certificate certificate) {
    return certificate.getSerialNumber().toString(16);
  }

  /** Makes an issued certificate the one that counts. */
  public void activate(String serial, String deviceId) {
    useCases.run(
        Caller.ofDevice(deviceId),
        act -> new CertificateStore(act.tx()).activate(deviceId, serial, act.now()));
  }

  /** A name and password for one certificate. */
  public record Grant(String username, String password) {
    @Override
    public String toString() {
      return "Grant[" + username + "]";
    }
  }

  /** A password for one certificate, good for fifteen minutes; told only now. */
  public static Grant grant(Tx tx, String deviceId, Instant now) {
    String password = Vault.randomText();
    EstGrantRow row = new EstGrantRow();
    row.username = "est-" + Vault.randomText().substring(0, 12);
    row.deviceId = deviceId;
    row.passwordHash = Vault.hash(password);
    row.expiresAt = now.plusSeconds(15 * 60);
    new CertificateStore(tx).dropGrants(deviceId);
    tx.insert(row);
    return new Grant(row.username, password);
  }
}
