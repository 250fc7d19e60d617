package dev.pinwright.server;

import dev.pinwright.service.Json;
import dev.pinwright.service.Page;
import dev.pinwright.service.Pinwright;
import dev.pinwright.service.Problem;
import dev.pinwright.service.access.Accounts;
import dev.pinwright.service.access.Caller;
import dev.pinwright.service.acting.Dispatches;
import dev.pinwright.service.device.Devices;
import dev.pinwright.service.intake.EnrollmentProfiles;
import dev.pinwright.service.intake.Invitations;
import dev.pinwright.service.rules.Profiles;
import io.javalin.config.JavalinConfig;
import io.javalin.config.RoutesConfig;
import io.javalin.http.Context;
import io.javalin.http.Cookie;
import io.javalin.http.SameSite;
import io.javalin.http.sse.SseClient;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** {@code /api/v1}, route by route as {@code api/openapi.yaml} lists them. */
final class Api {
  private static final String ROOT = "/api/v1";
  private static final String COOKIE = "pinwright";
  private static final String KNOWN = "pinwright.known";
  private static final String TOKEN = "pinwright.token";

  private final Pinwright pinwright;

  Api(Pinwright pinwright) {
    this.pinwright = pinwright;
  }

  void install(JavalinConfig config) {
    RoutesConfig r = config.routes;
    r.before(ROOT + "/*", this::authenticate);
    access(r);
    catalogue(r);
    intake(r);
    devices(r);
    rules(r);
    acting(r);
    records(r);
    // last, so that an unknown call is not answered with the console's page
    r.get(
        ROOT + "/*",
        ctx -> {
          throw new Problem(404, "not-found", "Not found", "There is no such call.");
        });
  }

  // ---- who is calling --------------------------------------------------------------------------

  private void authenticate(Context ctx) {
    if (ctx.path().equals(ROOT + "/sign-in") && ctx.method().name().equals("POST")) {
      return;
    }
    String header = ctx.header("Authorization");
    boolean program = header != null && header.startsWith("Bearer ");
    String token = program ? header.substring("Bearer ".length()) : ctx.cookie(COOKIE);
    Accounts.Known known =
        Optional.ofNullable(token)
            .flatMap(t -> pinwright.accounts().known(t))
            .orElseThrow(
                () -> new Problem(401, "not-signed-in", "Not signed in", "Sign in to go on."));
    boolean changes = !ctx.method().name().equals("GET") && !ctx.method().name().equals("HEAD");
    if (!program && changes && !known.csrf().equals(ctx.header("X-CSRF"))) {
      throw new Problem(
          403,
          "csrf",
          "Not accepted",
          "A change from a browser has to carry the X-CSRF value of this sign-in.");
    }
    ctx.attribute(KNOWN, known);
    ctx.attribute(TOKEN, token);
  }

  private static Accounts.Known known(Context ctx) {
    Accounts.Known known = ctx.attribute(KNOWN);
    if (known == null) {
      throw new Problem(401, "not-signed-in", "Not signed in", "Sign in to go on.");
    }
    return known;
  }

  private static Caller caller(Context ctx) {
    return known(ctx).caller();
  }

  // ---- small help ------------------------------------------------------------------------------

  private static void json(Context ctx, Object value) {
    ctx.result(Json.write(value));
    ctx.contentType("application/json");
  }

  private static void created(Context ctx, Object value) {
    ctx.status(201);
    json(ctx, value);
  }

  private static void versioned(Context ctx, int version, Object value) {
    ctx.header("ETag", "\"" + version + "\"");
    json(ctx, value);
  }

