package dev.pinwright.storage.device;

import dev.pinwright.core.device.DeviceSummary;
import dev.pinwright.core.device.Standing;
import dev.pinwright.core.query.DeviceQuery;
import dev.pinwright.core.target.NamedDevices;
import dev.pinwright.storage.Planning;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.query.DeviceCondition;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Lists of devices: pages, each after a place in an order, and counts. */
public final class DeviceLists {
  private final Tx tx;

  public DeviceLists(Tx tx) {
    this.tx = tx;
  }

  /** Managed devices with these serial numbers, IMEIs and asset numbers, in capitals. */
  public List<NamedDevices.Found> named(Collection<String> identifiers) {
    return tx.select(
        NamedDevices.Found.class,
        """
        select distinct d.id, d.name, i.identifier
          from device d
          cross join lateral unnest(array[d.serial, d.imei, upper(d.asset)]) as i(identifier)
         where d.retired_at is null and i.identifier = any(cast(:s as text[]))
           and (d.serial = any(cast(:s as text[])) or d.imei = any(cast(:s as text[]))
                or upper(d.asset) = any(cast(:s as text[])))
         order by d.name, d.id, i.identifier
        """,
        Map.of("s", identifiers.toArray(String[]::new)));
  }

  /** Orders of a list; each has an index that is read in it. */
  public enum Order {
    /** By name, in small letters. */
    NAME("device d", "lower(d.name)", "d.id", "text", true),
    /** The last heard first, those never heard at the end. */
    LAST_SEEN(
        "device_state st",
        "coalesce(st.last_seen, '-infinity')",
        "st.device_id",
        "timestamptz",
        false),
    /** The last joined first. */
    ENROLLED("device d", "d.enrolled_at", "d.id", "timestamptz", false);

    private final String table;
    private final String column;
    private final String id;
    private final String type;
    private final boolean up;

    Order(String table, String column, String id, String type, boolean up) {
      this.table = table;
      this.column = column;
      this.id = id;
      this.type = type;
      this.up = up;
    }

    private String way() {
      return up ? "asc" : "desc";
    }

    private String beyond(Optional<Place> place) {
      return place.isEmpty()
          ? "true"
          : "(%s, %s) %s (cast(:value as %s), :id)".formatted(column, id, up ? ">" : "<", type);
    }
  }

  /** A place in an order: the value ordered by, as text, and a device's id. */
  public record Place(String value, String id) {}

  /** A device and its place in the order of the list. */
  public record Line(DeviceSummary device, Place place) {}

  private static final String DETAILS =
      """
      select d.id, d.name, d.platform, d.kind, d.maker, d.model, d.os_version, d.ownership, d.mode,
             d.serial, d.imei, st.standing, st.standing_reason, st.order_state,
             d.facts ->> 'battery/level' as battery, d.facts ->> 'storage/free' as storage_free,
             d.facts ->> 'security/passcode-compliant' as passcode_compliant,
             array(select t.tag from device_tag t where t.device_id = d.id order by t.tag) as tags,
             array(select a.name from attribute_value v join attribute a on a.id = v.attribute_id
                    where v.subject_id = d.id order by a.name) as attribute_names,
             array(select v.value from attribute_value v join attribute a on a.id = v.attribute_id
                    where v.subject_id = d.id order by a.name) as attribute_values,
             u.code as unit, s.name as site, p.name as person, d.enrolled_at, st.last_seen,
             d.retired_at, d.retired_by, d.let_go_at,
             page.place
        from unnest(cast(:ids as text[]), cast(:places as text[])) with ordinality page(id, place, nr)
        join device d on d.id = page.id join device_state st on st.device_id = d.id
        left join unit u on u.id = d.unit_id left join site s on s.id = d.site_id
        left join person p on p.id = d.person_id
       order by page.nr
      """;

