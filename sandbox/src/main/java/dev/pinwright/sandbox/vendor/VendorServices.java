package dev.pinwright.sandbox.vendor;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.pinwright.protocol.pki.AnyClient;
import dev.pinwright.protocol.pki.Chains;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.protocol.pki.Pki.Identity;
import io.javalin.Javalin;
import io.javalin.config.RoutesConfig;
import io.javalin.http.Context;
import io.javalin.http.UnauthorizedResponse;
import java.io.IOException;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.security.cert.CRL;
import java.security.cert.X509Certificate;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import javax.net.ssl.TrustManager;
import org.eclipse.jetty.server.HttpConfiguration;
import org.eclipse.jetty.server.HttpConnectionFactory;
import org.eclipse.jetty.server.SecureRequestCustomizer;
import org.eclipse.jetty.server.Server;
import org.eclipse.jetty.server.ServerConnector;
import org.eclipse.jetty.server.SslConnectionFactory;
import org.eclipse.jetty.util.ssl.SslContextFactory;

/**
 * What servers and devices call: push (RFC 8030), registrar and store, over TLS on loopback. Each
 * vendor has a port of its own, whose certificate its root vouches for.
 */
final class VendorServices implements AutoCloseable {
  private static final ObjectMapper JSON = new ObjectMapper();
  private static final String CERTIFICATES = "jakarta.servlet.request.X509Certificate";
  private static final int MAX_PUSH_BYTES = 4_096;
  private final Vendors vendors;
  private final Map<String, ServerConnector> connectors = new HashMap<>();
  private final Javalin javalin;

  VendorServices(Vendors vendors, int port) {
    this.vendors = vendors;
    javalin =
        Javalin.create(
                config -> {
                  config.startup.showJavalinBanner = false;
                  int next = port;
                  for (Vendor v : vendors.all()) {
                    int own = port == 0 ? 0 : next++;
                    config.jetty.addConnector((server, http) -> connector(server, http, v, own));
                  }
                  config.routes.exception(
                      IllegalArgumentException.class,
                      (e, ctx) -> ctx.status(400).result(String.valueOf(e.getMessage())));
                  routes(config.routes);
                })
            .start();
  }

  private ServerConnector connector(
      Server server, HttpConfiguration http, Vendor vendor, int port) {
    HttpConfiguration secure = new HttpConfiguration(http);
    secure.addCustomizer(new SecureRequestCustomizer(false));
    HttpConnectionFactory http11 = new HttpConnectionFactory(secure);
    ServerConnector c =
        new ServerConnector(
            server, new SslConnectionFactory(tls(vendor), http11.getProtocol()), http11);
    c.setHost("127.0.0.1");
    c.setPort(port);
    connectors.put(vendor.platform(), c);
    return c;
  }

  int port(String platform) {
    return connectors.get(platform).getLocalPort();
  }

  private static SslContextFactory.Server tls(Vendor vendor) {
    Instant now = Instant.now();
    Identity host =
        Pki.newServer(
            vendor.rootIdentity(),
            List.of("127.0.0.1", "localhost"),
            now.minus(Duration.ofDays(1)),
            now.plus(Duration.ofDays(365)));
    SslContextFactory.Server factory =
        new SslContextFactory.Server() {
          @Override
          protected TrustManager[] getTrustManagers(
              KeyStore trustStore, Collection<? extends CRL> crls) {
            return new TrustManager[] {new AnyClient()};
          }
        };
    try {
      KeyStore store = KeyStore.getInstance("PKCS12");
      store.load(null, null);
      store.setKeyEntry(
          "host",
          host.key(),
          new char[0],
          new X509Certificate[] {host.certificate(), vendor.root()});
      factory.setKeyStore(store);
      factory.setKeyStorePassword("");
      factory.setKeyManagerPassword("");
    } catch (GeneralSecurityException | IOException e) {
      throw new IllegalStateException(e);
    }
    factory.setWantClientAuth(true);
    factory.setSniRequired(false);
    return factory;
  }

  private Vendor vendor(Context ctx) {
    return vendors.of(ctx.pathParam("platform"));
  }

  static List<X509Certificate> chain(Context ctx) {
    X509Certificate[] chain = ctx.attribute(CERTIFICATES);
    return chain == null ? List.of() : List.of(chain);
  }

