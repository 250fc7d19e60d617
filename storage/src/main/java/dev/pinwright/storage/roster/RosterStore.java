package dev.pinwright.storage.roster;

import dev.pinwright.core.Words;
import dev.pinwright.core.device.Identifier;
import dev.pinwright.core.roster.RosterEntry;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.device.DeviceStore;
import dev.pinwright.storage.query.Sought;
import dev.pinwright.storage.row.RosterRow;
import java.time.Instant;
import java.util.Collection;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/** The roster. */
public final class RosterStore {
  private static final String SELECT =
      """
      select r.id, r.version, r.serial, r.imei, r.asset, r.name, r.person_id, p.name as person,
             coalesce(p.login, p.mail) as person_login, r.unit_id, u.code as unit, r.site_id, s.name as site, r.tags, r.profile_id, e.name as profile,
             r.source, r.state, r.device_id, r.created_at, r.changed_at
        from roster_entry r left join person p on p.id = r.person_id
        left join unit u on u.id = r.unit_id left join site s on s.id = r.site_id
        left join enrollment_profile e on e.id = r.profile_id
      """;

  private final Tx tx;

  public RosterStore(Tx tx) {
    this.tx = tx;
  }

  /**
   * Which rows.
   *
   * @param words each any part of an identifier or the name
   * @param identifier the whole of one of its identifiers
   * @param before only those put on file before then
   * @param ids only these
   * @param but without these
   */
  public record Which(
      String words,
      Optional<String> identifier,
      Optional<RosterEntry.State> state,
      Optional<Instant> before,
      Optional<List<String>> ids,
      List<String> but) {

    private String condition(Map<String, Object> p) {
      StringBuilder sql = new StringBuilder(Sought.in("r.sought", words, p));
      identifier.ifPresent(
          i -> {
            sql.append(" and (r.serial = :known or r.imei = :known or r.asset = :known)");
            p.put("known", i.replaceAll("[\\s\u00a0]+", "").toUpperCase(Locale.ROOT));
          });
      state.ifPresent(
          s -> {
            sql.append(" and r.state = :state");
            p.put("state", Words.of(s));
          });
      before.ifPresent(
          t -> {
            sql.append(" and r.created_at < :since");
            p.put("since", t);
          });
      ids.ifPresent(
          i -> {
            sql.append(" and r.id = any(cast(:ids as text[]))");
            p.put("ids", i.toArray(String[]::new));
          });
      if (!but.isEmpty()) {
        sql.append(" and r.id <> all(cast(:but as text[]))");
        p.put("but", but.toArray(String[]::new));
      }
      return sql.toString();
    }
  }

  /** Rows before an id, newest first. */
  public List<RosterEntry> page(Which which, String before, int limit) {
    Map<String, Object> p = new HashMap<>();
    p.put("before", before);
    p.put("limit", limit);
    return tx.select(
        RosterEntry.class,
        SELECT
            + " where "
            + which.condition(p)
            + " and r.id < :before order by r.id desc limit :limit",
        p);
  }

  /** One row. */
  public Optional<RosterEntry> find(String id) {
    tx.flush();
    return tx.select(RosterEntry.class, SELECT + " where r.id = :id", Map.of("id", id)).stream()
        .findFirst();
  }

  /** Rows that were put on file before then and have not come. */
  public long waiting(Instant before) {
    return tx.value(
        "select count(*) from roster_entry where state = 'expected' and created_at < :b",
        Long.class,
        Map.of("b", before));
  }

  private record Counted(RosterEntry.State state, long n) {}

  /** How many rows there are in each state. */
  public Map<RosterEntry.State, Long> counts() {
    Map<RosterEntry.State, Long> out = new EnumMap<>(RosterEntry.State.class);
    for (RosterEntry.State s : RosterEntry.State.values()) {
      out.put(s, 0L);
    }
    tx.select(Counted.class, "select state, count(*) as n from roster_entry group by 1", Map.of())
        .forEach(c -> out.put(c.state(), c.n()));
    return out;
  }

  /** Rows that have one of these identifiers and are not withdrawn, oldest first; at most three. */
  public List<RosterRow> identified(Collection<Identifier> identifiers) {
    return tx.list(
        RosterRow.class,
        "from RosterRow where " + DeviceStore.IDENTIFIED + " and state <> 'withdrawn' order by id",
        DeviceStore.parameters(identifiers),
        3);
  }

  /** Rows whose devices are managed already have arrived; says how many. */
  public int meet(Instant now) {
    return tx.execute(
        """
        update roster_entry r set state = 'arrived', device_id = d.id, changed_at = :now
          from device d
         where r.state = 'expected' and d.retired_at is null
           and (d.serial = r.serial or d.imei = r.imei or d.asset = r.asset)
        """,
        Map.of("now", now));
  }

  /**
   * What is to be written into many rows; what is absent stays, an empty id takes one away.
   *
   * @param becomes the state they get, where they are to get another; those that are expected again
   *     have arrived where their devices are managed
   */
  public record Edit(
      Optional<String> personId,
      Optional<String> unitId,
      Optional<String> siteId,
      Optional<String> profileId,
      Optional<List<String>> tags,
      Optional<RosterEntry.State> becomes) {

    /** Whether nothing is. */
    public boolean empty() {
      return personId.isEmpty()
          && unitId.isEmpty()
          && siteId.isEmpty()
          && profileId.isEmpty()
          && tags.isEmpty()
          && becomes.isEmpty();
    }
  }

  /**
   * Changes many rows by one statement; says how many. A row that is withdrawn stays so while
   * another of the same identifier is not.
   */
  public int change(Which which, Edit edit, Instant now) {
    Map<String, Object> p = new HashMap<>();
    p.put("now", now);
    StringBuilder set = new StringBuilder("changed_at = :now, version = r.version + 1");
    set(set, p, "person_id", edit.personId());
    set(set, p, "unit_id", edit.unitId());
    set(set, p, "site_id", edit.siteId());
    set(set, p, "profile_id", edit.profileId());
    edit.tags()
        .ifPresent(
            t -> {
              set.append(", tags = cast(:tags as text[])");
              p.put("tags", t.toArray(String[]::new));
            });
    String where = which.condition(p);
    if (edit.becomes().isPresent()) {
      set.append(", state = :becomes");
      p.put("becomes", Words.of(edit.becomes().get()));
      where += " and r.state <> :becomes";
      if (edit.becomes().get() != RosterEntry.State.WITHDRAWN) {
        where += " and not (r.state = 'withdrawn' and exists (" + TWIN + "))";
      }
      if (edit.becomes().get() == RosterEntry.State.EXPECTED) {
        where += " and r.state <> 'arrived'";
      }
    }
    return tx.execute("update roster_entry r set " + set + " where " + where, p);
  }

  /** Another row of the same identifier, which is in force or comes first of those that are not. */
  private static final String TWIN =
      """
      select 1 from roster_entry o
       where o.id <> r.id and (o.state <> 'withdrawn' or o.id > r.id)
         and (o.serial = r.serial or o.imei = r.imei or o.asset = r.asset)
      """;

  private static void set(
      StringBuilder set, Map<String, Object> p, String column, Optional<String> id) {
    id.ifPresent(
        value -> {
          set.append(", ").append(column).append(" = nullif(:").append(column).append(", '')");
          p.put(column, value);
        });
  }
}
