package dev.pinwright.storage.journal;

import dev.pinwright.core.journal.JournalEntry;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.query.Sought;
import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** The journal: a table that refuses to be changed, each entry chained to the one before. */
public final class JournalStore {
  private static final long LOCK = 0x4a4f55524e414cL;
  private static final String SELECT =
      "select number, at, actor, action, subject, summary, previous, hash from journal ";

  private final Tx tx;

  public JournalStore(Tx tx) {
    this.tx = tx;
  }

  /** The last entry. Nobody else can append one until the transaction ends. */
  public Optional<JournalEntry> hold() {
    tx.advisoryLock(LOCK);
    return last();
  }

  /** The last entry. */
  public Optional<JournalEntry> last() {
    return tx.select(JournalEntry.class, SELECT + "order by number desc limit 1", Map.of()).stream()
        .findFirst();
  }

  /** Appends the entry after the one {@link #hold} gave. */
  public void append(JournalEntry e) {
    Map<String, Object> p = new HashMap<>();
    p.put("number", e.number());
    p.put("at", e.at());
    p.put("actor", e.actor());
    p.put("action", e.action());
    p.put("subject", e.subject());
    p.put("summary", e.summary());
    p.put("previous", e.previous());
    p.put("hash", e.hash());
    tx.execute(
        "insert into journal (number, at, actor, action, subject, summary, previous, hash)"
            + " values (:number, :at, :actor, :action, :subject, :summary, :previous, :hash)",
        p);
  }

  /** Entries after a number, in order. */
  public List<JournalEntry> after(long number, int limit) {
    return tx.select(
        JournalEntry.class,
        SELECT + "where number > :after order by number limit :limit",
        Map.of("after", number, "limit", limit));
  }

  /**
   * An entry for a reader.
   *
   * @param who the actor's name: an account's login, or a device's name as it is now
   */
  public record Line(
      long number,
      Instant at,
      String actor,
      String action,
      String subject,
      String summary,
      String previous,
      String hash,
      String who) {
    /** The entry alone. */
    public JournalEntry entry() {
      return new JournalEntry(number, at, actor, action, subject, summary, previous, hash);
    }
  }

  /**
   * Entries before a number, newest first.
   *
   * @param subject of which; empty for any
   * @param words in actor, action or summary; empty for any
   */
  public List<Line> page(String subject, String words, long before, int limit) {
    Map<String, Object> p = new HashMap<>();
    p.put("before", before);
    p.put("subject", subject);
    p.put("limit", limit);
    String text =
        "lower(coalesce(d.name, '') || ' ' || j.actor || ' ' || j.action || ' ' || j.summary)";
    return tx.select(
        Line.class,
        """
        select j.number, j.at, j.actor, j.action, j.subject, j.summary, j.previous, j.hash,
               coalesce(d.name, j.actor) as who
          from journal j
          left join device d on starts_with(j.actor, 'device:') and d.id = substr(j.actor, 8)
         where j.number < :before
           and (:subject = '' or j.subject = :subject)
           and %s
         order by j.number desc limit :limit
        """
            .formatted(Sought.in(text, words, p)),
        p);
  }
}
