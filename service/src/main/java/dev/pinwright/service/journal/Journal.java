package dev.pinwright.service.journal;

import com.fasterxml.jackson.annotation.JsonUnwrapped;
import dev.pinwright.core.journal.JournalEntry;
import dev.pinwright.service.live.Events;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Page;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.journal.JournalStore;
import java.time.Clock;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Optional;

/**
 * The journal. Entries are written in the transaction of what they tell, one after the other across
 * all nodes, each chained to the one before by hash. The table refuses to be changed.
 */
public final class Journal {
  private static final int VERIFY_CHUNK = 5_000;

  private final Database database;
  private final Clock clock;
  private final Events events;
  private final Optional<JournalSeal> seal;

  public Journal(Database database, Clock clock, Events events) {
    this(database, clock, events, Optional.empty());
  }

  /**
   * @param seal where the last entry is kept outside the database
   */
  public Journal(Database database, Clock clock, Events events, Optional<JournalSeal> seal) {
    this.seal = seal;
    this.database = database;
    this.clock = clock;
    this.events = events;
  }

  /**
   * What is to be told.
   *
   * @param actor an account's login, or {@code device:} and an id
   * @param action what was done, such as {@code profile.published}
   * @param subject what it was done to, such as {@code profile:01J…}
   * @param summary a sentence; never a secret
   */
  public record Told(String actor, String action, String subject, String summary) {}

  /** Writes an entry. It makes every later writer wait until this transaction ends. */
  public void write(Tx tx, Told told) {
    JournalStore store = new JournalStore(tx);
    Optional<JournalEntry> last = store.hold();
    store.append(
        JournalEntry.after(
            last.map(JournalEntry::number).orElse(0L) + 1,
            last.map(JournalEntry::hash).orElse(JournalEntry.START),
            clock.instant().truncatedTo(ChronoUnit.MICROS),
            told.actor(),
            told.action(),
            told.subject(),
            told.summary()));
    events.touch("journal");
  }

  /** Writes one entry in a transaction of its own: for what was refused, and left nothing else. */
  public void note(String actor, String action, String subject, String summary) {
    database.run(tx -> write(tx, new Told(actor, action, subject, summary)));
  }

  /**
   * An entry for a reader.
   *
   * @param who the actor's name: an account's login, or a device's name as it is now
   */
  public record Shown(@JsonUnwrapped JournalEntry entry, String who) {}

  /** Entries, newest first, optionally of one subject or with some words in them. */
  public Page<Shown> page(Caller caller, String subject, String words, Page.Request page) {
    String[] cursor = page.parts(Page.Part.LONG);
    long before = cursor.length == 0 ? Long.MAX_VALUE : Long.parseLong(cursor[0]);
    return database.call(
        tx ->
            Page.of(
                new JournalStore(tx).page(subject, words, before, page.limit() + 1),
                page.limit(),
                r -> new Shown(r.entry(), r.who()),
                r -> Page.cursor(String.valueOf(r.number()))));
  }

  /**
   * Keeps the last entry outside the database, unless the one that was kept before is not in the
   * chain any more: then that stays, as what the chain is held against.
   */
  public void seal() {
    seal.ifPresent(
        s ->
            database
                .call(tx -> new JournalStore(tx).last())
                .filter(last -> s.read().map(head -> leadsTo(head, last)).orElse(true))
                .ifPresent(last -> s.keep(last, clock.instant())));
  }

  private boolean leadsTo(JournalSeal.Head head, JournalEntry last) {
    return head.number() < last.number()
        && database.call(tx -> new JournalStore(tx).after(head.number() - 1, 1)).stream()
            .anyMatch(e -> e.number() == head.number() && e.hash().equals(head.hash()));
  }

  /**
   * What checking the chain found.
   *
   * @param firstBroken the first entry that is not what it was, or is gone
   * @param sealedAt when the last entry was kept outside the database that the chain was held
   *     against
   */
  public record Verification(
      boolean intact, long entries, Optional<Long> firstBroken, Optional<Instant> sealedAt) {}

  /**
   * Reads the whole chain in chunks and checks every link, and that the entry which was kept
   * outside the database is there, as it was.
   */
  public Verification verify(Caller caller) {
    Optional<JournalSeal.Head> head = seal.flatMap(JournalSeal::read);
    Optional<Instant> sealedAt = head.map(JournalSeal.Head::at);
    long number = 0;
    String hash = JournalEntry.START;
    while (true) {
      long after = number;
      List<JournalEntry> rows =
          database.call(tx -> new JournalStore(tx).after(after, VERIFY_CHUNK));
      for (JournalEntry e : rows) {
        long own = e.number();
        boolean other =
            head.filter(h -> h.number() == own && !h.hash().equals(e.hash())).isPresent();
        if (!e.follows(number, hash) || other) {
          return new Verification(false, number, Optional.of(own), sealedAt);
        }
        number = e.number();
        hash = e.hash();
      }
      if (rows.size() < VERIFY_CHUNK) {
        long last = number;
        return head.filter(h -> h.number() > last).isPresent()
            ? new Verification(false, last, Optional.of(last + 1), sealedAt)
            : new Verification(true, last, Optional.empty(), sealedAt);
      }
    }
  }
}
