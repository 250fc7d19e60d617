package dev.pinwright.service.journal;

import com.fasterxml.jackson.annotation.JsonUnwrapped;
import dev.pinwright.core.journal.JournalEntry;
import dev.pinwright.service.live.Events;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Role;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import java.time.Clock;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * The journal. Entries are written in the transaction of what they tell, one after the other across
 * all nodes, each chained to the one before by hash. The table refuses to be changed.
 */
public final class Journal {
  private static final long LOCK = 0x4a4f55524e414cL;
  private static final int VERIFY_CHUNK = 5_000;
  private static final String COLUMNS =
      "select number, at, actor, action, subject, summary, previous, hash from journal ";

  private final Database database;
  private final Clock clock;
  private final Events events;

  public Journal(Database database, Clock clock, Events events) {
    this.database = database;
    this.clock = clock;
    this.events = events;
  }

  /**
   * Writes an entry. Call it last: it makes every later writer wait until this transaction ends.
   *
   * @param action what was done, such as {@code profile.published}
   * @param subject what it was done to, such as {@code profile:01J…}
   * @param summary a sentence; never a secret
   */
  public void write(Tx tx, Caller caller, String action, String subject, String summary) {
    write(tx, caller.login(), action, subject, summary);
  }

  /** {@link #write(Tx, Caller, String, String, String)} for an actor that is not an account. */
  public void write(Tx tx, String actor, String action, String subject, String summary) {
    tx.rows("select 1, cast(pg_advisory_xact_lock(:l) as text)", Map.of("l", LOCK));
    List<Object[]> last =
        tx.rows("select number, hash from journal order by number desc limit 1", Map.of());
    long number = last.isEmpty() ? 0 : ((Number) last.get(0)[0]).longValue();
    String hash = last.isEmpty() ? JournalEntry.START : (String) last.get(0)[1];
    JournalEntry e =
        JournalEntry.after(
            number + 1,
            hash,
            clock.instant().truncatedTo(ChronoUnit.MICROS),
            actor,
            action,
            subject,
            summary);
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
    events.touch("journal");
  }

  /**
   * An entry for a reader.
   *
   * @param who the actor's name: an account's login, or a device's name as it is now
   */
  public record Shown(@JsonUnwrapped JournalEntry entry, String who) {}

  /** Entries, newest first, optionally of one subject or with some words in them. */
  public Page<Shown> page(Caller caller, String subject, String words, Page.Request page) {
    caller.needs(Role.READER);
    String[] cursor = page.parts(Page.Part.LONG);
    long before = cursor.length == 0 ? Long.MAX_VALUE : Long.parseLong(cursor[0]);
    List<Object[]> rows =
        database.call(
            tx ->
                tx.rows(
                    """
                    select j.number, j.at, j.actor, j.action, j.subject, j.summary, j.previous,
                           j.hash, coalesce(d.name, j.actor)
                      from journal j
                      left join device d on j.actor like 'device:%' and d.id = substr(j.actor, 8)
                     where j.number < :before
                       and (:subject = '' or j.subject = :subject)
                       and (:words = '' or (coalesce(d.name, '') || ' ' || j.actor || ' '
                                            || j.action || ' ' || j.summary)
                            ilike '%' || :words || '%')
                     order by j.number desc limit :limit
                    """,
                    Map.of(
                        "before", before,
                        "subject", subject,
                        "words", words,
                        "limit", page.limit() + 1)));
    return Page.of(
        rows,
        page.limit(),
        r -> new Shown(entry(r), (String) r[8]),
        r -> Page.cursor(String.valueOf(r[0])));
  }

  /** What checking the chain found. */
  public record Verification(boolean intact, long entries, Optional<Long> firstBroken) {}

  /** Reads the whole chain in chunks and checks every link. */
  public Verification verify(Caller caller) {
    caller.needs(Role.READER);
    long number = 0;
    String hash = JournalEntry.START;
    while (true) {
      long after = number;
      List<Object[]> rows =
          database.call(
              tx ->
                  tx.rows(
                      COLUMNS + "where number > :after order by number limit :limit",
                      Map.of("after", after, "limit", VERIFY_CHUNK)));
      for (Object[] row : rows) {
        JournalEntry e = entry(row);
        if (!e.follows(number, hash)) {
          return new Verification(false, number, Optional.of(e.number()));
        }
        number = e.number();
        hash = e.hash();
      }
      if (rows.size() < VERIFY_CHUNK) {
        return new Verification(true, number, Optional.empty());
      }
    }
  }

  private static JournalEntry entry(Object[] r) {
    return new JournalEntry(
        ((Number) r[0]).longValue(),
        (Instant) r[1],
        (String) r[2],
        (String) r[3],
        (String) r[4],
        (String) r[5],
        (String) r[6],
        (String) r[7]);
  }
}
