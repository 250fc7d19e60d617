package dev.pinwright.server;

import static dev.pinwright.server.Calls.*;

import dev.pinwright.core.app.Channel;
import dev.pinwright.service.Pinwright;
import dev.pinwright.service.app.Apps;
import dev.pinwright.service.app.Releases;
import dev.pinwright.service.rules.Waves;
import dev.pinwright.service.work.ManyLines;
import dev.pinwright.service.work.Problem;
import io.javalin.http.Context;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Apps: packages, versions, which devices have them. */
final class AppCalls {
  static final String PACKAGE = "application/vnd.pinwright.package+zip";

  private final Pinwright pinwright;

  AppCalls(Pinwright pinwright) {
    this.pinwright = pinwright;
  }

  private record Spec(
      @Nullable Long code,
      @Nullable Channel channel,
      Optional<Long> confirmDevices,
      @ManyLines Optional<String> reason,
      Optional<Waves.Spec> waves) {
    long version() {
      if (code == null) {
        throw Problem.malformed("/code", "Say by its code which version.");
      }
      return code;
    }

    Channel to() {
      return channel == null ? Channel.ALL : channel;
    }
  }

  private record Retry(Optional<String> device) {}

  void install(Routes r) {
    Apps apps = pinwright.apps();
    Releases releases = pinwright.releases();
    r.get(ROOT + "/apps", ctx -> json(ctx, apps.page(caller(ctx), query(ctx, "q"), page(ctx))));
    r.post(ROOT + "/apps/packages", this::bring);
    r.get(
        ROOT + "/apps/{id}",
        ctx -> {
          Apps.Detail app = apps.get(caller(ctx), id(ctx));
          versioned(ctx, app.version(), app);
        });
    r.delete(
        ROOT + "/apps/{id}",
        ctx -> {
          apps.delete(caller(ctx), id(ctx), ifMatch(ctx));
          ctx.status(204);
        });
    r.get(ROOT + "/apps/{id}/icon", this::icon);
    r.get(
        ROOT + "/apps/{id}/versions",
        ctx -> json(ctx, apps.versions(caller(ctx), id(ctx), page(ctx))));
    r.get(
        ROOT + "/apps/{id}/devices",
        ctx -> json(ctx, apps.devices(caller(ctx), id(ctx), query(ctx, "with"), page(ctx))));
    r.post(
        ROOT + "/apps/{id}/release-rehearsal",
        ctx -> {
          Spec spec = body(ctx, Spec.class);
          json(ctx, releases.rehearse(caller(ctx), id(ctx), spec.version(), spec.to()));
        });
    r.post(
        ROOT + "/apps/{id}/releases",
        ctx -> {
          Spec spec = body(ctx, Spec.class);
          Releases.Released released =
              releases.release(
                  caller(ctx),
                  id(ctx),
                  ifMatch(ctx),
                  spec.version(),
                  spec.to(),
                  given(spec.confirmDevices(), spec.reason()),
                  spec.waves());
          versioned(ctx, released.app().version(), released);
        });
    r.post(
        ROOT + "/apps/{id}/retry",
        ctx ->
            json(
                ctx,
                Map.of(
                    "devices",
                    apps.tryAgain(caller(ctx), id(ctx), body(ctx, Retry.class).device()))));
    r.get(
        ROOT + "/devices/{id}/apps",
        ctx -> json(ctx, pinwright.deviceApps().of(caller(ctx), id(ctx))));
  }

  private void bring(Context ctx) {
    String type = ctx.contentType();
    if (type == null || !type.startsWith(PACKAGE)) {
      throw new Problem(415, "wrong-media-type", "Wrong media type", "Send " + PACKAGE + ".");
    }
    Apps.Brought brought = pinwright.apps().bring(caller(ctx), ctx.bodyInputStream());
    ctx.status(brought.before() ? 200 : 201);
    versioned(ctx, brought.app().version(), brought);
  }

  private void icon(Context ctx) {
    byte[] icon =
        pinwright
            .apps()
            .icon(caller(ctx), id(ctx))
            .orElseThrow(() -> Problem.notFound("icon", id(ctx)));
    ctx.header("Cache-Control", "private, max-age=300");
    ctx.contentType("image/png");
    ctx.result(icon);
  }
}