  private void routes(RoutesConfig r) {
    r.post("/{platform}/push/{token}", this::push);
    r.get("/{platform}/registrar/home", this::home);
    r.get(
        "/{platform}/registrar/account",
        ctx -> account(ctx, signedIn(ctx, vendor(ctx)::byRegistrarToken)));
    r.put(
        "/{platform}/registrar/server",
        ctx -> {
          JsonNode body = JSON.readTree(ctx.body());
          vendor(ctx)
              .server(
                  signedIn(ctx, vendor(ctx)::byRegistrarToken),
                  new Vendor.Server(body.path("join").asText(), body.path("root").asText()));
          vendors.save();
        });
    r.get("/{platform}/registrar/devices", this::devices);
    r.post("/{platform}/registrar/assignment", this::assign);
    new StoreServices(vendors).install(r);
  }

  static Vendor.Account signedIn(Context ctx, Function<String, Optional<Vendor.Account>> by) {
    String header = ctx.header("Authorization");
    return Optional.ofNullable(header)
        .filter(h -> h.startsWith("Bearer "))
        .flatMap(h -> by.apply(h.substring("Bearer ".length())))
        .orElseThrow(() -> new UnauthorizedResponse("this token is not known"));
  }

  static void account(Context ctx, Vendor.Account account) {
    json(ctx, JSON.createObjectNode().put("account", account.name()));
  }

  static void json(Context ctx, JsonNode body) {
    ctx.result(body.toString());
    ctx.contentType("application/json");
  }

  private void push(Context ctx) {
    Vendor vendor = vendor(ctx);
    if (!Chains.endsIn(chain(ctx), List.of(vendor.root()), Instant.now())) {
      ctx.status(403).result("present a push credential that is in date");
      return;
    }
    String ttl = ctx.header("TTL");
    if (ttl == null || !ttl.matches("\\d{1,9}")) {
      ctx.status(400).result("TTL is missing (RFC 8030, 5.2)");
      return;
    }
    byte[] body = ctx.bodyAsBytes();
    if (body.length > MAX_PUSH_BYTES) {
      ctx.status(413);
      return;
    }
    boolean taken = vendor.push(ctx.pathParam("token"), body, Long.parseLong(ttl));
    ctx.status(taken ? 201 : 410);
    if (taken) {
      ctx.header("Location", "/" + vendor.platform() + "/message/" + System.nanoTime());
    }
  }

  /** The registrar's answer to a device: where it belongs. */
  private void home(Context ctx) {
    Optional<Vendor.Server> home = vendor(ctx).home(chain(ctx));
    if (home.isEmpty()) {
      ctx.status(404).result("nobody expects this device");
      return;
    }
    json(
        ctx, JSON.createObjectNode().put("join", home.get().join()).put("root", home.get().root()));
  }

  private void devices(Context ctx) {
    Vendor.Account a = signedIn(ctx, vendor(ctx)::byRegistrarToken);
    int limit = Integer.parseInt(Optional.ofNullable(ctx.queryParam("limit")).orElse("100"));
    String after = Optional.ofNullable(ctx.queryParam("after")).orElse("");
    List<Vendor.Registered> found = vendor(ctx).registered(a.name(), after, limit);
    ObjectNode out = JSON.createObjectNode();
    ArrayNode items = out.putArray("items");
    found.forEach(
        r -> {
          ObjectNode n = items.addObject();
          n.put("serial", r.serial()).put("model", r.model()).put("kind", r.kind());
          n.put("order", r.order()).put("registeredAt", r.registeredAt());
          n.put("assigned", r.assigned());
          if (r.imei() != null) {
            n.put("imei", r.imei());
          }
        });
    if (found.size() == limit) {
      out.put("next", found.get(limit - 1).serial());
    }
    json(ctx, out);
  }

  private void assign(Context ctx) throws IOException {
    Vendor.Account a = signedIn(ctx, vendor(ctx)::byRegistrarToken);
    JsonNode body = JSON.readTree(ctx.body());
    List<String> serials = new ArrayList<>();
    body.path("serials").forEach(s -> serials.add(s.asText()));
    ObjectNode out = JSON.createObjectNode();
    ArrayNode done = out.putArray("serials");
    vendor(ctx).assign(a, serials, body.path("assigned").asBoolean()).forEach(done::add);
    vendors.save();
    json(ctx, out);
  }

  @Override
  public void close() {
    javalin.stop();
  }
}
