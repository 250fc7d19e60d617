package dev.pinwright.server;

import static dev.pinwright.server.Calls.*;

import dev.pinwright.service.Pinwright;
import dev.pinwright.service.access.Accounts;
import dev.pinwright.service.work.Problem;
import io.javalin.config.JavalinConfig;
import io.javalin.http.Context;
import java.util.Optional;

/**
 * {@code /api/v1}, as {@code api/openapi.yaml} lists it; the calls of each area in a class of its
 * own.
 */
final class Api {
  private final Pinwright pinwright;
  private final AssistRelay relay;

  Api(Pinwright pinwright, AssistRelay relay) {
    this.relay = relay;
    this.pinwright = pinwright;
  }

  void install(JavalinConfig config) {
    config.routes.before(ROOT + "/*", this::authenticate);
    Routes r = new Routes(config.routes, Contract.read());
    new AccessCalls(pinwright).install(r);
    new CatalogueCalls(pinwright).install(r);
    new OrganisationCalls(pinwright).install(r);
    new IntakeCalls(pinwright).install(r);
    new RosterCalls(pinwright).install(r);
    new BenchCalls(pinwright).install(r);
    new HouseCalls(pinwright).install(r);
    new DeviceCalls(pinwright).install(r);
    new RuleCalls(pinwright).install(r);
    new ProposalCalls(pinwright.proposals(), pinwright.thresholds()).install(r);
    new CheckCalls(pinwright.checks(), pinwright.orders()).install(r);
    new ConfigurationCalls(pinwright.configurations(), pinwright.files()).install(r);
    new FileCalls(pinwright.files()).install(r);
    new AppCalls(pinwright).install(r);
    new StoreCalls(pinwright).install(r);
    new ActingCalls(pinwright).install(r);
    new ScreenCalls(pinwright).install(r);
    config.routes.wsBeforeUpgrade(
        ScreenCalls.SCREEN,
        ctx -> {
          authenticate(ctx);
          relay.asks(ctx);
        });
    config.routes.ws(ScreenCalls.SCREEN, relay::watcher);
    new LostCalls(pinwright).install(r);
    new HolderCalls(pinwright).install(r);
    new RecordCalls(pinwright).install(r);
    r.complete();
    // last, so that an unknown call is not answered with the console's page
    config.routes.get(
        ROOT + "/*",
        ctx -> {
          throw new Problem(404, "not-found", "Not found", "There is no such call.");
        });
  }

  /**
   * A browser says where a request began; one that began on a page of somebody else is not what
   * whoever is signed in here meant, nor is signing in from there.
   */
  private static void ownPage(Context ctx) {
    String site = ctx.header("Sec-Fetch-Site");
    String origin = ctx.header("Origin");
    boolean foreign =
        site != null
            ? !site.equals("same-origin") && !site.equals("none")
            : origin != null && !origin.replaceFirst("^https?://", "").equals(ctx.header("Host"));
    boolean changes = !ctx.method().name().equals("GET") && !ctx.method().name().equals("HEAD");
    if (foreign && changes) {
      throw new Problem(
          403, "foreign-page", "Not accepted", "This comes from a page of another address.");
    }
  }

  private void authenticate(Context ctx) {
    ownPage(ctx);
    boolean holders =
        ctx.path().equals(HolderCalls.MINE) || ctx.path().startsWith(HolderCalls.MINE + "/");
    if (holders || ctx.path().equals(ROOT + "/sign-in") && ctx.method().name().equals("POST")) {
      return; // whoever holds devices signs in apart from the accounts
    }
    String header = ctx.header("Authorization");
    boolean program = header != null && header.startsWith("Bearer ");
    String token = program ? header.substring("Bearer ".length()) : ctx.cookie(COOKIE);
    Accounts.Entered known =
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
}
