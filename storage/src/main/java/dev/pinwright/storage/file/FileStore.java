package dev.pinwright.storage.file;

import dev.pinwright.core.Words;
import dev.pinwright.core.file.FileKind;
import dev.pinwright.core.file.StoredFile;
import dev.pinwright.storage.After;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.query.Sought;
import dev.pinwright.storage.row.StoredFileRow;
import java.time.Instant;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Files devices are handed, what is in them and what names them. */
public final class FileStore {
  private static final String SELECT =
      """
      select f.id, f.version, f.name, f.kind, f.media_type, f.bytes, f.about, f.valid_until,
             (select count(distinct u.profile_id) from file_use u where u.file_id = f.id)
               as profiles,
             case when not exists (select 1 from file_use u where u.file_id = f.id)
                   and not exists (select 1 from app_release r where r.file_id = f.id)
                   and not exists (select 1 from case_entry e where e.file_id = f.id)
                  then f.unused_since + make_interval(days => %d) end as cleared_at, f.stored_at, f.stored_by
        from stored_file f
      """
          .formatted(StoredFile.KEPT_UNUSED.toDays());

  /** Whether a profile, a case or a command that waits names a file, or it is an app's package. */
  private static final String USED =
      "exists (select 1 from file_use u where u.file_id = f.id)"
          + " or exists (select 1 from app_release r where r.file_id = f.id)"
          + " or exists (select 1 from case_entry e where e.file_id = f.id)"
          + " or exists (select 1 from dispatch o where o.command = 'run-script'"
          + " and o.fields ->> 'script' = 'sha256:' || f.id and exists (select 1 from command c"
          + " where c.dispatch_id = o.id and c.state in ('planned', 'queued', 'delivered')))"
          + " or exists (select 1 from standing_order s where s.command = 'run-script'"
          + " and s.wanted -> 'fields' ->> 'script' = 'sha256:' || f.id)";

  private final Tx tx;

  public FileStore(Tx tx) {
    this.tx = tx;
  }

  /** Where the content of a file is. */
  public record Content(long object, long bytes, String mediaType, String name, FileKind kind) {}

  /**
   * A profile that names a file.
   *
   * @param draft whether its draft does
   * @param latest the latest of its versions that does
   */
  public record Use(
      String profileId,
      String profileName,
      boolean draft,
      Optional<Integer> latest,
      Optional<Integer> published) {}

  /** Files by name in small letters, then id; of one kind, or of all. */
  public List<StoredFile> page(String words, Optional<FileKind> kind, After after, int limit) {
    Map<String, Object> p = new HashMap<>(after.parameters(limit));
    p.put("kind", kind.map(Words::of).orElse(""));
    return tx.select(
        StoredFile.class,
        SELECT
            + " where (lower(f.name), f.id) > (:key, :id) and (f.kind = :kind or :kind = '' and f.kind <> 'package') and "
            + Sought.in("lower(f.name || ' ' || f.about)", words, p)
            + " order by lower(f.name), f.id limit :limit",
        p);
  }

  /** One file. */
  public Optional<StoredFile> find(String id) {
    tx.flush();
    return tx.select(StoredFile.class, SELECT + " where f.id = :id", Map.of("id", id)).stream()
        .findFirst();
  }

  /** The files of these ids there are, by name. */
  public List<StoredFile> of(Collection<String> ids) {
    return tx.select(
        StoredFile.class,
        SELECT + " where f.id = any(cast(:ids as text[])) order by lower(f.name)",
        Map.of("ids", ids.toArray(String[]::new)));
  }

  /** The files of these ids there are, kept from going until the transaction ends. */
  public List<StoredFile> held(Collection<String> ids) {
    return tx.select(
        StoredFile.class,
        SELECT + " where f.id = any(cast(:ids as text[])) for key share of f",
        Map.of("ids", ids.toArray(String[]::new)));
  }

  /** Names by id. */
  public Map<String, String> names(Collection<String> ids) {
    record Named(String id, String name) {}
    Map<String, String> names = new HashMap<>();
    tx.select(
            Named.class,
            "select id, name from stored_file where id = any(cast(:ids as text[]))",
            Map.of("ids", ids.toArray(String[]::new)))
        .forEach(f -> names.put(f.id(), f.name()));
    return names;
  }

  /** The file of a name; capitals do not count. */
  public Optional<StoredFileRow> byName(String name) {
    return tx
        .list(
            StoredFileRow.class,
            "from StoredFileRow where lower(name) = lower(:n)",
            Map.of("n", name),
            1)
        .stream()
        .findFirst();
  }

  /** Where a file's content is. */
  public Optional<Content> content(String id) {
    return tx
        .select(
            Content.class,
            "select cast(content as bigint) as object, bytes, media_type, name, kind"
                + " from stored_file where id = :id",
            Map.of("id", id))
        .stream()
        .findFirst();
  }

  /** Profiles that name a file, by name. */
  public List<Use> uses(String id) {
    return tx.select(
        Use.class,
        """
        select p.id as profile_id, p.name as profile_name,
               bool_or(u.number = 0) as draft, nullif(max(u.number), 0) as latest,
               p.published_version as published
          from file_use u join profile p on p.id = u.profile_id
         where u.file_id = :id group by p.id, p.name, p.published_version
         order by lower(p.name), p.id
        """,
        Map.of("id", id));
  }

  /** The version of an app a file is the package of, in words. */
  public Optional<String> packageOf(String id) {
    return tx
        .column(
            String.class,
            "select a.name || ' ' || r.version from app_release r join app a on a.id = r.app_id"
                + " where r.file_id = :id",
            Map.of("id", id))
        .stream()
        .findFirst();
  }

  /** Ids of files that profiles name and whose certificates end before a moment. */
  public List<String> lapsing(Instant before) {
    return tx.column(
        String.class,
        "select id from stored_file f where valid_until < :before"
            + " and exists (select 1 from file_use u where u.file_id = f.id) order by id",
        Map.of("before", before));
  }

  /** Notes since when nothing names a file, and forgets it where something does again. */
  public void noteUnused(Instant now) {
    String used = "(" + USED + ")";
    tx.execute(
        "update stored_file f set unused_since = :now where unused_since is null and not " + used,
        Map.of("now", now));
    tx.execute(
        "update stored_file f set unused_since = null where unused_since is not null and " + used,
        Map.of());
  }

  /** Clears what nothing has named since before a moment; their names. */
  public List<String> clear(Instant before) {
    return tx.column(
        String.class,
        "delete from stored_file f where unused_since < :before"
            + " and not ("
            + USED
            + ") returning name",
        Map.of("before", before));
  }
}
