package dev.pinwright.service.gateway;

import com.fasterxml.jackson.databind.JsonNode;
import dev.pinwright.core.Words;
import dev.pinwright.core.device.Identifier;
import dev.pinwright.protocol.pki.Chains;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.service.identity.Authority;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.gateway.GatewayStore;
import dev.pinwright.storage.gateway.RegistrarStore;
import dev.pinwright.storage.row.EnrollmentProfileRow;
import dev.pinwright.storage.row.GatewayRow;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Identifiers that resellers registered with the platforms' registrars. */
public final class Registrar {
  private static final Logger LOG = LoggerFactory.getLogger(Registrar.class);
  private static final int AT_ONCE = 1_000;
  private final UseCases useCases;
  private final Vault vault;
  private final Authority authority;
  private final String deviceBase;

  public Registrar(UseCases useCases, Vault vault, Authority authority, String deviceBase) {
    this.useCases = useCases;
    this.vault = vault;
    this.authority = authority;
    this.deviceBase = deviceBase;
  }

  /** What a reading brought. */
  public record Synced(long registered, long assigned, int listed, int withdrawn) {}

  private static VendorLine line(GatewayRow row) {
    return new VendorLine(row.services, Chains.certificates(row.roots), null, null);
  }

  /** The account a token belongs to. */
  String account(GatewayRow row, String token) {
    return line(row).call("GET", "/registrar/account", token, null).path("account").asText();
  }

  private record Connected(GatewayRow row, String token) {}

  private Connected connected(String platform) {
    GatewayRow row =
        useCases
            .read(tx -> tx.find(GatewayRow.class, platform))
            .filter(g -> g.registrarToken != null)
            .orElseThrow(
                () ->
                    Problem.conflict(
                        "not-connected", "The registrar of " + platform + " is not connected."));
    return new Connected(row, vault.open(row.registrarToken));
  }

  /**
   * Reads everything registered, puts what is assigned here on the roster, and withdraws from it
   * what no longer is and has not arrived.
   *
   * @throws Problem 502 when the registrar fails; what it brought before is kept
   */
  public Synced sync(Caller caller, String platform) {
    Connected c = connected(platform);
    List<JsonNode> found = new ArrayList<>();
    try {
      VendorLine line = line(c.row());
      line.call(
          "PUT",
          "/registrar/server",
          c.token(),
          Map.of("join", deviceBase + "/join/by-identifier", "root", Pki.pem(authority.root())));
      String after = "";
      do {
        JsonNode page =
            line.call(
                "GET", "/registrar/devices?limit=" + AT_ONCE + "&after=" + after, c.token(), null);
        page.path("items").forEach(found::add);
        after = page.path("next").asText("");
      } while (!after.isEmpty());
    } catch (Problem p) {
      useCases.run(
          caller,
          act -> {
            act.tx()
                .lock(GatewayRow.class, platform)
                .ifPresent(g -> g.registrarFault = String.valueOf(p.getMessage()));
            act.touch(Noun.GATEWAY);
          });
      throw p;
    }
    return useCases.act(caller, act -> keep(act, platform, found));
  }

  private static Synced keep(UseCases.Act act, String platform, List<JsonNode> found) {
    GatewayRow row = act.tx().lock(GatewayRow.class, platform).orElseThrow();
    row.registrarSyncedAt = act.now();
    row.registrarFault = "";
    RegistrarStore store = new RegistrarStore(act.tx(), platform);
    store.replace(found.stream().map(Registrar::listed).toList());
    int listed = store.list(act.now(), null, act::newId);
    int withdrawn = store.withdraw(act.now());
    RegistrarStore.Counted n = store.count();
    if (listed + withdrawn > 0) {
      act.done(
          Noun.REGISTRAR,
          "read",
          Noun.GATEWAY,
          platform,
          listed + " identifiers listed and " + withdrawn + " withdrawn by the registrar");
    }
    act.touch(Noun.GATEWAY, Noun.ROSTER);
    return new Synced(n.registered(), n.assigned(), listed, withdrawn);
  }

  private static RegistrarStore.Listed listed(JsonNode n) {
    return new RegistrarStore.Listed(
        serial(n.path("serial").asText()),
        n.path("imei").asText(null),
        n.path("model").asText(),
        n.path("kind").asText(),
        n.path("order").asText(),
        n.path("registeredAt").asText(),
        n.path("assigned").asBoolean());
  }

  private static String serial(String text) {
    return Identifier.of(Identifier.Kind.SERIAL, text).value();
  }

  /** Registered devices by serial number. {@code assigned}: true, false, or empty for all. */
  public Page<RegistrarStore.Registered> page(
      Caller caller, String platform, String words, String assigned, Page.Request page) {
    String[] c = page.parts(Page.Part.TEXT);
    Optional<Boolean> which =
        assigned.isEmpty() ? Optional.empty() : Optional.of(Boolean.parseBoolean(assigned));
    return useCases.read(
        tx ->
            Page.of(
                new RegistrarStore(tx, platform)
                    .page(words, which, c.length == 0 ? "" : c[0], page.limit() + 1),
                page.limit(),
                r -> Page.cursor(r.serial())));
  }

  /** Which devices are to be assigned to this server, or no longer. */
  public record Assignment(
      @Nullable List<String> serials, @Nullable Boolean assign, @Nullable String profileId) {}

  /**
   * Assigns registered devices to this server, or takes them from it.
   *
   * @return how many the registrar changed
   * @throws Problem 400 for more than a thousand, 502 when the registrar fails
   */
  public int assign(Caller caller, String platform, Assignment a) {
    List<String> serials = a.serials() == null ? List.of() : a.serials();
    if (serials.isEmpty() || serials.size() > AT_ONCE) {
      throw Problem.malformed("/serials", "Name 1 to 1000 serial numbers.");
    }
    if (a.profileId() != null
        && useCases.read(tx -> tx.find(EnrollmentProfileRow.class, a.profileId())).isEmpty()) {
      throw Problem.malformed("/profileId", "Name an enrollment profile by its id.");
    }
    boolean assign = a.assign() == null || a.assign();
    Connected c = connected(platform);
    JsonNode done =
        line(c.row())
            .call(
                "POST",
                "/registrar/assignment",
                c.token(),
                Map.of("serials", serials, "assigned", assign));
    List<String> changed = new ArrayList<>();
    done.path("serials").forEach(s -> changed.add(serial(s.asText())));
    return useCases.act(
        caller,
        act -> {
          // not while what the registrar lists is written anew, which would lose it
          act.tx().lock(GatewayRow.class, platform);
          RegistrarStore store = new RegistrarStore(act.tx(), platform);
          int known = store.assign(changed, assign);
          store.list(act.now(), a.profileId(), act::newId);
          store.withdraw(act.now());
          if (assign && a.profileId() != null) {
            store.profile(changed, a.profileId(), act.now());
          }
          act.done(
              Noun.REGISTRAR,
              assign ? "assigned" : "taken-back",
              Noun.GATEWAY,
              platform,
              Words.counted(known, "device") + (assign ? " assigned" : " taken back"));
          act.touch(Noun.ROSTER);
          return known;
        });
  }

  /** Reads from every registrar that is connected; one that fails does not keep the others. */
  public void syncAll() {
    for (String platform : useCases.read(tx -> new GatewayStore(tx).withRegistrar())) {
      try {
        sync(Caller.SERVICE, platform);
      } catch (Problem e) {
        LOG.warn("registrar of {}: {}", platform, e.getMessage());
      }
    }
  }
}
