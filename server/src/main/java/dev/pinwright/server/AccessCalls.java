package dev.pinwright.server;

import static dev.pinwright.server.Calls.*;

import dev.pinwright.service.Pinwright;
import dev.pinwright.service.access.Accounts;
import dev.pinwright.service.access.ListLayouts;
import io.javalin.http.Context;
import java.time.Duration;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Signing in and accounts. */
final class AccessCalls {
  private static final String BROWSER = "pinwright-browser";
  private static final Duration BROWSER_KNOWN = Duration.ofDays(365);
  private final Pinwright pinwright;

  AccessCalls(Pinwright pinwright) {
    this.pinwright = pinwright;
  }

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

  private record NewPassword(@Nullable String password) {}

  private record PasswordChange(@Nullable String soFar, @Nullable String password) {}

  private record SignedIn(
      Accounts.Account account, String csrf, Optional<String> token, java.time.Instant expiresAt) {}

  private record Me(Accounts.Account account, String csrf, String organisation) {}

  void install(Routes r) {
    r.post(
        ROOT + "/sign-in",
        ctx -> {
          SignIn s = body(ctx, SignIn.class);
          boolean program = Boolean.TRUE.equals(s.program());
          String label = s.label() == null ? (program ? "program" : "console") : s.label();
          Accounts.SignedIn in =
              pinwright
                  .accounts()
                  .signIn(
                      text(s.login()),
                      text(s.password()),
                      label,
                      program,
                      new Accounts.From(ctx.ip(), Optional.ofNullable(ctx.cookie(BROWSER))));
          if (!program) {
            cookie(ctx, pinwright, COOKIE, in.token(), Accounts.LASTS);
            cookie(ctx, pinwright, BROWSER, in.browser(), BROWSER_KNOWN);
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
    r.get(ROOT + "/me/lists", ctx -> json(ctx, pinwright.listLayouts().all(caller(ctx))));
    r.put(
        ROOT + "/me/lists/{id}",
        ctx ->
            json(
                ctx,
                pinwright
                    .listLayouts()
                    .keep(caller(ctx), id(ctx), body(ctx, ListLayouts.Layout.class))));
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
    r.get(
        ROOT + "/accounts/{id}",
        ctx -> versioned(ctx, pinwright.accounts().get(caller(ctx), id(ctx))));
    r.patch(
        ROOT + "/accounts/{id}",
        ctx ->
            versioned(
                ctx,
                pinwright
                    .accounts()
                    .change(caller(ctx), id(ctx), ifMatch(ctx), body(ctx, Accounts.Change.class))));
    r.delete(
        ROOT + "/accounts/{id}",
        ctx -> {
          pinwright.accounts().delete(caller(ctx), id(ctx), ifMatch(ctx));
          ctx.status(204);
        });
    r.put(
        ROOT + "/accounts/{id}/password",
        ctx ->
            versioned(
                ctx,
                pinwright
                    .accounts()
                    .resetPassword(
                        caller(ctx), id(ctx), text(body(ctx, NewPassword.class).password()))));
    r.get(ROOT + "/accounts/{id}/sign-ins", ctx -> signIns(ctx, id(ctx)));
    r.delete(ROOT + "/accounts/{id}/sign-ins/{signIn}", ctx -> endSignIn(ctx, id(ctx)));
    r.put(
        ROOT + "/me/password",
        ctx -> {
          PasswordChange p = body(ctx, PasswordChange.class);
          pinwright
              .accounts()
              .changePassword(caller(ctx), token(ctx), text(p.soFar()), text(p.password()));
          ctx.status(204);
        });
    r.get(ROOT + "/me/sign-ins", ctx -> signIns(ctx, caller(ctx).accountId()));
    r.delete(ROOT + "/me/sign-ins/{signIn}", ctx -> endSignIn(ctx, caller(ctx).accountId()));
  }

  private static String token(Context ctx) {
    return text(ctx.attribute(TOKEN));
  }

  private void signIns(Context ctx, String account) {
    json(ctx, pinwright.accounts().signIns(caller(ctx), account, token(ctx)));
  }

  private void endSignIn(Context ctx, String account) {
    pinwright.accounts().endSignIn(caller(ctx), account, ctx.pathParam("signIn"));
    ctx.status(204);
  }
}
