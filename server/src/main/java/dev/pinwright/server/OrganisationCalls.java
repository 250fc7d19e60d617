package dev.pinwright.server;

import static dev.pinwright.server.Calls.*;

import dev.pinwright.service.Pinwright;
import dev.pinwright.service.cache.SiteCaches;
import dev.pinwright.service.device.Leaving;
import dev.pinwright.service.organisation.Attributes;
import dev.pinwright.service.organisation.OrganisationSheets;
import dev.pinwright.service.organisation.People;
import dev.pinwright.service.organisation.Sites;
import dev.pinwright.service.organisation.Units;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** Units, sites and people. */
final class OrganisationCalls {
  private final Pinwright pinwright;

  OrganisationCalls(Pinwright pinwright) {
    this.pinwright = pinwright;
  }

  void install(Routes r) {
    units(r, pinwright.units());
    sites(r, pinwright.sites());
    caches(r, pinwright.siteCaches());
    people(r, pinwright.people());
    leaving(r, pinwright.leaving());
    attributes(r, pinwright.attributes());
    sheets(r, "units", OrganisationSheets.Kind.UNITS);
    sheets(r, "sites", OrganisationSheets.Kind.SITES);
    sheets(r, "people", OrganisationSheets.Kind.PEOPLE);
  }

  private void sheets(Routes r, String name, OrganisationSheets.Kind kind) {
    OrganisationSheets sheets = pinwright.organisationSheets();
    String path = ROOT + "/organisation/" + name + ".csv";
    r.get(path, ctx -> sheet(ctx, name, sheets.write(caller(ctx), kind)));
    r.post(path, ctx -> json(ctx, sheets.read(caller(ctx), kind, sheetDraft(ctx))));
  }

  private record Values(@Nullable Map<String, String> values) {}

  private static void attributes(Routes r, Attributes attributes) {
    r.get(ROOT + "/attributes", ctx -> json(ctx, attributes.all(caller(ctx))));
    r.post(
        ROOT + "/attributes",
        ctx -> created(ctx, attributes.add(caller(ctx), body(ctx, Attributes.Draft.class))));
    r.patch(
        ROOT + "/attributes/{id}",
        ctx ->
            versioned(
                ctx,
                attributes.change(
                    caller(ctx), id(ctx), ifMatch(ctx), body(ctx, Attributes.Draft.class))));
    r.delete(
        ROOT + "/attributes/{id}",
        ctx -> {
          attributes.delete(caller(ctx), id(ctx), ifMatch(ctx));
          ctx.status(204);
        });
    r.get(
        ROOT + "/attributes/{kind}/{id}",
        ctx -> json(ctx, attributes.values(caller(ctx), ctx.pathParam("kind"), id(ctx))));
    r.put(
        ROOT + "/attributes/{kind}/{id}",
        ctx -> {
          Map<String, String> values = body(ctx, Values.class).values();
          json(
              ctx,
              attributes.set(
                  caller(ctx), ctx.pathParam("kind"), id(ctx), values == null ? Map.of() : values));
        });
  }

  private static void units(Routes r, Units units) {
    r.get(ROOT + "/units", ctx -> json(ctx, units.all(caller(ctx))));
    records(r, "/units", units, Units.Draft.class);
    r.post(
        ROOT + "/units/{id}/move/rehearsal",
        ctx -> json(ctx, units.rehearseMove(caller(ctx), id(ctx), body(ctx, Units.Move.class))));
    r.post(
        ROOT + "/units/{id}/move",
        ctx ->
            versioned(
                ctx, units.move(caller(ctx), id(ctx), ifMatch(ctx), body(ctx, Units.Move.class))));
  }

  private record CachePlace(@Nullable String address) {}

  private static void caches(Routes r, SiteCaches caches) {
    String one = ROOT + "/sites/{id}/cache";
    r.get(ROOT + "/site-caches", ctx -> json(ctx, Map.of("items", caches.all(caller(ctx)))));
    r.get(
        one,
        ctx -> {
          SiteCaches.Shown cache = caches.get(caller(ctx), id(ctx));
          versioned(ctx, cache.version(), cache);
        });
    r.put(
        one,
        ctx -> {
          SiteCaches.Shown cache =
              caches.put(caller(ctx), id(ctx), ifMatch(ctx), body(ctx, CachePlace.class).address());
          versioned(ctx, cache.version(), cache);
        });
    r.delete(
        one,
        ctx -> {
          caches.remove(caller(ctx), id(ctx), ifMatch(ctx));
          ctx.status(204);
        });
    r.post(one + "/script", ctx -> json(ctx, caches.script(caller(ctx), id(ctx))));
  }

  private static void sites(Routes r, Sites sites) {
    r.get(ROOT + "/sites", ctx -> json(ctx, sites.page(caller(ctx), page(ctx))));
    records(r, "/sites", sites, Sites.Draft.class);
  }

  private static void people(Routes r, People people) {
    r.get(
        ROOT + "/people",
        ctx ->
            json(
                ctx,
                people.page(
                    caller(ctx),
                    query(ctx, "q"),
                    query(ctx, "unit"),
                    query(ctx, "left").equals("true"),
                    ctx.queryParams("attribute"),
                    page(ctx))));
    records(r, "/people", people, People.Draft.class);
    r.get(ROOT + "/people/{id}/holdings", ctx -> json(ctx, people.holdings(caller(ctx), id(ctx))));
    r.get(ROOT + "/devices/{id}/holders", ctx -> json(ctx, people.holders(caller(ctx), id(ctx))));
  }

  private static void leaving(Routes r, Leaving leaving) {
    String path = ROOT + "/people/{id}/leaving";
    r.get(path, ctx -> json(ctx, leaving.look(caller(ctx), id(ctx))));
    r.post(
        path, ctx -> json(ctx, leaving.leave(caller(ctx), id(ctx), body(ctx, Leaving.Plan.class))));
    r.post(
        path + "/rehearsal",
        ctx -> json(ctx, leaving.rehearse(caller(ctx), id(ctx), body(ctx, Leaving.Plan.class))));
  }
}
