package dev.pinwright.server;

import static dev.pinwright.server.Calls.*;

import dev.pinwright.core.app.Channel;
import dev.pinwright.service.Pinwright;
import dev.pinwright.service.app.AppSources;
import dev.pinwright.service.app.Apps;
import dev.pinwright.service.app.ConfigurationCodes;
import dev.pinwright.service.app.Releases;
import dev.pinwright.service.app.WebApps;
import dev.pinwright.service.file.Uploads;
import dev.pinwright.service.rules.Waves;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.ManyLines;
import dev.pinwright.service.work.Problem;
import io.javalin.http.Context;
import java.io.InputStream;
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

  private record Push(Optional<String> device) {}

  void install(Routes r) {
    Apps apps = pinwright.apps();
    Releases releases = pinwright.releases();
    r.get(
        ROOT + "/apps",
        ctx -> json(ctx, apps.page(caller(ctx), query(ctx, "q"), query(ctx, "from"), page(ctx))));
    r.get(ROOT + "/apps/behind", ctx -> json(ctx, Map.of("items", apps.behind(caller(ctx)))));
    r.post(ROOT + "/apps/packages", this::bring);
    r.post(
        ROOT + "/apps/web",
        ctx -> {
          Apps.Detail made = pinwright.webApps().make(caller(ctx), body(ctx, WebApps.Spec.class));
          ctx.status(201);
          versioned(ctx, made.version(), made);
        });
    r.patch(
        ROOT + "/apps/{id}/web",
        ctx -> {
          Apps.Brought brought =
              pinwright
                  .webApps()
                  .change(caller(ctx), id(ctx), ifMatch(ctx), body(ctx, WebApps.Spec.class));
          versioned(ctx, brought.app().version(), brought);
        });
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
    r.get(
        ROOT + "/apps/{id}/devices.csv",
        ctx -> sheet(ctx, "devices", apps.sheet(caller(ctx), id(ctx), query(ctx, "with"))));
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
        ROOT + "/apps/{id}/push",
        ctx ->
            json(
                ctx,
                Map.of(
                    "devices", apps.push(caller(ctx), id(ctx), body(ctx, Push.class).device()))));
    codes(r, pinwright.configurationCodes());
    uploads(r, pinwright.uploads());
    sources(r, pinwright.appSources());
    r.get(
        ROOT + "/devices/{id}/apps",
        ctx -> json(ctx, pinwright.deviceApps().of(caller(ctx), id(ctx))));
    r.post(
        ROOT + "/devices/{id}/apps/push",
        ctx -> json(ctx, Map.of("devices", pinwright.deviceApps().push(caller(ctx), id(ctx)))));
  }

  /** Codes for apps on devices that are not enrolled. */
  private void codes(Routes r, ConfigurationCodes codes) {
    r.get(
        ROOT + "/app-codes",
        ctx -> json(ctx, codes.page(caller(ctx), query(ctx, "app"), page(ctx))));
    r.post(
        ROOT + "/app-codes",
        ctx -> created(ctx, codes.make(caller(ctx), body(ctx, ConfigurationCodes.Draft.class))));
    r.get(
        ROOT + "/app-codes/sheet.pdf",
        ctx -> {
          ctx.result(codes.sheet(caller(ctx), ctx.queryParams("id")));
          ctx.contentType("application/pdf");
          ctx.header("Content-Disposition", "inline; filename=\"codes.pdf\"");
        });
    r.get(ROOT + "/app-codes/{id}", ctx -> json(ctx, codes.get(caller(ctx), id(ctx))));
    r.post(
        ROOT + "/app-codes/{id}/revocation", ctx -> json(ctx, codes.revoke(caller(ctx), id(ctx))));
    r.get(
        ROOT + "/app-codes/{id}/qr.svg",
        ctx -> {
          ctx.result(codes.qr(caller(ctx), id(ctx)).svg());
          ctx.contentType("image/svg+xml");
        });
    r.get(
        ROOT + "/app-codes/{id}/qr.png",
        ctx -> {
          ctx.result(codes.qr(caller(ctx), id(ctx)).png(8));
          ctx.contentType("image/png");
        });
  }

  private static long from(Context ctx) {
    String text = query(ctx, "from");
    if (!text.matches("\\d{1,15}")) {
      throw Problem.malformed("/from", "Say by a number of bytes where the part begins.");
    }
    return Long.parseLong(text);
  }

  /** Where later versions are looked for. */
  private void sources(Routes r, AppSources sources) {
    r.get(
        ROOT + "/apps/{id}/source",
        ctx -> {
          AppSources.Shown source = sources.get(caller(ctx), id(ctx));
          versioned(ctx, source.version(), source);
        });
    r.put(
        ROOT + "/apps/{id}/source",
        ctx -> {
          AppSources.Shown source =
              sources.set(caller(ctx), id(ctx), ifMatch(ctx), body(ctx, AppSources.Spec.class));
          versioned(ctx, source.version(), source);
        });
    r.delete(
        ROOT + "/apps/{id}/source",
        ctx -> {
          sources.forget(caller(ctx), id(ctx), ifMatch(ctx));
          ctx.status(204);
        });
    r.post(ROOT + "/apps/{id}/source/look", ctx -> json(ctx, sources.look(caller(ctx), id(ctx))));
  }

  /** Packages that come in parts. */
  private void uploads(Routes r, Uploads uploads) {
    r.post(
        ROOT + "/uploads",
        ctx -> created(ctx, uploads.begin(caller(ctx), body(ctx, Uploads.Draft.class))));
    r.get(ROOT + "/uploads/{id}", ctx -> json(ctx, uploads.get(caller(ctx), id(ctx))));
    r.delete(
        ROOT + "/uploads/{id}",
        ctx -> {
          uploads.forget(caller(ctx), id(ctx));
          ctx.status(204);
        });
    r.post(
        ROOT + "/uploads/{id}/parts",
        ctx -> json(ctx, uploads.take(caller(ctx), id(ctx), from(ctx), ctx.bodyInputStream())));
    r.post(
        ROOT + "/uploads/{id}/package",
        ctx -> {
          Caller caller = caller(ctx);
          try (InputStream whole = uploads.whole(caller, id(ctx))) {
            brought(ctx, pinwright.apps().bring(caller, whole));
          }
          uploads.forget(caller, id(ctx));
        });
  }

  private void bring(Context ctx) {
    String type = ctx.contentType();
    if (type == null || !type.startsWith(PACKAGE)) {
      throw new Problem(415, "wrong-media-type", "Wrong media type", "Send " + PACKAGE + ".");
    }
    brought(ctx, pinwright.apps().bring(caller(ctx), ctx.bodyInputStream()));
  }

  private static void brought(Context ctx, Apps.Brought brought) {
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
