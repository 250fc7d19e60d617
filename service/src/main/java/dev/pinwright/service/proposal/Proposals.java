package dev.pinwright.service.proposal;

import com.fasterxml.jackson.databind.JsonNode;
import dev.pinwright.core.Sha256;
import dev.pinwright.core.Words;
import dev.pinwright.core.change.Confirmation;
import dev.pinwright.core.change.ProposalState;
import dev.pinwright.core.change.Rehearsal;
import dev.pinwright.core.notice.News;
import dev.pinwright.service.device.DeviceEdits;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.ManyLines;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.change.ProposalStore;
import dev.pinwright.storage.row.ProposalRow;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/**
 * Rehearsals that are saved, linked to and handed to a second person, who sees what the change
 * would do now, and what became different since it was proposed, and agrees or refuses.
 */
public final class Proposals {
  private static final Duration LONGEST_DEED = Duration.ofMinutes(5);
  private static final Duration WAITS = Duration.ofDays(14);
  private static final Duration ORDER_WAITS = Duration.ofDays(1);
  private static final int LONGEST_NOTE = Confirmation.LONGEST_REASON;

  private final UseCases useCases;
  private final Deeds deeds;

  public Proposals(UseCases useCases, Deeds deeds) {
    this.useCases = useCases;
    this.deeds = deeds;
  }

  /** A proposal as written. */
  public record Draft(@Nullable Intent intent, @ManyLines Optional<String> note) {}

  /** A proposal in a list. */
  public record Summary(
      String id,
      int version,
      String title,
      String note,
      ProposalState state,
      long devices,
      Instant proposedAt,
      String proposedBy,
      Instant lapsesAt,
      Optional<Instant> decidedAt,
      Optional<String> decidedBy,
      Optional<String> reason,
      Optional<String> changeId) {}

  /**
   * A proposal with what it would do now.
   *
   * @param rehearsal what it would do; absent once it is decided, or where it cannot be done
   * @param objection why it cannot be done as things are
   * @param since what became different since it was proposed
   * @param seen stands for what is shown here; sent back by whoever agrees to it
   * @param mine whether it is the caller's own, who cannot agree to it
   */
  public record Detail(
      Summary proposal,
      Optional<DeviceEdits.Rehearsed> rehearsal,
      Optional<String> objection,
      List<String> since,
      String seen,
      boolean mine) {}

  /** Proposals, newest first, in one state or any. */
  public Page<Summary> page(Caller caller, String state, Page.Request page) {
    String asked =
        state.isEmpty()
            ? ""
            : Words.of(Problem.reading("/state", () -> Words.parse(ProposalState.class, state)));
    String[] c = page.parts(Page.Part.TEXT);
    return useCases.read(
        tx ->
            Page.of(
                new ProposalStore(tx).page(asked, c.length == 0 ? "~" : c[0], page.limit() + 1),
                page.limit(),
                Proposals::summary,
                r -> Page.cursor(r.id)));
  }

  private static Summary summary(ProposalRow r) {
    return new Summary(
        r.id,
        r.version,
        r.title,
        r.note,
        Words.parse(ProposalState.class, r.state),
        Json.tree(r.rehearsal).path("devices").asLong(),
        r.proposedAt,
        r.proposedBy,
        r.lapsesAt,
        Optional.ofNullable(r.decidedAt),
        Optional.ofNullable(r.decidedBy),
        Optional.ofNullable(r.reason),
        Optional.ofNullable(r.changeId));
  }

  /** One proposal, rehearsed again. */
  public Detail get(Caller caller, String id) {
    ProposalRow row = useCases.read(tx -> row(tx, id));
    Summary summary = summary(row);
    boolean mine = row.proposerId.equals(caller.accountId());
    if (!open(row)) {
      return new Detail(summary, Optional.empty(), Optional.empty(), List.of(), "", mine);
    }
    try {
      Seen now = look(caller, row);
      return new Detail(
          summary,
          Optional.of(now.rehearsed()),
          Optional.empty(),
          Since.told(Json.tree(row.rehearsal), now.kept()),
          now.digest(),
          mine);
    } catch (Problem p) {
      return new Detail(
          summary, Optional.empty(), Optional.of(p.getMessage()), List.of(), "", mine);
    }
  }

