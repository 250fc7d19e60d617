package dev.pinwright.service;

import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Role;
import dev.pinwright.storage.Database;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/** Finds things of every kind by words, for the search that is always at hand. */
public final class Search {
  private static final int EACH = 8;
  private final Database database;

  Search(Database database) {
    this.database = database;
  }

  /** Something found; {@code kind} tells which page it is on. */
  public record Found(String kind, String id, String name, String detail) {}

  /** What is looked through, in the order it is shown; each row is id, name and detail. */
  private static final Map<String, String> KINDS = new LinkedHashMap<>();

  static {
    KINDS.put(
        "device",
        "select id, name, model || ', ' || coalesce(serial, imei, asset, '')"
            + " || case when retired_at is null then '' else ', retired' end from device"
            + " where sought like :like"
            + " order by retired_at is not null, lower(name), id limit :n");
    KINDS.put(
        "unit",
        "select id, code || ' ' || name, '' from unit"
            + " where code || ' ' || name ilike :like order by code limit :n");
    KINDS.put(
        "site",
        "select id, name, address from site where name || ' ' || address ilike :like"
            + " order by lower(name) limit :n");
    KINDS.put(
        "person",
        "select id, name, coalesce(mail, '') from person where sought like :like"
            + " order by lower(name), id limit :n");
    KINDS.put(
        "roster",
        "select coalesce(serial, imei, asset), concat_ws(', ', serial, imei, asset), state"
            + " from roster_entry where sought like :like and state = 'expected'"
            + " order by id desc limit :n");
    KINDS.put(
        "profile",
        "select id, name, description from profile where name ilike :like"
            + " order by lower(name) limit :n");
    KINDS.put(
        "enrollment-profile",
        "select id, name, ownership || ', ' || mode from enrollment_profile"
            + " where name ilike :like and removed_at is null order by lower(name) limit :n");
    KINDS.put(
        "group",
        "select id, name, '' from device_group where name ilike :like"
            + " order by lower(name) limit :n");
    KINDS.put(
        "tag",
        "select tag, tag, cast(count(*) as text) || ' devices' from device_tag"
            + " where tag ilike :like group by tag order by tag limit :n");
    KINDS.put(
        "bench-session",
        "select id, name, case when open then 'open' else 'closed' end"
            + " from bench_session where name ilike :like order by created_at desc limit :n");
  }

  /** At most eight of each kind that match the words by name or identifier. */
  public List<Found> find(Caller caller, String words) {
    caller.needs(Role.READER);
    String plain = words.strip().toLowerCase(Locale.ROOT);
    if (plain.isEmpty()) {
      return List.of();
    }
    String like = "%" + plain.replaceAll("([%_\\\\])", "\\\\$1") + "%";
    Map<String, Object> p = Map.of("like", like, "n", EACH);
    return database.call(
        tx -> {
          List<Found> out = new ArrayList<>();
          KINDS.forEach(
              (kind, sql) ->
                  tx.rows(sql, p)
                      .forEach(
                          r ->
                              out.add(
                                  new Found(kind, (String) r[0], (String) r[1], (String) r[2]))));
          return out;
        });
  }
}
