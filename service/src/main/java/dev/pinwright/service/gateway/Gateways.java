package dev.pinwright.service.gateway;

import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.gateway.Gateway;
import dev.pinwright.core.gateway.Linked;
import dev.pinwright.core.gateway.PushCredential;
import dev.pinwright.core.notice.News;
import dev.pinwright.protocol.pki.Chains;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.service.identity.TrustedMakers;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.gateway.GatewayStore;
import dev.pinwright.storage.gateway.PushStore;
import dev.pinwright.storage.gateway.RegistrarStore;
import dev.pinwright.storage.house.NoticeStore;
import dev.pinwright.storage.row.EnrollmentProfileRow;
import dev.pinwright.storage.row.GatewayRow;
import java.security.KeyPair;
import java.security.cert.X509Certificate;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.function.BiFunction;
import org.jspecify.annotations.Nullable;

/** Gateways: where a platform's services are, and the right to use each of them. */
public final class Gateways implements TrustedMakers {
  private final UseCases useCases;
  private final Catalog catalog;
  private final Vault vault;
  private final String organisation;
  private final Registrar registrar;
  private final Clock clock;

  public Gateways(
      UseCases useCases,
      Catalog catalog,
      Vault vault,
      String organisation,
      Registrar registrar,
      Clock clock) {
    this.useCases = useCases;
    this.catalog = catalog;
    this.vault = vault;
    this.organisation = organisation;
    this.registrar = registrar;
    this.clock = clock;
  }

  /** All gateways, one for each platform, set up or not. */
  public List<Gateway> all(Caller caller) {
    return useCases.read(
        tx -> catalog.platforms().stream().map(p -> shown(tx, p.key(), p.name())).toList());
  }

  /** One gateway. */
  public Gateway get(Caller caller, String platform) {
    return useCases.read(tx -> shown(tx, platform, name(platform)));
  }

  private String name(String platform) {
    return catalog
        .platform(platform)
        .orElseThrow(() -> Problem.notFound("platform", platform))
        .name();
  }

  private Gateway shown(Tx tx, String platform, String name) {
    GatewayRow row = tx.find(GatewayRow.class, platform).orElse(null);
    if (row == null) {
      return Gateway.missing(platform, name);
    }
    RegistrarStore.Counted listed = new RegistrarStore(tx, platform).count();
    return new Gateway(
        platform,
        name,
        Optional.of(row.services),
        Chains.certificates(row.roots).stream().map(Pki::commonName).toList(),
        Gateway.Push.of(
            credential(row),
            Optional.ofNullable(row.pushRequest),
            new PushStore(tx).count(platform),
            fault(row.pushFault),
            clock.instant()),
        new Gateway.Registrar(
            Linked.of(row.registrarToken != null, row.registrarFault),
            Optional.ofNullable(row.registrarAccount),
            Optional.ofNullable(row.registrarSyncedAt),
            Optional.ofNullable(row.defaultProfileId),
            listed.registered(),
            listed.assigned(),
            fault(row.registrarFault)),
        new Gateway.Store(
            Linked.of(row.storeToken != null, row.storeFault),
            Optional.ofNullable(row.storeAccount),
            Optional.ofNullable(row.storeCheckedAt),
            fault(row.storeFault)),
        row.edited);
  }

  private static Optional<String> fault(String text) {
    return Optional.of(text).filter(t -> !t.isEmpty());
  }

  /** The push credential a gateway holds. */
  static Optional<PushCredential> credential(GatewayRow row) {
    return row.pushAccount == null
        ? Optional.empty()
        : Optional.of(new PushCredential(row.pushAccount, row.pushTopic, row.pushExpiresAt));
  }