  private static int ifMatch(Context ctx) {
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

  private static String query(Context ctx, String name) {
    String value = ctx.queryParam(name);
    return value == null ? "" : value;
  }

  private static Page.Request page(Context ctx) {
    String limit = query(ctx, "limit");
    if (!limit.isEmpty() && !limit.matches("\\d{1,6}")) {
      throw Problem.malformed("/limit", "limit has to be a whole number.");
    }
    return new Page.Request(query(ctx, "after"), limit.isEmpty() ? 50 : Integer.parseInt(limit));
  }

  private static <T> T body(Context ctx, Class<T> type) {
    return Json.request(ctx.body(), type);
  }

  private static String id(Context ctx) {
    return ctx.pathParam("id");
  }

  private static String text(@Nullable String value) {
    return value == null ? "" : value;
  }

  // ---- access ----------------------------------------------------------------------------------

  private record SignIn(
      @Nullable String login,
      @Nullable String password,
      @Nullable String label,
      @Nullable Boolean program) {}

  private record NewAccount(
      @Nullable String login,
      @Nullable String name,
      @Nullable String role,
      @Nullable String password) {}

  private record SignedIn(
      Accounts.Account account, String csrf, Optional<String> token, java.time.Instant expiresAt) {}

  private record Me(Accounts.Account account, String csrf, String organisation) {}

  private void access(RoutesConfig r) {
    r.post(
        ROOT + "/sign-in",
        ctx -> {
          SignIn s = body(ctx, SignIn.class);
          boolean program = Boolean.TRUE.equals(s.program());
          String label = s.label() == null ? (program ? "program" : "console") : s.label();
          Accounts.SignedIn in =
              pinwright
                  .accounts()
                  .signIn(text(s.login()), text(s.password()), label, program, ctx.ip());
          if (!program) {
            Cookie cookie =
                new Cookie(
                    COOKIE,
                    in.token(),
                    "/",
                    (int) Accounts.LASTS.toSeconds(),
                    pinwright.settings().secureCookies(),
                    true);
            cookie.setSameSite(SameSite.STRICT);
            ctx.cookie(cookie);
          }
          json(
              ctx,
              new SignedIn(
                  in.account(),
                  in.csrf(),
                  program ? Optional.of(in.token()) : Optional.empty(),
                  in.expiresAt()));
        });
    r.delete(
        ROOT + "/sign-in",
        ctx -> {
          known(ctx);
          pinwright.accounts().signOut(text(ctx.attribute(TOKEN)));
          ctx.removeCookie(COOKIE);
          ctx.status(204);
        });
    r.get(
        ROOT + "/me",
        ctx ->
            json(
                ctx,
                new Me(
                    known(ctx).account(), known(ctx).csrf(), pinwright.settings().organisation())));
    r.get(ROOT + "/accounts", ctx -> json(ctx, pinwright.accounts().all(caller(ctx))));
    r.post(
        ROOT + "/accounts",
        ctx -> {
          NewAccount a = body(ctx, NewAccount.class);
          created(
              ctx,
              pinwright
                  .accounts()
                  .add(
                      caller(ctx),
                      text(a.login()),
                      text(a.name()),
                      text(a.role()),
                      text(a.password())));
        });
  }

  // ---- catalogue -------------------------------------------------------------------------------

  private void catalogue(RoutesConfig r) {
    var catalog = pinwright.catalogue().catalog();
    CatalogueView view = CatalogueView.of(catalog);
    r.get(ROOT + "/catalogue", ctx -> json(ctx, view));
    r.get(
        ROOT + "/settings",
        ctx ->
            json(
                ctx,
                catalog.search(query(ctx, "q")).stream().map(CatalogueView::setting).toList()));
    r.get(
        ROOT + "/search", ctx -> json(ctx, pinwright.search().find(caller(ctx), query(ctx, "q"))));
  }

  // ---- intake ----------------------------------------------------------------------------------

  private record NewTerms(@Nullable String title, @Nullable String text) {}

  private record Reason(@Nullable String reason) {}

  private void intake(RoutesConfig r) {
    EnrollmentProfiles profiles = pinwright.enrollmentProfiles();
    r.get(ROOT + "/terms", ctx -> json(ctx, profiles.terms(caller(ctx))));
    r.post(
        ROOT + "/terms",
        ctx -> {
          NewTerms t = body(ctx, NewTerms.class);
          created(ctx, profiles.addTerms(caller(ctx), t.title(), t.text()));
        });
    r.get(ROOT + "/enrollment-profiles", ctx -> json(ctx, profiles.page(caller(ctx), page(ctx))));
    r.post(
        ROOT + "/enrollment-profiles",
        ctx -> {
          var made = profiles.add(caller(ctx), body(ctx, EnrollmentProfiles.Draft.class));
          ctx.status(201);
          versioned(ctx, made.version(), made);
        });
    r.get(
        ROOT + "/enrollment-profiles/{id}",
        ctx -> {
          var shown = profiles.get(caller(ctx), id(ctx));
          versioned(ctx, shown.version(), shown);
        });
    r.put(
        ROOT + "/enrollment-profiles/{id}",
        ctx -> {
          var shown =
              profiles.change(
                  caller(ctx), id(ctx), ifMatch(ctx), body(ctx, EnrollmentProfiles.Draft.class));
          versioned(ctx, shown.version(), shown);
        });
    r.delete(
        ROOT + "/enrollment-profiles/{id}",
        ctx -> {
          profiles.delete(caller(ctx), id(ctx));
          ctx.status(204);
        });
    invitations(r, pinwright.invitations());
    r.get(
        ROOT + "/arrivals",
        ctx -> json(ctx, pinwright.arrivals().page(caller(ctx), query(ctx, "outcome"), page(ctx))));
    r.post(
        ROOT + "/arrivals/{id}/approval",
        ctx -> json(ctx, pinwright.arrivals().approve(caller(ctx), id(ctx))));
    r.post(
        ROOT + "/arrivals/{id}/refusal",
        ctx ->
            json(
                ctx,
                pinwright
                    .arrivals()
                    .refuse(caller(ctx), id(ctx), text(body(ctx, Reason.class).reason()))));
  }

  private void invitations(RoutesConfig r, Invitations invitations) {
    r.get(ROOT + "/invitations", ctx -> json(ctx, invitations.page(caller(ctx), page(ctx))));
    r.post(
        ROOT + "/invitations",
        ctx -> created(ctx, invitations.add(caller(ctx), body(ctx, Invitations.Draft.class))));
    r.get(ROOT + "/invitations/{id}", ctx -> json(ctx, invitations.get(caller(ctx), id(ctx))));
    r.post(
        ROOT + "/invitations/{id}/withdrawal",
        ctx -> json(ctx, invitations.withdraw(caller(ctx), id(ctx))));
    r.get(
        ROOT + "/invitations/{id}/qr.svg",
        ctx -> {
          ctx.result(invitations.qr(caller(ctx), id(ctx)).svg());
          ctx.contentType("image/svg+xml");
        });
    r.get(
        ROOT + "/invitations/{id}/qr.png",
        ctx -> {
          ctx.result(invitations.qr(caller(ctx), id(ctx)).png(8));
          ctx.contentType("image/png");
        });
    r.get(
        ROOT + "/invitations/{id}/join-file",
        ctx -> {
          json(ctx, invitations.file(caller(ctx), id(ctx)));
          ctx.header("Content-Disposition", "attachment; filename=\"join.json\"");
        });
  }

  // ---- devices ---------------------------------------------------------------------------------

  private record DeviceChange(@Nullable String name) {}

  private record TagList(@Nullable List<String> tags) {}

  private record NewGroup(@Nullable String name) {}

  private record GroupMembers(@Nullable List<String> add, @Nullable List<String> remove) {}

  private void devices(RoutesConfig r) {
    Devices devices = pinwright.devices();
    r.get(
        ROOT + "/devices",
        ctx ->
            json(
                ctx,
                devices.page(
                    caller(ctx),
                    new Devices.Filter(
                        query(ctx, "q"),
                        query(ctx, "platform"),
                        query(ctx, "standing"),
                        query(ctx, "mode"),
                        query(ctx, "ownership"),
                        query(ctx, "tag"),
                        query(ctx, "group"),
                        query(ctx, "sort").isEmpty() ? "name" : query(ctx, "sort"),
                        query(ctx, "retired").equals("true")),
                    page(ctx))));
    r.get(ROOT + "/devices/{id}", ctx -> json(ctx, devices.get(caller(ctx), id(ctx))));
    r.patch(
        ROOT + "/devices/{id}",
        ctx ->
            json(
                ctx,
                devices.rename(caller(ctx), id(ctx), text(body(ctx, DeviceChange.class).name()))));
    r.put(
        ROOT + "/devices/{id}/tags",
        ctx -> {
          List<String> tags = body(ctx, TagList.class).tags();
          if (tags == null) {
            throw Problem.malformed("/tags", "Give the list of tags.");
          }
          json(ctx, devices.tag(caller(ctx), id(ctx), tags));
        });
    r.get(
        ROOT + "/devices/{id}/settings", ctx -> json(ctx, devices.settings(caller(ctx), id(ctx))));
    r.get(
        ROOT + "/devices/{id}/activity",
        ctx -> json(ctx, devices.activity(caller(ctx), id(ctx), page(ctx))));
    r.get(
        ROOT + "/devices/{id}/commands",
        ctx -> json(ctx, pinwright.dispatches().commands(caller(ctx), "", id(ctx), "", page(ctx))));
    r.post(
        ROOT + "/devices/{id}/retirement",
        ctx -> {
          devices.retire(caller(ctx), id(ctx), text(body(ctx, Reason.class).reason()));
          ctx.status(204);
        });
    r.get(ROOT + "/fleet", ctx -> json(ctx, devices.fleet(caller(ctx), pinwright.wakes().open())));
    r.get(ROOT + "/tags", ctx -> json(ctx, devices.tags(caller(ctx))));
    var groups = pinwright.groups();
    r.get(ROOT + "/groups", ctx -> json(ctx, groups.page(caller(ctx), query(ctx, "q"), page(ctx))));
    r.post(
        ROOT + "/groups",
        ctx -> created(ctx, groups.add(caller(ctx), text(body(ctx, NewGroup.class).name()))));
    r.get(ROOT + "/groups/{id}", ctx -> json(ctx, groups.get(caller(ctx), id(ctx))));
    r.post(
        ROOT + "/groups/{id}/members",
        ctx -> {
          GroupMembers m = body(ctx, GroupMembers.class);
          json(
              ctx,
              groups.members(
                  caller(ctx),
                  id(ctx),
                  m.add() == null ? List.of() : m.add(),
                  m.remove() == null ? List.of() : m.remove()));
        });
    r.delete(
        ROOT + "/groups/{id}",
        ctx -> {
          groups.delete(caller(ctx), id(ctx));
          ctx.status(204);
        });
  }

  // ---- rules -----------------------------------------------------------------------------------

  private record Publication(Optional<Long> confirmDevices) {}

  private void rules(RoutesConfig r) {
    Profiles profiles = pinwright.profiles();
    r.get(
        ROOT + "/profiles",
        ctx -> json(ctx, profiles.page(caller(ctx), query(ctx, "q"), page(ctx))));
    r.post(
        ROOT + "/profiles",
        ctx -> {
          var made = profiles.add(caller(ctx), body(ctx, Profiles.Draft.class));
          ctx.status(201);
          versioned(ctx, made.version(), made);
        });
    r.get(
        ROOT + "/profiles/{id}",
        ctx -> {
          var shown = profiles.get(caller(ctx), id(ctx));
          versioned(ctx, shown.version(), shown);
        });
    r.put(
        ROOT + "/profiles/{id}",
        ctx -> {
          var shown =
              profiles.change(caller(ctx), id(ctx), ifMatch(ctx), body(ctx, Profiles.Draft.class));
          versioned(ctx, shown.version(), shown);
        });
    r.delete(
        ROOT + "/profiles/{id}",
        ctx -> {
          profiles.delete(caller(ctx), id(ctx), ifMatch(ctx));
          ctx.status(204);
        });
    r.get(
        ROOT + "/profiles/{id}/rehearsal",
        ctx -> json(ctx, profiles.rehearse(caller(ctx), id(ctx))));
    r.post(
        ROOT + "/profiles/{id}/publication",
        ctx ->
            json(
                ctx,
                profiles.publish(
                    caller(ctx),
                    id(ctx),
                    ifMatch(ctx),
                    body(ctx, Publication.class).confirmDevices())));
    r.get(
        ROOT + "/profiles/{id}/versions",
        ctx -> json(ctx, profiles.versions(caller(ctx), id(ctx), page(ctx))));
    r.get(ROOT + "/changes", ctx -> json(ctx, profiles.changes(caller(ctx), page(ctx))));
    r.get(ROOT + "/changes/{id}", ctx -> json(ctx, profiles.change(caller(ctx), id(ctx))));
  }

  // ---- acting ----------------------------------------------------------------------------------

  private void acting(RoutesConfig r) {
    Dispatches dispatches = pinwright.dispatches();
    r.post(
        ROOT + "/dispatches/rehearsal",
        ctx -> json(ctx, dispatches.rehearse(caller(ctx), body(ctx, Dispatches.Order.class))));
    r.post(
        ROOT + "/dispatches",
        ctx ->
            created(
                ctx,
                dispatches.order(
                    caller(ctx),
                    body(ctx, Dispatches.Order.class),
                    text(ctx.header("Idempotency-Key")))));
    r.get(ROOT + "/dispatches", ctx -> json(ctx, dispatches.page(caller(ctx), page(ctx))));
    r.get(ROOT + "/dispatches/{id}", ctx -> json(ctx, dispatches.get(caller(ctx), id(ctx))));
    r.get(
        ROOT + "/dispatches/{id}/commands",
        ctx ->
            json(
                ctx,
                dispatches.commands(caller(ctx), id(ctx), "", query(ctx, "state"), page(ctx))));
    r.post(
        ROOT + "/dispatches/{id}/cancellation",
        ctx -> json(ctx, Map.of("cancelled", dispatches.cancel(caller(ctx), id(ctx)))));
    r.post(
        ROOT + "/commands/{id}/cancellation",
        ctx -> {
          dispatches.cancelCommand(caller(ctx), id(ctx));
          ctx.status(204);
        });
  }

  // ---- records ---------------------------------------------------------------------------------

  private void records(RoutesConfig r) {
    r.get(
        ROOT + "/journal",
        ctx ->
            json(
                ctx,
                pinwright
                    .journal()
                    .page(caller(ctx), query(ctx, "subject"), query(ctx, "q"), page(ctx))));
    r.get(
        ROOT + "/journal/verification", ctx -> json(ctx, pinwright.journal().verify(caller(ctx))));
    r.sse(ROOT + "/events", this::events);
  }

  private void events(SseClient client) {
    known(client.ctx());
    client.keepAlive();
    Runnable stop =
        pinwright.events().listen(topics -> client.sendEvent("changed", String.join(",", topics)));
    client.onClose(stop);
    client.sendEvent("changed", "everything");
  }
}
