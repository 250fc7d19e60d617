package dev.pinwright.storage.enrollment;

import dev.pinwright.storage.After;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.EnrollmentProfileRow;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;

/** Enrollment profiles, what they said before, and what needs them. */
public final class EnrollmentStore {
  private final Tx tx;

  public EnrollmentStore(Tx tx) {
    this.tx = tx;
  }

  /** Those that are not removed, by name in small letters, then id. */
  public List<EnrollmentProfileRow> page(After after, int limit) {
    return tx.list(
        EnrollmentProfileRow.class,
        "from EnrollmentProfileRow where removedAt is null and (lower(name) > :n"
            + " or (lower(name) = :n and id > :id)) order by lower(name), id",
        Map.of("n", after.key(), "id", after.id()),
        limit);
  }

  /** The one of a name that is not removed. */
  public Optional<EnrollmentProfileRow> byName(String name) {
    return tx
        .list(
            EnrollmentProfileRow.class,
            "from EnrollmentProfileRow where lower(name) = lower(:n) and removedAt is null",
            Map.of("n", name),
            1)
        .stream()
        .findFirst();
  }

  /**
   * An enrollment profile as it was written.
   *
   * @param content JSON
   */
  public record Version(int number, String content, Instant writtenAt, String writtenBy) {}

  /** Keeps what was written. */
  public void insert(String id, Version v) {
    tx.execute(
        "insert into enrollment_profile_version (profile_id, number, content, written_at,"
            + " written_by) values (:p, :n, cast(:c as jsonb), :at, :by)",
        Map.of(
            "p", id,
            "n", v.number(),
            "c", v.content(),
            "at", v.writtenAt(),
            "by", v.writtenBy()));
  }

  /** What it said each time it was written, newest first. */
  public List<Version> versions(String id, int before, int limit) {
    return tx.select(
        Version.class,
        "select number, cast(content as text) as content, written_at, written_by"
            + " from enrollment_profile_version where profile_id = :p and number < :b"
            + " order by number desc limit :l",
        Map.of("p", id, "b", before, "l", limit));
  }

  /**
   * One thing that needs an enrollment profile. {@code kind}: invitation, identifier, gateway or
   * device.
   */
  public record Use(String kind, String id, String name) {}

  /** The first of each kind that need it; what keeps it from being deleted comes first. */
  public List<Use> uses(String id, Instant now, int each) {
    return tx.select(
        Use.class,
        """
        (select 'invitation' as kind, id, case when note = '' then 'Invitation' else note end
                as name
           from invitation
          where profile_id = :p and withdrawn_at is null and expires_at > :now
            and uses < uses_allowed order by id limit :n)
        union all
        (select 'identifier', id, coalesce(serial, imei, asset) from roster_entry
          where profile_id = :p and state <> 'withdrawn' order by id limit :n)
        union all
        (select 'gateway', platform, platform from gateway
          where default_profile_id = :p order by platform)
        union all
        (select 'device', id, name from device
          where enrollment_profile_id = :p and retired_at is null
          order by lower(name) limit :n)
        """,
        Map.of("p", id, "now", now, "n", each));
  }

  /**
   * How much needs one.
   *
   * @param invitations open ones
   * @param identifiers rows of the roster that name it and are not withdrawn
   * @param devices under management that joined by it
   */
  public record Counts(String id, long invitations, long identifiers, long devices) {}

  /** How much needs each of these, by id. */
  public Map<String, Counts> counts(Collection<String> ids, Instant now) {
    tx.flush();
    return tx
        .select(
            Counts.class,
            """
            select p.id,
                   (select count(*) from invitation where profile_id = p.id
                      and withdrawn_at is null and expires_at > :now and uses < uses_allowed)
                     as invitations,
                   (select count(*) from roster_entry where profile_id = p.id
                      and state <> 'withdrawn') as identifiers,
                   (select count(*) from device where enrollment_profile_id = p.id
                      and retired_at is null) as devices
              from unnest(cast(:ids as text[])) p(id)
            """,
            Map.of("ids", ids.toArray(String[]::new), "now", now))
        .stream()
        .collect(Collectors.toMap(Counts::id, Function.identity()));
  }
}
