package dev.pinwright.storage.screen;

import dev.pinwright.core.Words;
import dev.pinwright.core.screen.Assist;
import dev.pinwright.core.screen.Shows;
import dev.pinwright.storage.Tx;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Screens that are looked at live. Every step is taken at most once, on any number of nodes. */
public final class AssistStore {
  private static final String ASSIST =
      """
      select a.dispatch_id as id, a.device_id, d.name as device, o.actor, a.shows, a.taps,
             c.state as command, c.reason as outcome, c.queued_at as asked_at, a.watched_at,
             a.begun_at, a.ended_at, a.ended_by
        from assist a join command c on c.id = a.command_id
        join dispatch o on o.id = a.dispatch_id join device d on d.id = a.device_id
      """;

  private final Tx tx;

  public AssistStore(Tx tx) {
    this.tx = tx;
  }

  /** Notes that a dispatch, whose command was not refused, is one. */
  public void ordered(String dispatchId, String accountId, Shows shows, boolean taps) {
    tx.execute(
        "insert into assist (dispatch_id, command_id, device_id, account_id, shows, taps)"
            + " select dispatch_id, id, device_id, :account, :shows, :taps from command"
            + " where dispatch_id = :d and state <> 'failed'",
        Map.of("d", dispatchId, "account", accountId, "shows", Words.of(shows), "taps", taps));
  }

  /** One of them. */
  public Optional<Assist> find(String id) {
    return tx.select(Assist.class, ASSIST + " where a.dispatch_id = :id", Map.of("id", id)).stream()
        .findFirst();
  }

  /** {@link #find}, held. */
  public Optional<Assist> lock(String id) {
    return tx
        .select(
            Assist.class, ASSIST + " where a.dispatch_id = :id for update of a", Map.of("id", id))
        .stream()
        .findFirst();
  }

  /** The account that may look. */
  public Optional<String> account(String id) {
    return tx
        .column(
            String.class, "select account_id from assist where dispatch_id = :id", Map.of("id", id))
        .stream()
        .findFirst();
  }

  /** The command that ordered one. */
  public String command(String id) {
    return tx.value(
        "select command_id from assist where dispatch_id = :id", String.class, Map.of("id", id));
  }

  /** Those of a device, the newest first. */
  public List<Assist> ofDevice(String deviceId, int limit) {
    return tx.select(
        Assist.class,
        ASSIST + " where a.device_id = :d order by a.dispatch_id desc limit :limit",
        Map.of("d", deviceId, "limit", limit));
  }

  /** Somebody is there to look, at a node. */
  public void watched(String id, String node, Instant now) {
    tx.execute(
        "update assist set watched_at = coalesce(watched_at, :now), seen_at = :now, node = :node"
            + " where dispatch_id = :id",
        Map.of("id", id, "node", node, "now", now));
  }

  /** Where a device is to open its screen; empty while nobody is there to look. */
  public Optional<String> node(String id) {
    return tx
        .column(
            String.class,
            "select node from assist where dispatch_id = :id and watched_at is not null"
                + " and ended_at is null",
            Map.of("id", id))
        .stream()
        .findFirst();
  }

  /** The screen came; false when it had come, or it is over. */
  public boolean begun(String id, Instant now) {
    return tx.execute(
            "update assist set begun_at = :now, seen_at = :now"
                + " where dispatch_id = :id and begun_at is null and ended_at is null",
            Map.of("id", id, "now", now))
        > 0;
  }

  /** It is over; false when it was. */
  public boolean ended(String id, String by, Instant now) {
    return tx.execute(
            "update assist set ended_at = :now, ended_by = :by"
                + " where dispatch_id = :id and ended_at is null",
            Map.of("id", id, "by", by, "now", now))
        > 0;
  }

  /** These go on at a node. */
  public void goOn(Collection<String> ids, Instant now) {
    tx.execute(
        "update assist set seen_at = :now where dispatch_id = any(cast(:ids as text[]))"
            + " and ended_at is null",
        Map.of("ids", ids.toArray(String[]::new), "now", now));
  }

  /** Of those that somebody was there to look at, the ones no node says anything of any more. */
  public List<String> unseen(Instant since) {
    return tx.column(
        String.class,
        "select a.dispatch_id from assist a join command c on c.id = a.command_id"
            + " where a.watched_at is not null and a.ended_at is null and a.seen_at < :since"
            + " and (a.begun_at is not null or c.state in ('planned', 'queued', 'delivered'))"
            + " order by a.dispatch_id limit 100",
        Map.of("since", since));
  }
}