  private record Row(
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
      Standing standing,
      String standingReason,
      dev.pinwright.core.compliance.Order orderState,
      Optional<String> battery,
      Optional<String> storageFree,
      Optional<String> passcodeCompliant,
      List<String> tags,
      List<String> attributeNames,
      List<String> attributeValues,
      Optional<String> unit,
      Optional<String> site,
      Optional<String> person,
      Instant enrolledAt,
      Optional<Instant> lastSeen,
      Optional<Instant> retiredAt,
      Optional<String> retiredBy,
      Optional<Instant> letGoAt,
      String place) {

    Line line() {
      Map<String, String> attributes = new TreeMap<>();
      for (int i = 0; i < attributeNames.size(); i++) {
        attributes.put(attributeNames.get(i), attributeValues.get(i));
      }
      return new Line(
          new DeviceSummary(
              id,
              name,
              platform,
              kind,
              maker,
              model,
              osVersion,
              ownership,
              mode,
              serial,
              imei,
              standing,
              standingReason,
              orderState,
              battery.flatMap(Row::whole).map(Long::intValue),
              storageFree.flatMap(Row::whole),
              passcodeCompliant.map(Boolean::parseBoolean),
              tags,
              attributes,
              unit,
              site,
              person,
              enrolledAt,
              lastSeen,
              retiredAt.map(at -> new DeviceSummary.Retired(at, retiredBy, letGoAt))),
          new Place(place, id));
    }

    private static Optional<Long> whole(String text) {
      return text.matches("-?\\d{1,18}") ? Optional.of(Long.parseLong(text)) : Optional.empty();
    }
  }

  /** How far along an order devices that match are looked for where nobody knows how many do. */
  private static final int WALK = 1_000;

  /** How far they are looked for at most in one go. */
  private static final int FAR = 10 * WALK;

  /** How much farther than expected: those that match may lie far from each other. */
  private static final int SPARE = 4;

  /** How many found on a stretch say more of the next than statistics do. */
  private static final int TELLING = 5;

  /** What a step along an order costs, in pages read one after the other. */
  private static final double STEP = 0.4;

  /** What looking up the other half of a device costs, likewise. */
  private static final double ASIDE = 1.1;

  /** What putting one that was found in its place costs, likewise. */
  private static final double PUT = 1;

  /** Up to which expected cost, likewise, finding parts of words is believed to be cheap. */
  private static final double UNSURE = 1_000;

  private static final Pattern ESTIMATE = Pattern.compile("\\.\\.([0-9.]+) rows=(\\d+) ");

  /**
   * Devices in an order, after a place in it. What many devices match is found by walking along the
   * order; what few match, by finding all of them and putting them in order. Which costs less says
   * what the database's own statistics expect. They are wrong at times, for parts of words above
   * all, and those that match may lie close together, as serial numbers of one delivery do: so
   * nobody walks farther than to a bound, and what was found up to there says whether to walk on.
   */
  public List<Line> page(DeviceQuery query, Order order, Optional<Place> after, int limit) {
    List<Place> places = places(query, order, after, limit);
    tx.plan(Planning.USUAL);
    return lines(places);
  }

  private List<Place> places(DeviceQuery query, Order order, Optional<Place> after, int limit) {
    if (onlyManaged(query)) {
      tx.plan(Planning.ONE_BY_ONE);
      return walk(query, order, after, limit, limit);
    }
    DeviceCondition condition = condition(query, order);
    Estimate all = expected(query);
    double steps = (double) limit * devices() / Math.max(all.rows(), 1);
    double aside = onBoth(condition, order) ? ASIDE : 0;
    double walking = Math.min(steps, FAR) * (STEP + aside);
    double finding = all.cost() + all.rows() * (PUT + aside);
    if (condition.ofWords() ? all.cost() < UNSURE : finding < walking) {
      return find(query, order, after, limit);
    }
    int stretch = steps > 2 * FAR ? WALK : (int) Math.max(WALK, Math.min(FAR, SPARE * steps));
    tx.plan(Planning.ONE_BY_ONE);
    List<Place> walked = new ArrayList<>();
    Optional<Place> from = after;
    while (true) {
      int missing = limit - walked.size();
      List<Place> found = walk(query, order, from, stretch, missing);
      walked.addAll(found);
      if (found.size() == missing) {
        return walked;
      }
      from = placeAfter(query, order, from, stretch);
      if (from.isEmpty()) {
        return walked;
      }
      double more = (double) (missing - found.size()) * stretch / Math.max(found.size(), 1);
      if (found.size() < TELLING || more > FAR || stretch == FAR) {
        return find(query, order, after, limit);
      }
      stretch = FAR;
    }
  }

