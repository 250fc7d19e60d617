package dev.pinwright.server;

import static dev.pinwright.server.Calls.*;

import dev.pinwright.service.Pinwright;
import dev.pinwright.service.app.Apps;
import dev.pinwright.service.app.StoreApps;
import dev.pinwright.service.license.Licenses;
import dev.pinwright.service.work.Problem;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** The stores of platforms, and the licenses that were bought there. */
final class StoreCalls {
  private static final String STORE = ROOT + "/gateways/{platform}/store";
  private static final String POOLS = ROOT + "/license-pools";

  private final Pinwright pinwright;

  StoreCalls(Pinwright pinwright) {
    this.pinwright = pinwright;
  }

  private record Choice(@Nullable String id) {}

  private record Place(@Nullable String siteId) {}

  private record Moved(@Nullable String place, @Nullable Long number) {}

  void install(Routes r) {
    StoreApps store = pinwright.storeApps();
    Licenses licenses = pinwright.licenses();
    r.get(
        STORE + "/countries",
        ctx -> json(ctx, Map.of("items", store.countries(caller(ctx), ctx.pathParam("platform")))));
    r.get(
        STORE + "/apps",
        ctx ->
            json(
                ctx,
                Map.of(
                    "items",
                    store.search(
                        caller(ctx),
                        ctx.pathParam("platform"),
                        query(ctx, "country"),
                        query(ctx, "q")))));
    r.post(
        STORE + "/apps",
        ctx -> {
          String id = body(ctx, Choice.class).id();
          if (id == null || id.isBlank()) {
            throw Problem.malformed("/id", "Name an app by the id the store has it under.");
          }
          Apps.Detail added = store.add(caller(ctx), ctx.pathParam("platform"), id);
          versioned(ctx, added.version(), added);
        });
    r.post(
        STORE + "/reading", ctx -> json(ctx, store.sync(caller(ctx), ctx.pathParam("platform"))));
    r.get(
        POOLS,
        ctx ->
            json(ctx, licenses.page(caller(ctx), query(ctx, "q"), query(ctx, "app"), page(ctx))));
    r.post(
        POOLS + "/codes",
        ctx -> json(ctx, licenses.redeem(caller(ctx), body(ctx, Licenses.Codes.class))));
    r.get(
        POOLS + "/{id}",
        ctx -> {
          Licenses.Pool pool = licenses.get(caller(ctx), id(ctx));
          versioned(ctx, pool.version(), pool);
        });
    r.patch(
        POOLS + "/{id}",
        ctx -> {
          Licenses.Pool pool =
              licenses.forSite(caller(ctx), id(ctx), ifMatch(ctx), body(ctx, Place.class).siteId());
          versioned(ctx, pool.version(), pool);
        });
    r.post(
        POOLS + "/{id}/moves",
        ctx -> {
          Moved moved = body(ctx, Moved.class);
          json(ctx, licenses.move(caller(ctx), id(ctx), moved.place(), moved.number()));
        });
  }
}
