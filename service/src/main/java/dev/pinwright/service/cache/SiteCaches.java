package dev.pinwright.service.cache;

import dev.pinwright.protocol.pki.ClientTls;
import dev.pinwright.protocol.pki.CsrRefused;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.service.identity.Authority;
import dev.pinwright.service.identity.DeviceCertificates;
import dev.pinwright.service.live.Wakes;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.device.DeviceStates;
import dev.pinwright.storage.organisation.SiteCacheStore;
import dev.pinwright.storage.organisation.SiteCacheStore.Cache;
import dev.pinwright.storage.row.SiteRow;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.cert.X509Certificate;
import java.time.Duration;
import java.time.Instant;
import java.util.Base64;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import org.jspecify.annotations.Nullable;

/**
 * Caches at sites: an ordinary web server there, set up by a script written here, with a
 * certificate from here. As long as it is heard, packages for the devices of its site are fetched
 * through it; when it is not, they are ordered again from here.
 */
public final class SiteCaches {
  /** What the common names of their certificates begin with. */
  public static final String NAME = "cache-";

  private static final Duration PASSWORD_LASTS = Duration.ofDays(1);
  private static final Duration PATIENCE = Duration.ofSeconds(3);

  private final UseCases useCases;
  private final Authority authority;
  private final String base;

  /** The name nginx looks for in our certificate: one of a host, since it takes no addresses. */
  private final String server;

  private final HttpClient http;

  /**
   * @param base address of the device listener
   * @param names what its certificate is for
   */
  public SiteCaches(UseCases useCases, Authority authority, String base, List<String> names) {
    this.useCases = useCases;
    this.authority = authority;
    this.base = base;
    server =
        names.stream()
            .filter(n -> !n.matches("[0-9.]+|.*:.*"))
            .findFirst()
            .orElseGet(() -> URI.create(base).getHost());
    http =
        HttpClient.newBuilder()
            .sslContext(ClientTls.trusting(List.of(authority.root()), Optional.empty()))
            .version(HttpClient.Version.HTTP_1_1)
            .connectTimeout(PATIENCE)
            .build();
  }

  /**
   * The cache of a site. {@code version} is the one to send in {@code If-Match}.
   *
   * @param working whether devices fetch through it
   * @param since when that is so
   * @param fault why it is not
   * @param certificateUntil when its certificate lapses; empty before the first
   * @param lineBytes what crossed the line to it
   * @param servedBytes what devices have through it
   */
  public record Shown(
      String siteId,
      String site,
      int version,
      String address,
      boolean working,
      Instant since,
      Optional<String> fault,
      Optional<Instant> certificateUntil,
      long lineBytes,
      long servedBytes) {
    static Shown of(Cache c) {
      return new Shown(
          c.siteId(),
          c.site(),
          c.version(),
          c.address(),
          c.working(),
          c.changedAt(),
          Optional.of(c.fault()).filter(f -> !f.isEmpty()),
          c.notAfter(),
          c.lineBytes(),
          c.servedBytes());
    }
  }

  /** The caches there are, by site. */
  public List<Shown> all(Caller caller) {
    return useCases.read(tx -> new SiteCacheStore(tx).all().stream().map(Shown::of).toList());
  }

  /** The cache of a site. */
  public Shown get(Caller caller, String siteId) {
    return useCases.read(tx -> Shown.of(found(tx, siteId)));
  }

  private static Cache found(Tx tx, String siteId) {
    return new SiteCacheStore(tx)
        .find(siteId)
        .orElseThrow(() -> Problem.notFound("cache of the site", siteId));
  }

  private static int version(Tx tx, String siteId) {
    return new SiteCacheStore(tx).find(siteId).map(Cache::version).orElse(0);
  }

  /**
   * Says where the cache of a site is; devices use it once it is heard.
   *
   * @param version of the one it takes the place of; 0 where there is none
   * @param address such as {@code https://cache.observatory.example:8443}
   * @throws Problem 412 when someone else set it meanwhile
   */
  public Shown put(Caller caller, String siteId, int version, @Nullable String address) {
    String checked = address == null ? "" : address.strip().replaceFirst("/+$", "");
    if (!checked.matches("https://[A-Za-z0-9.-]{1,200}(:\\d{1,5})?")) {
      throw Problem.malformed(
          "/address", "A cache has an address such as https://cache.example:8443, without a path.");
    }
    return useCases.act(
        caller,
        act -> {
          Tx tx = act.tx();
          SiteRow site =
              tx.lock(SiteRow.class, siteId).orElseThrow(() -> Problem.notFound("site", siteId));
          Known.unchanged("cache", version, version(tx, siteId));
          String name = NAME + act.newId().toLowerCase(Locale.ROOT);
          new SiteCacheStore(tx).put(siteId, checked, name, act.now());
          act.done(Noun.SITE, "cache-set", siteId, "Cache of " + site.name + " is at " + checked);
          return Shown.of(found(tx, siteId));
        });
  }

