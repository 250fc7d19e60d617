package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;
import static dev.pinwright.cli.Context.counted;
import static dev.pinwright.cli.Context.time;

import dev.pinwright.client.model.Agreement;
import dev.pinwright.client.model.EditRehearsal;
import dev.pinwright.client.model.Intent;
import dev.pinwright.client.model.Proposal;
import dev.pinwright.client.model.ProposalDetail;
import dev.pinwright.client.model.ProposalDraft;
import dev.pinwright.client.model.ProposalPage;
import dev.pinwright.client.model.ProposalState;
import dev.pinwright.client.model.Refusal;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code proposal}. */
@Command(
    name = "proposal",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description =
        "Changes that wait for a second person's word: list, show, agree, refuse, withdraw.",
    footer = {
      "",
      "Example:",
      "  pinwright profile publish \"Gallery tablets\" --propose \"for the new rooms\""
    })
final class ProposalCommands {
  private final Context context;

  ProposalCommands(Context context) {
    this.context = context;
  }

  /** Proposes something and says what was proposed. */
  static int propose(Context context, Intent intent, String note) {
    ProposalDetail d =
        call(() -> context.client().rules().propose(new ProposalDraft().intent(intent).note(note)));
    Proposal p = d.getProposal();
    return context.print(
        d,
        () ->
            context.line(
                "Proposed: %s, %s. Somebody else looks at it with: pinwright proposal show %s",
                p.getTitle(), counted(p.getDevices(), "device"), p.getId()));
  }

  @Command(mixinStandardHelpOptions = true, description = "Lists proposals, newest first.")
  int list(
      @Option(
              names = "--state",
              description = "Only these: waiting, agreed, done, refused, withdrawn, lapsed.")
          @Nullable ProposalState state,
      @Mixin Paging paging) {
    ProposalPage page =
        call(() -> context.client().rules().listProposals(state, paging.after, paging.limit));
    return context.list(
        page,
        page.getItems(),
        p ->
            new Object[] {
              time(p.getProposedAt()),
              p.getTitle(),
              p.getDevices(),
              p.getProposedBy(),
              p.getState() + (p.getDecidedBy() == null ? "" : " by " + p.getDecidedBy()),
              p.getId()
            },
        "WHEN",
        "WHAT",
        "DEVICES",
        "BY",
        "STATE",
        "ID");
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Shows a proposal: what it would do now, and what is different since.")
  int show(@Parameters(paramLabel = "ID") String id) {
    return shown(call(() -> context.client().rules().getProposal(id)));
  }

  private int shown(ProposalDetail d) {
    Proposal p = d.getProposal();
    return context.print(
        d,
        () -> {
          context.line(
              "%s, proposed by %s on %s: %s%s%s",
              p.getTitle(),
              p.getProposedBy(),
              time(p.getProposedAt()),
              p.getState(),
              p.getDecidedBy() == null ? "" : " by " + p.getDecidedBy(),
              p.getReason() == null ? "" : ", because " + p.getReason());
          if (!p.getNote().isEmpty()) {
            context.line("  %s", p.getNote());
          }
          d.getSince().forEach(s -> context.line("Since it was proposed: %s", s));
          if (d.getObjection() != null) {
            context.line("It cannot be done as things are: %s", d.getObjection());
          }
          EditRehearsal r = d.getRehearsal();
          if (r == null) {
            return;
          }
          if (r.getSettings() == null) {
            context.line("It is about %s.", counted(r.getDevices(), "device"));
          } else {
            Rehearsals.effects(context, r.getSettings(), false);
          }
          if (!d.getMine()) {
            context.line("To agree: pinwright proposal agree %s --seen %s", p.getId(), d.getSeen());
          }
        });
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Agrees to what was shown last; it is done at once.")
  int agree(
      @Parameters(paramLabel = "ID") String id,
      @Option(
              names = "--seen",
              required = true,
              description = "What you saw, as show says at its end.")
          String seen) {
    ProposalDetail d = call(() -> context.client().rules().agree(id, new Agreement().seen(seen)));
    String change = d.getProposal().getChangeId();
    return context.print(
        d,
        () ->
            context.line(
                "%s: done.%s",
                d.getProposal().getTitle(),
                change == null ? "" : " Follow with: pinwright change wait " + change));
  }

  @Command(mixinStandardHelpOptions = true, description = "Refuses a proposal.")
  int refuse(
      @Parameters(paramLabel = "ID") String id,
      @Option(names = "--reason", required = true, description = "Why.") String reason) {
    return shown(
        call(() -> context.client().rules().refuseProposal(id, new Refusal().reason(reason))));
  }

  @Command(mixinStandardHelpOptions = true, description = "Withdraws a proposal of your own.")
  int withdraw(@Parameters(paramLabel = "ID") String id) {
    return shown(call(() -> context.client().rules().withdrawProposal(id)));
  }
}
