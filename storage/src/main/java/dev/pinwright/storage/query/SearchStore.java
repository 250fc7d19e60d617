package dev.pinwright.storage.query;

import dev.pinwright.storage.Tx;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;

/** Things of every kind by words. */
public final class SearchStore {
  /** Something found; {@code kind} tells which page it is on. */
  public record Found(String kind, String id, String name, String detail) {}

  /** What is looked through, in the order it is shown. */
  private static final Map<String, String> KINDS = new LinkedHashMap<>();

  static {
    KINDS.put(
        "device",
        "id, name, model || ', ' || coalesce(serial, imei, asset, '')"
            + " || case when retired_at is null then '' else ', retired' end as detail"
            + " from device where sought like :like"
            + " order by retired_at is not null, lower(name), id");
    KINDS.put(
        "unit",
        "id, code || ' ' || name as name, '' as detail from unit"
            + " where lower(code || ' ' || name) like :like order by code");
    KINDS.put(
        "site",
        "id, name, address as detail from site where lower(name || ' ' || address) like :like"
            + " order by lower(name)");
    KINDS.put(
        "person",
        "id, name, coalesce(mail, '') as detail from person where sought like :like"
            + " order by lower(name), id");
    KINDS.put(
        "roster",
        "coalesce(serial, imei, asset) as id, concat_ws(', ', serial, imei, asset) as name,"
            + " state as detail from roster_entry where sought like :like and state = 'expected'"
            + " order by roster_entry.id desc");
    KINDS.put(
        "profile",
        "id, name, description as detail from profile where lower(name) like :like"
            + " order by lower(name)");
    KINDS.put(
        "enrollment-profile",
        "id, name, ownership || ', ' || mode as detail from enrollment_profile"
            + " where lower(name) like :like and removed_at is null order by lower(name)");
    KINDS.put(
        "group",
        "id, name, '' as detail from device_group where lower(name) like :like"
            + " order by lower(name)");
    KINDS.put(
        "tag",
        "tag as id, tag as name, cast(count(*) as text) || ' devices' as detail from device_tag"
            + " where lower(tag) like :like group by tag order by tag");
    KINDS.put(
        "bench-session",
        "id, name, case when open then 'open' else 'closed' end as detail"
            + " from bench_session where lower(name) like :like order by created_at desc");
  }

  private final Tx tx;

  public SearchStore(Tx tx) {
    this.tx = tx;
  }

  /** Things whose name or identifier has a part like this, in small letters; some of each kind. */
  public List<Found> find(String part, int each) {
    String union =
        KINDS.entrySet().stream()
            .map(k -> "(select '%s' as kind, %s limit :each)".formatted(k.getKey(), k.getValue()))
            .collect(Collectors.joining(" union all "));
    return tx.select(
        Found.class,
        union,
        Map.of("like", "%" + part.replaceAll("([%_\\\\])", "\\\\$1") + "%", "each", each));
  }
}
