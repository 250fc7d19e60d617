package dev.pinwright.service.gateway;

import com.fasterxml.jackson.databind.JsonNode;
import dev.pinwright.core.Text;
import dev.pinwright.core.Words;
import dev.pinwright.core.app.AppId;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.license.CodeJudgement;
import dev.pinwright.core.license.Licensing;
import dev.pinwright.protocol.pack.PackageFile;
import dev.pinwright.protocol.pki.Chains;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.gateway.GatewayStore;
import dev.pinwright.storage.row.GatewayRow;
import java.net.URI;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Base64;
import java.util.Collection;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Supplier;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * The stores of platforms: what they sell, what was bought there, and in whose names licenses are
 * held. What they say is checked before it is believed; every call is made outside of transactions.
 */
public final class Store {
  private static final Logger LOG = LoggerFactory.getLogger(Store.class);

  /** Most licenses a store is told of in one call. */
  public static final int AT_ONCE = 1_000;

  private static final int MOST_VERSIONS = 50;
  private static final int MOST_ICON = 256 * 1024;
  private static final int MOST_SCHEMA = 64 * 1024;
  private static final int WORD = 120;
  private static final int SENTENCE = 2_000;

  private final UseCases useCases;
  private final Vault vault;

  public Store(UseCases useCases, Vault vault) {
    this.useCases = useCases;
    this.vault = vault;
  }

  /** A country apps are sold in: ISO 3166-1, two letters, and its name. */
  public record Country(String code, String name) {}

  /**
   * One version of an app.
   *
   * @param lowestOs the platforms it is for, each with the lowest OS version it runs on
   * @param size bytes of its package
   * @param installedSize bytes it takes on a device; 0 when its maker does not say
   * @param schema JSON Schema (2020-12) of what it can be told
   * @param address where the store serves it
   */
  public record Version(
      long code,
      String version,
      Map<String, String> lowestOs,
      List<String> permissions,
      long size,
      long installedSize,
      String notes,
      Optional<String> schema,
      String sha256,
      String address) {}

  /**
   * An app as a store offers it.
   *
   * @param id what devices know it by
   * @param prices what it costs by country, in words; a country that is missing it is not sold in
   * @param versions the latest first
   * @param icon a PNG
   */
  public record Listing(
      String id,
      String name,
      String publisher,
      String summary,
      String category,
      Licensing licensing,
      Map<String, String> prices,
      List<Version> versions,
      Optional<byte[]> icon) {}

  /**
   * What was bought of an app for a place.
   *
   * @param given how many are in somebody's name
   */
  public record Bought(String app, String place, long owned, long given) {}

  private record Line(VendorLine line, String token, String name) {
    JsonNode call(String method, String path, Object body) {
      return line.call(method, "/store/" + path, token, body);
    }

    JsonNode get(String path) {
      return line.call("GET", "/store/" + path, token, null);
    }
  }

  /**
   * A way to a store.
   *
   * @throws Problem 409 when it is not connected
   */
  private Line line(String platform) {
    GatewayRow row =
        useCases
            .read(tx -> tx.find(GatewayRow.class, platform))
            .filter(g -> g.storeToken != null)
            .orElseThrow(
                () ->
                    Problem.conflict(
                        "not-connected",
                        "The store of " + platform + " is not connected; do so under Gateways."));
    return new Line(
        new VendorLine(row.services, Chains.certificates(row.roots), null, null),
        vault.open(row.storeToken),
        platform);
  }

  /** Where apps are sold. */
  public List<Country> countries(String platform) {
    List<Country> out = new ArrayList<>();
    line(platform)
        .get("countries")
        .path("items")
        .forEach(c -> out.add(new Country(word(c, "code"), word(c, "name"))));
    return out;
  }

  /**
   * Apps that have these words, at most fifty.
   *
   * @param country two letters of ISO 3166-1
   */
  public List<Listing> search(String platform, String country, String words) {
    List<Listing> out = new ArrayList<>();
    line(platform)
        .get("apps?limit=50&country=" + encoded(country) + "&words=" + encoded(words))
        .path("items")
        .forEach(n -> listing(platform, n).ifPresent(out::add));
    return out;
  }

