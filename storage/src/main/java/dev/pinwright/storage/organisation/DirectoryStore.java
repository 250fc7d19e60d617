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

  /** Whether a key is an entry's UUID, which nobody else ever gets. */
  private static final String LASTING = "p.directory_key ~ '^[0-9A-Fa-f-]{36}$'";

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

  /**
   * Writes people as the directory has them, by a few statements. Who was known by something less
   * lasting is known by their key from now on; a login that went to somebody else leaves whoever
   * had it, so that nobody comes into another one's devices by being called like them.
   */
  public Kept keep(List<Listed> people, Instant now) {
    Map<String, Object> p = new HashMap<>();
    p.put("key", column(people, Listed::key));
    p.put("name", column(people, Listed::name));
    p.put("login", column(people, Listed::login));
    p.put("mail", column(people, Listed::mail));
    p.put("unit", column(people, Listed::unit));
    p.put("id", column(people, Listed::id));
    tx.execute(
        "update person p set login = null"
            + LISTED
            + " where p.login = e.login and p.directory_key <> e.key and "
            + LASTING,
        p);
    p.put("now", now);
    int changed =
        tx.execute(
            "update person p set name = e.name, mail = nullif(e.mail, ''), login = e.login,"
                + " unit_id = coalesce(u.id, p.unit_id), directory_key = e.key,"
                + " version = p.version + 1, synced_at = :now"
                + LISTED
                + " where (p.directory_key = e.key or p.login = e.login"
                + " and (p.directory_key is null or not "
                + LASTING
                + "))"
                + " and (p.name, coalesce(p.mail, ''), p.login, p.directory_key,"
                + " coalesce(u.id, p.unit_id)) is distinct from"
                + " (e.name, e.mail, e.login, e.key, p.unit_id)",
            p);
    tx.execute(
        "update person p set synced_at = :now, left_at = null"
            + LISTED
            + " where p.directory_key = e.key",
        p);
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

  /**
   * How people of the directory fared at a reading.
   *
   * @param known on file by the directory and not said to have left before
   * @param leaving those of them that are not in it any more
   * @param left all that are not
   */
  public record Gone(long known, long leaving, long left) {}

  /** Who came from the directory and was not in it at this reading, counted. */
  public Gone gone(Instant reading) {
    return tx.select(
            Gone.class,
            """
            select count(*) filter (where left_at is null) as known,
                   count(*) filter (where left_at is null and synced_at < :now) as leaving,
                   count(*) filter (where synced_at < :now) as left
              from person where directory_key is not null
            """,
            Map.of("now", reading))
        .get(0);
  }

  /** Some of those who are leaving, by name. */
  public List<String> leaving(Instant reading, int limit) {
    return tx.column(
        String.class,
        "select name from person where directory_key is not null and left_at is null"
            + " and synced_at < :now order by lower(name) limit :limit",
        Map.of("now", reading, "limit", limit));
  }

  /** Notes that whoever was not in the directory at this reading has left; ends what was open. */
  public void leave(Instant reading) {
    tx.execute(
        """
        with gone as (
          update person set left_at = :now
           where directory_key is not null and left_at is null and synced_at < :now returning id)
        update invitation i set withdrawn_at = :now from gone
         where i.person_id = gone.id and i.withdrawn_at is null and i.expires_at > :now
        """,
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
