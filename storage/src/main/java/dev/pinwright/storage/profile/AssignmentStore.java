package dev.pinwright.storage.profile;

import dev.pinwright.core.Words;
import dev.pinwright.core.target.Target;
import dev.pinwright.storage.Tx;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;

/** Which profiles name a target, drafted or published. */
public final class AssignmentStore {
  private static final String ELEMENT =
      "jsonb_build_object('kind', cast(:kind as text), 'ref', cast(:ref as text))";

  private final Tx tx;

  public AssignmentStore(Tx tx) {
    this.tx = tx;
  }

  /** Names of the profiles that name a target, in order; at most twenty. */
  public List<String> users(Target target) {
    return tx.column(
        String.class,
        """
        select p.name from profile p
         where exists (select 1 from profile_version v
                        where v.profile_id = p.id and v.number = p.published_version
                          and (v.content @> jsonb_build_object('targets', jsonb_build_array(%1$s))
                            or v.content @> jsonb_build_object('exclusions', jsonb_build_array(%1$s))))
            or p.draft @> jsonb_build_object('targets', jsonb_build_array(%1$s))
            or p.draft @> jsonb_build_object('exclusions', jsonb_build_array(%1$s))
         order by p.name limit 20
        """
            .formatted(ELEMENT),
        Map.of("kind", Words.of(target.kind()), "ref", target.ref()));
  }

  private record Named(String id, String name) {}

  /** Names of groups, devices, units and people by id, for those there are. */
  public Map<String, String> names(Collection<String> refs) {
    return tx
        .select(
            Named.class,
            """
            select id, name from device_group where id = any(:refs)
            union all select id, name from device where id = any(:refs)
            union all select id, code || ' ' || name from unit where id = any(:refs)
            union all select id, name from person where id = any(:refs)
            """,
            Map.of("refs", refs.toArray(String[]::new)))
        .stream()
        .collect(Collectors.toMap(Named::id, Named::name));
  }

  /**
   * Lets every profile, drafted, published or of an earlier version, name a target by another
   * reference. Devices stay in their shapes, so what the reference stands for has to move with it.
   */
  public void rename(Target from, String ref) {
    Map<String, Object> p = Map.of("to", ref, "kind", Words.of(from.kind()), "ref", from.ref());
    tx.execute("update assignment set ref = :to where kind = :kind and ref = :ref", p);
    for (String[] place : new String[][] {{"profile", "draft"}, {"profile_version", "content"}}) {
      for (String list : List.of("targets", "exclusions")) {
        tx.execute(
            """
            update %1$s set %2$s = jsonb_set(%2$s, '{%3$s}',
              (select jsonb_agg(case when e.item = %4$s
                                     then jsonb_build_object('kind', cast(:kind as text),
                                                             'ref', cast(:to as text))
                                     else e.item end order by e.place)
                 from jsonb_array_elements(%2$s -> '%3$s') with ordinality e(item, place)))
             where %2$s -> '%3$s' @> jsonb_build_array(%4$s)
            """
                .formatted(place[0], place[1], list, ELEMENT),
            p);
      }
    }
  }
}
