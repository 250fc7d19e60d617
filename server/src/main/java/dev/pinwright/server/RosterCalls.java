package dev.pinwright.server;

import static dev.pinwright.server.Calls.*;

import dev.pinwright.service.Pinwright;
import dev.pinwright.service.roster.Roster;
import dev.pinwright.service.roster.RosterImports;
import dev.pinwright.service.roster.RosterSheet;
import io.javalin.http.Context;
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
    r.get(ROOT + "/roster", ctx -> json(ctx, roster.page(caller(ctx), filter(ctx), page(ctx))));
    r.get(ROOT + "/roster/counts", ctx -> json(ctx, roster.counts(caller(ctx))));
    r.get(
        ROOT + "/roster/sheet",
        ctx -> {
          sheet(ctx, "roster");
          RosterSheet.write(roster, caller(ctx), filter(ctx), ctx.outputStream());
        });
    r.post(
        ROOT + "/roster/change",
        ctx ->
            json(
                ctx,
                Map.of("count", roster.change(caller(ctx), body(ctx, Roster.BulkEdit.class)))));
    imports(r, pinwright.rosterImports());
    // last, so that no word above is taken for an id
    records(r, "/roster", roster, Roster.Draft.class);
    r.get(
        ROOT + "/sequences", ctx -> json(ctx, pinwright.sequences().page(caller(ctx), page(ctx))));
  }

  private static Roster.Filter filter(Context ctx) {
    return new Roster.Filter(
        query(ctx, "q"),
        query(ctx, "identifier"),
        query(ctx, "state"),
        number(ctx, "waitingDays").map(Math::toIntExact).orElse(0));
  }

  private static void imports(Routes r, RosterImports imports) {
    r.post(
        ROOT + "/roster/imports",
        ctx ->
            created(
                ctx,
                imports.bring(
                    caller(ctx),
                    new RosterImports.Draft(
                        sheetText(ctx),
                        Optional.of(query(ctx, "profile")).filter(p -> !p.isEmpty()),
                        query(ctx, "sheet")))));
    r.put(
        ROOT + "/roster/imports/{id}/columns",
        ctx ->
            json(ctx, imports.match(caller(ctx), id(ctx), body(ctx, RosterImports.Columns.class))));
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
