package dev.pinwright.storage.organisation;

import dev.pinwright.storage.Tx;
import java.time.Instant;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import java.util.stream.Collectors;

/** People as the staff directory brings them. */
public final class DirectoryStore {
  private static final String LISTED =
      """
       from unnest(cast(:key as text[]), cast(:name as text[]), cast(:login as text[]),
                   cast(:mail as text[]), cast(:unit as text[]), cast(:id as text[]))
            e(key, name, login, mail, code, id)
       left join unit u on u.code = e.code
      """;

  private final Tx tx;

  public DirectoryStore(Tx tx) {
    this.tx = tx;
  }

  /**
   * Somebody as the directory lists them.
   *
   * @param id given to them when they are not on file
   * @param key what the directory knows them by
   * @param mail empty for none
   * @param unit code of their unit; empty for none
   */
  public record Listed(
      String id, String key, String name, String login, String mail, String unit) {}

  /** How many were put on file and how many were changed. */
  public record Kept(int added, int changed) {}

  /** Writes people as the directory has them, by three statements. */
  public Kept keep(List<Listed> people, Instant now) {
    Map<String, Object> p = new HashMap<>();
    p.put("key", column(people, Listed::key));
    p.put("name", column(people, Listed::name));
    p.put("login", column(people, Listed::login));
    p.put("mail", column(people, Listed::mail));
    p.put("unit", column(people, Listed::unit));
    p.put("id", column(people, Listed::id));
    p.put("now", now);
    int changed =
        tx.execute(
            "update person p set name = e.name, mail = nullif(e.mail, ''), login = e.login,"
                + " unit_id = coalesce(u.id, p.unit_id), directory_key = e.key,"
                + " version = p.version + 1, synced_at = :now"
                + LISTED
                + " where (p.directory_key = e.key or p.directory_key is null and p.login = e.login)"
                + " and (p.name, coalesce(p.mail, ''), p.login, p.directory_key,"
                + " coalesce(u.id, p.unit_id)) is distinct from"
                + " (e.name, e.mail, e.login, e.key, p.unit_id)",
            p);
    tx.execute(
        "update person p set synced_at = :now" + LISTED + " where p.directory_key = e.key", p);
    int added =
        tx.execute(
            "insert into person (id, version, name, login, mail, unit_id, created_at,"
                + " directory_key, synced_at)"
                + " select e.id, 0, e.name, e.login, nullif(e.mail, ''), u.id, :now, e.key, :now"
                + LISTED
                + " where not exists (select 1 from person p where p.directory_key = e.key"
                + " or p.login = e.login) on conflict do nothing",
            p);
    return new Kept(added, changed);
  }

  private static String[] column(List<Listed> people, Function<Listed, String> of) {
    return people.stream().map(of).toArray(String[]::new);
  }

  private record Known(String directoryKey, String id) {}

  /** Ids of people by what the directory knows them by. */
  public Map<String, String> ids(Collection<String> keys) {
    return tx
        .select(
            Known.class,
            "select directory_key, id from person"
                + " where directory_key = any(cast(:k as text[]))",
            Map.of("k", keys.toArray(String[]::new)))
        .stream()
        .collect(Collectors.toMap(Known::directoryKey, Known::id));
  }

  /** How many came from the directory and were not in it at this reading. */
  public long gone(Instant reading) {
    return tx.value(
        "select count(*) from person where directory_key is not null and synced_at < :now",
        Long.class,
        Map.of("now", reading));
  }

  /** Which of these codes no unit has. */
  public List<String> unknownUnits(Collection<String> codes) {
    return tx.column(
        String.class,
        "select distinct c from unnest(cast(:c as text[])) t(c) where c <> ''"
            + " and not exists (select 1 from unit where code = c) order by c",
        Map.of("c", codes.toArray(String[]::new)));
  }
}
