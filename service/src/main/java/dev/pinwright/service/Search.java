package dev.pinwright.service;

import dev.pinwright.service.access.Caller;
import dev.pinwright.service.access.Role;
import dev.pinwright.storage.Database;
import java.util.ArrayList;
import java.util.List;
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

  /** At most eight of each kind that match the words by name or identifier. */
  public List<Found> find(Caller caller, String words) {
    caller.needs(Role.READER);
    String plain = words.strip().toLowerCase(java.util.Locale.ROOT);
    if (plain.isEmpty()) {
      return List.of();
    }
    String like = "%" + plain.replaceAll("([%_\\\\])", "\\\\$1") + "%";
    Map<String, Object> p = Map.of("like", like, "n", EACH);
    return database.call(
        tx -> {
          List<Found> out = new ArrayList<>();
          tx.rows(
                  "select id, name, model || ', ' || coalesce(serial, imei, asset, '') from device"
                      + " where sought like :like and retired_at is null"
                      + " order by lower(name), id limit :n",
                  p)
              .forEach(r -> out.add(found("device", r)));
          tx.rows(
                  "select id, code || ' ' || name, 'unit' from unit"
                      + " where code || ' ' || name ilike :like order by code limit :n",
                  p)
              .forEach(r -> out.add(found("unit", r)));
          tx.rows(
                  "select id, name, coalesce(mail, '') from person where sought like :like"
                      + " order by lower(name), id limit :n",
                  p)
              .forEach(r -> out.add(found("person", r)));
          tx.rows(
                  "select coalesce(serial, imei, asset), concat_ws(', ', serial, imei, asset), state"
                      + " from roster_entry where sought like :like and state = 'expected'"
                      + " order by id desc limit :n",
                  p)
              .forEach(r -> out.add(found("roster", r)));
          tx.rows("select id, name, description from profile where name ilike :like limit :n", p)
              .forEach(r -> out.add(found("profile", r)));
          tx.rows(
                  "select id, name, ownership || ', ' || mode from enrollment_profile"
                      + " where name ilike :like limit :n",
                  p)
              .forEach(r -> out.add(found("enrollment-profile", r)));
          tx.rows("select id, name, '' from device_group where name ilike :like limit :n", p)
              .forEach(r -> out.add(found("group", r)));
          return out;
        });
  }

  private static Found found(String kind, Object[] r) {
    return new Found(kind, (String) r[0], (String) r[1], (String) r[2]);
  }
}
