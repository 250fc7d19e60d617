package dev.pinwright.service.identity;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.protocol.pki.Pki.Identity;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.AuthorityRow;
import java.security.GeneralSecurityException;
import java.security.PublicKey;
import java.security.cert.X509Certificate;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.function.Supplier;

/**
 * The server's own root and server certificate, made on first start and shared by all nodes; whom
 * keys of disks are wrapped for; and who signs what is made here.
 */
public final class Authority {
  private static final Duration ROOT_LASTS = Duration.ofDays(365 * 15);
  private static final Duration SERVER_LASTS = Duration.ofDays(397);
  private static final Duration RENEW_BEFORE = Duration.ofDays(60);
  private static final Duration DEVICE_LASTS = Duration.ofDays(365);
  private static final Duration CLOCK_SLACK = Duration.ofMinutes(5);

  private static final long ONE_AT_A_TIME = 7443;

  private final Clock clock;

  /** Checking a signature costs more than all the rest of a quiet check-in; once is enough. */
  private final Cache<X509Certificate, Boolean> verified =
      Caffeine.newBuilder().maximumSize(200_000).build();

  private final Identity root;
  private final Identity server;
  private final Identity recovery;
  private final Identity signer;

  /** Loads both, making or renewing what is missing. */
  public Authority(Database database, Vault vault, List<String> hosts, Clock clock) {
    this.clock = clock;
    Instant now = clock.instant();
    Identity[] all =
        database.call(
            tx -> {
              tx.advisoryLock(ONE_AT_A_TIME);
              Instant from = now.minus(CLOCK_SLACK);
              Identity r =
                  kept(
                      tx,
                      vault,
                      "root",
                      () -> Pki.newRoot("Pinwright root", from, now.plus(ROOT_LASTS)));
              String names = String.join(",", hosts);
              Identity s =
                  tx.find(AuthorityRow.class, "server")
                      .filter(row -> row.hosts.equals(names))
                      .map(row -> open(row, vault))
                      .filter(
                          i ->
                              i.certificate()
                                  .getNotAfter()
                                  .toInstant()
                                  .isAfter(now.plus(RENEW_BEFORE)))
                      .orElseGet(
                          () ->
                              keep(
                                  tx,
                                  vault,
                                  "server",
                                  names,
                                  Pki.newServer(r, hosts, from, now.plus(SERVER_LASTS))));
              Identity k =
                  kept(
                      tx,
                      vault,
                      "recovery",
                      () ->
                          Pki.newRecipient(
                              r, "Pinwright recovery keys", from, now.plus(ROOT_LASTS)));
              Identity g =
                  kept(
                      tx,
                      vault,
                      "signer",
                      () -> Pki.newSigner(r, "Pinwright", from, now.plus(ROOT_LASTS)));
              return new Identity[] {r, s, k, g};
            });
    root = all[0];
    server = all[1];
    recovery = all[2];
    signer = all[3];
  }

  private static Identity open(AuthorityRow row, Vault vault) {
    return new Identity(
        Pki.privateKey(vault.open(row.sealedKey)), Pki.certificate(row.certificate));
  }

  /** The identity of a kind; made where there is none. */
  private static Identity kept(Tx tx, Vault vault, String kind, Supplier<Identity> made) {
    return tx.find(AuthorityRow.class, kind)
        .map(row -> open(row, vault))
        .orElseGet(() -> keep(tx, vault, kind, "", made.get()));
  }

  private static Identity keep(Tx tx, Vault vault, String kind, String hosts, Identity identity) {
    AuthorityRow row = tx.find(AuthorityRow.class, kind).orElse(null);
    boolean fresh = row == null;
    if (row == null) {
      row = new AuthorityRow();
      row.kind = kind;
    }
    row.certificate = Pki.pem(identity.certificate());
    row.sealedKey = vault.seal(Pki.pem(identity.key()));
    row.hosts = hosts;
    if (fresh) {
      tx.insert(row);
    }
    return identity;
  }

  private boolean signedByUs(X509Certificate certificate) {
    try {
      certificate.verify(root.certificate().getPublicKey());
      return true;
    } catch (GeneralSecurityException e) {
      return false;
    }
  }

  /** Whom devices wrap the keys of their disks for. */
  public Identity recovery() {
    return recovery;
  }

  /** Who signs packages that are made here, and what is printed. */
  public Identity signer() {
    return signer;
  }

  /** The root every device trusts. */
  public X509Certificate root() {
    return root.certificate();
  }

  /** The device listener's key and certificate. */
  public Identity server() {
    return server;
  }

  /** Issues a certificate of one year for a device's checked key. */
  X509Certificate issue(String deviceId, PublicKey key) {
    Instant now = clock.instant();
    return Pki.issueDevice(root, deviceId, key, now.minus(CLOCK_SLACK), now.plus(DEVICE_LASTS));
  }

  /** Issues a certificate of one year for the checked key of a cache that serves devices. */
  public X509Certificate issueServer(String name, String host, PublicKey key) {
    Instant now = clock.instant();
    return Pki.issueServer(
        root, name, List.of(host), key, now.minus(CLOCK_SLACK), now.plus(DEVICE_LASTS));
  }

  /**
   * Checks that a client certificate is ours and in date.
   *
   * @throws Problem 403 saying which it is not
   */
  public X509Certificate ours(X509Certificate[] chain) {
    if (chain.length == 0) {
      throw new Problem(
          401,
          "certificate-required",
          "A certificate is required",
          "Present the certificate got by enrolling.");
    }
    X509Certificate leaf = chain[0];
    if (!verified.get(leaf, this::signedByUs)) {
      throw new Problem(
          403,
          "stranger-certificate",
          "The certificate is not from here",
          "The certificate was not issued by this server's root; join first.");
    }
    Instant now = clock.instant();
    if (now.isBefore(leaf.getNotBefore().toInstant())
        || now.isAfter(leaf.getNotAfter().toInstant())) {
      throw new Problem(
          403,
          "certificate-expired",
          "The certificate has expired",
          "The certificate is out of date; join again.");
    }
    return leaf;
  }
}