  /** The place so many devices along an order; none where it ends before. */
  private Optional<Place> placeAfter(
      DeviceQuery query, Order order, Optional<Place> after, int far) {
    return tx
        .select(
            Place.class,
            ("select cast(%1$s as text) as value, %2$s as id from %3$s where %4$s and %5$s"
                    + " order by %1$s %6$s, %2$s %6$s offset %7$d limit 1")
                .formatted(
                    order.column,
                    order.id,
                    order.table,
                    order.beyond(after),
                    managedFirst(query, order),
                    order.way(),
                    far - 1),
            after(after))
        .stream()
        .findFirst();
  }

  /** How many the statistics expect to match, and what finding them all costs. */
  private Estimate expected(DeviceQuery query) {
    DeviceCondition condition = DeviceCondition.of(query);
    return estimated(condition.from() + " where " + condition.sql(), condition.parameters());
  }

  /** About how many devices there are. */
  private long devices() {
    return estimated("device d", Map.of()).rows();
  }

  /**
   * What the planner expects of a query.
   *
   * @param cost in pages read one after the other
   */
  private record Estimate(long rows, double cost) {}

  /** What the planner expects (PostgreSQL 15, EXPLAIN): numbers of its first line. */
  private Estimate estimated(String from, Map<String, Object> parameters) {
    String plan = tx.column(String.class, "explain select 1 from " + from, parameters).get(0);
    Matcher m = ESTIMATE.matcher(plan);
    if (!m.find()) {
      throw new IllegalStateException("no estimate in " + plan);
    }
    return new Estimate(Long.parseLong(m.group(2)), Double.parseDouble(m.group(1)));
  }

  /** The condition of a query, on the table an order is of as far as that says enough. */
  private static DeviceCondition condition(DeviceQuery query, Order order) {
    return order == Order.LAST_SEEN ? DeviceCondition.byState(query) : DeviceCondition.of(query);
  }

  /** Whether a condition is on the table an order is not of, too. */
  private static boolean onBoth(DeviceCondition condition, Order order) {
    return order == Order.LAST_SEEN ? condition.ofDevice() : condition.sql().contains("st.");
  }

  /** All that match, put in order. */
  private List<Place> find(DeviceQuery query, Order order, Optional<Place> after, int limit) {
    DeviceCondition ofOne = condition(query, order);
    boolean both = onBoth(ofOne, order);
    // on both tables, those indexes are of use that leave retired devices out
    DeviceCondition condition = both ? DeviceCondition.of(query) : ofOne;
    tx.plan(Planning.EACH_TIME);
    return tx.select(
        Place.class,
        """
        select cast(key as text) as value, id
          from (select %6$s as id, %2$s as key from %3$s where %4$s and %5$s offset 0) found
         order by key %1$s, id %1$s limit :limit
        """
            .formatted(
                order.way(),
                order.column,
                both ? DeviceCondition.FROM : order.table,
                condition.sql(),
                order.beyond(after),
                order.id),
        parameters(condition, after, limit));
  }

  /** The other half of a device, looked up while walking and never found by the condition. */
  private static final String ONE_BY_ONE =
      "cross join lateral (select * from %1$s x where x.%2$s = %3$s offset 0) %4$s";

