package dev.pinwright.server;

import dev.pinwright.core.Versioned;
import dev.pinwright.core.change.Confirmation;
import dev.pinwright.service.Pinwright;
import dev.pinwright.service.access.Accounts;
import dev.pinwright.service.sheet.Sheet;
import dev.pinwright.service.sheet.SheetText;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.ManyLines;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Records;
import io.javalin.http.Context;
import io.javalin.http.Cookie;
import io.javalin.http.SameSite;
import java.time.Duration;
import java.time.Instant;
import java.time.format.DateTimeParseException;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** What every call needs: who is calling, what was asked, and how the answer is written. */
final class Calls {
  static final String ROOT = "/api/v1";
  static final String COOKIE = "pinwright";
  static final String KNOWN = "pinwright.known";
  static final String TOKEN = "pinwright.token";

  private Calls() {}

  /** Why something is done, in words. */
  record Reason(@ManyLines @Nullable String reason) {}

  static Accounts.Entered known(Context ctx) {
    Accounts.Entered known = ctx.attribute(KNOWN);
    if (known == null) {
      throw new Problem(401, "not-signed-in", "Not signed in", "Sign in to go on.");
    }
    return known;
  }

  static Caller caller(Context ctx) {
    return known(ctx).caller();
  }

  static void json(Context ctx, Object value) {
    ctx.result(Json.write(value));
    ctx.contentType("application/json");
  }

  static void created(Context ctx, Object value) {
    ctx.status(201);
    json(ctx, value);
  }

  /** Says that the answer is a sheet, which browsers save under this name. */
  static void sheet(Context ctx, String name) {
    ctx.contentType("text/csv; charset=utf-8");
    ctx.header("Content-Disposition", "attachment; filename=\"" + name + ".csv\"");
  }

  static void sheet(Context ctx, String name, String rows) {
    sheet(ctx, name);
    ctx.result(rows);
  }

  static void versioned(Context ctx, int version, Object value) {
    ctx.header("ETag", "\"" + version + "\"");
    json(ctx, value);
  }

  static void versioned(Context ctx, Versioned value) {
    versioned(ctx, value.version(), value);
  }

  /** Gives a browser something to keep that no script of it can read. */
  static void cookie(Context ctx, Pinwright pinwright, String name, String value, Duration lasts) {
    boolean secure = pinwright.settings().secureCookies();
    Cookie cookie = new Cookie(name, value, "/", (int) lasts.toSeconds(), secure, true);
    cookie.setSameSite(SameSite.STRICT);
    ctx.cookie(cookie);
  }

  /** The four calls every record has: made, read, rewritten under its version, and deleted. */
  static <T extends Versioned, D> void records(
      Routes r, String path, Records<T, D> records, Class<D> draft) {
    r.post(
        ROOT + path,
        ctx -> {
          T made = records.add(caller(ctx), body(ctx, draft));
          ctx.status(201);
          versioned(ctx, made);
        });
    r.get(ROOT + path + "/{id}", ctx -> versioned(ctx, records.get(caller(ctx), id(ctx))));
    r.put(
        ROOT + path + "/{id}",
        ctx ->
            versioned(ctx, records.change(caller(ctx), id(ctx), ifMatch(ctx), body(ctx, draft))));
    r.delete(
        ROOT + path + "/{id}",
        ctx -> {
          records.delete(caller(ctx), id(ctx), ifMatch(ctx));
          ctx.status(204);
        });
  }

  static int ifMatch(Context ctx) {
    String tag = ctx.header("If-Match");
    String plain = tag == null ? "" : tag.replace("W/", "").replace("\"", "");
    if (!plain.matches("\\d{1,9}")) {
      throw new Problem(
          428,
          "version-required",
          "Version required",
          "Send the ETag you read this with in If-Match.");
    }
    return Integer.parseInt(plain);
  }

  static String query(Context ctx, String name) {
    String value = ctx.queryParam(name);
    return value == null ? "" : value;
  }

  /** The number in a path that names a thing; no such thing where it is none. */
  static int numbered(Context ctx, String parameter, String what) {
    String number = ctx.pathParam(parameter);
    if (!number.matches("\\d{1,6}")) {
      throw Problem.notFound(what, number);
    }
    return Integer.parseInt(number);
  }

  /** A whole number asked for; empty where it is not. */
  static Optional<Long> number(Context ctx, String name) {
    String text = query(ctx, name);
    if (text.isEmpty()) {
      return Optional.empty();
    }
    if (!text.matches("\\d{1,9}")) {
      throw Problem.malformed("/" + name, name + " has to be a whole number.");
    }
    return Optional.of(Long.parseLong(text));
  }

  static Page.Request page(Context ctx) {
    String limit = query(ctx, "limit");
    if (!limit.isEmpty() && !limit.matches("\\d{1,6}")) {
      throw Problem.malformed("/limit", "limit has to be a whole number.");
    }
    return new Page.Request(query(ctx, "after"), limit.isEmpty() ? 50 : Integer.parseInt(limit));
  }

  /** The sheet that is sent, read as it comes in. */
  static SheetText sheetText(Context ctx) {
    return SheetText.of(ctx.bodyInputStream());
  }

  /** A sheet to take in, read to its end. */
  static Sheet.Draft sheetDraft(Context ctx) {
    return new Sheet.Draft(
        Sheet.read(sheetText(ctx)), query(ctx, "save").equals("true"), asked(ctx));
  }

  /** What was given before devices change, in a body. */
  record Given(Optional<Long> confirmDevices, @ManyLines Optional<String> reason) {
    Confirmation confirmation() {
      return given(confirmDevices, reason);
    }
  }

  /** What was given before devices change, as somebody gives it who agrees for nobody else. */
  static Confirmation given(Optional<Long> number, Optional<String> reason) {
    return Problem.reading("/reason", () -> new Confirmation(number, reason, Optional.empty()));
  }

  /** What was given before devices change, in the query. */
  static Confirmation asked(Context ctx) {
    String reason = query(ctx, "reason");
    return given(
        number(ctx, "confirmDevices"), reason.isEmpty() ? Optional.empty() : Optional.of(reason));
  }

  static <T> T body(Context ctx, Class<T> type) {
    return Json.request(ctx.body(), type);
  }

  static String id(Context ctx) {
    return ctx.pathParam("id");
  }

  static String text(@Nullable String value) {
    return value == null ? "" : value;
  }

  /**
   * A moment of the query (RFC 3339); empty where it is not given.
   *
   * @throws Problem 400 when it is none
   */
  static Optional<Instant> moment(Context ctx, String name) {
    String text = query(ctx, name);
    try {
      return text.isEmpty() ? Optional.empty() : Optional.of(Instant.parse(text));
    } catch (DateTimeParseException e) {
      throw Problem.malformed("/" + name, "A moment is written like 2026-03-02T09:00:00Z.");
    }
  }
}
