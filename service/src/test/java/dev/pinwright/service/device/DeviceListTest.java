package dev.pinwright.service.device;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.core.access.Role;
import dev.pinwright.core.device.DeviceSummary;
import dev.pinwright.core.target.NamedDevices;
import dev.pinwright.service.UseCasesOn;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Page;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.TestDatabase;
import java.time.Clock;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Function;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Lists of a hundred thousand devices. */
class DeviceListTest {
  private static final int DEVICES = 100_000;
  private static final Caller READER = new Caller("1", "reader", Role.READER);
  private static final DeviceFilter ALL = DeviceFilter.ALL;
  private static Database database;
  private static DeviceList list;

  @BeforeAll
  static void fill() {
    database = TestDatabase.open();
    list = new DeviceList(UseCasesOn.database(database, Clock.systemUTC()));
    database.run(
        tx -> {
          tx.execute(
              """
              insert into device (id, name, platform, kind, maker, model, os_version, os_level,
                  ownership, mode, serial, enrolled_at, facts)
              select 'D' || lpad(n::text, 6, '0'), 'Device ' || n,
                     (array['tarn', 'fjell', 'moor'])[n % 3 + 1], 'tablet', 'Arbor',
                     (array['T10', 'T8 mini', 'P5'])[n % 3 + 1], '7.2.1', '7.2', 'corporate',
                     'supervised', 'AR10-' || lpad(n::text, 6, '0'),
                     timestamptz '2026-03-01 08:00Z' + n * interval '7 seconds',
                     '{"battery/level": "64", "storage/free": "21000000000"}'
                from generate_series(1, :n) n
              """,
              Map.of("n", DEVICES));
          tx.execute(
              """
              insert into device_state (device_id, standing, desired_digest, last_seen)
              select 'D' || lpad(n::text, 6, '0'),
                     case when n % 5000 = 0 then 'blocked' else 'settled' end, 'd',
                     timestamptz '2026-03-02 08:00Z' - n * interval '3 seconds'
                from generate_series(1, :n) n
              """,
              Map.of("n", DEVICES));
          tx.execute(
              "insert into device_tag select id, 'field' from device where id like '%777'",
              Map.of());
        });
    database.run(tx -> tx.execute("analyze device, device_state", Map.of()));
  }

  @AfterAll
  static void close() {
    database.close();
  }

  @Test
  void devicesAreFoundByAListOfWhatTheyAreNamedBy() {
    database.run(
        tx -> tx.execute("update device set asset = 'vm-00007' where id = 'D000007'", Map.of()));
    NamedDevices named =
        list.named(
            READER,
            List.of(" ar10-000005", "VM-00007", "AR10-000007", "AR10-999999", "ar10-000005"));
    assertThat(named.found())
        .extracting(NamedDevices.Found::id)
        .containsExactly("D000005", "D000007");
    assertThat(named.unknown()).containsExactly("AR10-999999");
    assertThat(named.doubled()).containsExactly("AR10-000007", "AR10-000005");
    assertThatThrownBy(() -> list.named(READER, List.of(" ", "")))
        .hasMessageContaining("Name 1 to 10000");
  }

  private static DeviceFilter filter(String words, String standing, String tag) {
    return new DeviceFilter(
        words, "", standing, "", "", tag, "", "", "", "", "", List.of(), "", 0, false);
  }

  private static List<DeviceSummary> walk(DeviceFilter filter, String sort, int pages) {
    List<DeviceSummary> out = new ArrayList<>();
    String after = "";
    for (int i = 0; i < pages; i++) {
      Page<DeviceSummary> page = list.page(READER, filter, sort, new Page.Request(after, 200));
      out.addAll(page.items());
      if (page.next().isEmpty()) {
        break;
      }
      after = page.next().get();
    }
    return out;
  }

  private static <T> Set<T> distinct(List<DeviceSummary> rows, Function<DeviceSummary, T> f) {
    Set<T> out = new HashSet<>();
    rows.forEach(r -> out.add(f.apply(r)));
    return out;
  }

  @ParameterizedTest
  @ValueSource(strings = {"name", "last-seen", "enrolled"})
  void pagesFollowEachOtherWithoutGapsOrDoubles(String sort) {
    List<DeviceSummary> rows = walk(ALL, sort, 6);
    assertThat(distinct(rows, DeviceSummary::id)).hasSize(1200);
    switch (sort) {
      case "name" -> assertThat(rows.stream().map(r -> r.name().toLowerCase()).toList()).isSorted();
      case "last-seen" ->
          assertThat(rows.stream().map(r -> -r.lastSeen().orElseThrow().toEpochMilli()).toList())
              .isSorted();
      default ->
          assertThat(rows.stream().map(r -> -r.enrolledAt().toEpochMilli()).toList()).isSorted();
    }
  }

  @Test
  void filtersHoldTogether() {
    assertThat(walk(filter("", "blocked", ""), "name", 5)).hasSize(20);
    assertThat(list.count(READER, filter("", "blocked", ""))).isEqualTo(20);
    assertThat(walk(filter("", "", "field"), "name", 5)).hasSize(100);
    assertThat(walk(filter("mini ar10-0", "", "field"), "name", 5))
        .isNotEmpty()
        .allMatch(d -> d.model().equals("T8 mini"));
    assertThat(list.count(READER, filter("nobody has this", "", ""))).isZero();
  }

  @Test
  void anyPartOfAnIdentifierFindsItsDevice() {
    assertThat(walk(filter("0-09999", "", ""), "name", 1))
        .extracting(d -> d.serial().orElseThrow())
        .contains("AR10-099990", "AR10-099999");
  }

  @Test
  void wordsThatMeanSomethingToSqlAreJustWords() {
    assertThat(walk(filter("100%", "", ""), "name", 1)).isEmpty();
    assertThat(walk(filter("_R10", "", ""), "name", 1)).isEmpty();
    assertThat(walk(filter("'; drop table device; --", "", ""), "name", 1)).isEmpty();
  }

  @Test
  void anUnknownOrderIsRefusedWithTheKnownOnes() {
    assertThatThrownBy(() -> list.page(READER, ALL, "colour", new Page.Request("", 10)))
        .hasMessageContaining("name, last-seen, enrolled");
  }

  @Test
  void thePlanOfAPageReadsAnIndexInOrderAndSortsNothing() {
    List<String> plan =
        database.call(
            tx ->
                tx.column(
                    String.class,
                    "explain select id from device d where d.retired_at is null"
                        + " and (lower(d.name), d.id) > ('device 5', 'D')"
                        + " order by lower(d.name), d.id limit 101",
                    Map.of()));
    String text = String.join("\n", plan);
    assertThat(text).contains("device_by_name").doesNotContain("Sort");
  }
}
