package dev.pinwright.storage.house;

import dev.pinwright.storage.Tx;
import java.time.Instant;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;

/** How outside services of the organisation's own are reached. */
public final class ConnectionStore {
  private final Tx tx;

  public ConnectionStore(Tx tx) {
    this.tx = tx;
  }

  /**
   * A connection.
   *
   * @param settings JSON
   * @param secret sealed
   * @param fault how it failed when it was used last; empty when it worked
   * @param version how often it was set up anew
   */
  public record Connection(
      String settings,
      Optional<byte[]> secret,
      Optional<Instant> checkedAt,
      String fault,
      int version) {}

  /** The connection of a kind. */
  public Optional<Connection> find(String kind) {
    return tx
        .select(
            Connection.class,
            "select cast(settings as text) as settings, secret, checked_at, fault, version"
                + " from connection where kind = :k",
            Map.of("k", kind))
        .stream()
        .findFirst();
  }

  /** {@link #find}, held against other writers until the transaction ends. */
  public Optional<Connection> lock(String kind) {
    tx.column(
        String.class, "select kind from connection where kind = :k for update", Map.of("k", kind));
    return find(kind);
  }

  /** Keeps a connection that works; without a secret the one kept before stays. */
  public void keep(String kind, String settings, Optional<byte[]> secret, Instant now) {
    Map<String, Object> p = new HashMap<>();
    p.put("k", kind);
    p.put("s", settings);
    p.put("secret", secret.orElse(null));
    p.put("now", now);
    tx.execute(
        """
        insert into connection (kind, settings, secret, checked_at, version)
        values (:k, cast(:s as jsonb), cast(:secret as bytea), :now, 1)
        on conflict (kind) do update set settings = excluded.settings,
          secret = coalesce(excluded.secret, connection.secret),
          checked_at = excluded.checked_at, fault = '', version = connection.version + 1
        """,
        p);
  }

  /** Puts on file how a connection fared, at most once a minute; true when that was written. */
  public boolean fared(String kind, String fault, Instant now) {
    return tx.execute(
            "update connection set checked_at = :now, fault = :f where kind = :k"
                + " and (fault <> :f or checked_at < cast(:now as timestamptz)"
                + " - interval '1 minute')",
            Map.of("now", now, "f", fault, "k", kind))
        > 0;
  }
}
