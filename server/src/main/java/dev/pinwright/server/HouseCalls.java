package dev.pinwright.server;

import static dev.pinwright.server.Calls.*;

import dev.pinwright.core.Words;
import dev.pinwright.core.gateway.SetUpStep;
import dev.pinwright.service.Pinwright;
import dev.pinwright.service.gateway.Gateways;
import dev.pinwright.service.gateway.Registrar;
import dev.pinwright.service.house.Connections;
import dev.pinwright.service.work.ManyLines;
import io.javalin.http.Context;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** The set-up list, gateways, mail, the staff directory, and notices. */
final class HouseCalls {
  private static final String GATEWAY = ROOT + "/gateways/{platform}";
  private final Pinwright pinwright;

  HouseCalls(Pinwright pinwright) {
    this.pinwright = pinwright;
  }

  private record Services(@Nullable String services, @ManyLines @Nullable String roots) {}

  private record Signed(@ManyLines @Nullable String certificate) {}

  private record Token(@Nullable String token) {}

  private record DefaultProfile(@Nullable String profileId) {}

  private record StepView(
      String key,
      String title,
      String state,
      String detail,
      List<String> blockedBy,
      String blocks,
      String link) {
    static StepView of(SetUpStep s) {
      return new StepView(
          s.key(), s.title(), Words.of(s.state()), s.detail(), s.blockedBy(), s.blocks(), s.link());
    }
  }

  private static String platform(Context ctx) {
    return ctx.pathParam("platform");
  }

  void install(Routes r) {
    r.get(
        ROOT + "/set-up",
        ctx ->
            json(
                ctx, pinwright.setUpList().steps(caller(ctx)).stream().map(StepView::of).toList()));
    r.get(ROOT + "/notices", ctx -> json(ctx, pinwright.notices().page(caller(ctx), page(ctx))));
    r.delete(
        ROOT + "/notices/{id}",
        ctx -> {
          pinwright.notices().putAway(caller(ctx), id(ctx));
          ctx.status(204);
        });
    r.get(ROOT + "/mail", ctx -> versioned(ctx, pinwright.connections().mail(caller(ctx))));
    r.put(
        ROOT + "/mail",
        ctx ->
            versioned(
                ctx,
                pinwright
                    .mailer()
                    .connect(caller(ctx), ifMatch(ctx), body(ctx, Connections.MailDraft.class))));
    r.get(
        ROOT + "/directory", ctx -> versioned(ctx, pinwright.connections().directory(caller(ctx))));
    r.put(
        ROOT + "/directory",
        ctx ->
            versioned(
                ctx,
                pinwright
                    .directories()
                    .connect(
                        caller(ctx), ifMatch(ctx), body(ctx, Connections.DirectoryDraft.class))));
    r.get(
        ROOT + "/directory/groups", ctx -> json(ctx, pinwright.directories().groups(caller(ctx))));
    r.post(
        ROOT + "/directory/reading",
        ctx -> json(ctx, pinwright.directories().sync(caller(ctx), number(ctx, "confirmLeaving"))));
    gateways(r, pinwright.gateways(), pinwright.registrar());
  }

  private void gateways(Routes r, Gateways gateways, Registrar registrar) {
    r.get(ROOT + "/gateways", ctx -> json(ctx, gateways.all(caller(ctx))));
    r.get(GATEWAY, ctx -> versioned(ctx, gateways.get(caller(ctx), platform(ctx))));
    r.put(
        GATEWAY,
        ctx -> {
          Services s = body(ctx, Services.class);
          versioned(
              ctx,
              gateways.setUp(caller(ctx), platform(ctx), ifMatch(ctx), s.services(), s.roots()));
        });
    r.post(
        GATEWAY + "/push/request", ctx -> json(ctx, gateways.request(caller(ctx), platform(ctx))));
    r.put(
        GATEWAY + "/push/credential",
        ctx ->
            versioned(
                ctx,
                gateways.credential(
                    caller(ctx),
                    platform(ctx),
                    ifMatch(ctx),
                    body(ctx, Signed.class).certificate())));
    r.put(
        GATEWAY + "/registrar",
        ctx ->
            versioned(
                ctx,
                gateways.connectRegistrar(
                    caller(ctx), platform(ctx), ifMatch(ctx), body(ctx, Token.class).token())));
    r.put(
        GATEWAY + "/registrar/profile",
        ctx ->
            versioned(
                ctx,
                gateways.defaultProfile(
                    caller(ctx),
                    platform(ctx),
                    ifMatch(ctx),
                    body(ctx, DefaultProfile.class).profileId())));
    r.post(
        GATEWAY + "/registrar/reading",
        ctx -> json(ctx, registrar.sync(caller(ctx), platform(ctx))));
    r.get(
        GATEWAY + "/registrar/devices",
        ctx ->
            json(
                ctx,
                registrar.page(
                    caller(ctx),
                    platform(ctx),
                    query(ctx, "q"),
                    query(ctx, "assigned"),
                    page(ctx))));
    r.post(
        GATEWAY + "/registrar/assignment",
        ctx ->
            json(
                ctx,
                Map.of(
                    "count",
                    registrar.assign(
                        caller(ctx), platform(ctx), body(ctx, Registrar.Assignment.class)))));
    r.put(
        GATEWAY + "/store",
        ctx ->
            versioned(
                ctx,
                gateways.connectStore(
                    caller(ctx), platform(ctx), ifMatch(ctx), body(ctx, Token.class).token())));
  }
}
