package dev.pinwright.server;

import static dev.pinwright.server.Calls.*;

import dev.pinwright.service.compliance.Checks;
import dev.pinwright.service.compliance.Orders;
import io.javalin.http.Context;
import java.util.Optional;

/** Checks, and how devices are with them. */
final class CheckCalls {
  private final Checks checks;
  private final Orders orders;

  CheckCalls(Checks checks, Orders orders) {
    this.checks = checks;
    this.orders = orders;
  }

  void install(Routes r) {
    r.get(ROOT + "/checks", ctx -> json(ctx, checks.all(caller(ctx))));
    r.post(
        ROOT + "/checks",
        ctx -> {
          var made = checks.add(caller(ctx), body(ctx, Checks.Draft.class));
          ctx.status(201);
          versioned(ctx, made.version(), made);
        });
    r.get(ROOT + "/checks/templates", ctx -> json(ctx, checks.templates()));
    r.post(ROOT + "/checks/rehearsal", ctx -> rehearse(ctx, Optional.empty()));
    r.get(
        ROOT + "/checks/{id}",
        ctx -> {
          var shown = checks.get(caller(ctx), id(ctx));
          versioned(ctx, shown.version(), shown);
        });
    r.put(
        ROOT + "/checks/{id}",
        ctx -> {
          var shown =
              checks.change(caller(ctx), id(ctx), ifMatch(ctx), body(ctx, Checks.Draft.class));
          versioned(ctx, shown.version(), shown);
        });
    r.delete(
        ROOT + "/checks/{id}",
        ctx -> {
          checks.delete(caller(ctx), id(ctx), ifMatch(ctx), asked(ctx));
          ctx.status(204);
        });
    r.post(ROOT + "/checks/{id}/rehearsal", ctx -> rehearse(ctx, Optional.of(id(ctx))));
    r.post(
        ROOT + "/checks/{id}/deletion/rehearsal",
        ctx -> json(ctx, checks.rehearseDeletion(caller(ctx), id(ctx))));
    r.get(ROOT + "/devices/{id}/order", ctx -> json(ctx, orders.of(caller(ctx), id(ctx))));
  }

  private void rehearse(Context ctx, Optional<String> id) {
    json(ctx, checks.rehearse(caller(ctx), id, body(ctx, Checks.Draft.class)));
  }
}