  /**
   * Says where a platform's services are and which makers' certificates count.
   *
   * @param roots one or more certificates in PEM
   */
  public Gateway setUp(
      Caller caller,
      String platform,
      int version,
      @Nullable String services,
      @Nullable String roots) {
    String name = name(platform);
    if (services == null || !services.matches("https://[^\\s/]+(/[^\\s]*)?")) {
      throw Problem.malformed("/services", "The services have an address that begins https://.");
    }
    List<X509Certificate> anchors =
        Problem.reading("/roots", () -> Chains.certificates(roots == null ? "" : roots));
    String pem = String.join("", anchors.stream().map(Pki::pem).toList());
    return act(
        caller,
        platform,
        OptionalInt.of(version),
        true,
        (tx, row) -> {
          row.services = services.replaceFirst("/+$", "");
          row.roots = pem;
          return "Gateway " + name + " set up at " + row.services;
        });
  }

  /** Makes a signing request, to be signed in the vendor's portal; its key never leaves here. */
  public Gateway request(Caller caller, String platform) {
    return act(
        caller,
        platform,
        OptionalInt.empty(),
        false,
        (tx, row) -> {
          KeyPair pair = Pki.newKey();
          row.pushRequest = Pki.requestPem(Pki.newRequest(organisation, pair));
          row.pushRequestKey = vault.seal(Pki.pem(pair.getPrivate()));
          return "Push signing request made for " + name(platform);
        });
  }

  /**
   * Takes the signed credential.
   *
   * @throws Problem 400 when it does not fit, 409 another-account when it is a renewal under
   *     another vendor account, saying what would happen
   */
  public Gateway credential(Caller caller, String platform, int version, @Nullable String pem) {
    X509Certificate certificate;
    try {
      certificate = Pki.certificate(pem == null ? "" : pem);
    } catch (IllegalArgumentException | NullPointerException e) {
      throw Problem.malformed("/certificate", "This is not a certificate in PEM.");
    }
    return act(
        caller,
        platform,
        OptionalInt.of(version),
        false,
        (tx, row) -> {
          if (row.pushRequest == null) {
            throw Problem.conflict(
                "no-request", "Make a signing request first; this credential is for another one.");
          }
          if (!Pki.requestedKey(row.pushRequest).equals(certificate.getPublicKey())) {
            throw Problem.malformed(
                "/certificate",
                "This credential is not for the signing request made last; sign that one.");
          }
          Instant now = clock.instant();
          if (!Chains.endsIn(List.of(certificate), Chains.certificates(row.roots), now)) {
            throw Problem.malformed(
                "/certificate", "It was not signed by this platform's vendor, or is out of date.");
          }
          PushCredential next =
              new PushCredential(
                  Pki.organisation(certificate),
                  Pki.commonName(certificate),
                  certificate.getNotAfter().toInstant());
          long devices = new PushStore(tx).count(platform);
          credential(row)
              .flatMap(held -> held.objection(next, devices))
              .ifPresent(
                  why -> {
                    throw Problem.conflict(
                        "another-account",
                        why.substring(0, 1).toUpperCase(Locale.ROOT) + why.substring(1) + ".");
                  });
          row.pushCertificate = Pki.pem(certificate);
          row.pushKey = row.pushRequestKey;
          row.pushRequest = null;
          row.pushRequestKey = null;
          row.pushAccount = next.account();
          row.pushTopic = next.topic();
          row.pushExpiresAt = next.expiresAt();
          row.pushTold = null;
          row.pushFault = "";
          new NoticeStore(tx).over(News.push(platform), now);
          return "Push credential of " + next.account() + " taken for " + name(platform);
        });
  }

  /**
   * Connects the registrar, and reads from it at once.
   *
   * @throws Problem 400 without a token, 502 when the registrar does not accept it
   */
  public Gateway connectRegistrar(
      Caller caller, String platform, int version, @Nullable String token) {
    String checked = token(token);
    GatewayRow tried = found(platform);
    String account = registrar.account(tried, checked);
    act(
        caller,
        platform,
        OptionalInt.of(version),
        false,
        (tx, row) -> {
          sameServices(tried, row);
          row.registrarAccount = account;
          row.registrarToken = vault.seal(checked);
          row.registrarFault = "";
          return "Registrar of " + name(platform) + " connected";
        });
    registrar.sync(caller, platform);
    return get(caller, platform);
  }

