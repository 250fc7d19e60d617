package dev.pinwright.service.device;

import com.fasterxml.jackson.core.type.TypeReference;
import dev.pinwright.service.Json;
import dev.pinwright.service.Page;
import dev.pinwright.service.Problem;
import dev.pinwright.service.access.Caller;
import dev.pinwright.service.access.Role;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/** Lists of devices: pages and counts. */
public final class DeviceList {
  private static final TypeReference<TreeMap<String, String>> TEXTS = new TypeReference<>() {};
  private final Database database;

  public DeviceList(Database database) {
    this.database = database;
  }

  /** A device in a list. */
  public record Summary(
      String id,
      String name,
      String platform,
      String kind,
      String maker,
      String model,
      String osVersion,
      String ownership,
      String mode,
      Optional<String> serial,
      Optional<String> imei,
      String standing,
      String standingReason,
      Optional<Integer> battery,
      Optional<Long> storageFree,
      Optional<Boolean> passcodeCompliant,
      List<String> tags,
      Map<String, String> attributes,
      Optional<String> unit,
      Optional<String> site,
      Optional<String> person,
      Instant enrolledAt,
      Optional<Instant> lastSeen) {}

  /** How many devices stand how, and how many hold a socket open to any node. */
  public record Fleet(
      long total, Map<String, Long> byStanding, Map<String, Long> byPlatform, long online) {}

  private record Order(String column, String type, String direction) {}

  private static final Map<String, Order> ORDERS =
      Map.of(
          "name", new Order("lower(d.name)", "text", ""),
          "last-seen", new Order("coalesce(d.last_seen, '-infinity')", "timestamptz", "desc"),
          "enrolled", new Order("d.enrolled_at", "timestamptz", "desc"));

  /**
   * A page of devices.
   *
   * @param sort {@code name}, {@code last-seen} or {@code enrolled}; times newest first
   */
  public Page<Summary> page(Caller caller, DeviceFilter filter, String sort, Page.Request page) {
    caller.needs(Role.READER);
    Order order = ORDERS.get(sort);
    if (order == null) {
      throw Problem.malformed("/sort", "sort has to be one of name, last-seen, enrolled.");
    }
    return database.call(tx -> page(tx, filter, order, page));
  }

  private static Page<Summary> page(Tx tx, DeviceFilter filter, Order order, Page.Request page) {
    String[] c = page.parts(2);
    boolean up = order.direction().isEmpty();
    DeviceFilter.Clause clause = filter.clause(tx);
    Map<String, Object> p = new HashMap<>(clause.parameters());
    String after = "";
    if (c.length > 0) {
      after =
          " and (%s, d.id) %s (cast(:value as %s), :id)"
              .formatted(order.column(), up ? ">" : "<", order.type());
      p.put("value", c[0]);
      p.put("id", c[1]);
    }
    p.put("limit", page.limit() + 1);
    String sql =
        SUMMARY.replace("SORT", order.column())
            + " where "
            + clause.sql()
            + after
            + " order by %1$s %2$s, d.id %2$s limit :limit"
                .formatted(order.column(), order.direction());
    return Page.of(
        tx.rows(sql, p),
        page.limit(),
        DeviceList::summary,
        r -> Page.cursor((String) r[19], (String) r[0]));
  }

  /** How many devices match. */
  public long count(Caller caller, DeviceFilter filter) {
    caller.needs(Role.READER);
    return database.call(
        tx -> {
          DeviceFilter.Clause clause = filter.clause(tx);
          return tx.value(
              "select count(*) from device d where " + clause.sql(),
              Long.class,
              clause.parameters());
        });
  }

  /** One device as lists show it. */
  static Summary one(Tx tx, String id) {
    return summary(
        tx.rows(SUMMARY.replace("SORT", "d.id") + " where d.id = :id", Map.of("id", id)).get(0));
  }

  private static final String SUMMARY =
      """
      select d.id, d.name, d.platform, d.kind, d.maker, d.model, d.os_version, d.ownership, d.mode,
             d.serial, d.imei, d.standing, d.standing_reason,
             d.facts ->> 'battery/level', d.facts ->> 'storage/free',
             d.facts ->> 'security/passcode-compliant',
             coalesce((select string_agg(tag, chr(10) order by tag) from device_tag t
                        where t.device_id = d.id), ''),
             d.enrolled_at, d.last_seen, cast(SORT as text), u.code, s.name, p.name,
             (select cast(jsonb_object_agg(a.name, v.value) as text) from attribute_value v
                join attribute a on a.id = v.attribute_id where v.subject_id = d.id)
        from device d left join unit u on u.id = d.unit_id left join site s on s.id = d.site_id
        left join person p on p.id = d.person_id
      """;

  private static Summary summary(Object[] r) {
    String tags = (String) r[16];
    return new Summary(
        (String) r[0],
        (String) r[1],
        (String) r[2],
        (String) r[3],
        (String) r[4],
        (String) r[5],
        (String) r[6],
        (String) r[7],
        (String) r[8],
        Optional.ofNullable((String) r[9]),
        Optional.ofNullable((String) r[10]),
        (String) r[11],
        (String) r[12],
        number(r[13]).map(Long::intValue),
        number(r[14]),
        Optional.ofNullable((String) r[15]).map(Boolean::parseBoolean),
        tags.isEmpty() ? List.of() : List.of(tags.split("\n")),
        r[23] == null ? Map.of() : Json.read((String) r[23], TEXTS),
        Optional.ofNullable((String) r[20]),
        Optional.ofNullable((String) r[21]),
        Optional.ofNullable((String) r[22]),
        (Instant) r[17],
        Optional.ofNullable((Instant) r[18]));
  }

  private static Optional<Long> number(@org.jspecify.annotations.Nullable Object text) {
    return text instanceof String s && s.matches("-?\\d{1,18}")
        ? Optional.of(Long.parseLong(s))
        : Optional.empty();
  }

  /** Counts for the fleet strip. */
  public Fleet fleet(Caller caller) {
    caller.needs(Role.READER);
    return database.call(
        tx -> {
          Map<String, Long> standings = new TreeMap<>();
          Map<String, Long> platforms = new TreeMap<>();
          long total = 0;
          for (Object[] r :
              tx.rows(
                  "select standing, platform, count(*) from device where retired_at is null"
                      + " group by 1, 2",
                  Map.of())) {
            long n = ((Number) r[2]).longValue();
            standings.merge((String) r[0], n, Long::sum);
            platforms.merge((String) r[1], n, Long::sum);
            total += n;
          }
          long online =
              tx.value(
                  "select count(*) from open_socket s join node n on n.id = s.node_id"
                      + " and n.heard_at > now() - interval '45 seconds'",
                  Long.class,
                  Map.of());
          return new Fleet(total, standings, platforms, online);
        });
  }
}
