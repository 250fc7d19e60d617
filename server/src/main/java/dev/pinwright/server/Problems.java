package dev.pinwright.server;

import dev.pinwright.service.Json;
import dev.pinwright.service.Problem;
import io.javalin.config.JavalinConfig;
import io.javalin.http.Context;
import io.javalin.http.HttpResponseException;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Turns every failure into problem details, and into one line of the log without secrets. */
final class Problems {
  private static final Logger LOG = LoggerFactory.getLogger("requests");

  private Problems() {}

  static void install(JavalinConfig config) {
    config.routes.exception(Problem.class, Problems::answer);
    config.routes.exception(
        HttpResponseException.class,
        (e, ctx) -> {
          String type =
              e.getStatus() == 404
                  ? "not-found"
                  : e.getStatus() == 405 ? "method-not-allowed" : "http-" + e.getStatus();
          String detail =
              e.getStatus() == 404 ? "There is nothing at this address." : e.getMessage() + ".";
          answer(new Problem(e.getStatus(), type, "Not possible", detail), ctx);
        });
    config.routes.exception(
        Exception.class,
        (e, ctx) -> {
          LOG.error("{} failed", route(ctx), e);
          answer(
              new Problem(
                  500,
                  "internal",
                  "Something went wrong here",
                  "The server failed; its log says more."),
              ctx);
        });
  }

  static void answer(Problem p, Context ctx) {
    LOG.info("{} {} {}", route(ctx), p.status(), p.type());
    Object retry = p.extras().get("retryAfter");
    if (retry != null) {
      ctx.header("Retry-After", String.valueOf(retry));
    }
    ctx.status(p.status());
    ctx.result(Json.write(p.body()));
    ctx.contentType("application/problem+json");
  }

  private static String route(Context ctx) {
    var endpoint = ctx.endpoints().lastHttpEndpoint();
    return ctx.method() + " " + (endpoint == null ? "(no route)" : endpoint.path);
  }
}
