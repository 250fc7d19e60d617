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
import java.util.Map;
import java.util.Optional;

/** The roster. */
public final class RosterStore {
  private static final String SELECT =
      """
      select r.id, r.serial, r.imei, r.asset, r.name, r.person_id, p.name as person, r.unit_id,
             u.code as unit, r.site_id, s.name as site, r.tags, r.profile_id, e.name as profile,
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
   * @param ids only these
   * @param but without these
   */
  public record Which(
      String words,
      Optional<RosterEntry.State> state,
      Optional<List<String>> ids,
      List<String> but) {

    private String condition(Map<String, Object> p) {
      StringBuilder sql = new StringBuilder(Sought.in("r.sought", words, p));
      state.ifPresent(
          s -> {
            sql.append(" and r.state = :state");
            p.put("state", Words.of(s));
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
  public List<RosterEntry> page(
      String words, Optional<RosterEntry.State> state, String before, int limit) {
    Map<String, Object> p = new HashMap<>();
    p.put("before", before);
    p.put("limit", limit);
    return tx.select(
        RosterEntry.class,
        SELECT
            + " where "
            + new Which(words, state, Optional.empty(), List.of()).condition(p)
            + " and r.id < :before order by r.id desc limit :limit",
        p);
  }

  /** One row. */
  public Optional<RosterEntry> find(String id) {
    tx.flush();
    return tx.select(RosterEntry.class, SELECT + " where r.id = :id", Map.of("id", id)).stream()
        .findFirst();
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
   * @param withdraw whether those that are expected are withdrawn
   */
  public record Edit(
      Optional<String> personId,
      Optional<String> unitId,
      Optional<String> siteId,
      Optional<String> profileId,
      Optional<List<String>> tags,
      boolean withdraw) {

    /** Whether nothing is. */
    public boolean empty() {
      return personId.isEmpty()
          && unitId.isEmpty()
          && siteId.isEmpty()
          && profileId.isEmpty()
          && tags.isEmpty()
          && !withdraw;
    }
  }

  /** Changes many rows by one statement; says how many. */
  public int change(Which which, Edit edit, Instant now) {
    Map<String, Object> p = new HashMap<>();
    p.put("now", now);
    StringBuilder set = new StringBuilder("changed_at = :now");
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
    if (edit.withdraw()) {
      set.append(", state = 'withdrawn'");
      where += " and r.state = 'expected'";
    }
    return tx.execute("update roster_entry r set " + set + " where " + where, p);
  }

  private static void set(
      StringBuilder set, Map<String, Object> p, String column, Optional<String> id) {
    id.ifPresent(
        value -> {
          set.append(", ").append(column).append(" = nullif(:").append(column).append(", '')");
          p.put(column, value);
        });
  }
}
