package dev.pinwright.storage.holder;

import dev.pinwright.storage.Tx;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Where people who hold devices are signed in, and what they hold. */
public final class HolderStore {
  private static final int MOST = 50;

  private final Tx tx;

  public HolderStore(Tx tx) {
    this.tx = tx;
  }

  /** A person who is signed in. */
  public record Holder(String personId, String name, String login, String csrf) {}

  /**
   * A device somebody holds.
   *
   * @param lost id of the open case of it
   */
  public record Held(
      String id,
      String name,
      String maker,
      String model,
      String kind,
      String platform,
      String mode,
      String ownership,
      String osVersion,
      Optional<Instant> lastSeen,
      boolean locked,
      Optional<String> lost) {}

  /** Signs somebody in; those that have ended are cleared. */
  public void enter(String tokenHash, String personId, String csrf, Instant expires, Instant now) {
    tx.execute("delete from holder_sign_in where expires_at <= :now", Map.of("now", now));
    tx.execute(
        "insert into holder_sign_in (token_hash, person_id, csrf, expires_at)"
            + " values (:t, :p, :c, :e)",
        Map.of("t", tokenHash, "p", personId, "c", csrf, "e", expires));
  }

  /** Who is signed in by a token. */
  public Optional<Holder> known(String tokenHash, Instant now) {
    return tx
        .select(
            Holder.class,
            "select p.id as person_id, p.name, coalesce(p.login, p.name) as login, s.csrf"
                + " from holder_sign_in s join person p on p.id = s.person_id"
                + " where s.token_hash = :t and s.expires_at > :now and p.removed_at is null",
            Map.of("t", tokenHash, "now", now))
        .stream()
        .findFirst();
  }

  /** Signs somebody out. */
  public void leave(String tokenHash) {
    tx.execute("delete from holder_sign_in where token_hash = :t", Map.of("t", tokenHash));
  }

  /** The devices somebody holds, by name. */
  public List<Held> devices(String personId) {
    return tx.select(
        Held.class,
        """
        select d.id, d.name, d.maker, d.model, d.kind, d.platform, d.mode, d.ownership,
               d.os_version, st.last_seen,
               coalesce(d.facts ->> 'security/locked', 'false') = 'true' as locked, c.id as lost
          from device d join device_state st on st.device_id = d.id
          left join lost_case c on c.device_id = d.id and c.state = 'open'
         where d.person_id = :p and d.retired_at is null
         order by lower(d.name), d.id limit :n
        """,
        Map.of("p", personId, "n", MOST));
  }
}
