package dev.pinwright.service;

import com.github.kagkarlsson.scheduler.Scheduler;
import com.github.kagkarlsson.scheduler.task.helper.RecurringTask;
import com.github.kagkarlsson.scheduler.task.helper.Tasks;
import com.github.kagkarlsson.scheduler.task.schedule.FixedDelay;
import dev.pinwright.core.device.Standing;
import dev.pinwright.service.live.Events;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.device.DeviceStates;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/** Work that comes round by the clock, done by one node at a time. */
final class Jobs implements AutoCloseable {
  private final Scheduler scheduler;

  Jobs(Database database, Events events, Clock clock, Duration silentAfter, List<Chore> chores) {
    RecurringTask<Void> commands =
        every(
            "expire-commands",
            Duration.ofSeconds(15),
            () -> {
              int n =
                  run(
                      database,
                      clock,
                      "update command set state = 'expired', ended_at = :now,"
                          + " reason = 'the device was not heard of in time'"
                          + " where state in ('queued', 'delivered') and expires_at <= :now");
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
              run(
                  database,
                  clock,
                  "update arrival set outcome = 'abandoned', changed_at = :now,"
                      + " reason = 'the device did not go on'"
                      + " where outcome = 'under-way' and step <> 'ready gate' and changed_at < cast(:now as timestamptz) - interval '1 hour'");
              run(database, clock, "delete from sign_in where expires_at < :now");
              run(
                  database,
                  clock,
                  "update roster_import set state = 'failed', reason = 'the service stopped while"
                      + " it was checked; bring the sheet again' where state = 'checking'"
                      + " and created_at < cast(:now as timestamptz) - interval '10 minutes'");
              run(
                  database,
                  clock,
                  "delete from roster_import"
                      + " where created_at < cast(:now as timestamptz) - interval '30 days'");
              run(database, clock, "delete from failed_try where until < :now");
              run(
                  database,
                  clock,
                  "delete from est_grant where expires_at < cast(:now as timestamptz) - interval '1 day'");
              run(
                  database,
                  clock,
                  "delete from dm_session where changed_at < cast(:now as timestamptz) - interval '1 hour'");
            });
    List<RecurringTask<Void>> all = new ArrayList<>(List.of(commands, silent, tidy));
    chores.forEach(c -> all.add(every(c.name(), c.delay(), c.work())));
    scheduler =
        Scheduler.create(database.dataSource())
            .startTasks(all)
            .threads(2)
            .pollingInterval(Duration.ofSeconds(5))
            .commitWhenAutocommitDisabled(true)
            .build();
    scheduler.start();
  }

  /** Work that comes again; on whichever node is first. */
  record Chore(String name, Duration delay, Runnable work) {}

  private static int run(Database database, Clock clock, String sql) {
    Map<String, Object> p = new HashMap<>();
    p.put("now", clock.instant());
    return database.call(tx -> tx.execute(sql, p));
  }

  private static RecurringTask<Void> every(String name, Duration delay, Runnable work) {
    return Tasks.recurring(name, FixedDelay.of(delay)).execute((i, c) -> work.run());
  }

  @Override
  public void close() {
    scheduler.stop();
  }
}
