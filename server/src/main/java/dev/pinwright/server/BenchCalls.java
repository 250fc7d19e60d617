package dev.pinwright.server;

import static dev.pinwright.server.Calls.*;

import dev.pinwright.service.Pinwright;
import dev.pinwright.service.bench.Bench;
import dev.pinwright.service.bench.BenchWork;

/** Preparing many devices one after the other. */
final class BenchCalls {
  private static final String SESSION = ROOT + "/bench-sessions/{id}";
  private final Bench bench;
  private final BenchWork work;

  BenchCalls(Pinwright pinwright) {
    this.bench = pinwright.bench();
    this.work = pinwright.benchWork();
  }

  void install(Routes r) {
    r.get(ROOT + "/bench-sessions", ctx -> json(ctx, bench.page(caller(ctx), page(ctx))));
    r.post(
        ROOT + "/bench-sessions",
        ctx -> created(ctx, bench.open(caller(ctx), body(ctx, Bench.Draft.class))));
    r.get(SESSION, ctx -> json(ctx, bench.get(caller(ctx), id(ctx))));
    r.post(SESSION + "/close", ctx -> json(ctx, bench.close(caller(ctx), id(ctx), false)));
    r.post(SESSION + "/opening", ctx -> json(ctx, bench.close(caller(ctx), id(ctx), true)));
    r.post(
        SESSION + "/devices/{serial}/erasure",
        ctx -> json(ctx, bench.release(caller(ctx), id(ctx), ctx.pathParam("serial"))));
    r.get(SESSION + "/slots", ctx -> json(ctx, bench.slots(caller(ctx), id(ctx))));
    r.get(SESSION + "/devices", ctx -> json(ctx, bench.devices(caller(ctx), id(ctx), page(ctx))));
    r.post(
        SESSION + "/work",
        ctx -> created(ctx, work.order(caller(ctx), id(ctx), body(ctx, BenchWork.Draft.class))));
    r.get(SESSION + "/work", ctx -> json(ctx, work.page(caller(ctx), id(ctx), page(ctx))));
    r.get(SESSION + "/facts.csv", ctx -> sheet(ctx, "bench", work.facts(caller(ctx), id(ctx))));
    r.get(
        SESSION + "/labels.pdf",
        ctx -> {
          ctx.result(bench.labels(caller(ctx), id(ctx)));
          ctx.contentType("application/pdf");
          ctx.header("Content-Disposition", "inline; filename=\"labels.pdf\"");
        });
  }
}