  /** Those that match among the next so many devices of an order. */
  private List<Place> walk(
      DeviceQuery query, Order order, Optional<Place> after, int far, int limit) {
    DeviceCondition condition = condition(query, order);
    String alias = order.table.substring(order.table.indexOf(' ') + 1);
    String both =
        order == Order.LAST_SEEN
            ? ONE_BY_ONE.formatted("device", "id", "st.device_id", "d")
            : ONE_BY_ONE.formatted("device_state", "device_id", "d.id", "st");
    String other = onBoth(condition, order) ? both : "";
    String walk =
        """
        select cast(%1$s.key as text) as value, %4$s as id
          from (select %1$s.*, %3$s as key from %5$s where %6$s and %7$s
                 order by %3$s %2$s, %4$s %2$s limit %8$d) %1$s %9$s
         where %10$s order by %1$s.key %2$s, %4$s %2$s limit :limit
        """
            .formatted(
                alias,
                order.way(),
                order.column,
                order.id,
                order.table,
                order.beyond(after),
                managedFirst(query, order),
                far,
                other,
                condition.sql());
    return tx.select(Place.class, walk, parameters(condition, after, limit));
  }

  private static Map<String, Object> parameters(
      DeviceCondition condition, Optional<Place> after, int limit) {
    Map<String, Object> p = condition.parameters();
    p.put("limit", limit);
    p.putAll(after(after));
    return p;
  }

  private static Map<String, Object> after(Optional<Place> after) {
    Map<String, Object> p = new HashMap<>();
    after.ifPresent(
        a -> {
          p.put("value", a.value());
          p.put("id", a.id());
        });
    return p;
  }

  private static boolean onlyManaged(DeviceQuery query) {
    return query.equals(DeviceQuery.MANAGED)
        || query.equals(DeviceQuery.allOf(DeviceQuery.MANAGED));
  }

  /** Keeps retired devices out of the walk where the query does anyway, so that an index serves. */
  private static String managedFirst(DeviceQuery query, Order order) {
    boolean managed =
        onlyManaged(query)
            || query instanceof DeviceQuery.And and && and.parts().contains(DeviceQuery.MANAGED);
    if (!managed) {
      return "true";
    }
    return order == Order.LAST_SEEN ? "st.standing <> 'retired'" : "d.retired_at is null";
  }

  private List<Line> lines(List<Place> places) {
    return tx
        .select(
            Row.class,
            DETAILS,
            Map.of(
                "ids",
                places.stream().map(Place::id).toArray(String[]::new),
                "places",
                places.stream().map(Place::value).toArray(String[]::new)))
        .stream()
        .map(Row::line)
        .toList();
  }

  /** One device as lists show it. */
  public Optional<DeviceSummary> one(String id) {
    return these(List.of(id)).stream().findFirst();
  }

  /** The devices of these ids, in their order; retired ones too. */
  public List<DeviceSummary> these(List<String> ids) {
    return lines(ids.stream().map(id -> new Place("", id)).toList()).stream()
        .map(Line::device)
        .toList();
  }

  /** How many devices match. */
  public long count(DeviceQuery query) {
    return DeviceCondition.count(tx, query);
  }

  /** Devices that stand alike, on one platform. */
  public record Stand(String platform, Standing standing, long devices) {}

  /** How managed devices stand. */
  public List<Stand> stands() {
    return tx.select(
        Stand.class,
        """
        select s.platform, st.standing, cast(sum(st.n) as bigint) as devices
          from (select shape_key, standing, count(*) as n from device_state
                 where standing <> 'retired' group by 1, 2) st
          join shape s on s.key = st.shape_key
         group by 1, 2
        """,
        Map.of());
  }

  /** How many devices hold a socket open to a node that is up. */
  public long connected() {
    return tx.value(
        "select count(*) from open_socket s join node n on n.id = s.node_id"
            + " and n.heard_at > now() - interval '45 seconds'",
        Long.class,
        Map.of());
  }
}
