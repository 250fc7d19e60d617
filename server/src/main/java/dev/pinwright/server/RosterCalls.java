package dev.pinwright.server;

import static dev.pinwright.server.Calls.*;

import dev.pinwright.service.Pinwright;
import dev.pinwright.service.roster.Roster;
import dev.pinwright.service.roster.RosterImports;
import dev.pinwright.service.roster.RosterSheet;
import java.util.Map;
import java.util.Optional;

/** The roster, its sheets and the numbers in names. */
final class RosterCalls {
  private final Pinwright pinwright;

  RosterCalls(Pinwright pinwright) {
    this.pinwright = pinwright;
  }

  private record TakeOver(Optional<Boolean> leaveOutFaulty) {}

  void install(Routes r) {
    Roster roster = pinwright.roster();
    r.get(
        ROOT + "/roster",
        ctx ->
            json(ctx, roster.page(caller(ctx), query(ctx, "q"), query(ctx, "state"), page(ctx))));
    r.post(
        ROOT + "/roster",
        ctx -> created(ctx, roster.add(caller(ctx), body(ctx, Roster.Draft.class))));
    r.get(ROOT + "/roster/counts", ctx -> json(ctx, roster.counts(caller(ctx))));
    r.get(
        ROOT + "/roster/sheet",
        ctx -> {
          sheet(ctx, "roster");
          RosterSheet.write(roster, caller(ctx), ctx.outputStream());
        });
    r.post(
        ROOT + "/roster/change",
        ctx ->
            json(
                ctx,
                Map.of("count", roster.change(caller(ctx), body(ctx, Roster.BulkEdit.class)))));
    imports(r, pinwright.rosterImports());
    r.get(
        ROOT + "/sequences", ctx -> json(ctx, pinwright.sequences().page(caller(ctx), page(ctx))));
  }

  private static void imports(Routes r, RosterImports imports) {
    r.post(
        ROOT + "/roster/imports",
        ctx -> created(ctx, imports.check(caller(ctx), body(ctx, RosterImports.Draft.class))));
    r.get(ROOT + "/roster/imports/{id}", ctx -> json(ctx, imports.get(caller(ctx), id(ctx))));
    r.get(
        ROOT + "/roster/imports/{id}/rows",
        ctx -> json(ctx, imports.rows(caller(ctx), id(ctx), query(ctx, "only"), page(ctx))));
    r.post(
        ROOT + "/roster/imports/{id}/takeover",
        ctx ->
            json(
                ctx,
                imports.takeOver(
                    caller(ctx),
                    id(ctx),
                    body(ctx, TakeOver.class).leaveOutFaulty().orElse(false))));
  }
}
