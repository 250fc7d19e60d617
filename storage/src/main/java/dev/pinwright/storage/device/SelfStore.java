package dev.pinwright.storage.device;

import dev.pinwright.storage.Tx;
import java.util.Base64;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * What is each device's own, and how far the device knows it. That something of it changed is noted
 * by triggers, whoever changes it.
 */
public final class SelfStore {
  private final Tx tx;

  public SelfStore(Tx tx) {
    this.tx = tx;
  }

  /**
   * How far a device knows what is its own.
   *
   * @param desired digest of what it should hold; none before it was worked out
   * @param toldFor the desired digest it has given its last word about
   * @param accepted the digest of what it holds since
   * @param exitSecret sealed
   * @param recoveryNumber of the key its disk is to open with
   * @param due whether something changed of it that is not worked out
   */
  public record Own(
      String deviceId,
      Optional<String> desired,
      Optional<String> toldFor,
      Optional<String> accepted,
      Optional<byte[]> exitSecret,
      int recoveryNumber,
      boolean due) {}

  /**
   * What a device is told of itself, besides its attributes.
   *
   * @param emptied whether it is to hold nothing
   */
  public record Details(
      String deviceId,
      String platform,
      String mode,
      String name,
      Optional<String> asset,
      Optional<String> unit,
      Optional<String> site,
      Optional<String> person,
      Optional<String> login,
      Optional<String> mail,
      boolean emptied) {}

  /** A value of an attribute, by the attribute's name. */
  public record Value(String deviceId, String attribute, String value) {}

  private static final String OWN =
      "select device_id, desired, told_for, accepted, exit_secret, recovery_number,"
          + " exists (select 1 from own_due q where q.device_id = s.device_id) as due"
          + " from device_self s ";

  /** A device's own, held. */
  public Optional<Own> lock(String deviceId) {
    return tx
        .select(Own.class, OWN + "where device_id = :d for update of s", Map.of("d", deviceId))
        .stream()
        .findFirst();
  }

  /** Some of those something changed of, held; none another node or a session is at. */
  public List<Own> due(int most) {
    return tx.select(
        Own.class,
        OWN
            + "where device_id in (select device_id from own_due limit :n)"
            + " for update of s skip locked",
        Map.of("n", most));
  }

  /**
   * Notes that what changed of devices so far is being worked out. What is read after this holds
   * whatever it was noted for; what is noted later stays. Call it with their own held.
   *
   * @return whether anything had changed
   */
  public boolean take(Collection<String> deviceIds) {
    return tx.execute(
            "delete from own_due where device_id = any(cast(:ids as text[]))",
            Map.of("ids", deviceIds.toArray(String[]::new)))
        > 0;
  }

  /** What devices are told of themselves, by device. */
  public Map<String, Details> details(Collection<String> deviceIds) {
    return tx
        .select(
            Details.class,
            """
            select d.id as device_id, d.platform, d.mode, d.name, d.asset, u.name as unit,
                   s.name as site, p.name as person, p.login, p.mail, st.emptied
              from device d left join unit u on u.id = d.unit_id left join site s on s.id = d.site_id
              left join person p on p.id = d.person_id
              join device_state st on st.device_id = d.id
             where d.id = any(cast(:ids as text[]))
            """,
            Map.of("ids", deviceIds.toArray(String[]::new)))
        .stream()
        .collect(Collectors.toMap(Details::deviceId, d -> d));
  }

  /** The values of devices' attributes, by device; those of an attribute made earlier first. */
  public Map<String, List<Value>> attributes(Collection<String> deviceIds) {
    return tx
        .select(
            Value.class,
            """
            select v.subject_id as device_id, a.name as attribute, v.value
              from attribute_value v join attribute a on a.id = v.attribute_id and a.kind = 'device'
             where v.subject_id = any(cast(:ids as text[])) order by a.id
            """,
            Map.of("ids", deviceIds.toArray(String[]::new)))
        .stream()
        .collect(Collectors.groupingBy(Value::deviceId));
  }

  /** What a device should hold was worked out. */
  public record Worked(String deviceId, String desired, Optional<byte[]> exitSecret) {}

  /** Notes what devices should hold. */
  public void worked(Collection<Worked> all) {
    List<Worked> rows = List.copyOf(all);
    tx.execute(
        """
        update device_self o set desired = w.desired,
               exit_secret = decode(w.secret, 'base64')
          from unnest(cast(:ids as text[]), cast(:digests as text[]), cast(:secrets as text[]))
               w(device_id, desired, secret)
         where o.device_id = w.device_id
        """,
        Map.of(
            "ids", rows.stream().map(Worked::deviceId).toArray(String[]::new),
            "digests", rows.stream().map(Worked::desired).toArray(String[]::new),
            "secrets",
                rows.stream()
                    .map(w -> w.exitSecret().map(Base64.getEncoder()::encodeToString).orElse(null))
                    .toArray(String[]::new)));
  }

  /** A device has given its last word about what it should hold. */
  public void told(String deviceId, String desired, String accepted) {
    tx.execute(
        "update device_self set told_for = :t, accepted = :a where device_id = :d",
        Map.of("d", deviceId, "t", desired, "a", accepted));
  }
}
