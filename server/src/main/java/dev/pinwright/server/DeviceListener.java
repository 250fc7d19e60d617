package dev.pinwright.server;

import dev.pinwright.core.Text;
import dev.pinwright.protocol.join.BenchMessages;
import dev.pinwright.protocol.join.JoinMessages;
import dev.pinwright.protocol.notification.Notification;
import dev.pinwright.protocol.pack.PrintedConfiguration;
import dev.pinwright.protocol.pki.AnyClient;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.protocol.pki.Pki.Identity;
import dev.pinwright.protocol.syncml.SyncMl;
import dev.pinwright.service.Pinwright;
import dev.pinwright.service.arrival.Joining;
import dev.pinwright.service.arrival.Joining.Asking;
import dev.pinwright.service.cache.SiteCaches;
import dev.pinwright.service.live.Wakes;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Settings;
import io.javalin.Javalin;
import io.javalin.compression.CompressionStrategy;
import io.javalin.config.JavalinConfig;
import io.javalin.http.Context;
import io.javalin.security.BasicAuthCredentials;
import io.javalin.websocket.WsContext;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.security.cert.CRL;
import java.security.cert.X509Certificate;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.function.Consumer;
import javax.net.ssl.TrustManager;
import org.eclipse.jetty.ee10.servlet.SessionHandler;
import org.eclipse.jetty.server.Handler;
import org.eclipse.jetty.server.HttpConfiguration;
import org.eclipse.jetty.server.HttpConnectionFactory;
import org.eclipse.jetty.server.SecureRequestCustomizer;
import org.eclipse.jetty.server.ServerConnector;
import org.eclipse.jetty.server.SslConnectionFactory;
import org.eclipse.jetty.session.NullSessionCache;
import org.eclipse.jetty.session.NullSessionDataStore;
import org.eclipse.jetty.util.ssl.SslContextFactory;
import org.eclipse.jetty.util.thread.QueuedThreadPool;
import org.jspecify.annotations.Nullable;

/**
 * What devices talk to: {@code /join}, {@code /.well-known/est}, {@code /dm}, {@code /wake}, {@code
 * /assist}, {@code /blank}, {@code /content} and {@code /app-configuration}.
 */
final class DeviceListener {
  private static final int MAX_JOIN_BYTES = 32 * 1024;
  private static final String CERTIFICATES = "jakarta.servlet.request.X509Certificate";
  private static final String DEVICE = "pinwright.device";
  private static final String SOCKET = "pinwright.socket";
  private static final String BY_DEVICE = "opened with the device's certificate";
  private static final Duration WAKE_IDLE = Duration.ofMinutes(10);

  private final Pinwright pinwright;

  private DeviceListener(Pinwright pinwright) {
    this.pinwright = pinwright;
  }

  static Javalin create(Pinwright pinwright, Metrics metrics, AssistRelay relay) {
    return create(pinwright, metrics, relay, config -> {});
  }

  /** {@link #create} with more besides, to measure against. */
  static Javalin create(
      Pinwright pinwright, Metrics metrics, AssistRelay relay, Consumer<JavalinConfig> besides) {
    DeviceListener listener = new DeviceListener(pinwright);
    Settings settings = pinwright.settings();
    return Javalin.create(
        config -> {
          config.startup.showJavalinBanner = false;
          config.http.maxRequestSize = SyncMl.MAX_BYTES * 2L;
          config.http.prefer405over404 = true;
          config.http.compressionStrategy = CompressionStrategy.NONE;
          config.jetty.threadPool = new QueuedThreadPool(64, 8);
          config.jetty.modifyServer(
              server -> {
                server.setErrorHandler(new EarlyProblems());
                Handler.Singleton bodies = Bodies.gathered(config.http.maxRequestSize, false);
                bodies.getTail().setHandler(new Management(pinwright.sessions(), metrics));
                server.setHandler(
                    new HandedIn(
                        pinwright,
                        new Contents(pinwright.files(), pinwright.siteCaches(), bodies)));
              });
          config.jetty.modifyWebSocketServletFactory(
              f -> {
                f.setIdleTimeout(WAKE_IDLE);
                f.setMaxBinaryMessageSize(AssistRelay.MOST_FRAME);
              });
          config.jetty.addConnector(
              (server, http) -> {
                HttpConfiguration secure = new HttpConfiguration(http);
                secure.setSendServerVersion(false);
                secure.addCustomizer(new SecureRequestCustomizer(false));
                HttpConnectionFactory http11 = new HttpConnectionFactory(secure);
                ServerConnector c =
                    new ServerConnector(
                        server,
                        1,
                        1,
                        new SslConnectionFactory(tls(pinwright), http11.getProtocol()),
                        http11);
                c.setHost(settings.deviceHost());
                c.setPort(settings.devicePort());
                c.setAcceptQueueSize(1024);
                c.setIdleTimeout(Duration.ofMinutes(2).toMillis());
                return c;
              });
          config.requestLogger.http((ctx, ms) -> metrics.request(ctx, "device", ms));
          Problems.install(config);
          config.routes.get("/join/{code}", listener::offer);
          config.routes.post("/join/{code}", listener::join);
          config.routes.post("/join/{code}/bench", listener::bench);
          config.routes.post("/blank", listener::blank);
          config.routes.get(PrintedConfiguration.PATH + "{code}", listener::configuration);
          config.routes.get("/.well-known/est/cacerts", listener::cacerts);
          config.routes.get("/.well-known/est/csrattrs", listener::csrattrs);
          config.routes.post("/.well-known/est/simpleenroll", listener::enroll);
          config.routes.post("/.well-known/est/simplereenroll", listener::reenroll);
          besides.accept(config);
          // an upgrade asks for a session; nothing here has use for one, so none is kept
          config.jetty.modifyServletContextHandler(h -> h.setSessionHandler(unkeptSessions()));
          config.routes.get(
              "/wake", ctx -> Problems.answer(Problems.upgradeRequired(ctx, BY_DEVICE), ctx));
          config.routes.wsBeforeUpgrade(
              "/wake", ctx -> ctx.attribute(DEVICE, listener.recognise(ctx)));
          config.routes.ws(
              "/wake",
              ws -> {
                ws.onConnect(listener::connected);
                ws.onClose(listener::closed);
                ws.onError(listener::closed);
              });
          config.routes.get(
              "/assist/{id}",
              ctx -> Problems.answer(Problems.upgradeRequired(ctx, BY_DEVICE), ctx));
          config.routes.wsBeforeUpgrade(
              "/assist/{id}", ctx -> relay.comes(ctx, listener.recognise(ctx)));
          config.routes.ws("/assist/{id}", relay::device);
        });
  }

