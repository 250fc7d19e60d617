package dev.pinwright.storage.naming;

import dev.pinwright.storage.Tx;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Running numbers: which were given out, and which became free. */
public final class SequenceStore {
  private final Tx tx;

  public SequenceStore(Tx tx) {
    this.tx = tx;
  }

  /**
   * A sequence.
   *
   * @param key the name with {@code #} where the number stands
   * @param last the highest number given out
   */
  public record Sequence(String key, long last, long firstNumber) {}

  /** Sequences after a key, by key. */
  public List<Sequence> page(String after, int limit) {
    return tx.select(
        Sequence.class,
        "select key, last, first_number from sequence where key > :k order by key limit :limit",
        Map.of("k", after, "limit", limit));
  }

  /** A sequence; empty when no number of it was given out. */
  public Optional<Sequence> find(String key) {
    return tx
        .select(
            Sequence.class,
            "select key, last, first_number from sequence where key = :k",
            Map.of("k", key))
        .stream()
        .findFirst();
  }

  /**
   * The last number of a sequence, which is begun where there is none. Everybody else who asks
   * waits until the transaction ends.
   */
  public long hold(String key, long first) {
    tx.execute(
        "insert into sequence (key, last, first_number) values (:k, :f - 1, :f)"
            + " on conflict do nothing",
        Map.of("k", key, "f", first));
    return tx.value(
        "select last from sequence where key = :k for update", Long.class, Map.of("k", key));
  }

  /** The least number that became free, from {@code first} on. */
  public Optional<Long> free(String key, long first) {
    return tx
        .column(
            Long.class,
            "select number from sequence_number where key = :k and freed_at is not null"
                + " and number >= :f order by number limit 1",
            Map.of("k", key, "f", first))
        .stream()
        .findFirst();
  }

  /** Gives a free number to a device. */
  public void reuse(String key, long number, String deviceId, Instant now) {
    tx.execute(
        "update sequence_number set device_id = :d, taken_at = :now, freed_at = null"
            + " where key = :k and number = :n",
        Map.of("k", key, "n", number, "d", deviceId, "now", now));
  }

  /** Numbers up to this one are kept for devices that are about to come. */
  public void keep(String key, long number) {
    tx.execute(
        "update sequence set last = greatest(last, :n) where key = :k",
        Map.of("k", key, "n", number));
  }

  /** Gives a number to a device that no device has had. */
  public void take(String key, long number, String deviceId, Instant now) {
    tx.execute(
        "update sequence set last = greatest(last, :n) where key = :k",
        Map.of("k", key, "n", number));
    tx.execute(
        "insert into sequence_number (key, number, device_id, taken_at) values (:k, :n, :d, :now)",
        Map.of("k", key, "n", number, "d", deviceId, "now", now));
  }

  /** A device that leaves gives its number back. */
  public void giveBack(String deviceId, Instant now) {
    tx.execute(
        "update sequence_number set freed_at = :now where device_id = :d and freed_at is null",
        Map.of("d", deviceId, "now", now));
  }

  /** A device that comes back has its number again, unless another device got it meanwhile. */
  public void takeBack(String deviceId) {
    tx.execute(
        "update sequence_number set freed_at = null where device_id = :d", Map.of("d", deviceId));
  }

  /** Names of managed devices that begin with a text. */
  public List<String> names(String beginning, int limit) {
    return tx.column(
        String.class,
        "select name from device where retired_at is null and starts_with(name, :b) limit :limit",
        Map.of("b", beginning, "limit", limit));
  }

  /**
   * A device that is on its way or here, with what names are made of; empty for what is not known.
   */
  public record Example(
      Optional<String> serial,
      Optional<String> imei,
      Optional<String> asset,
      String model,
      String platform,
      String person,
      String unit,
      String site,
      String sheet) {}

  /**
   * Rows of the roster that are expected, the newest first, then the newest devices.
   *
   * @param unitId where those land of which nothing nearer is known; empty for nowhere
   */
  public List<Example> examples(String unitId, String siteId, int limit) {
    return tx.select(
        Example.class,
        """
        select x.serial, x.imei, x.asset, x.model, x.platform, coalesce(p.name, '') as person,
               coalesce(u.code, '') as unit, coalesce(s.name, '') as site, x.sheet
          from ((select 1 as sort, id, serial, imei, asset, '' as model, '' as platform,
                        person_id, unit_id, site_id, name as sheet
                   from roster_entry where state = 'expected' order by id desc limit :n)
                union all
                (select 2, id, serial, imei, asset, model, platform, person_id, unit_id,
                        site_id, ''
                   from device where retired_at is null order by enrolled_at desc limit :n)) x
          left join person p on p.id = x.person_id
          left join unit u on u.id = coalesce(x.unit_id, p.unit_id, nullif(:unit, ''))
          left join site s on s.id = coalesce(x.site_id, p.site_id, nullif(:site, ''))
         order by x.sort, x.id desc limit :n
        """,
        Map.of("n", limit, "unit", unitId, "site", siteId));
  }
}
