package dev.pinwright.storage.query;

import dev.pinwright.storage.Tx;
import java.util.Collection;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;

/** Things of every kind by words. */
public final class SearchStore {
  /** Something found; {@code kind} tells which page it is on. */
  public record Found(String kind, String id, String name, String detail) {}

  /**
   * A kind of thing.
   *
   * @param what its id, its name, and what tells it from others of its name
   * @param from where it is
   * @param part whether it is one of those with a part like {@code :like}
   * @param whole whether it is called or known as {@code :whole}, in small letters
   */
  private record Kind(String what, String from, String part, String whole, String order) {
    private String by(String condition) {
      return what + " from " + from + " where " + condition + " order by " + order;
    }
  }

  /** What is looked through, in the order it is shown. */
  private static final Map<String, Kind> KINDS = new LinkedHashMap<>();

  private static void kind(
      String kind, String what, String from, String part, String whole, String order) {
    KINDS.put(kind, new Kind(what, from, part, whole, order));
  }

  static {
    kind(
        "device",
        "id, name, model || ', ' || coalesce(serial, imei, asset, '')"
            + " || case when retired_at is null then '' else ', retired' end as detail",
        "device",
        "sought like :like",
        device("device")
            + " and (retired_at is null or not exists (select 1 from device o where "
            + device("o")
            + " and o.retired_at is null))",
        "retired_at is not null, lower(name), id");
    kind(
        "unit",
        "id, code || ' ' || name as name, '' as detail",
        "unit",
        "lower(code || ' ' || name) like :like",
        "(id = upper(:whole) or lower(code) = :whole or lower(name) = :whole)",
        "code");
    kind(
        "site",
        "id, name, address as detail",
        "site",
        "lower(name || ' ' || address) like :like",
        "(id = upper(:whole) or lower(name) = :whole)",
        "lower(name)");
    kind(
        "person",
        "id, name, coalesce(mail, login, '') as detail",
        "person",
        "sought like :like and removed_at is null",
        "removed_at is null and (id = upper(:whole) or sought like :like"
            + " and (login = :whole or lower(mail) = :whole or lower(name) = :whole))",
        "lower(name), id");
    kind(
        "roster",
        "coalesce(serial, imei, asset) as id, concat_ws(', ', serial, imei, asset) as name,"
            + " state as detail",
        "roster_entry",
        "sought like :like and state = 'expected'",
        "(serial = upper(:whole) or imei = :whole or asset = upper(:whole))"
            + " and state <> 'withdrawn'",
        "roster_entry.id desc");
    kind(
        "profile",
        "id, name, description as detail",
        "profile",
        "lower(name) like :like and kind = 'profile'",
        "(id = upper(:whole) or lower(name) = :whole) and kind = 'profile'",
        "lower(name)");
    kind(
        "kit",
        "id, name, description as detail",
        "profile",
        "lower(name) like :like and kind = 'kit'",
        "(id = upper(:whole) or lower(name) = :whole) and kind = 'kit'",
        "lower(name)");
    kind(
        "app",
        "id, name, package_id as detail",
        "app",
        "lower(name || ' ' || package_id || ' ' || publisher) like :like",
        "(id = upper(:whole) or lower(name) = :whole or package_id = :whole or key = :whole)",
        "lower(name)");
    kind(
        "assignment",
        "id, name, description as detail",
        "profile",
        "lower(name) like :like and kind = 'app'",
        "(id = upper(:whole) or lower(name) = :whole) and kind = 'app'",
        "lower(name)");
    kind(
        "enrollment-profile",
        "id, name, ownership || ', ' || mode as detail",
        "enrollment_profile",
        "lower(name) like :like and removed_at is null",
        "(id = upper(:whole) or lower(name) = :whole) and removed_at is null",
        "lower(name)");
    kind(
        "group",
        "id, name, '' as detail",
        "device_group",
        "lower(name) like :like",
        "(id = upper(:whole) or lower(name) = :whole)",
        "lower(name)");
    kind(
        "tag",
        "tag as id, tag as name, case count(*) when 1 then '1 device' else count(*) || ' devices' end as detail",
        "device_tag",
        "lower(tag) like :like group by tag",
        "lower(tag) = :whole group by tag",
        "tag");
    kind(
        "file",
        "id, name, about as detail",
        "stored_file",
        "lower(name || ' ' || about) like :like",
        "(id = :whole or lower(name) = :whole)",
        "lower(name)");
    kind(
        "bench-session",
        "id, name, case when open then 'open' else 'closed' end as detail",
        "bench_session",
        "lower(name) like :like",
        "(id = upper(:whole) or lower(name) = :whole)",
        "created_at desc");
  }

  private static String device(String of) {
    return """
        (%1$s.id = upper(:whole) or %1$s.sought like :like and (lower(%1$s.name) = :whole
          or %1$s.serial = upper(:whole) or %1$s.imei = :whole or %1$s.asset = upper(:whole)))"""
        .formatted(of);
  }

  private final Tx tx;

  public SearchStore(Tx tx) {
    this.tx = tx;
  }

  /** What can be looked for. */
  public static Set<String> kinds() {
    return KINDS.keySet();
  }

  /** Things whose name or identifier has a part like this, in small letters; some of each kind. */
  public List<Found> find(Collection<String> kinds, String part, int each) {
    return find(kinds, Kind::part, Map.of("like", like(part), "each", each));
  }

  /**
   * Things that are called exactly this, or known as it, in small letters. A device that is retired
   * only where none is managed.
   */
  public List<Found> exactly(Collection<String> kinds, String whole, int each) {
    return find(kinds, Kind::whole, Map.of("like", like(whole), "whole", whole, "each", each));
  }

  private List<Found> find(
      Collection<String> kinds, Function<Kind, String> condition, Map<String, ?> parameters) {
    String union =
        kinds.stream()
            .map(
                k ->
                    "(select '%s' as kind, %s limit :each)"
                        .formatted(k, KINDS.get(k).by(condition.apply(KINDS.get(k)))))
            .collect(Collectors.joining(" union all "));
    Map<String, Object> used = new HashMap<>(parameters);
    used.keySet().removeIf(name -> !union.contains(":" + name));
    return tx.select(Found.class, union, used);
  }

  private static String like(String part) {
    return "%" + part.replaceAll("([%_\\\\])", "\\\\$1") + "%";
  }
}
