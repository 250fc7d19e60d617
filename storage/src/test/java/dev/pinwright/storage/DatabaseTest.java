package dev.pinwright.storage;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalStateException;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.storage.row.AccountRow;
import dev.pinwright.storage.row.DeviceRow;
import dev.pinwright.storage.row.TermsRow;
import jakarta.persistence.Column;
import jakarta.persistence.Table;
import java.lang.reflect.Field;
import java.lang.reflect.Modifier;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.TimeUnit;
import org.hibernate.annotations.DynamicUpdate;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

class DatabaseTest {
  private static String url;
  private static Database database;

  @BeforeAll
  static void open() {
    url = TestDatabase.create();
    database = TestDatabase.open(url);
  }

  @AfterAll
  static void close() {
    database.close();
  }

  private static TermsRow terms(int version) {
    TermsRow row = new TermsRow();
    row.version = version;
    row.title = "Using a device";
    row.text = "Bring it back to Norhaven.";
    row.createdAt = Instant.parse("2026-03-01T08:00:00Z");
    return row;
  }

  private static boolean kept(int version) {
    return database.call(tx -> tx.find(TermsRow.class, version).isPresent());
  }

  @Test
  void aTransactionThatEndsWellIsKept() {
    database.run(tx -> tx.insert(terms(1)));
    assertThat(kept(1)).isTrue();
  }

  @Test
  void aTransactionThatThrowsLeavesNothing() {
    assertThatIllegalStateException()
        .isThrownBy(
            () ->
                database.run(
                    tx -> {
                      tx.insert(terms(2));
                      tx.flush();
                      throw new IllegalStateException("the power went");
                    }));
    assertThat(kept(2)).isFalse();
  }

  @Test
  void aRehearsalSeesItsOwnChangesAndLeavesNothing() {
    boolean seen =
        database.rehearse(
            tx -> {
              tx.insert(terms(3));
              tx.flush();
              return tx.find(TermsRow.class, 3).isPresent();
            });
    assertThat(seen).isTrue();
    assertThat(kept(3)).isFalse();
  }

  @Test
  void otherServicesAreNotCalledWithinATransaction() {
    Database.outsideTransactions("the vendor");
    assertThatIllegalStateException()
        .isThrownBy(() -> database.run(tx -> Database.outsideTransactions("the vendor")))
        .withMessage("the vendor is called within a transaction");
    assertThatIllegalStateException()
        .isThrownBy(
            () ->
                database.run(
                    tx -> {
                      database.run(inner -> kept(1));
                      Database.outsideTransactions("the vendor");
                    }));
    Database.outsideTransactions("the vendor");
  }

  @Test
  void aLockedRowMakesOtherWritersWait() throws Exception {
    database.run(tx -> TestDatabase.device(tx, "LOCKED"));
    CountDownLatch locked = new CountDownLatch(1);
    CountDownLatch goOn = new CountDownLatch(1);
    Thread first =
        new Thread(
            () ->
                database.run(
                    tx -> {
                      DeviceRow row = tx.lock(DeviceRow.class, "LOCKED").orElseThrow();
                      locked.countDown();
                      await(goOn);
                      row.name = "first";
                    }));
    first.start();
    await(locked);
    List<String> order = new ArrayList<>();
    Thread second =
        new Thread(
            () ->
                database.run(
                    tx -> {
                      DeviceRow row = tx.lock(DeviceRow.class, "LOCKED").orElseThrow();
                      order.add(row.name);
                      row.name = row.name + ", then second";
                    }));
    second.start();
    second.join(200);
    assertThat(order).as("it waits").isEmpty();
    goOn.countDown();
    first.join(5_000);
    second.join(5_000);
    assertThat(order).containsExactly("first");
    String name = database.call(tx -> tx.find(DeviceRow.class, "LOCKED").orElseThrow().name);
    assertThat(name).isEqualTo("first, then second");
  }

  private static void await(CountDownLatch latch) {
    try {
      assertThat(latch.await(5, TimeUnit.SECONDS)).isTrue();
    } catch (InterruptedException e) {
      throw new IllegalStateException(e);
    }
  }

  @Test
  void noticesReachOtherNodesWhenATransactionCommitsAndNeverWhenItDoesNot() throws Exception {
    BlockingQueue<String> heard = new LinkedBlockingQueue<>();
    try (Database other = TestDatabase.open(url);
        Notices notices = new Notices(other)) {
      CountDownLatch listening = new CountDownLatch(1);
      notices.onNotice(
          (topic, payload) -> {
            if (topic.equals("ready")) {
              listening.countDown();
            } else if (!topic.equals(Notices.RESUMED)) {
              heard.add(topic + "|" + payload);
            }
          });
      for (int i = 0; i < 100 && listening.getCount() > 0; i++) {
        database.run(tx -> tx.notice("ready", ""));
        listening.await(50, TimeUnit.MILLISECONDS);
      }
      assertThatThrownBy(
              () ->
                  database.run(
                      tx -> {
                        tx.notice("wake", "never");
                        throw new IllegalArgumentException();
                      }))
          .isInstanceOf(IllegalArgumentException.class);
      database.rehearse(
          tx -> {
            tx.notice("wake", "rehearsed");
            return true;
          });
      database.run(tx -> tx.notice("wake", "AR10-0042-7731 twice told"));
      assertThat(heard.poll(5, TimeUnit.SECONDS)).isEqualTo("wake|AR10-0042-7731 twice told");
      assertThat(heard).isEmpty();
    }
  }

