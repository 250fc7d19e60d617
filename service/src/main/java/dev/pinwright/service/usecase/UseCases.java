package dev.pinwright.service.usecase;

import com.github.f4b6a3.ulid.UlidCreator;
import dev.pinwright.core.notice.Notice;
import dev.pinwright.service.journal.Journal;
import dev.pinwright.service.live.Events;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.ChangedAtOnce;
import dev.pinwright.storage.DataRefused;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.house.NoticeStore;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.function.Supplier;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * The frame of every use case. What it does is done in one transaction; what is to be told of it is
 * written into the journal at the end of that transaction; whoever looks at a list that changed
 * hears of it after the commit, and not at all when there is none.
 *
 * <p>Who may call a use case is not asked here: the contract declares the least role of each
 * operation, and the server holds to it before anything is called.
 */
public final class UseCases {
  private static final Logger LOG = LoggerFactory.getLogger(UseCases.class);

  private final Database database;
  private final Journal journal;
  private final Events events;
  private final Clock clock;
  private final Optional<Act> around;

  public UseCases(Database database, Journal journal, Events events, Clock clock) {
    this(database, journal, events, clock, Optional.empty());
  }

  private UseCases(
      Database database, Journal journal, Events events, Clock clock, Optional<Act> around) {
    this.around = around;
    this.database = database;
    this.journal = journal;
    this.events = events;
    this.clock = clock;
  }

  /**
   * Use cases that are part of another one: in its transaction, at its moment, told of with it.
   * What they do stands or falls with it.
   */
  public UseCases within(Act act) {
    return new UseCases(database, journal, events, clock, Optional.of(act));
  }

  /** What time it is. */
  public Instant now() {
    return around.map(Act::now).orElseGet(clock::instant);
  }

  /** An id for something new. */
  public String newId() {
    return UlidCreator.getMonotonicUlid().toString();
  }

  /** Looks something up; nothing is written. */
  public <T> T read(Function<Tx, T> work) {
    return around.isPresent() ? work.apply(around.get().tx) : heard(() -> database.call(work));
  }

  /** Looks something up by single statements, without a transaction. */
  public <T> T look(Database.Looking<T> looking) {
    return heard(() -> database.look(looking));
  }

  /** Looks something up as it was at one moment, holding nobody up. */
  public <T> T snapshot(Function<Tx, T> work) {
    return around.isPresent() ? work.apply(around.get().tx) : heard(() -> database.snapshot(work));
  }

  /** Does something, on behalf of a caller. */
  public <T> T act(Caller caller, Function<Act, T> work) {
    if (around.isPresent()) {
      return work.apply(around.get());
    }
    Act[] acts = new Act[1];
    T result =
        heard(
            () ->
                database.call(
                    tx -> {
                      Act act = new Act(tx, caller, clock.instant());
                      acts[0] = act;
                      T done = work.apply(act);
                      act.entries.forEach(e -> journal.write(tx, e));
                      return done;
                    }));
    acts[0].touched.forEach(n -> events.touch(n.list()));
    return result;
  }

  /** {@link #act} without a result. */
  public void run(Caller caller, Consumer<Act> work) {
    act(
        caller,
        a -> {
          work.accept(a);
          return true;
        });
  }

  /** Does something and takes it back, to see what it would have done. */
  public <T> T rehearse(Caller caller, Function<Act, T> work) {
    return heard(() -> database.rehearse(tx -> work.apply(new Act(tx, caller, clock.instant()))));
  }

  /** Tells whoever sent a value no column takes, or came between, in place of failing. */
  private static <T> T heard(Supplier<T> work) {
    try {
      return work.get();
    } catch (ChangedAtOnce e) {
      throw new Problem(
          412,
          "changed-meanwhile",
          "Changed meanwhile",
          "Someone changed something of this at the same moment; nothing was done. Do it again.");
    } catch (DataRefused e) {
      LOG.warn("was given what no column takes: {}", String.valueOf(e.getMessage()));
      throw Problem.malformed("", "Something in the request has a form that cannot be kept.");
    }
  }

  /** One use case under way. */
  public static final class Act {
    private final Tx tx;
    private Caller caller;
    private final Instant now;
    private final List<Journal.Told> entries = new ArrayList<>();
    private final Set<Noun> touched = EnumSet.noneOf(Noun.class);

    private Act(Tx tx, Caller caller, Instant now) {
      this.tx = tx;
      this.caller = caller;
      this.now = now;
    }

    /** The transaction it is done in. */
    public Tx tx() {
      return tx;
    }

    /** Who does it. */
    public Caller caller() {
      return caller;
    }

    /** Goes on on behalf of a device that has become known. */
    public void onBehalfOf(Caller known) {
      caller = known;
    }

    /** When; the same for all of it. */
    public Instant now() {
      return now;
    }

    /** An id for something new. */
    public String newId() {
      return UlidCreator.getMonotonicUlid().toString();
    }

    /**
     * Tells the journal, and whoever looks at the list of these.
     *
     * @param verb what was done to it, such as {@code made}
     * @param summary a sentence; never a secret
     */
    public void done(Noun noun, String verb, String id, String summary) {
      done(noun, verb, noun, id, summary);
    }

    /** {@link #done} for what was done to something else: a certificate issued to a device. */
    public void done(Noun noun, String verb, Noun of, String id, String summary) {
      entries.add(
          new Journal.Told(caller.login(), noun.word() + "." + verb, of.subject(id), summary));
      touch(noun, of);
    }

    /** Says something to the people who look after devices, once for each of its occasions. */
    public void say(Notice notice) {
      if (new NoticeStore(tx).give(newId(), notice, now)) {
        touch(Noun.NOTICE);
      }
    }

    /** Puts away what was said of something that is no longer so. */
    public void over(String about) {
      if (new NoticeStore(tx).over(about, now)) {
        touch(Noun.NOTICE);
      }
    }

    /** Tells whoever looks at a list that something in it changed. */
    public void touch(Noun... nouns) {
      touched.addAll(List.of(nouns));
    }
  }
}
