package dev.pinwright.server;

import static dev.pinwright.server.Calls.*;

import dev.pinwright.service.Pinwright;
import dev.pinwright.service.lost.LostCases;

/** Lost devices. */
final class LostCalls {
  private static final String CASE = ROOT + "/cases/{id}";

  private final Pinwright pinwright;

  LostCalls(Pinwright pinwright) {
    this.pinwright = pinwright;
  }

  void install(Routes r) {
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
}