  @Test
  void theJournalCannotBeRewritten() {
    database.run(
        tx ->
            tx.execute(
                "insert into journal values (1, now(), 'owner', 'a', 's', 'told', 'p', 'h')",
                Map.of()));
    for (String attempt :
        List.of(
            "update journal set summary = 'never happened'",
            "delete from journal",
            "truncate journal")) {
      assertThatThrownBy(() -> database.run(tx -> tx.execute(attempt, Map.of())))
          .as(attempt)
          .hasStackTraceContaining("the journal is append-only");
    }
    String told =
        database.call(
            tx -> tx.value("select summary from journal where number = 1", String.class, Map.of()));
    assertThat(told).isEqualTo("told");
  }

  @Test
  void oneLoginIsOneAccount() {
    database.run(tx -> tx.insert(account("1", "ines")));
    assertThatThrownBy(() -> database.run(tx -> tx.insert(account("2", "ines"))))
        .hasStackTraceContaining("account_login_key");
  }

  private static AccountRow account(String id, String login) {
    AccountRow row = new AccountRow();
    row.id = id;
    row.login = login;
    row.name = "Ines";
    row.role = "owner";
    row.passwordHash = "x";
    row.createdAt = Instant.parse("2026-03-01T08:00:00Z");
    return row;
  }

  @Test
  void everyMappedColumnIsInTheTableTheMigrationsMake() throws Exception {
    for (Class<?> type : Mapping.mapped()) {
      Table table = type.getAnnotation(Table.class);
      Set<String> columns = new HashSet<>();
      database
          .call(
              tx ->
                  tx.column(
                      String.class,
                      "select column_name from information_schema.columns where table_name = :t",
                      Map.of("t", table.name())))
          .forEach(columns::add);
      assertThat(columns).as(table.name()).isNotEmpty();
      for (Field f : type.getDeclaredFields()) {
        if (!Modifier.isStatic(f.getModifiers())) {
          Column c = f.getAnnotation(Column.class);
          String name =
              c != null && !c.name().isEmpty()
                  ? c.name()
                  : f.getName().replaceAll("([a-z])([A-Z])", "$1_$2").toLowerCase();
          assertThat(columns).as(table.name() + " has " + name).contains(name);
        }
      }
    }
  }

  @Test
  void noWriterOfARowWritesColumnsItDidNotChange() {
    assertThat(Mapping.mapped())
        .allSatisfy(type -> assertThat(type).hasAnnotation(DynamicUpdate.class));
  }

  @Test
  void openingAMigratedDatabaseAgainChangesNothing() {
    long before = migrations();
    Database.open(TestDatabase.address(url, 2)).close();
    assertThat(migrations()).isEqualTo(before).isPositive();
  }

  private static long migrations() {
    return database.call(
        tx -> tx.value("select count(*) from flyway_schema_history", Long.class, Map.of()));
  }

  @Test
  void theRoleThatServesOwnsNothingAndCannotChangeTheJournal() {
    try (Database serving = Database.open(TestDatabase.address(url, 2))) {
      assertThat(
              serving.<String>call(
                  tx ->
                      tx.value(
                          "select string_agg(relname, ', ') from pg_class"
                              + " where relowner = current_user::regrole"
                              + " or (relkind = 'r' and relnamespace = 'public'::regnamespace"
                              + " and relname not in ('journal', 'flyway_schema_history')"
                              + " and not has_table_privilege(oid, 'select, insert'))",
                          String.class,
                          Map.of())))
          .isNull();
      for (String refused :
          List.of(
              "delete from journal",
              "update journal set subject = ''",
              "truncate journal",
              "alter table journal disable trigger all",
              "drop table device",
              "create table mine (id text)",
              "delete from flyway_schema_history")) {
        assertThatThrownBy(() -> serving.run(tx -> tx.execute(refused, Map.of())))
            .as(refused)
            .hasStackTraceContaining("ERROR: ")
            .satisfies(
                e ->
                    assertThat(e)
                        .hasStackTraceContaining(
                            refused.contains("alter table") || refused.contains("drop")
                                ? "must be owner"
                                : "permission denied"));
      }
    }
  }

  @Test
  void aDatabaseThatIsNotThereIsNamedInTheError() {
    Database.Address nowhere =
        new Database.Address(
            "jdbc:postgresql://127.0.0.1:1/none", "nobody", "secret", 2, Optional.empty());
    assertThatIllegalStateException()
        .isThrownBy(() -> Database.open(nowhere))
        .withMessageContaining("jdbc:postgresql://127.0.0.1:1/none cannot be reached")
        .withMessageNotContaining("secret");
  }
}
