package dev.pinwright.storage;

import dev.pinwright.core.target.Assignment;
import dev.pinwright.core.target.Target;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * Moves devices between shapes by set-based statements, however many they are. A move is worked out
 * in temporary tables of the transaction first; a rehearsal stops there, a change goes on to {@link
 * #apply}.
 *
 * <p>Order of calls: {@link #begin}, one of the {@code affect} methods, {@link #work}, {@link
 * #kinds}, and for a change {@link #settle} for each kind, then {@link #apply}.
 */
public final class ShapeMoves {
  private static final long LOCK = 0x50494e5348415045L;
  private final Tx tx;

  public ShapeMoves(Tx tx) {
    this.tx = tx;
  }

  /**
   * What a profile would say, in place of what it says now.
   *
   * @param version number of the version to be
   */
  public record Candidate(String profileId, int version, Assignment assignment) {}

  /**
   * Devices that move alike.
   *
   * @param layers {@code profileId:version:nearness} joined by commas, in order of profile id
   * @param refused leaves these devices refused, as kept in {@code device.refused}
   */
  public record Kind(
      String fromShape,
      String fromDigest,
      String platform,
      String mode,
      String osLevel,
      String layers,
      String refused,
      long devices) {}

  /**
   * Waits for other moves. Changes of rules exclude each other and all moves of single devices;
   * moves of single devices exclude only changes of rules.
   */
  public void begin(boolean rulesChange) {
    String lock = rulesChange ? "pg_advisory_xact_lock" : "pg_advisory_xact_lock_shared";
    tx.rows("select 1, cast(" + lock + "(:lock) as text)", Map.of("lock", LOCK));
    // made once for each connection and emptied at the end of each transaction: making them anew
    // every time would cost more than most moves do
    tx.execute(
        "create temporary table if not exists moving (device_id text) on commit delete rows",
        Map.of());
    tx.execute(
        """
        create temporary table if not exists move (
          device_id text, from_shape text, from_digest text, platform text, mode text,
          os_level text, layers text, refused text) on commit delete rows
        """,
        Map.of());
  }

  /** Every device a profile reaches now or would reach. */
  public void affectReachedBy(Candidate candidate) {
    tx.execute(
        """
        insert into moving
        select distinct dt.device_id
          from device_target dt
          join (select kind, ref from assignment where profile_id = :profile
                union select * from unnest(cast(:kinds as text[]), cast(:refs as text[]))) t
            on t.kind = dt.kind and t.ref = dt.ref
        """,
        Map.of(
            "profile", candidate.profileId(),
            "kinds", kinds(candidate.assignment()),
            "refs", refs(candidate.assignment())));
  }

  /** Exactly these devices. */
  public void affect(Collection<String> deviceIds) {
    tx.execute(
        "insert into moving select * from unnest(cast(:ids as text[]))",
        Map.of("ids", deviceIds.toArray(String[]::new)));
  }

  /** Every device in a unit or below it. */
  public void affectUnit(String unitId) {
    tx.execute(
        """
        insert into moving
        select d.id from device d join unit_within w on w.unit_id = d.unit_id
         where w.ancestor_id = :unit and d.retired_at is null
        """,
        Map.of("unit", unitId));
  }

  /** Works out where the affected devices belong. */
  public void work(@Nullable Candidate candidate) {
    Assignment assignment = candidate == null ? Assignment.NOBODY : candidate.assignment();
    tx.execute(
        """
        insert into move
        with effective as (
          select profile_id, kind, ref, excluded, nearness from assignment
           where profile_id <> :profile
          union all
          select :profile, kind, ref, excluded, nearness
            from unnest(cast(:kinds as text[]), cast(:refs as text[]),
                        cast(:excluded as boolean[]), cast(:nearness as int[]))
                 as c(kind, ref, excluded, nearness)
        ), matched as (
          select dt.device_id, e.profile_id,
                 max(e.nearness) filter (where not e.excluded) as nearness,
                 bool_or(e.excluded) as out
            from device_target dt
            join effective e on e.kind = dt.kind and e.ref = dt.ref
           where dt.device_id in (select device_id from moving)
           group by dt.device_id, e.profile_id
        ), layered as (
          select m.device_id,
                 string_agg(m.profile_id || ':' ||
                            case when m.profile_id = :profile then :version
                                 else p.published_version end || ':' || m.nearness,
                            ',' order by m.profile_id) as layers
            from matched m join profile p on p.id = m.profile_id
           where not m.out and m.nearness is not null
             and (p.published_version is not null or p.id = :profile)
           group by m.device_id
        )
        select d.id as device_id, coalesce(d.shape_key, '') as from_shape,
               d.desired_digest as from_digest, d.platform, d.mode, d.os_level,
               coalesce(l.layers, '') as layers, d.refused
          from device d left join layered l on l.device_id = d.id
         where d.id in (select device_id from moving) and d.retired_at is null
        """,
        Map.of(
            "profile", candidate == null ? "" : candidate.profileId(),
            "version", candidate == null ? 0 : candidate.version(),
            "kinds", kinds(assignment),
            "refs", refs(assignment),
            "excluded", flags(assignment),
            "nearness", nearness(assignment)));
  }

  /** The kinds of devices among the affected, most devices first. */
  public List<Kind> kinds() {
    List<Kind> out = new ArrayList<>();
    for (Object[] r :
        tx.rows(
            """
            select from_shape, from_digest, platform, mode, os_level, layers, refused, count(*)
              from move group by 1, 2, 3, 4, 5, 6, 7 order by 8 desc, 6, 7
            """,
            Map.of())) {
      out.add(
          new Kind(
              (String) r[0],
              (String) r[1],
              (String) r[2],
              (String) r[3],
              (String) r[4],
              (String) r[5],
              (String) r[6],
              ((Number) r[7]).longValue()));
    }
    return out;
  }

  /** Ids and names of devices of some kinds, in order of name, after a name and id. */
  public List<Object[]> devices(
      Collection<Kind> kinds, String afterName, String afterId, int limit) {
    return tx.rows(
        """
        select d.id, d.name from move m join device d on d.id = m.device_id
          join unnest(cast(:shapes as text[]), cast(:layers as text[]), cast(:refused as text[]),
                      cast(:platforms as text[]), cast(:modes as text[]), cast(:levels as text[]))
            as k(from_shape, layers, refused, platform, mode, os_level)
            on (k.from_shape, k.layers, k.refused, k.platform, k.mode, k.os_level)
             = (m.from_shape, m.layers, m.refused, m.platform, m.mode, m.os_level)
         where (lower(d.name), d.id) > (:afterName, :afterId)
         order by lower(d.name), d.id limit :limit
        """,
        Map.of(
            "shapes", column(kinds, Kind::fromShape),
            "layers", column(kinds, Kind::layers),
            "refused", column(kinds, Kind::refused),
            "platforms", column(kinds, Kind::platform),
            "modes", column(kinds, Kind::mode),
            "levels", column(kinds, Kind::osLevel),
            "afterName", afterName,
            "afterId", afterId,
            "limit", limit));
  }

  /** Where one kind of device goes. */
  public record Settled(Kind kind, String shapeKey, String digest) {}

  /**
   * Moves the devices and returns how many got another desired tree. Devices whose reported tree
   * already is the new one are not set back.
   */
  public int apply(List<Settled> settled, @Nullable String changeId) {
    if (settled.isEmpty()) {
      return 0;
    }
    Map<String, Object> parameters = new java.util.HashMap<>();
    parameters.put("platforms", column(settled, s -> s.kind().platform()));
    parameters.put("modes", column(settled, s -> s.kind().mode()));
    parameters.put("levels", column(settled, s -> s.kind().osLevel()));
    parameters.put("layers", column(settled, s -> s.kind().layers()));
    parameters.put("refused", column(settled, s -> s.kind().refused()));
    parameters.put("shapes", column(settled, Settled::shapeKey));
    parameters.put("digests", column(settled, Settled::digest));
    parameters.put("change", changeId == null ? "" : changeId);
    return tx.execute(
        """
        with goal as (
          select distinct * from unnest(
              cast(:platforms as text[]), cast(:modes as text[]), cast(:levels as text[]),
              cast(:layers as text[]), cast(:refused as text[]), cast(:shapes as text[]),
              cast(:digests as text[]))
            as g(platform, mode, os_level, layers, refused, shape_key, digest)
        ), same_tree as (
          update device d set shape_key = g.shape_key
            from move m join goal g using (platform, mode, os_level, layers, refused)
           where d.id = m.device_id and d.desired_digest = g.digest
             and d.shape_key is distinct from g.shape_key
        )
        update device d
           set shape_key = g.shape_key,
               desired_digest = g.digest,
               change_id = case when :change = '' then d.change_id else :change end,
               standing = case when d.reported_digest = g.digest then d.standing
                               else 'catching-up' end,
               standing_reason = case when d.reported_digest = g.digest then d.standing_reason
                                      else 'a change is on its way' end
          from move m join goal g using (platform, mode, os_level, layers, refused)
         where d.id = m.device_id and d.desired_digest <> g.digest
        """,
        parameters);
  }

  private static <T> String[] column(Collection<T> rows, Function<T, String> of) {
    return rows.stream().map(of).toArray(String[]::new);
  }

  private static Stream<Target> all(Assignment a) {
    return Stream.concat(a.targets().stream(), a.exclusions().stream());
  }

  static String[] kinds(Assignment a) {
    return all(a).map(t -> dev.pinwright.core.Words.of(t.kind())).toArray(String[]::new);
  }

  static String[] refs(Assignment a) {
    return all(a).map(Target::ref).toArray(String[]::new);
  }

  private static Boolean[] flags(Assignment a) {
    return Stream.concat(
            a.targets().stream().map(t -> false), a.exclusions().stream().map(t -> true))
        .toArray(Boolean[]::new);
  }

  private static Integer[] nearness(Assignment a) {
    return all(a).map(Target::nearness).toArray(Integer[]::new);
  }

  /** Makes an assignment the one in effect. */
  public void store(String profileId, Assignment a) {
    tx.execute("delete from assignment where profile_id = :p", Map.of("p", profileId));
    tx.execute(
        """
        insert into assignment (profile_id, kind, ref, excluded, nearness)
        select distinct :p, c.* from unnest(cast(:kinds as text[]), cast(:refs as text[]),
            cast(:excluded as boolean[]), cast(:nearness as int[])) as c
        """,
        Map.of(
            "p", profileId,
            "kinds", kinds(a),
            "refs", refs(a),
            "excluded", flags(a),
            "nearness", nearness(a)));
  }
}
