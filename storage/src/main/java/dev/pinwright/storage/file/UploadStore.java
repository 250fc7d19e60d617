package dev.pinwright.storage.file;

import dev.pinwright.storage.Tx;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Packages on their way here, in parts. */
public final class UploadStore {
  private final Tx tx;

  public UploadStore(Tx tx) {
    this.tx = tx;
  }

  /**
   * An upload.
   *
   * @param bytes it is to have
   * @param there how many of them are here
   */
  public record Upload(String id, String accountId, long bytes, long there) {}

  private record Part(byte[] content) {}

  /** Begins one. */
  public void begin(String id, String accountId, long bytes, Instant now) {
    tx.execute(
        "insert into upload (id, account_id, bytes, begun_at) values (:id, :account, :bytes, :now)",
        Map.of("id", id, "account", accountId, "bytes", bytes, "now", now));
  }

  /** One of them. */
  public Optional<Upload> find(String id) {
    return tx
        .select(
            Upload.class,
            """
            select u.id, u.account_id, u.bytes,
                   coalesce((select sum(length(p.content)) from upload_part p
                              where p.upload_id = u.id), 0)::bigint as there
              from upload u where u.id = :id
            """,
            Map.of("id", id))
        .stream()
        .findFirst();
  }

  /** Keeps a part; false when there is one from there already. */
  public boolean keep(String id, long startsAt, byte[] content) {
    return tx.execute(
            "insert into upload_part (upload_id, starts_at, content)"
                + " values (:id, :at, :content) on conflict do nothing",
            Map.of("id", id, "at", startsAt, "content", content))
        == 1;
  }

  /** Where the parts begin, in their order. */
  public List<Long> starts(String id) {
    return tx.column(
        Long.class,
        "select starts_at from upload_part where upload_id = :id order by starts_at",
        Map.of("id", id));
  }

  /** One part. */
  public byte[] part(String id, long startsAt) {
    return tx.select(
            Part.class,
            "select content from upload_part where upload_id = :id and starts_at = :at",
            Map.of("id", id, "at", startsAt))
        .get(0)
        .content();
  }

  /** Forgets one. */
  public void forget(String id) {
    tx.execute("delete from upload where id = :id", Map.of("id", id));
  }

  /** Forgets those that were begun before, and of an account all but the latest. */
  public void forgetOld(Instant before, String accountId, int kept) {
    tx.execute(
        """
        delete from upload where begun_at < :before or account_id = :account and id not in (
          select id from upload where account_id = :account order by begun_at desc limit :kept)
        """,
        Map.of("before", before, "account", accountId, "kept", kept));
  }
}