  /** Takes the cache of a site away; its devices fetch from here again. */
  public void remove(Caller caller, String siteId, int version) {
    useCases.run(
        caller,
        act -> {
          act.tx().lock(SiteRow.class, siteId);
          Cache c = found(act.tx(), siteId);
          Known.unchanged("cache", version, c.version());
          goRound(act, c);
          new SiteCacheStore(act.tx()).remove(siteId);
          act.done(Noun.SITE, "cache-removed", siteId, "Cache of " + c.site() + " taken away");
        });
  }

  /**
   * A script that sets the cache up where it is run, and renews its certificate when it is run
   * again.
   *
   * @param name of the file
   */
  public record Script(String name, String text) {
    @Override
    public String toString() {
      return "Script[" + name + "]";
    }
  }

  /** The script for a site's cache; the password in it is good for one certificate and one day. */
  public Script script(Caller caller, String siteId) {
    return useCases.act(
        caller,
        act -> {
          Cache c = found(act.tx(), siteId);
          String password = Vault.randomText();
          new SiteCacheStore(act.tx())
              .password(siteId, Vault.hash(password), act.now().plus(PASSWORD_LASTS));
          act.done(
              Noun.SITE, "cache-script", siteId, "Script for the cache of " + c.site() + " made");
          URI address = URI.create(c.address());
          String file = "set-up-" + c.name() + ".sh";
          Map<String, String> words =
              Map.ofEntries(
                  Map.entry("SITE", c.site().replaceAll("[^\\p{L}\\p{N} .,-]", "")),
                  Map.entry("FILE", file),
                  Map.entry("ROOT", Pki.pem(authority.root()).strip()),
                  Map.entry("NAME", c.name()),
                  Map.entry("USER", c.name()),
                  Map.entry("PASSWORD", password),
                  Map.entry("ADDRESS", c.address()),
                  Map.entry("HOST", address.getHost()),
                  Map.entry("PORT", String.valueOf(port(address))),
                  Map.entry("SERVER", server),
                  Map.entry("BASE", base));
          String nginx = filled(resource("nginx.conf"), words).strip();
          return new Script(file, filled(resource("set-up.sh").replace("@NGINX@", nginx), words));
        });
  }

  private static int port(URI address) {
    return address.getPort() < 0 ? 443 : address.getPort();
  }

  private static String filled(String text, Map<String, String> words) {
    String out = text;
    for (Map.Entry<String, String> w : words.entrySet()) {
      out = out.replace("@" + w.getKey() + "@", w.getValue());
    }
    return out;
  }

