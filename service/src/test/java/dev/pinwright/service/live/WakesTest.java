package dev.pinwright.service.live;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import dev.pinwright.core.session.WakeQueue;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Notices;
import dev.pinwright.storage.TestDatabase;
import dev.pinwright.storage.Tx;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Who is woken when, of devices whose sessions nobody ends here. */
class WakesTest {
  private static final int MANY = 300;

  private final List<String> woken = Collections.synchronizedList(new ArrayList<>());
  private Database database;
  private Notices notices;
  private Wakes wakes;

  @BeforeEach
  void start() {
    database = TestDatabase.open();
    database.run(
        tx -> {
          IntStream.range(0, MANY).forEach(i -> TestDatabase.device(tx, "d" + i));
          TestDatabase.device(tx, "lost");
        });
    notices = new Notices(database);
    wakes = new Wakes(database, notices);
  }

  @AfterEach
  void stop() {
    wakes.close();
    notices.close();
    database.close();
  }

  private void connects(String device) {
    wakes.connected(
        device,
        new Wakes.Socket() {
          @Override
          public void wake() {
            woken.add(device);
          }

          @Override
          public void close() {}
        });
  }

  private void ordered(Tx tx, String device, int total) {
    tx.execute(
        "insert into dispatch (id, command, fields, reason, at, expires_at, actor, total,"
            + " account_id, request_hash) values (:d || '-order', 'lock', '{}', '', now(),"
            + " now() + interval '1 day', 'owner', :n, 'a', '')",
        Map.of("d", device, "n", total));
    tx.execute(
        "insert into command (id, dispatch_id, device_id, command, state, queued_at, expires_at)"
            + " values (:d || '-1', :d || '-order', :d, 'lock', 'queued', now(),"
            + " now() + interval '1 day')",
        Map.of("d", device));
  }

  private void manyConnect() {
    IntStream.range(0, MANY).forEach(i -> connects("d" + i));
    await().until(() -> woken.size() >= WakeQueue.AT_ONCE);
  }

  @Test
  void whoConnectsAmongManyIsWokenBeforeThemForWhatWasOrderedForItAlone() {
    manyConnect();
    database.run(tx -> ordered(tx, "lost", 1));
    connects("lost");
    await().until(() -> woken.contains("lost"));
    assertThat(woken.subList(0, woken.indexOf("lost"))).hasSizeLessThan(MANY);
  }

  @Test
  void whatWasOrderedForManyWaitsItsTurn() {
    manyConnect();
    database.run(tx -> ordered(tx, "lost", WakeQueue.FEW + 1));
    connects("lost");
    await().until(() -> woken.size() >= 2 * WakeQueue.AT_ONCE);
    assertThat(woken).doesNotContain("lost");
  }

  @Test
  void whenASessionIsOverTheNextIsWoken() {
    manyConnect();
    for (int over = 0; over < MANY; over++) {
      if (woken.size() == over) {
        int before = over;
        await().until(() -> woken.size() > before);
      }
      wakes.over(woken.get(over));
    }
    assertThat(woken).doesNotHaveDuplicates().hasSize(MANY);
  }
}
