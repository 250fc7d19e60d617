package dev.pinwright.storage.change;

import dev.pinwright.core.change.Wave;
import dev.pinwright.storage.Tx;
import java.time.Instant;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Published versions that still spread, wave by wave. */
public final class WaveStore {
  private final Tx tx;

  public WaveStore(Tx tx) {
    this.tx = tx;
  }

  /**
   * One of them.
   *
   * @param before version that devices have who are not reached yet; none before the first
   * @param plan as JSON
   * @param devices how many it goes to in all
   * @param step the wave it is at, from 0
   * @param changes ids of the changes the waves so far were
   */
  public record Spreading(
      String profileId,
      int version,
      Optional<Integer> before,
      String plan,
      String salt,
      long devices,
      int step,
      String state,
      String reason,
      Instant begunAt,
      List<String> changes) {}

  private static final String SELECT =
      """
      select profile_id, version, before, cast(plan as text) as plan, salt, devices, step, state, reason,
             begun_at, changes from spreading
      """;

  /** What still spreads of a profile. */
  public Optional<Spreading> find(String profileId) {
    return tx
        .select(Spreading.class, SELECT + "where profile_id = :p", Map.of("p", profileId))
        .stream()
        .findFirst();
  }

  /** All that spread, stopped ones too, by profile; at most so many. */
  public List<Spreading> all(int most) {
    return tx.select(Spreading.class, SELECT + "order by profile_id limit :n", Map.of("n", most));
  }

  /** Lets a version spread, in place of what spread of its profile before. */
  public void begin(Spreading s, Wave wave) {
    end(s.profileId());
    Map<String, Object> p = new HashMap<>();
    p.put("p", s.profileId());
    p.put("v", s.version());
    p.put("before", s.before().orElse(null));
    p.put("plan", s.plan());
    p.put("salt", s.salt());
    p.put("devices", s.devices());
    p.put("reach", wave.reach());
    p.put("groups", wave.groups().toArray(String[]::new));
    p.put("at", s.begunAt());
    p.put("changes", s.changes().toArray(String[]::new));
    tx.execute(
        """
        insert into spreading (profile_id, version, before, plan, salt, devices, step, reach, groups,
                               state, begun_at, changes)
        values (:p, :v, cast(:before as int), cast(:plan as jsonb), :salt, :devices, 0, :reach,
                :groups, 'going', :at, :changes)
        """,
        p);
  }

  /** Goes on to a wave. */
  public void reaches(String profileId, int step, Wave wave, Instant now) {
    tx.execute(
        "update spreading set step = :step, reach = :reach, groups = :groups, state = 'going',"
            + " reason = '', begun_at = :now where profile_id = :p",
        Map.of(
            "p", profileId,
            "step", step,
            "reach", wave.reach(),
            "groups", wave.groups().toArray(String[]::new),
            "now", now));
  }

  /** Notes the change a wave was. */
  public void was(String profileId, String changeId) {
    tx.execute(
        "update spreading set changes = changes || cast(:c as text) where profile_id = :p",
        Map.of("p", profileId, "c", changeId));
  }

  /** Stops it, or lets it go on. */
  public void state(String profileId, boolean stopped, String reason) {
    tx.execute(
        "update spreading set state = :s, reason = :r where profile_id = :p",
        Map.of("p", profileId, "s", stopped ? "stopped" : "going", "r", reason));
  }

  /** It spreads no longer: everybody has it, or something else was published. */
  public void end(String profileId) {
    tx.execute("delete from spreading where profile_id = :p", Map.of("p", profileId));
  }

  /** How many devices some changes moved last are blocked and turned one of these settings down. */
  public long refusing(Collection<String> changeIds, Collection<String> paths) {
    return tx.value(
        """
        select count(*) from device_state st
         where st.change_id = any(cast(:ids as text[])) and st.standing = 'blocked'
           and exists (select 1 from unnest(cast(:paths as text[])) p
                        where strpos(st.refused, p || '=') > 0)
        """,
        Long.class,
        Map.of("ids", changeIds.toArray(String[]::new), "paths", paths.toArray(String[]::new)));
  }

  /** How many devices of some changes could not install or remove the app a profile assigns. */
  public long failing(Collection<String> changeIds, String profileId) {
    return tx.value(
        """
        select count(*) from device_state st
         where st.change_id = any(cast(:ids as text[])) and st.standing = 'blocked'
           and exists (select 1 from app_attempt t join app a on a.package_id = t.app
                         join profile p on p.app_id = a.id
                        where p.id = :profile and t.device_id = st.device_id
                          and t.state = 'failed')
        """,
        Long.class,
        Map.of("ids", changeIds.toArray(String[]::new), "profile", profileId));
  }

  /** Names of the profiles whose waves are by a group. */
  public List<String> naming(String groupId) {
    return tx.column(
        String.class,
        "select p.name from spreading s join profile p on p.id = s.profile_id"
            + " where s.plan @> jsonb_build_object('steps', jsonb_build_array("
            + "jsonb_build_object('group', cast(:g as text)))) order by p.name",
        Map.of("g", groupId));
  }
}