  private static String resource(String name) {
    try (InputStream in = SiteCaches.class.getResourceAsStream("/cache/" + name)) {
      return new String(in.readAllBytes(), StandardCharsets.UTF_8);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  // ---- its certificate (EST, RFC 7030) ---------------------------------------------------------

  /**
   * {@code /simpleenroll} for a cache, by the password in its script.
   *
   * @param body base64 PKCS#10
   * @return base64 certs-only CMS
   * @throws Problem 401 for a wrong, used or old password, 400 for a request that is not signed
   */
  public String enroll(String name, String password, String body) {
    Cache c =
        useCases
            .read(tx -> new SiteCacheStore(tx).ofName(name))
            .filter(
                x ->
                    x.passwordHash()
                        .filter(h -> same(h, Vault.hash(password)))
                        .flatMap(h -> x.passwordUntil())
                        .filter(until -> useCases.now().isBefore(until))
                        .isPresent())
            .orElseThrow(
                () ->
                    new Problem(
                        401,
                        "est-sign-in-failed",
                        "Not let in",
                        "The name or the password is wrong, used or has lapsed; get the script for"
                            + " the cache anew."));
    return issue(c, body);
  }

  private static boolean same(String a, String b) {
    return MessageDigest.isEqual(a.getBytes(), b.getBytes());
  }

  /** {@code /simplereenroll} for a cache, by the certificate it got last. */
  public String reenroll(X509Certificate[] chain, String body) {
    X509Certificate old = authority.ours(chain);
    return issue(
        useCases
            .read(tx -> new SiteCacheStore(tx).ofName(Pki.commonName(old)))
            .filter(c -> c.certificate().equals(Optional.of(DeviceCertificates.serial(old))))
            .orElseThrow(
                () ->
                    new Problem(
                        403,
                        "certificate-revoked",
                        "The certificate no longer holds",
                        "The certificate was replaced or the cache taken away; get its script"
                            + " anew.")),
        body);
  }

  private String issue(Cache c, String body) {
    X509Certificate issued;
    try {
      byte[] der = Base64.getMimeDecoder().decode(body);
      issued =
          authority.issueServer(
              c.name(), URI.create(c.address()).getHost(), Pki.checkRequest(der, c.name()));
    } catch (CsrRefused | IllegalArgumentException e) {
      throw Problem.malformed("", "The request was not signed: " + e.getMessage() + ".");
    }
    useCases.run(
        Caller.SERVICE,
        act -> {
          new SiteCacheStore(act.tx())
              .certified(
                  c.siteId(), DeviceCertificates.serial(issued), issued.getNotAfter().toInstant());
          act.done(
              Noun.CERTIFICATE,
              "issued",
              Noun.SITE,
              c.siteId(),
              "Certificate issued to the cache of " + c.site());
        });
    return Pki.estCertificates(List.of(issued));
  }

  // ---- whether it is there ---------------------------------------------------------------------

  /** Looks whether each cache is there, all at the same time, and sums up what was counted. */
  public void follow() {
    List<Cache> all = useCases.read(tx -> new SiteCacheStore(tx).all());
    Database.outsideTransactions("a site's cache");
    List<CompletableFuture<String>> faults = all.stream().map(this::fault).toList();
    for (int i = 0; i < all.size(); i++) {
      heard(all.get(i), faults.get(i).join());
    }
    useCases.run(Caller.SERVICE, act -> new SiteCacheStore(act.tx()).sumUp());
  }

  private CompletableFuture<String> fault(Cache c) {
    if (c.certificate().isEmpty()) {
      return CompletableFuture.completedFuture(
          "it was not heard of yet; run its script where it is to be");
    }
    HttpRequest alive =
        HttpRequest.newBuilder(URI.create(c.address() + "/alive")).timeout(PATIENCE).build();
    return http.sendAsync(alive, HttpResponse.BodyHandlers.discarding())
        .thenApply(a -> a.statusCode() == 204 ? "" : "it answers " + a.statusCode())
        .exceptionally(e -> "it cannot be reached");
  }

  private void heard(Cache c, String fault) {
    useCases.run(
        Caller.SERVICE,
        act -> {
          if (!new SiteCacheStore(act.tx()).heard(c.siteId(), fault, act.now())) {
            return;
          }
          if (c.working() != fault.isEmpty()) {
            act.done(
                Noun.SITE,
                fault.isEmpty() ? "cache-working" : "cache-failing",
                c.siteId(),
                "Cache of "
                    + c.site()
                    + (fault.isEmpty() ? " is in use" : " is gone round: " + fault));
          }
          if (!fault.isEmpty() && c.working()) {
            goRound(act, c);
          }
          act.touch(Noun.SITE);
        });
  }

  /** What is on its way through a cache is ordered again from here. */
  private static void goRound(UseCases.Act act, Cache c) {
    List<String> devices = new SiteCacheStore(act.tx()).orderAgain(c.siteId());
    if (!devices.isEmpty()) {
      new DeviceStates(act.tx()).appsDue(devices, act.now());
      Wakes.devices(act.tx(), devices);
    }
  }

  // ---- counting --------------------------------------------------------------------------------

  /**
   * Counts bytes that are sent to whoever presents a certificate, where that is a cache of ours.
   * Files are for everybody who knows their digest; what somebody else presents is no matter here.
   */
  public void sending(X509Certificate[] chain, long bytes) {
    if (chain.length == 0 || !Pki.commonName(chain[0]).startsWith(NAME)) {
      return;
    }
    try {
      X509Certificate ours = authority.ours(chain);
      useCases.run(
          Caller.SERVICE,
          act -> {
            SiteCacheStore store = new SiteCacheStore(act.tx());
            store.ofName(Pki.commonName(ours)).ifPresent(c -> store.count(c.siteId(), bytes, 0));
          });
    } catch (Problem stranger) {
      // not one of ours
    }
  }
}
