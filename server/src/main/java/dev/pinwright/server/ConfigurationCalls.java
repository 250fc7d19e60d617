package dev.pinwright.server;

import static dev.pinwright.server.Calls.*;

import dev.pinwright.service.configuration.Configurations;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Problem;
import io.javalin.http.Context;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;

/** The configuration as files. */
final class ConfigurationCalls {
  /** What a configuration is sent as: it may be larger than other requests. */
  static final String TYPE = "application/vnd.pinwright.configuration+json";

  private static final int MOST_BYTES = 16 << 20;

  private final Configurations configurations;

  ConfigurationCalls(Configurations configurations) {
    this.configurations = configurations;
  }

  void install(Routes r) {
    r.get(ROOT + "/configuration", ctx -> json(ctx, configurations.write(caller(ctx))));
    r.post(ROOT + "/configuration", ctx -> json(ctx, configurations.load(caller(ctx), sent(ctx))));
    r.post(
        ROOT + "/configuration/rehearsal",
        ctx -> json(ctx, configurations.rehearse(caller(ctx), sent(ctx))));
    r.get(ROOT + "/configuration/schema", ctx -> json(ctx, configurations.schema()));
  }

  private static Configurations.Load sent(Context ctx) {
    try (InputStream in = ctx.bodyInputStream()) {
      byte[] body = in.readNBytes(MOST_BYTES + 1);
      if (body.length > MOST_BYTES) {
        throw new Problem(
            413,
            "too-large",
            "Too large",
            "A configuration has at most " + (MOST_BYTES >> 20) + " MiB of text.");
      }
      return Json.request(new String(body, StandardCharsets.UTF_8), Configurations.Load.class);
    } catch (IOException e) {
      throw Problem.malformed("", "The configuration broke off; send it again.");
    }
  }
}
