package dev.pinwright.server;

import static dev.pinwright.server.Calls.*;
import static dev.pinwright.server.Calls.moment;

import dev.pinwright.service.Pinwright;
import dev.pinwright.service.lost.LostCases;
import dev.pinwright.service.own.Trails;
import dev.pinwright.service.place.HouseMap;
import dev.pinwright.service.work.Problem;
import io.javalin.http.Context;
import java.util.Optional;

/** Lost devices, and where devices are. */
final class LostCalls {
  private static final String CASE = ROOT + "/cases/{id}";

  private final Pinwright pinwright;

  LostCalls(Pinwright pinwright) {
    this.pinwright = pinwright;
  }

  void install(Routes r) {
    places(r);
    LostCases cases = pinwright.lostCases();
    r.get(
        ROOT + "/cases",
        ctx ->
            json(
                ctx,
                cases.page(caller(ctx), query(ctx, "state"), query(ctx, "device"), page(ctx))));
    r.post(
        ROOT + "/cases",
        ctx -> created(ctx, cases.open(caller(ctx), body(ctx, LostCases.Draft.class))));
    r.get(CASE, ctx -> versioned(ctx, cases.get(caller(ctx), id(ctx))));
    r.patch(
        CASE,
        ctx ->
            versioned(
                ctx,
                cases.change(
                    caller(ctx), id(ctx), ifMatch(ctx), body(ctx, LostCases.Change.class))));
    r.get(CASE + "/timeline", ctx -> json(ctx, cases.timeline(caller(ctx), id(ctx))));
    r.post(
        CASE + "/notes",
        ctx -> created(ctx, cases.note(caller(ctx), id(ctx), body(ctx, LostCases.Note.class))));
    r.put(
        CASE + "/end",
        ctx ->
            versioned(
                ctx,
                cases.end(caller(ctx), id(ctx), ifMatch(ctx), body(ctx, LostCases.End.class))));
    r.get(
        CASE + "/sheet.pdf",
        ctx -> {
          ctx.result(cases.sheet(caller(ctx), id(ctx)));
          ctx.contentType("application/pdf");
          ctx.header("Content-Disposition", "inline; filename=\"lost-device.pdf\"");
        });
  }

  private void places(Routes r) {
    HouseMap map = pinwright.houseMap();
    r.get(ROOT + "/map", ctx -> versioned(ctx, map.get(caller(ctx))));
    r.put(
        ROOT + "/map",
        ctx ->
            versioned(ctx, map.choose(caller(ctx), ifMatch(ctx), body(ctx, HouseMap.Draft.class))));
    r.get(ROOT + "/map/away", ctx -> json(ctx, map.away(caller(ctx))));
    r.get(
        ROOT + "/map/devices",
        ctx ->
            json(
                ctx,
                map.look(
                    caller(ctx),
                    number(ctx, "south", -90),
                    number(ctx, "west", -180),
                    number(ctx, "north", 90),
                    number(ctx, "east", 180),
                    (int) number(ctx, "zoom", 0))));
    r.get(
        ROOT + "/devices/{id}/trail.gpx",
        ctx -> {
          ctx.result(trail(ctx, Trails.Form.GPX));
          ctx.contentType("application/gpx+xml");
          ctx.header("Content-Disposition", "attachment; filename=\"trail.gpx\"");
        });
    r.get(
        ROOT + "/devices/{id}/trail.geojson",
        ctx -> {
          ctx.result(trail(ctx, Trails.Form.GEOJSON));
          ctx.contentType("application/geo+json");
          ctx.header("Content-Disposition", "attachment; filename=\"trail.geojson\"");
        });
  }

  private String trail(Context ctx, Trails.Form form) {
    return pinwright
        .trails()
        .export(
            caller(ctx),
            id(ctx),
            new Trails.Wanted(
                moment(ctx, "from"), moment(ctx, "to"), Optional.empty(), Optional.empty()),
            form);
  }

  private static double number(Context ctx, String name, double unsaid) {
    String text = query(ctx, name);
    try {
      double d = text.isEmpty() ? unsaid : Double.parseDouble(text);
      if (Double.isFinite(d)) {
        return d;
      }
    } catch (NumberFormatException e) {
      // said below
    }
    throw Problem.malformed("/" + name, "Give " + name + " as a number.");
  }
}
