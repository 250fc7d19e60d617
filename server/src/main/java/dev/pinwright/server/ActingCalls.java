package dev.pinwright.server;

import static dev.pinwright.server.Calls.*;
import static dev.pinwright.server.Calls.moment;
import static dev.pinwright.server.Calls.sheet;

import dev.pinwright.service.Pinwright;
import dev.pinwright.service.acting.CommandHistory;
import dev.pinwright.service.acting.DispatchOrder;
import dev.pinwright.service.acting.Dispatches;
import dev.pinwright.service.acting.MessageTemplates;
import dev.pinwright.service.acting.Queues;
import dev.pinwright.service.acting.StandingOrders;
import dev.pinwright.service.acting.Wipes;
import io.javalin.http.Context;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Dispatches, their commands, and wipes. */
final class ActingCalls {
  private final Pinwright pinwright;

  ActingCalls(Pinwright pinwright) {
    this.pinwright = pinwright;
  }

  /** In which order commands are handed over. */
  record Arrangement(Optional<List<String>> commands) {}

  void install(Routes r) {
    Dispatches dispatches = pinwright.dispatches();
    r.post(
        ROOT + "/dispatches/rehearsal",
        ctx -> json(ctx, dispatches.rehearse(caller(ctx), body(ctx, DispatchOrder.class))));
    r.post(
        ROOT + "/dispatches",
        ctx ->
            created(
                ctx,
                dispatches.order(
                    caller(ctx),
                    body(ctx, DispatchOrder.class),
                    TextGate.header(ctx, "Idempotency-Key", 200))));
    r.get(
        ROOT + "/devices/{id}/cannot",
        ctx -> json(ctx, Map.of("items", dispatches.cannot(caller(ctx), id(ctx)))));
    Queues queues = pinwright.queues();
    r.get(
        ROOT + "/devices/{id}/queue",
        ctx -> json(ctx, Map.of("items", queues.of(caller(ctx), id(ctx)))));
    r.put(
        ROOT + "/devices/{id}/queue",
        ctx ->
            json(
                ctx,
                Map.of(
                    "items",
                    queues.arrange(
                        caller(ctx),
                        id(ctx),
                        body(ctx, Arrangement.class).commands().orElse(List.of())))));
    r.delete(
        ROOT + "/devices/{id}/queue",
        ctx -> json(ctx, Map.of("cancelled", queues.clear(caller(ctx), id(ctx)))));
    CommandHistory history = pinwright.commandHistory();
    StandingOrders standing = pinwright.standingOrders();
    r.get(ROOT + "/standing-orders", ctx -> json(ctx, standing.page(caller(ctx), page(ctx))));
    records(r, "/standing-orders", standing, StandingOrders.Draft.class);
    MessageTemplates templates = pinwright.messageTemplates();
    r.get(ROOT + "/message-templates", ctx -> json(ctx, templates.page(caller(ctx), page(ctx))));
    records(r, "/message-templates", templates, MessageTemplates.Draft.class);
    Wipes wipes = pinwright.wipes();
    r.get(
        ROOT + "/wipes",
        ctx ->
            json(
                ctx,
                wipes.page(
                    caller(ctx),
                    query(ctx, "device"),
                    query(ctx, "open").equals("true"),
                    page(ctx))));
    r.get(ROOT + "/wipes/{id}", ctx -> json(ctx, wipes.get(caller(ctx), id(ctx))));
    r.post(
        ROOT + "/wipes/{id}/revocation",
        ctx -> json(ctx, wipes.revoke(caller(ctx), id(ctx), body(ctx, Wipes.Revocation.class))));
    r.get(ROOT + "/dispatches", ctx -> json(ctx, dispatches.page(caller(ctx), page(ctx))));
    r.get(ROOT + "/dispatches/{id}", ctx -> json(ctx, dispatches.get(caller(ctx), id(ctx))));
    r.get(
        ROOT + "/dispatches/{id}/commands",
        ctx ->
            json(
                ctx,
                history.page(
                    caller(ctx),
                    CommandHistory.Filter.ofDispatch(id(ctx), query(ctx, "state")),
                    page(ctx))));
    r.get(
        ROOT + "/commands", ctx -> json(ctx, history.page(caller(ctx), commands(ctx), page(ctx))));
    r.get(
        ROOT + "/commands.csv",
        ctx -> sheet(ctx, "commands", history.sheet(caller(ctx), commands(ctx))));
    r.post(
        ROOT + "/dispatches/{id}/cancellation",
        ctx -> json(ctx, Map.of("cancelled", dispatches.cancel(caller(ctx), id(ctx)))));
    r.post(
        ROOT + "/commands/{id}/cancellation",
        ctx -> {
          dispatches.cancelCommand(caller(ctx), id(ctx));
          ctx.status(204);
        });
  }

  private static CommandHistory.Filter commands(Context ctx) {
    return new CommandHistory.Filter(
        query(ctx, "dispatch"),
        query(ctx, "device"),
        query(ctx, "command"),
        query(ctx, "state"),
        query(ctx, "by"),
        query(ctx, "q"),
        moment(ctx, "since"));
  }
}