  private static ProposalRow row(Tx tx, String id) {
    return tx.find(ProposalRow.class, id).orElseThrow(() -> Problem.notFound("proposal", id));
  }

  /** What a deed would do at one moment. */
  private record Seen(Deeds.Deed deed, DeviceEdits.Rehearsed rehearsed, JsonNode kept) {
    String digest() {
      return Sha256.hex(Json.write(kept)).substring(0, 24);
    }
  }

  private Seen look(Caller caller, ProposalRow row) {
    return look(caller, Json.request(row.intent, Intent.class), row.id);
  }

  private Seen look(Caller caller, Intent intent, String once) {
    Deeds.Deed deed = deeds.of(caller, intent, once);
    DeviceEdits.Rehearsed r = deed.rehearse();
    TreeMap<String, Long> effects = new TreeMap<>();
    r.settings()
        .map(Rehearsal::effects)
        .orElse(List.of())
        .forEach(e -> effects.put(e.id(), e.devices()));
    JsonNode kept =
        Json.MAPPER
            .createObjectNode()
            .put("version", deed.version())
            .put("devices", r.devices())
            .put("changing", r.changing())
            .put("gain", r.settings().map(Rehearsal::gain).orElse(0L))
            .put("change", r.settings().map(Rehearsal::change).orElse(0L))
            .put("lose", r.settings().map(Rehearsal::lose).orElse(0L))
            .set("effects", Json.MAPPER.valueToTree(effects));
    return new Seen(deed, r, kept);
  }

  /**
   * Proposes a change: it is rehearsed, kept, and told to everybody.
   *
   * @throws Problem 400 or 404 when it is none, 409 when it is about no device
   */
  public Detail propose(Caller caller, Draft draft) {
    Intent intent = Intent.said(draft.intent(), "").sound();
    String note = draft.note().orElse("").strip();
    if (note.length() > LONGEST_NOTE) {
      throw Problem.malformed("/note", "A note has at most 300 characters.");
    }
    Seen seen = look(caller, intent, "");
    if (seen.rehearsed().devices() == 0) {
      throw Problem.conflict("no-devices", "This is for no device; nobody has to agree to it.");
    }
    String id =
        useCases.act(
            caller,
            act -> {
              ProposalRow row = new ProposalRow();
              row.id = act.newId();
              row.title = seen.deed().title();
              row.intent = Json.write(intent);
              row.note = note;
              row.rehearsal = Json.write(seen.kept());
              row.state = Words.of(ProposalState.WAITING);
              row.proposedAt = act.now();
              row.proposedBy = caller.login();
              row.proposerId = caller.accountId();
              row.lapsesAt = act.now().plus(intent.order().isPresent() ? ORDER_WAITS : WAITS);
              act.tx().insert(row);
              long devices = seen.rehearsed().devices();
              act.say(News.proposed(row.id, caller.login(), row.title, devices, note));
              act.done(
                  Noun.PROPOSAL,
                  "made",
                  row.id,
                  row.title + " proposed, " + Words.counted(devices, "device"));
              return row.id;
            });
    return get(caller, id);
  }

  /**
   * Agrees to what was shown, and does it.
   *
   * @param seen as it was told with what was shown
   * @throws Problem 403 for one's own, 409 when it is decided, or would do something else by now
   */
  public Detail agree(Caller caller, String id, String seen) {
    ProposalRow row = useCases.read(tx -> row(tx, id));
    if (row.proposerId.equals(caller.accountId())) {
      throw new Problem(
          403,
          "own-proposal",
          "Not permitted",
          "You proposed this; somebody else has to agree to it.");
    }
    waiting(row);
    Seen now = look(caller, row);
    if (!now.digest().equals(seen)) {
      throw Problem.conflict(
          "changed-meanwhile",
          "By now this would do something else than what you saw; look at it again.");
    }
    decide(caller, id, ProposalState.AGREED, Optional.empty());
    Caller proposer = new Caller(row.proposerId, row.proposedBy, caller.role());
    Confirmation given =
        new Confirmation(
            now.rehearsed().confirmDevices(), Optional.of(row.note), Optional.of(caller.login()));
    Optional<String> change;
    try {
      change = now.deed().perform(proposer, given);
    } catch (RuntimeException e) {
      reopen(id);
      throw e;
    }
    useCases.run(
        caller,
        act -> {
          ProposalRow done = act.tx().lock(ProposalRow.class, id).orElseThrow();
          done.state = Words.of(ProposalState.DONE);
          done.changeId = change.orElse(null);
          act.done(
              Noun.PROPOSAL,
              "agreed",
              id,
              done.title + ", proposed by " + done.proposedBy + ", done");
        });
    return get(caller, id);
  }

