package dev.pinwright.server;

import static dev.pinwright.server.Calls.*;

import dev.pinwright.service.proposal.HouseThresholds;
import dev.pinwright.service.proposal.Proposals;
import dev.pinwright.service.work.ManyLines;
import org.jspecify.annotations.Nullable;

/** Proposals, and what is asked before devices change. */
final class ProposalCalls {
  private final Proposals proposals;
  private final HouseThresholds thresholds;

  ProposalCalls(Proposals proposals, HouseThresholds thresholds) {
    this.proposals = proposals;
    this.thresholds = thresholds;
  }

  private record Agreement(@Nullable String seen) {}

  private record Refusal(@ManyLines @Nullable String reason) {}

  void install(Routes r) {
    r.get(
        ROOT + "/proposals",
        ctx -> json(ctx, proposals.page(caller(ctx), query(ctx, "state"), page(ctx))));
    r.post(
        ROOT + "/proposals",
        ctx -> created(ctx, proposals.propose(caller(ctx), body(ctx, Proposals.Draft.class))));
    r.get(ROOT + "/proposals/{id}", ctx -> json(ctx, proposals.get(caller(ctx), id(ctx))));
    r.post(
        ROOT + "/proposals/{id}/agreement",
        ctx ->
            json(
                ctx,
                proposals.agree(caller(ctx), id(ctx), text(body(ctx, Agreement.class).seen()))));
    r.post(
        ROOT + "/proposals/{id}/refusal",
        ctx ->
            json(
                ctx,
                proposals.refuse(caller(ctx), id(ctx), text(body(ctx, Refusal.class).reason()))));
    r.post(
        ROOT + "/proposals/{id}/withdrawal",
        ctx -> json(ctx, proposals.withdraw(caller(ctx), id(ctx))));
    r.get(
        ROOT + "/house/thresholds",
        ctx -> {
          var shown = thresholds.get(caller(ctx));
          versioned(ctx, shown.version(), shown);
        });
    r.put(
        ROOT + "/house/thresholds",
        ctx -> {
          var shown =
              thresholds.set(caller(ctx), ifMatch(ctx), body(ctx, HouseThresholds.Draft.class));
          versioned(ctx, shown.version(), shown);
        });
  }
}