  /** One app; empty when the store has none of that id, or no longer. */
  public Optional<Listing> listing(String platform, String id) {
    return listings(platform, List.of(id)).apps().stream().findFirst();
  }

  /**
   * What a store says of some apps.
   *
   * @param apps each once
   * @param ids of those it has, whether what it says of them makes sense or not
   */
  public record Told(List<Listing> apps, Set<String> ids) {}

  /** Apps by id, those the store has of them. */
  public Told listings(String platform, Collection<String> ids) {
    Map<String, Listing> apps = new TreeMap<>();
    Set<String> named = new HashSet<>();
    if (ids.isEmpty()) {
      return new Told(List.of(), named);
    }
    line(platform)
        .call("POST", "apps", Map.of("ids", ids))
        .path("items")
        .forEach(
            n -> {
              named.add(n.path("id").asText());
              listing(platform, n).ifPresent(l -> apps.putIfAbsent(l.id(), l));
            });
    return new Told(List.copyOf(apps.values()), named);
  }

  /** Everything that was bought. */
  public List<Bought> bought(String platform) {
    List<Bought> out = new ArrayList<>();
    Line line = line(platform);
    String after = "";
    do {
      JsonNode page = line.get("licenses?limit=500&after=" + encoded(after));
      page.path("items")
          .forEach(
              n ->
                  out.add(
                      new Bought(
                          word(n, "app"),
                          word(n, "place"),
                          Math.max(0, n.path("owned").asLong()),
                          Math.max(0, n.path("given").asLong()))));
      after = page.path("next").asText("");
    } while (!after.isEmpty());
    return out;
  }

  /**
   * Gives licenses, or takes them back.
   *
   * @param names serial numbers, or mail addresses of holders; at most {@link #AT_ONCE}
   * @return those of the names for which it is so now
   */
  public Set<String> hold(
      String platform, String app, String place, Collection<String> names, boolean held) {
    JsonNode answer =
        line(platform)
            .call(
                "POST",
                "licenses/holding",
                Map.of("app", app, "place", place, "names", names, "held", held));
    Set<String> done = new HashSet<>();
    answer.path("names").forEach(n -> done.add(n.asText()));
    done.retainAll(names);
    return done;
  }

  /**
   * Moves licenses nobody holds from one place to another.
   *
   * @throws Problem 502 when the store does not do it
   */
  public void move(String platform, String app, String from, String to, long number) {
    line(platform)
        .call(
            "POST", "licenses/move", Map.of("app", app, "from", from, "to", to, "number", number));
  }

  /**
   * What redemption codes are worth, at most {@link #AT_ONCE}.
   *
   * @param redeem whether those that are good become licenses for the place
   * @return by code; what the store says nothing of is unknown
   */
  public Map<String, CodeJudgement> codes(
      String platform, String app, String place, Collection<String> codes, boolean redeem) {
    JsonNode answer =
        line(platform)
            .call(
                "POST",
                "codes",
                Map.of("app", app, "place", place, "codes", codes, "redeem", redeem));
    Map<String, CodeJudgement> out = new TreeMap<>();
    for (String code : codes) {
      out.put(code, judgement(answer.path("codes").path(code).asText()));
    }
    return out;
  }

  private static CodeJudgement judgement(String word) {
    try {
      return Words.parse(CodeJudgement.class, word);
    } catch (IllegalArgumentException e) {
      return CodeJudgement.UNKNOWN;
    }
  }

  /** Runs what a store is asked for, and notes with its gateway how that went. */
  public <T> T noting(Caller caller, String platform, Supplier<T> work) {
    try {
      T done = work.get();
      useCases.run(caller, act -> note(act, platform, ""));
      return done;
    } catch (Problem p) {
      failed(caller, platform, p);
      throw p;
    }
  }

