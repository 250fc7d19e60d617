package dev.pinwright.storage.change;

import dev.pinwright.core.Words;
import dev.pinwright.core.policy.KitPart;
import dev.pinwright.core.target.Target;
import dev.pinwright.storage.change.Moves.Candidate;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;

/**
 * Which published profiles match devices, as SQL: all the targets a device stands for met with all
 * the assignments in effect.
 *
 * @param assigned the assignments, a relation like the table
 * @param version of a profile {@code p}, null where none is published
 */
record Matching(String assigned, String version) {
  /** What is in effect. */
  static final Matching ON_FILE = new Matching("assignment", inWaves("p.published_version"));

  /** Whether a wave has reached a device, as {@link dev.pinwright.core.change.Wave} has it. */
  static String reached(String device, String salt, String reach, String groups) {
    return """
    (wave_bucket(%2$s, %1$s) < %3$s or exists (
       select 1 from group_member wg where wg.device_id = %1$s and wg.group_id = any(%4$s)))"""
        .formatted(device, salt, reach, groups);
  }

  /** The version of a profile {@code p} a device {@code m} has, of one that still spreads. */
  private static String inWaves(String version) {
    return "case when w.profile_id is null or "
        + reached("m.device_id", "w.salt", "w.reach", "w.groups")
        + " then "
        + version
        + " else w.before end";
  }

  /** What would be in effect with a kit as it is to be. */
  static Matching with(Candidate kit, Map<String, Object> parameters) {
    List<Target> targets = kit.assignment().targets();
    List<Target> exclusions = kit.assignment().exclusions();
    List<Target> all = Stream.concat(targets.stream(), exclusions.stream()).toList();
    parameters.put("kit", kit.profileId());
    parameters.put("version", kit.version());
    parameters.put("kinds", all.stream().map(t -> Words.of(t.kind())).toArray(String[]::new));
    parameters.put("refs", all.stream().map(Target::ref).toArray(String[]::new));
    parameters.put("nears", all.stream().map(Target::nearness).toArray(Integer[]::new));
    parameters.put("targets", targets.size());
    parameters.put(
        "parts",
        Stream.concat(Stream.of(kit.profileId()), kit.parts().stream().map(KitPart::profileId))
            .toArray(String[]::new));
    parameters.put(
        "partsInOrder",
        Stream.concat(Stream.of(false), kit.parts().stream().map(KitPart::whenInOrder))
            .toArray(Boolean[]::new));
    String assigned =
        """
        (select profile_id, source, kind, ref, excluded, nearness, when_in_order
           from assignment where source <> :kit
         union all
         select k.profile_id, :kit, t.kind, t.ref, t.nr > :targets, t.nearness, k.when_in_order
           from unnest(cast(:kinds as text[]), cast(:refs as text[]), cast(:nears as int[]))
                  with ordinality as t(kind, ref, nearness, nr)
          cross join unnest(cast(:parts as text[]), cast(:partsInOrder as boolean[]))
                  as k(profile_id, when_in_order))""";
    return new Matching(
        assigned,
        "case when p.id = :kit then :version else " + inWaves("p.published_version") + " end");
  }

  /** Devices a kit reaches, or would; for {@link #source}. */
  String reached() {
    return """
    in (select x.device_id from device_target x
         where (x.kind, x.ref) in (select y.kind, y.ref from assignment y where y.source = :kit)
            or (x.kind, x.ref) in (select * from unnest(cast(:kinds as text[]),
                                                        cast(:refs as text[]))))""";
  }

  /**
   * How near profiles reach devices: {@code device_id, profile_id, nearness}. What one source
   * leaves out it leaves out of what it gives alone.
   *
   * @param which of {@code device_target dt} and {@code a}, the assignments
   */
  String nearest(String which) {
    return """
    select n.device_id, n.profile_id, max(n.nearness) as nearness
      from (select dt.device_id, a.profile_id, a.source,
                   max(a.nearness) filter (where not a.excluded) as nearness,
                   bool_or(a.excluded) or bool_or(a.when_in_order and o.withheld) as out
              from device_target dt join %1$s a on a.kind = dt.kind and a.ref = dt.ref
              join device_state o on o.device_id = dt.device_id
             where %2$s
             group by dt.device_id, a.profile_id, a.source) n
     where not n.out and n.nearness is not null
     group by n.device_id, n.profile_id"""
        .formatted(assigned, which);
  }

  /**
   * A source of {@link Moves} whose keys are whole shapes.
   *
   * @param which devices, as a condition on an id
   */
  String source(String which) {
    return """
    select st.device_id, coalesce(st.shape_key, '') as from_shape, st.refused,
           st.desired_digest as desired,
           d.platform || '|' || d.mode || '|' || d.os_level || '|'
             || case when st.emptied then '' else coalesce(l.parts, '') end as key
      from device_state st join device d on d.id = st.device_id
      left join (
        select m.device_id,
               string_agg(m.profile_id || ':' || %3$s || ':' || m.nearness,
                          ',' order by m.profile_id) as parts
          from (%2$s) m
          join profile p on p.id = m.profile_id
          left join spreading w on w.profile_id = p.id
         where %3$s is not null
         group by m.device_id
      ) l on l.device_id = d.id
     where st.standing <> 'retired' and st.device_id %1$s
    """
        .formatted(which, nearest("dt.device_id " + which), version);
  }
}
