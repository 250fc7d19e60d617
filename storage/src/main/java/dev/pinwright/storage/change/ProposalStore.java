package dev.pinwright.storage.change;

import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.ProposalRow;
import java.time.Instant;
import java.util.List;
import java.util.Map;

/** Rehearsals that were saved for a second person's word. */
public final class ProposalStore {
  private final Tx tx;

  public ProposalStore(Tx tx) {
    this.tx = tx;
  }

  /** Proposals before an id, newest first; in one state, or in any where it is empty. */
  public List<ProposalRow> page(String state, String before, int limit) {
    return tx.list(
        ProposalRow.class,
        "from ProposalRow where id < :b and (:s = '' or state = :s) order by id desc",
        Map.of("b", before, "s", state),
        limit);
  }

  /** Lets those lapse that waited long enough; their ids. */
  public List<String> lapse(Instant now) {
    return tx.column(
        String.class,
        "update proposal set state = 'lapsed', decided_at = :now, version = version + 1"
            + " where state = 'waiting' and lapses_at <= :now returning id",
        Map.of("now", now));
  }
}
