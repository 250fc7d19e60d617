package dev.pinwright.storage.app;

import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.ConfigurationCodeRow;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Printed codes with what apps are told on devices that are not enrolled. */
public final class ConfigurationCodeStore {
  private static final String SELECT =
      """
      select c.id, c.app_id, a.name as app, a.package_id, c.unit_id, u.code as unit_code,
             u.name as unit, c.name, c.sealed_code, c.configuration,
             c.sealed_secrets is not null as secrets, c.made_at, c.made_by, c.until, c.revoked_at,
             c.read_times, c.read_at
        from configuration_code c
        join app a on a.id = c.app_id join unit u on u.id = c.unit_id
      """;

  private final Tx tx;

  public ConfigurationCodeStore(Tx tx) {
    this.tx = tx;
  }

  /**
   * A code with the names of what it is about.
   *
   * @param configuration JSON
   * @param secrets whether there are secrets besides
   */
  public record Line(
      String id,
      String appId,
      String app,
      String packageId,
      String unitId,
      String unitCode,
      String unit,
      String name,
      byte[] sealedCode,
      String configuration,
      boolean secrets,
      Instant madeAt,
      String madeBy,
      Instant until,
      Optional<Instant> revokedAt,
      long readTimes,
      Optional<Instant> readAt) {}

  /** Codes before an id, newest first; of one app where one is named. */
  public List<Line> page(String appId, String before, int limit) {
    tx.flush();
    return tx.select(
        Line.class,
        SELECT + " where c.id < :before and :app in ('', c.app_id) order by c.id desc limit :limit",
        Map.of("before", before, "app", appId, "limit", limit));
  }

  /** One code. */
  public Optional<Line> find(String id) {
    tx.flush();
    return tx.select(Line.class, SELECT + " where c.id = :id", Map.of("id", id)).stream()
        .findFirst();
  }

  /** Codes of these ids, in the order they were made. */
  public List<Line> named(Collection<String> ids) {
    return tx.select(
        Line.class,
        SELECT + " where c.id = any(:ids) order by c.id",
        Map.of("ids", ids.toArray(String[]::new)));
  }

  /** The code of a hash. */
  public Optional<ConfigurationCodeRow> ofHash(String hash) {
    return tx
        .list(
            ConfigurationCodeRow.class,
            "from ConfigurationCodeRow where codeHash = :hash",
            Map.of("hash", hash),
            1)
        .stream()
        .findFirst();
  }

  /** A code that lapses. */
  public record Lapsing(String appId, String name, Instant until) {}

  /** Codes that are open and lapse before a moment, the first first; at most twenty. */
  public List<Lapsing> lapsing(Instant now, Instant before) {
    return tx.select(
        Lapsing.class,
        "select app_id, name, until from configuration_code where revoked_at is null"
            + " and until > :now and until < :before order by until, id limit 20",
        Map.of("now", now, "before", before));
  }

  /** Notes that a code was read. */
  public void read(String id, Instant now) {
    tx.execute(
        "update configuration_code set read_times = read_times + 1, read_at = :now where id = :id",
        Map.of("id", id, "now", now));
  }
}