  private static String token(@Nullable String token) {
    if (token == null || token.isBlank() || token.length() > 500) {
      throw Problem.malformed("/token", "Paste the token the vendor's portal gave you.");
    }
    return token.strip();
  }

  /** Says by which enrollment profile devices of the registrar join that have none of their own. */
  public Gateway defaultProfile(
      Caller caller, String platform, int version, @Nullable String profileId) {
    return act(
        caller,
        platform,
        OptionalInt.of(version),
        false,
        (tx, row) -> {
          String name = "none";
          if (profileId != null) {
            EnrollmentProfileRow p =
                tx.find(EnrollmentProfileRow.class, profileId)
                    .filter(x -> x.removedAt == null)
                    .orElseThrow(
                        () ->
                            Problem.malformed(
                                "/profileId", "Name an enrollment profile by its id."));
            if (!List.of(p.platforms).contains(platform)) {
              throw Problem.malformed("/profileId", p.name + " does not let in " + platform + ".");
            }
            name = p.name;
          }
          row.defaultProfileId = profileId;
          return "Enrollment profile of " + name(platform) + "'s registrar: " + name;
        });
  }

  /** Connects the store. */
  public Gateway connectStore(Caller caller, String platform, int version, @Nullable String token) {
    String checked = token(token);
    GatewayRow tried = found(platform);
    String account =
        new VendorLine(tried.services, Chains.certificates(tried.roots), null, null)
            .call("GET", "/store/account", checked, null)
            .path("account")
            .asText();
    return act(
        caller,
        platform,
        OptionalInt.of(version),
        false,
        (tx, row) -> {
          sameServices(tried, row);
          row.storeAccount = account;
          row.storeToken = vault.seal(checked);
          row.storeCheckedAt = clock.instant();
          row.storeFault = "";
          return "Store of " + name(platform) + " connected";
        });
  }

  private GatewayRow found(String platform) {
    String name = name(platform);
    return useCases
        .read(tx -> tx.find(GatewayRow.class, platform))
        .orElseThrow(() -> notSetUp(name));
  }

  private static Problem notSetUp(String name) {
    return Problem.conflict("not-set-up", "Say first where the services of " + name + " are.");
  }

  /** What was tried has to be what is written down: the services may have moved meanwhile. */
  private static void sameServices(GatewayRow tried, GatewayRow row) {
    if (!tried.services.equals(row.services) || !tried.roots.equals(row.roots)) {
      throw Problem.conflict(
          "services-moved", "Somebody set the gateway up anew meanwhile; try again.");
    }
  }

  private Gateway act(
      Caller caller,
      String platform,
      OptionalInt version,
      boolean fresh,
      BiFunction<Tx, GatewayRow, String> change) {
    String name = name(platform);
    return useCases.act(
        caller,
        act -> {
          Tx tx = act.tx();
          Optional<GatewayRow> found = tx.lock(GatewayRow.class, platform);
          if (found.isEmpty() && !fresh) {
            throw notSetUp(name);
          }
          GatewayRow row = found.orElseGet(GatewayRow::new);
          version.ifPresent(seen -> Known.unchanged("gateway", seen, row.edited));
          row.platform = platform;
          row.edited++;
          String said = change.apply(tx, row);
          if (found.isEmpty()) {
            tx.insert(row);
          }
          tx.flush();
          act.done(Noun.GATEWAY, "changed", platform, said);
          return shown(tx, platform, name);
        });
  }

  @Override
  public Proved prove(Tx tx, List<X509Certificate> chain) {
    if (chain.isEmpty()) {
      throw new NotTrusted("the device has to present its maker's certificate");
    }
    if (!Pki.forClients(chain.get(0))) {
      throw new NotTrusted("the device's certificate is not for client authentication");
    }
    String serial = Pki.deviceSerial(chain.get(0));
    for (GatewayRow row : new GatewayStore(tx).all()) {
      if (Chains.endsIn(chain, Chains.certificates(row.roots), clock.instant())) {
        return new Proved(row.platform, serial, Optional.ofNullable(row.defaultProfileId));
      }
    }
    throw new NotTrusted("the device's certificate is not from a maker trusted here");
  }
}
