package dev.pinwright.server;

import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Outage;
import dev.pinwright.service.work.Problem;
import io.javalin.config.JavalinConfig;
import io.javalin.http.Context;
import io.javalin.http.HttpResponseException;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.Optional;
import java.util.concurrent.CompletionException;
import org.eclipse.jetty.ee10.servlet.ServletContextRequest;
import org.eclipse.jetty.http.HttpException;
import org.eclipse.jetty.http.HttpHeader;
import org.eclipse.jetty.io.Content;
import org.eclipse.jetty.io.EofException;
import org.eclipse.jetty.server.Request;
import org.eclipse.jetty.server.Response;
import org.eclipse.jetty.util.Callback;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Turns every failure into problem details, and into one line of the log without secrets. */
final class Problems {
  private static final Logger LOG = LoggerFactory.getLogger("requests");

  /** RFC 9457, 3. */
  static final String TYPE = "application/problem+json";

  private static final Duration LONGEST_HEARD_OUT = Duration.ofSeconds(3);
  private static final long MOST_HEARD_OUT = 64L * 1024 * 1024;

  private Problems() {}

  static void install(JavalinConfig config) {
    TextGate.install(config);
    config.routes.exception(Problem.class, Problems::answer);
    config.routes.exception(
        HttpResponseException.class,
        (e, ctx) -> {
          answer(
              switch (e.getStatus()) {
                case 404 ->
                    new Problem(
                        404, "not-found", "Not possible", "There is nothing at this address.");
                case 405 ->
                    new Problem(405, "method-not-allowed", "Not possible", e.getMessage() + ".");
                case 413 ->
                    new Problem(
                        413,
                        "too-large",
                        "Too large",
                        "A request has at most " + config.http.maxRequestSize / 1024 + " KiB.");
                default ->
                    new Problem(
                        e.getStatus(),
                        "http-" + e.getStatus(),
                        "Not possible",
                        e.getMessage() + ".");
              },
              ctx);
        });
    config.routes.exception(Exception.class, (e, ctx) -> answer(of(e, route(ctx)), ctx));
  }

  /**
   * What is said of a failure; one that nobody foresaw is put into the log.
   *
   * @param what failed, for the log
   */
  static Problem of(Throwable failure, String what) {
    Throwable e =
        failure instanceof CompletionException && failure.getCause() != null
            ? failure.getCause()
            : failure;
    if (e instanceof Problem p) {
      return p;
    }
    return Outage.problem(e)
        .or(() -> unreadable(e))
        .orElseGet(
            () -> {
              if (goneAway(e)) {
                LOG.info("{} was not waited for", what);
              } else {
                LOG.error("{} failed", what, e);
              }
              return new Problem(
                  500,
                  "internal",
                  "Something went wrong here",
                  "The server failed; its log says more.");
            });
  }

  /** What is wrong with a request that the listener itself could not read to its end. */
  private static Optional<Problem> unreadable(Throwable e) {
    for (Throwable t = e; t != null; t = t.getCause()) {
      if (t instanceof HttpException wrong && wrong.getCode() < 500) {
        return Optional.of(
            new Problem(
                wrong.getCode(),
                "http-" + wrong.getCode(),
                "Not possible",
                "The request could not be read: " + wrong.getReason() + "."));
      }
    }
    return Optional.empty();
  }

  /** Whether whoever asked has closed the connection; there is nobody to answer. */
  private static boolean goneAway(Throwable e) {
    for (Throwable t = e; t != null; t = t.getCause()) {
      if (t instanceof EofException) {
        return true;
      }
    }
    return false;
  }

  /**
   * Reads what is left of the body of a request that is refused, so that whoever sends it gets as
   * far as reading the answer: a connection that is closed while somebody writes to it loses what
   * was said on it. Never waits in a read: whoever sends slowly, or nothing, holds a worker no
   * longer than {@link #LONGEST_HEARD_OUT}.
   */
  private static void hearOut(Context ctx) {
    Request body = ServletContextRequest.getServletContextRequest(ctx.req());
    long end = System.nanoTime() + LONGEST_HEARD_OUT.toNanos();
    long left = MOST_HEARD_OUT;
    try {
      while (left > 0 && System.nanoTime() < end) {
        Content.Chunk heard = body.read();
        if (heard == null) {
          Thread.sleep(2);
          continue;
        }
        left -= heard.remaining();
        heard.release();
        if (heard.isLast() || Content.Chunk.isFailure(heard)) {
          return;
        }
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  static void answer(Problem p, Context ctx) {
    hearOut(ctx);
    LOG.info("{} {} {}", route(ctx), p.status(), p.type());
    Object retry = p.extras().get("retryAfter");
    if (retry != null) {
      ctx.header("Retry-After", String.valueOf(retry));
    }
    ctx.status(p.status());
    ctx.result(Json.write(p.body()));
    ctx.contentType(TYPE);
  }

  /**
   * Answers what is refused where no call is.
   *
   * @param what is refused, for the log
   */
  static void answer(Problem p, String what, Response response, Callback callback) {
    LOG.info("{} {} {}", what, p.status(), p.type());
    Object retry = p.extras().get("retryAfter");
    if (retry != null) {
      response.getHeaders().put(HttpHeader.RETRY_AFTER, String.valueOf(retry));
    }
    response.setStatus(p.status());
    response.getHeaders().put(HttpHeader.CONTENT_TYPE, TYPE);
    response.write(true, StandardCharsets.UTF_8.encode(Json.write(p.body())), callback);
  }

  private static String route(Context ctx) {
    var endpoint = ctx.endpoints().lastHttpEndpoint();
    return ctx.method() + " " + (endpoint == null ? "(no route)" : endpoint.path);
  }

  /**
   * RFC 9110, 15.5.22, and RFC 6455, 4.4.
   *
   * @param who opens it, as the end of a sentence
   */
  static Problem upgradeRequired(Context ctx, String who) {
    ctx.header("Upgrade", "websocket");
    ctx.header("Connection", "Upgrade");
    ctx.header("Sec-WebSocket-Version", "13");
    return new Problem(
        426,
        "upgrade-required",
        "Upgrade required",
        "This address is a WebSocket (RFC 6455, version 13), " + who + ".");
  }
}
