package dev.pinwright.service;

import com.github.kagkarlsson.scheduler.Scheduler;
import com.github.kagkarlsson.scheduler.task.helper.RecurringTask;
import com.github.kagkarlsson.scheduler.task.helper.Tasks;
import com.github.kagkarlsson.scheduler.task.schedule.FixedDelay;
import dev.pinwright.core.device.Standing;
import dev.pinwright.service.live.Events;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.access.AccountStore;
import dev.pinwright.storage.access.TryStore;
import dev.pinwright.storage.acting.CommandStore;
import dev.pinwright.storage.arrival.ArrivalStore;
import dev.pinwright.storage.device.DeviceStates;
import dev.pinwright.storage.device.DeviceStore;
import dev.pinwright.storage.identity.CertificateStore;
import dev.pinwright.storage.roster.SheetStore;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Executors;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Work that comes round by the clock, done by one node at a time. */
final class Jobs implements AutoCloseable {
  /** How often a node says that it is still at a piece of work. */
  private static final Duration HEARTBEAT = Duration.ofSeconds(5);

  /** After how many that did not come another node takes the work up. */
  private static final int MISSED = 4;

  private static final int AT_ONCE = 2;

  private static final Logger LOG = LoggerFactory.getLogger(Jobs.class);

  private final Scheduler scheduler;

  Jobs(Database database, Events events, Clock clock, Duration silentAfter, List<Chore> chores) {
    RecurringTask<Void> commands =
        every(
            "expire-commands",
            Duration.ofSeconds(15),
            () -> {
              int n = database.call(tx -> new CommandStore(tx).expire(clock.instant()));
              if (n > 0) {
                events.touch("dispatches");
              }
            });
    RecurringTask<Void> silent =
        every(
            "mark-silent",
            Duration.ofMinutes(1),
            () -> {
              int n =
                  database.call(
                      tx ->
                          new DeviceStates(tx)
                              .silent(
                                  clock.instant().minus(silentAfter),
                                  Standing.judge(Standing.Evidence.ofSilence(silentAfter))));
              if (n > 0) {
                events.touch("devices");
              }
            });
    RecurringTask<Void> tidy =
        every(
            "tidy",
            Duration.ofMinutes(5),
            () -> {
              Instant now = clock.instant();
              database.run(tx -> new ArrivalStore(tx).tidy(now));
              database.run(tx -> new AccountStore(tx).tidy(now));
              database.run(tx -> new SheetStore(tx).tidy(now));
              database.run(tx -> new TryStore(tx).tidy(now));
              database.run(tx -> new CertificateStore(tx).tidy(now));
              database.run(tx -> new DeviceStore(tx).tidySessions(now));
            });
    List<RecurringTask<Void>> all = new ArrayList<>(List.of(commands, silent, tidy));
    chores.forEach(c -> all.add(every(c.name(), c.delay(), c.work())));
    scheduler =
        Scheduler.create(database.dataSource())
            .startTasks(all)
            .threads(AT_ONCE)
            .executorService(Executors.newFixedThreadPool(AT_ONCE, Jobs::thread))
            .pollingInterval(Duration.ofSeconds(5))
            .heartbeatInterval(HEARTBEAT)
            .missedHeartbeatsLimit(MISSED)
            .commitWhenAutocommitDisabled(true)
            .build();
    scheduler.start();
  }

  /**
   * A thread for such work. What cannot be taken up, because the database went away while it was,
   * is taken up at another round or by another node.
   */
  private static Thread thread(Runnable work) {
    Thread thread = new Thread(work, "jobs");
    thread.setUncaughtExceptionHandler(
        (t, e) -> LOG.warn("Work that comes round could not be taken up: {}", e.toString()));
    return thread;
  }

  /** Work that comes again; on whichever node is first. */
  record Chore(String name, Duration delay, Runnable work) {}

  private static RecurringTask<Void> every(String name, Duration delay, Runnable work) {
    return Tasks.recurring(name, FixedDelay.of(delay)).execute((i, c) -> work.run());
  }

  @Override
  public void close() {
    scheduler.stop();
  }
}