  /** Notes with its gateway that a store failed, where it is the store's fault. */
  public void failed(Caller caller, String platform, Problem why) {
    if (why.status() == 502) {
      useCases.run(caller, act -> note(act, platform, String.valueOf(why.getMessage())));
    }
  }

  private static void note(UseCases.Act act, String platform, String fault) {
    Tx tx = act.tx();
    tx.lock(GatewayRow.class, platform)
        .ifPresent(
            g -> {
              g.storeFault = fault;
              g.storeCheckedAt = fault.isEmpty() ? act.now() : g.storeCheckedAt;
            });
    act.touch(Noun.GATEWAY);
  }

  /** Platforms whose stores are connected. */
  public List<String> connected() {
    return useCases.read(tx -> new GatewayStore(tx).withStore());
  }

  // ---- reading what a store says ---------------------------------------------------------------

  private static String encoded(String text) {
    return URLEncoder.encode(text, StandardCharsets.UTF_8);
  }

  private static String word(JsonNode n, String field) {
    return Text.cleaned(n.path(field).asText(""), WORD);
  }

  /** An app as it is told; empty, and noted, where what is told makes no sense. */
  private static Optional<Listing> listing(String platform, JsonNode n) {
    try {
      Map<String, String> prices = new TreeMap<>();
      n.path("prices")
          .properties()
          .forEach(
              e -> {
                if (e.getKey().matches("[A-Z]{2}")) {
                  prices.put(e.getKey(), Text.cleaned(e.getValue().asText(), WORD));
                }
              });
      List<Version> versions = new ArrayList<>();
      for (JsonNode v : n.path("versions")) {
        if (versions.size() < MOST_VERSIONS) {
          versions.add(version(v));
        }
      }
      versions.sort((a, b) -> Long.compare(b.code(), a.code()));
      String icon = n.path("icon").asText("");
      String name = word(n, "name");
      if (name.isEmpty()) {
        throw new IllegalArgumentException("an app without a name");
      }
      return Optional.of(
          new Listing(
              AppId.read(n.path("id").asText()),
              name,
              word(n, "publisher"),
              Text.cleaned(n.path("summary").asText(""), SENTENCE),
              word(n, "category"),
              Words.parse(Licensing.class, n.path("licensing").asText()),
              prices,
              versions,
              icon(icon)));
    } catch (IllegalArgumentException e) {
      LOG.warn("the store of {} tells of an app what makes no sense: {}", platform, e.getMessage());
      return Optional.empty();
    }
  }

  private static Optional<byte[]> icon(String base64) {
    if (base64.isEmpty() || base64.length() > MOST_ICON) {
      return Optional.empty();
    }
    return Optional.of(Base64.getDecoder().decode(base64)).filter(PackageFile::isPng);
  }

  private static Version version(JsonNode v) {
    Map<String, String> lowest = new TreeMap<>();
    v.path("lowestOs")
        .properties()
        .forEach(e -> lowest.put(e.getKey(), OsVersion.parse(e.getValue().asText()).toString()));
    List<String> permissions = new ArrayList<>();
    v.path("permissions").forEach(p -> permissions.add(Text.cleaned(p.asText(), WORD)));
    String sha256 = v.path("sha256").asText();
    URI address = URI.create(v.path("address").asText());
    String schema = v.path("configuration").isObject() ? v.path("configuration").toString() : "";
    if (!sha256.matches("[0-9a-f]{64}")
        || !"https".equals(address.getScheme())
        || address.getHost() == null
        || schema.length() > MOST_SCHEMA
        || v.path("code").asLong() < 1) {
      throw new IllegalArgumentException("a version without code, digest or address");
    }
    return new Version(
        v.path("code").asLong(),
        word(v, "version"),
        lowest,
        permissions,
        Math.max(0, v.path("size").asLong()),
        Math.max(0, v.path("installed").asLong()),
        Text.cleaned(v.path("notes").asText(""), SENTENCE),
        schema.isEmpty() ? Optional.empty() : Optional.of(schema),
        sha256,
        address.toString());
  }
}