  /** Lets those lapse that nobody decided in time. */
  public void lapse() {
    useCases.run(
        Caller.SERVICE,
        act -> {
          List<String> lapsed = new ProposalStore(act.tx()).lapse(act.now());
          lapsed.forEach(id -> act.over(News.proposal(id)));
          lapsed.forEach(id -> act.done(Noun.PROPOSAL, "lapsed", id, "Nobody decided in time"));
        });
  }

  private void reopen(String id) {
    useCases.run(
        Caller.SERVICE,
        act -> {
          ProposalRow row = act.tx().lock(ProposalRow.class, id).orElseThrow();
          row.state = Words.of(ProposalState.WAITING);
          row.decidedAt = null;
          row.decidedBy = null;
        });
  }

  /**
   * Refuses it, with the reason.
   *
   * @throws Problem 400 without a reason, 409 when it is decided
   */
  public Detail refuse(Caller caller, String id, String reason) {
    String words = reason.strip();
    if (words.isEmpty() || words.length() > LONGEST_NOTE) {
      throw Problem.malformed("/reason", "Say why, in 1 to 300 characters.");
    }
    decide(caller, id, ProposalState.REFUSED, Optional.of(words));
    return get(caller, id);
  }

  /**
   * Withdraws one's own.
   *
   * @throws Problem 403 for somebody else's, 409 when it is decided
   */
  public Detail withdraw(Caller caller, String id) {
    ProposalRow row = useCases.read(tx -> row(tx, id));
    if (!row.proposerId.equals(caller.accountId())) {
      throw new Problem(
          403,
          "not-yours",
          "Not permitted",
          row.proposedBy + " proposed this and alone can withdraw it; you can refuse it.");
    }
    decide(caller, id, ProposalState.WITHDRAWN, Optional.empty());
    return get(caller, id);
  }

  /**
   * Whether somebody may decide. A node that was killed while it did what was agreed to leaves it
   * open again: what was done already, a new look shows.
   */
  private boolean open(ProposalRow row) {
    return switch (Words.parse(ProposalState.class, row.state)) {
      case WAITING -> row.lapsesAt.isAfter(useCases.now());
      case AGREED -> row.decidedAt.plus(LONGEST_DEED).isBefore(useCases.now());
      default -> false;
    };
  }

  private void waiting(ProposalRow row) {
    if (row.state.equals(Words.of(ProposalState.LAPSED))
        || row.state.equals(Words.of(ProposalState.WAITING)) && !open(row)) {
      throw Problem.conflict(
          "lapsed", "Nobody decided in time; it lapsed. Propose it again if it is still wanted.");
    }
    if (!open(row)) {
      throw Problem.conflict(
          "decided-already",
          "This is decided: "
              + row.state
              + (row.decidedBy == null ? "" : " by " + row.decidedBy)
              + ".");
    }
  }

  private void decide(Caller caller, String id, ProposalState state, Optional<String> reason) {
    useCases.run(
        caller,
        act -> {
          ProposalRow row =
              act.tx()
                  .lock(ProposalRow.class, id)
                  .orElseThrow(() -> Problem.notFound("proposal", id));
          waiting(row);
          row.state = Words.of(state);
          row.decidedAt = act.now();
          row.decidedBy = caller.login();
          row.reason = reason.orElse(null);
          act.over(News.proposal(id));
          if (state != ProposalState.AGREED) {
            act.done(
                Noun.PROPOSAL,
                Words.of(state),
                id,
                row.title
                    + ", proposed by "
                    + row.proposedBy
                    + ", "
                    + Words.of(state)
                    + reason.map(r -> ": " + r).orElse(""));
          }
          act.touch(Noun.PROPOSAL, Noun.NOTICE);
        });
  }
}
