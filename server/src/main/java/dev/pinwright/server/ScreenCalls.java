package dev.pinwright.server;

import static dev.pinwright.server.Calls.*;

import dev.pinwright.service.Pinwright;
import dev.pinwright.service.acting.Outputs;
import dev.pinwright.service.screen.Assists;
import dev.pinwright.service.screen.Screenshots;
import java.util.Map;

/** Screens that are looked at, pictures of screens, and what commands brought back. */
final class ScreenCalls {
  static final String SCREEN = ROOT + "/assists/{id}/screen";

  private final Pinwright pinwright;

  ScreenCalls(Pinwright pinwright) {
    this.pinwright = pinwright;
  }

  void install(Routes r) {
    Assists assists = pinwright.assists();
    r.get(
        ROOT + "/devices/{id}/assists",
        ctx -> json(ctx, Map.of("items", assists.ofDevice(caller(ctx), id(ctx)))));
    r.get(ROOT + "/assists/{id}", ctx -> json(ctx, assists.get(caller(ctx), id(ctx))));
    r.post(ROOT + "/assists/{id}/end", ctx -> json(ctx, assists.end(caller(ctx), id(ctx))));
    r.get(
        SCREEN,
        ctx ->
            Problems.answer(
                Problems.upgradeRequired(ctx, "opened by whoever ordered the assist"), ctx));
    Screenshots screenshots = pinwright.screenshots();
    r.get(
        ROOT + "/devices/{id}/screenshots",
        ctx -> json(ctx, Map.of("items", screenshots.ofDevice(caller(ctx), id(ctx)))));
    r.get(
        ROOT + "/screenshots/{id}",
        ctx -> {
          Screenshots.Seen seen = screenshots.look(caller(ctx), id(ctx));
          ctx.result(seen.picture());
          ctx.contentType(seen.mediaType());
        });
    r.delete(
        ROOT + "/screenshots/{id}",
        ctx -> {
          screenshots.delete(caller(ctx), id(ctx));
          ctx.status(204);
        });
    Outputs outputs = pinwright.outputs();
    r.get(ROOT + "/commands/{id}/output", ctx -> json(ctx, outputs.look(caller(ctx), id(ctx))));
  }
}
