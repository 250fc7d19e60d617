package dev.pinwright.server;

import dev.pinwright.core.Text;
import dev.pinwright.service.work.Problem;
import io.javalin.config.JavalinConfig;
import io.javalin.http.Context;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;

/** Holds paths and queries to {@link Text} before anything is done with them. */
final class TextGate {
  private TextGate() {}

  static void install(JavalinConfig config) {
    config.routes.before(TextGate::check);
  }

  private static void check(Context ctx) {
    try {
      Text.line(URLDecoder.decode(ctx.path(), StandardCharsets.UTF_8));
    } catch (IllegalArgumentException e) {
      throw Problem.malformed("", e);
    }
    ctx.queryParamMap()
        .forEach(
            (name, values) -> {
              try {
                Text.line(name);
                values.forEach(Text::line);
              } catch (IllegalArgumentException e) {
                throw Problem.malformed("/" + (name.matches("\\w{1,40}") ? name : ""), e);
              }
            });
  }

  /**
   * A header's value.
   *
   * @param max most characters
   * @throws Problem 400 when it is longer or no text
   */
  static String header(Context ctx, String name, int max) {
    String value = ctx.header(name);
    if (value == null) {
      return "";
    }
    try {
      if (value.length() > max) {
        throw new IllegalArgumentException(name + " has at most " + max + " characters");
      }
      return Text.line(value);
    } catch (IllegalArgumentException e) {
      throw Problem.malformed("", e);
    }
  }
}