  private static SessionHandler unkeptSessions() {
    SessionHandler sessions = new SessionHandler();
    sessions.setUsingCookies(false);
    NullSessionCache none = new NullSessionCache(sessions);
    none.setSessionDataStore(new NullSessionDataStore());
    sessions.setSessionCache(none);
    return sessions;
  }

  // ---- TLS -------------------------------------------------------------------------------------

  private static SslContextFactory.Server tls(Pinwright pinwright) {
    Identity server = pinwright.authority().server();
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
      char[] password = Vault.randomText().toCharArray();
      store.setKeyEntry(
          "server",
          server.key(),
          password,
          new X509Certificate[] {server.certificate(), pinwright.authority().root()});
      factory.setKeyStore(store);
      factory.setKeyStorePassword(new String(password));
      factory.setKeyManagerPassword(new String(password));
    } catch (GeneralSecurityException | IOException e) {
      throw new IllegalStateException("the server certificate cannot be used", e);
    }
    factory.setIncludeProtocols("TLSv1.2", "TLSv1.3");
    // RFC 9325, 4.1: with TLS 1.2 only what encrypts and authenticates in one
    factory.addExcludeCipherSuites("^.*_CBC_.*$");
    factory.setWantClientAuth(true);
    factory.setSniRequired(false);
    return factory;
  }

  private static X509Certificate[] chain(Context ctx) {
    X509Certificate[] chain = ctx.attribute(CERTIFICATES);
    return chain == null ? new X509Certificate[0] : chain;
  }

  // ---- join ------------------------------------------------------------------------------------

  private void offer(Context ctx) {
    json(ctx, 200, pinwright.joining().offer(asking(ctx)));
  }

  /**
   * Who asks, what its certificate says and which languages its holder reads (RFC 9110, 12.5.4).
   */
  private static Asking asking(Context ctx) {
    List<String> languages = new ArrayList<>();
    String header = ctx.header("Accept-Language");
    if (header != null && header.length() <= 200) {
      try {
        Locale.LanguageRange.parse(header).forEach(r -> languages.add(r.getRange()));
      } catch (IllegalArgumentException | IndexOutOfBoundsException e) {
        languages.clear(); // a header nobody can read says nothing; "-" is one the JDK falls over
      }
    }
    return new Asking(ctx.pathParam("code"), List.of(chain(ctx)), ctx.ip(), languages);
  }

  private void bench(Context ctx) {
    json(
        ctx,
        200,
        pinwright
            .benchCable()
            .heard(ctx.pathParam("code"), said(ctx, BenchMessages.Word.class, "bench's word")));
  }

  private void join(Context ctx) {
    JoinMessages.Request request = said(ctx, JoinMessages.Request.class, "join exchange");
    Joining.Answer answer = pinwright.joining().join(asking(ctx), request);
    if (answer.admission().isPresent()) {
      json(ctx, 201, answer.admission().get());
    } else {
      ctx.header("Retry-After", "5");
      ctx.status(202);
    }
  }

  /** A device that erased itself shows itself by its maker's certificate. */
  private void blank(Context ctx) {
    pinwright.wipes().blank(List.of(chain(ctx)), ctx.ip());
    ctx.status(204);
  }

  /** What an app reads whose device is not enrolled. */
  private void configuration(Context ctx) {
    ctx.result(pinwright.configurationCodes().read(ctx.pathParam("code"), ctx.ip()));
    ctx.contentType(PrintedConfiguration.MEDIA_TYPE);
    ctx.header("Cache-Control", "no-store");
  }

  /** Reads a body that is JSON. Devices may say more than we read; that is no reason to refuse. */
  private static <T> T said(Context ctx, Class<T> type, String what) {
    byte[] body = body(ctx, MAX_JOIN_BYTES);
    if (body == null) {
      throw new Problem(413, "message-too-large", "Too large", "A join has at most 32 KiB.");
    }
    T request;
    try {
      request = Json.said(body, type);
    } catch (IOException e) {
      throw new Problem(
          400, "malformed", "Not let in", "The body has to be the JSON of the " + what + ".");
    }
    if (request == null) {
      throw new Problem(400, "malformed", "Not let in", "The body has to be a JSON object.");
    }
    return request;
  }

  private static void json(Context ctx, int status, Object value) {
    ctx.status(status);
    ctx.result(Json.write(value));
    ctx.contentType("application/json");
  }

  /** The body, or null when it is larger than {@code max}. */
  private static byte @Nullable [] body(Context ctx, int max) {
    try {
      byte[] body = ctx.req().getInputStream().readNBytes(max + 1);
      return body.length > max ? null : body;
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  // ---- EST (RFC 7030) --------------------------------------------------------------------------

  private void cacerts(Context ctx) {
    est(ctx, pinwright.certificates().cacerts(), "application/pkcs7-mime");
  }

  private void csrattrs(Context ctx) {
    est(ctx, pinwright.certificates().csrattrs(), "application/csrattrs");
  }

  private void enroll(Context ctx) {
    BasicAuthCredentials credentials = basic(ctx);
    if (credentials == null) {
      ctx.header("WWW-Authenticate", "Basic realm=\"pinwright\"");
      throw new Problem(
          401,
          "est-sign-in-failed",
          "Not let in",
          "Sign in by HTTP Basic with the name and password of the join answer.");
    }
    try {
      String name = credentials.getUsername();
      est(
          ctx,
          name.startsWith(SiteCaches.NAME)
              ? pinwright.siteCaches().enroll(name, credentials.getPassword(), text(ctx))
              : pinwright.certificates().enroll(name, credentials.getPassword(), text(ctx)),
          "application/pkcs7-mime; smime-type=certs-only");
    } catch (Problem p) {
      if (p.status() == 401) {
        ctx.header("WWW-Authenticate", "Basic realm=\"pinwright\"");
      }
      throw p;
    }
  }

  /** What HTTP Basic gives (RFC 7617); null when there is nothing, or nothing that can be read. */
  private static @Nullable BasicAuthCredentials basic(Context ctx) {
    try {
      BasicAuthCredentials given = ctx.basicAuthCredentials();
      if (given != null) {
        Text.line(given.getUsername());
      }
      return given;
    } catch (RuntimeException e) {
      return null;
    }
  }

  private void reenroll(Context ctx) {
    X509Certificate[] chain = chain(ctx);
    boolean cache = chain.length > 0 && Pki.commonName(chain[0]).startsWith(SiteCaches.NAME);
    est(
        ctx,
        cache
            ? pinwright.siteCaches().reenroll(chain, text(ctx))
            : pinwright.certificates().reenroll(chain, text(ctx)),
        "application/pkcs7-mime; smime-type=certs-only");
  }

  private static String text(Context ctx) {
    byte[] body = body(ctx, MAX_JOIN_BYTES);
    if (body == null) {
      throw new Problem(413, "message-too-large", "Too large", "A request has at most 32 KiB.");
    }
    return new String(body, StandardCharsets.US_ASCII);
  }

  private static void est(Context ctx, String body, String type) {
    ctx.header("Content-Transfer-Encoding", "base64");
    ctx.result(body.getBytes(StandardCharsets.US_ASCII));
    ctx.res().setContentType(type);
  }

  // ---- management ------------------------------------------------------------------------------

  private String recognise(Context ctx) {
    return pinwright.sessions().recognise(chain(ctx), ctx.ip());
  }

  private void connected(WsContext ctx) {
    String id = ctx.attribute(DEVICE);
    if (id == null) {
      ctx.closeSession(1008, "not recognised");
      return;
    }
    WakeSocket socket = new WakeSocket(ctx, id);
    ctx.attribute(SOCKET, socket);
    pinwright.wakes().connected(id, socket);
  }

  private void closed(WsContext ctx) {
    Wakes.Socket socket = ctx.attribute(SOCKET);
    String id = ctx.attribute(DEVICE);
    if (socket != null && id != null) {
      pinwright.wakes().gone(id, socket);
    }
  }

  private record WakeSocket(WsContext ctx, String deviceId) implements Wakes.Socket {
    @Override
    public void wake() {
      Notification n = new Notification(1 + Vault.randomBelow(0xfffe), "pinwright");
      ctx.send(ByteBuffer.wrap(n.encode(deviceId)));
    }

    @Override
    public void close() {
      ctx.closeSession(1001, "goodbye");
    }
  }
}
