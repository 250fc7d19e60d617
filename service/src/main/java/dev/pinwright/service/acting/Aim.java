package dev.pinwright.service.acting;

import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.CommandSpec;
import dev.pinwright.core.change.Rehearsal;
import dev.pinwright.core.device.DeviceTraits;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.device.Ownership;
import dev.pinwright.core.target.Target;
import dev.pinwright.service.device.DeviceFilter;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.query.DeviceCondition;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Which devices an order is for: gathered by set-based statements, however many they are. */
final class Aim {
  private Aim() {}

  /** Gathers the devices an order is for in a temporary table. */
  static void gather(Tx tx, Order.Checked checked, Order order) {
    String[] serials =
        order.serials().orElse(List.of()).stream()
            .map(s -> s.strip().toUpperCase(java.util.Locale.ROOT))
            .filter(s -> !s.isEmpty())
            .distinct()
            .toArray(String[]::new);
    List<Object[]> unknown =
        tx.rows(
            "select s, 1 from unnest(cast(:s as text[])) s where not exists (select 1 from"
                + " device d where d.serial = s and d.retired_at is null) limit 20",
            Map.of("s", serials));
    if (!unknown.isEmpty()) {
      throw Problem.malformed(
          "/serials",
          "No device has the serial "
              + String.join(", ", unknown.stream().map(r -> (String) r[0]).toList())
              + ".");
    }
    tx.execute(
        "create temporary table if not exists aimed (device_id text) on commit delete rows",
        Map.of());
    tx.execute(
        """
        insert into aimed
        select distinct dt.device_id from device_target dt
          join unnest(cast(:kinds as text[]), cast(:refs as text[])) t(kind, ref)
            on t.kind = dt.kind and t.ref = dt.ref
          join device d on d.id = dt.device_id and d.retired_at is null
        union
        select id from device where serial = any(cast(:serials as text[])) and retired_at is null
        """,
        Map.of(
            "kinds", checked.targets().stream().map(t -> Words.of(t.kind())).toArray(String[]::new),
            "refs", checked.targets().stream().map(Target::ref).toArray(String[]::new),
            "serials", serials));
    order.matching().ifPresent(m -> addMatching(tx, m));
  }

  private static void addMatching(Tx tx, DeviceFilter.Written matching) {
    DeviceCondition condition = DeviceCondition.of(matching.query(tx));
    tx.execute(
        "insert into aimed select d.id from "
            + DeviceCondition.FROM
            + " where "
            + condition.sql()
            + " and not exists (select 1 from aimed a where a.device_id = d.id)",
        condition.parameters());
  }

  /** Devices that can or cannot carry it out alike; {@code no} says why not. */
  record Sort(String platform, String mode, String ownership, long devices, String no) {}

  static List<Sort> sorts(Tx tx, Catalog catalog, CommandSpec spec) {
    return tx
        .rows(
            "select d.platform, d.mode, d.ownership, count(*) from aimed a"
                + " join device d on d.id = a.device_id group by 1, 2, 3 order by 1, 2, 3",
            Map.of())
        .stream()
        .map(
            r ->
                new Sort(
                    (String) r[0],
                    (String) r[1],
                    (String) r[2],
                    ((Number) r[3]).longValue(),
                    catalog
                        .objection(
                            spec,
                            new DeviceTraits(
                                (String) r[0],
                                Words.parse(Mode.class, (String) r[1]),
                                new OsVersion(0, 0, 0)),
                            Words.parse(Ownership.class, (String) r[2]))
                        .orElse("")))
        .toList();
  }

  static Dispatches.Preview preview(List<Sort> sorts) {
    long devices = sorts.stream().mapToLong(Sort::devices).sum();
    Map<String, Long> unable = new java.util.TreeMap<>();
    sorts.stream()
        .filter(s -> !s.no().isEmpty())
        .forEach(s -> unable.merge(s.no(), s.devices(), Long::sum));
    return new Dispatches.Preview(
        devices,
        devices - unable.values().stream().mapToLong(Long::longValue).sum(),
        unable.entrySet().stream()
            .map(e -> new Dispatches.Unable(e.getKey(), e.getValue()))
            .toList(),
        devices >= Rehearsal.CONFIRM_FROM ? Optional.of(devices) : Optional.empty());
  }
}
