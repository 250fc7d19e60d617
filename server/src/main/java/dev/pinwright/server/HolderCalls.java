package dev.pinwright.server;

import static dev.pinwright.server.Calls.*;

import dev.pinwright.service.Pinwright;
import dev.pinwright.service.holder.Holders;
import dev.pinwright.service.work.Problem;
import io.javalin.http.Context;
import java.time.Instant;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** The page of people who hold devices, who sign in for it apart from the accounts. */
final class HolderCalls {
  static final String MINE = ROOT + "/mine";
  private static final String COOKIE_OF_HOLDER = "pinwright-holder";

  private final Pinwright pinwright;

  HolderCalls(Pinwright pinwright) {
    this.pinwright = pinwright;
  }

  private record SignIn(@Nullable String login, @Nullable String password) {}

  private record SignedIn(String csrf, Instant expiresAt) {}

  void install(Routes r) {
    Holders holders = pinwright.holders();
    r.post(
        MINE + "/sign-in",
        ctx -> {
          SignIn s = body(ctx, SignIn.class);
          Holders.SignedIn in = holders.signIn(text(s.login()), text(s.password()), ctx.ip());
          cookie(ctx, pinwright, COOKIE_OF_HOLDER, in.token(), Holders.LASTS);
          json(ctx, new SignedIn(in.csrf(), in.expiresAt()));
        });
    r.delete(
        MINE + "/sign-in",
        ctx -> {
          holder(ctx);
          holders.signOut(text(ctx.cookie(COOKIE_OF_HOLDER)));
          ctx.removeCookie(COOKIE_OF_HOLDER);
          ctx.status(204);
        });
    r.get(MINE, ctx -> json(ctx, holders.page(holder(ctx))));
    r.post(
        MINE + "/devices/{id}/commands",
        ctx -> {
          holders.act(holder(ctx), id(ctx), body(ctx, Holders.Deed.class));
          ctx.status(204);
        });
    r.post(
        MINE + "/devices/{id}/loss",
        ctx ->
            created(
                ctx,
                Map.of(
                    "caseId",
                    holders.lost(holder(ctx), id(ctx), body(ctx, Holders.Report.class)))));
    r.get(
        MINE + "/devices/{id}/apps",
        ctx -> json(ctx, Map.of("items", holders.apps(holder(ctx), id(ctx)))));
    r.post(
        MINE + "/devices/{id}/app-requests",
        ctx -> {
          holders.wish(holder(ctx), id(ctx), body(ctx, Holders.Wish.class));
          ctx.status(204);
        });
    r.get(
        MINE + "/devices/{id}/activity",
        ctx -> json(ctx, Map.of("items", holders.did(holder(ctx), id(ctx)))));
  }

  /**
   * Whoever is signed in to the page of holders; a change has to carry the value of the sign-in.
   */
  private Holders.Holder holder(Context ctx) {
    Holders.Holder holder =
        Optional.ofNullable(ctx.cookie(COOKIE_OF_HOLDER))
            .flatMap(pinwright.holders()::known)
            .orElseThrow(
                () ->
                    new Problem(
                        401,
                        "not-signed-in",
                        "Not signed in",
                        "Sign in with your staff account to go on."));
    if (!ctx.method().name().equals("GET") && !holder.csrf().equals(ctx.header("X-CSRF"))) {
      throw new Problem(
          403,
          "csrf",
          "Not accepted",
          "A change from a browser has to carry the X-CSRF value of this sign-in.");
    }
    return holder;
  }
}
