package dev.pinwright.storage.device;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.core.device.Ownership;
import dev.pinwright.core.device.Standing;
import dev.pinwright.core.query.DeviceQuery;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.TestDatabase;
import dev.pinwright.storage.TestFleet;
import dev.pinwright.storage.query.DeviceCondition;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/**
 * Pages of more devices than one stretch of a walk has: found or walked to, in one stretch or
 * several, they are the devices that match, in their order.
 */
class DeviceListsTest {
  private static final int DEVICES = 30_000;
  private static final int PAGES = 4;
  private static final int LIMIT = 50;

  private static final Map<DeviceLists.Order, String> ORDERS =
      Map.of(
          DeviceLists.Order.NAME, "lower(d.name), d.id",
          DeviceLists.Order.LAST_SEEN, "coalesce(st.last_seen, '-infinity') desc, d.id desc",
          DeviceLists.Order.ENROLLED, "d.enrolled_at desc, d.id desc");

  private static Database database;

  @BeforeAll
  static void fill() {
    database = TestDatabase.open();
    TestFleet.fill(database, DEVICES);
  }

  @AfterAll
  static void close() {
    database.close();
  }

  static Stream<DeviceQuery> queries() {
    DeviceQuery close = new DeviceQuery.Words("ar10-00012");
    DeviceQuery gallery = new DeviceQuery.Tagged("gallery");
    return Stream.of(
        DeviceQuery.ALL,
        new DeviceQuery.Words("device 77"),
        new DeviceQuery.Words("nobody has this"),
        new DeviceQuery.InGroup("G3"),
        new DeviceQuery.Within("U1"),
        new DeviceQuery.Within("U150"),
        new DeviceQuery.Is(DeviceQuery.Field.SITE, Set.of("S7")),
        new DeviceQuery.Tagged("rare"),
        new DeviceQuery.Owned(Ownership.PERSONAL),
        new DeviceQuery.Stands(Standing.BLOCKED),
        close,
        DeviceQuery.anyOf(close, new DeviceQuery.Tagged("rare")),
        DeviceQuery.allOf(gallery, new DeviceQuery.Stands(Standing.SILENT)),
        DeviceQuery.allOf(gallery, DeviceQuery.not(close), new DeviceQuery.InGroup("G4")));
  }

  @ParameterizedTest
  @MethodSource("queries")
  void aPageHasTheNextThatMatchInTheirOrder(DeviceQuery which) {
    DeviceQuery query = DeviceQuery.allOf(DeviceQuery.MANAGED, which);
    DeviceCondition condition = DeviceCondition.of(query);
    ORDERS.forEach(
        (order, by) -> {
          String all =
              "select d.id from %s where %s order by %s limit %d"
                  .formatted(DeviceCondition.FROM, condition.sql(), by, PAGES * LIMIT);
          assertThat(pages(query, order))
              .as("%s by %s", which, order)
              .isEqualTo(database.call(tx -> tx.column(String.class, all, condition.parameters())));
        });
  }

  private static List<String> pages(DeviceQuery query, DeviceLists.Order order) {
    List<String> seen = new ArrayList<>();
    Optional<DeviceLists.Place> after = Optional.empty();
    for (int page = 0; page < PAGES; page++) {
      Optional<DeviceLists.Place> from = after;
      List<DeviceLists.Line> lines =
          database.call(tx -> new DeviceLists(tx).page(query, order, from, LIMIT));
      lines.forEach(l -> seen.add(l.device().id()));
      if (lines.size() < LIMIT) {
        break;
      }
      after = Optional.of(lines.get(LIMIT - 1).place());
    }
    return seen;
  }
}
