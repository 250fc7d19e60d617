package dev.pinwright.server;

import dev.pinwright.service.Pinwright;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Settings;
import io.javalin.Javalin;
import io.javalin.compression.CompressionStrategy;
import io.javalin.compression.Gzip;
import io.javalin.http.staticfiles.Location;
import java.time.Duration;
import java.util.Map;
import org.eclipse.jetty.server.HttpConfiguration;
import org.eclipse.jetty.server.HttpConnectionFactory;
import org.eclipse.jetty.server.ServerConnector;
import org.eclipse.jetty.util.thread.QueuedThreadPool;

/** What people and programs talk to: the console's files, {@code /api/v1}, health and metrics. */
final class ConsoleListener {
  /** Of what pages may load; the place is where the pictures of the map come from. */
  private static final String POLICY =
      "default-src 'self'; img-src 'self' data: blob:%s; style-src 'self'; script-src 'self';"
          + " connect-src 'self'; font-src 'self'; object-src 'none'; base-uri 'none';"
          + " form-action 'self'; frame-ancestors 'none'";

  private static final int LEAST_COMPRESSED = 512;

  private ConsoleListener() {}

  static Javalin create(Pinwright pinwright, Metrics metrics, AssistRelay relay) {
    Settings settings = pinwright.settings();
    return Javalin.create(
        config -> {
          config.startup.showJavalinBanner = false;
          config.http.maxRequestSize = 1024 * 1024L;
          config.http.prefer405over404 = true;
          config.http.compressionStrategy = compressed();
          config.jetty.threadPool = new QueuedThreadPool(64, 8);
          config.jetty.modifyServer(
              server -> {
                server.setErrorHandler(new EarlyProblems());
                server.setHandler(Bodies.gathered(config.http.maxRequestSize, true));
              });
          config.jetty.modifyWebSocketServletFactory(
              f -> f.setMaxBinaryMessageSize(AssistRelay.MOST_FRAME));
          config.jetty.addConnector(
              (server, http) -> {
                HttpConfiguration plain = new HttpConfiguration(http);
                plain.setSendServerVersion(false);
                plain.addCustomizer(new TrustedProxies(settings.trustedProxies()));
                ServerConnector c =
                    new ServerConnector(server, 1, 1, new HttpConnectionFactory(plain));
                c.setHost(settings.consoleHost());
                c.setPort(settings.consolePort());
                c.setIdleTimeout(Duration.ofMinutes(2).toMillis());
                return c;
              });
          config.requestLogger.http((ctx, ms) -> metrics.request(ctx, "console", ms));
          Problems.install(config);
          config.routes.before(
              ctx -> {
                ctx.header(
                    "Content-Security-Policy", POLICY.formatted(pinwright.houseMap().origin()));
                ctx.header("X-Content-Type-Options", "nosniff");
                ctx.header("Referrer-Policy", "no-referrer");
                boolean asset = ctx.path().startsWith("/assets/");
                boolean there = asset && isAsset(ctx.path());
                ctx.header(
                    "Cache-Control", there ? "public, max-age=31536000, immutable" : "no-store");
                if (asset && !there) {
                  // of a build that is gone; the page in its place a browser would keep for a year
                  throw new Problem(
                      404, "not-found", "Not possible", "There is nothing at this address.");
                }
              });
          config.routes.get(
              "/health",
              ctx -> {
                boolean well = pinwright.healthy();
                ctx.status(well ? 200 : 503);
                ctx.result(Json.write(Map.of("status", well ? "ok" : "database unreachable")));
                ctx.contentType("application/json");
              });
          config.routes.get("/metrics", ctx -> ctx.result(metrics.scrape()));
          new Api(pinwright, relay).install(config);
          if (ConsoleListener.class.getResource("/console/index.html") != null) {
            config.staticFiles.add(
                files -> {
                  files.directory = "/console";
                  files.location = Location.CLASSPATH;
                  files.headers = Map.of();
                });
            config.spaRoot.addFile("/", "/console/index.html", Location.CLASSPATH);
          }
        });
  }

  /** By gzip (RFC 1952), also what is less than a packet: a page is made of many small files. */
  private static CompressionStrategy compressed() {
    CompressionStrategy gzip = new CompressionStrategy(null, new Gzip());
    gzip.setDefaultMinSizeForCompression(LEAST_COMPRESSED);
    return gzip;
  }

  private static boolean isAsset(String path) {
    return path.matches("/assets/[A-Za-z0-9_-]+(\\.[A-Za-z0-9_-]+)+")
        && ConsoleListener.class.getResource("/console" + path) != null;
  }
}
