package dev.pinwright.service.rules;

import dev.pinwright.core.Words;
import dev.pinwright.core.target.Target;
import dev.pinwright.service.work.Json;
import dev.pinwright.storage.Tx;
import java.util.List;
import java.util.Map;

/** Which profiles name a target, drafted or published. */
public final class TargetUses {
  private TargetUses() {}

  /** Names of the profiles, in order; at most twenty. */
  public static List<String> of(Tx tx, Target target) {
    String ref = Json.write(List.of(json(target)));
    return tx
        .rows(
            "select p.name, 1 from profile p where exists (select 1 from assignment a"
                + " where a.profile_id = p.id and a.kind = :k and a.ref = :r)"
                + " or p.draft @> cast(:t as jsonb) or p.draft @> cast(:x as jsonb)"
                + " order by p.name limit 20",
            Map.of(
                "k",
                Words.of(target.kind()),
                "r",
                target.ref(),
                "t",
                "{\"targets\":" + ref + "}",
                "x",
                "{\"exclusions\":" + ref + "}"))
        .stream()
        .map(r -> (String) r[0])
        .toList();
  }

  private static Map<String, String> json(Target target) {
    return Map.of("kind", Words.of(target.kind()), "ref", target.ref());
  }

  /**
   * Lets every profile, drafted, published or of an earlier version, name a target by another
   * reference. Devices stay in their shapes, so what the reference stands for has to move with it.
   */
  public static void rename(Tx tx, Target from, String ref) {
    String kind = Words.of(from.kind());
    tx.execute(
        "update assignment set ref = :to where kind = :k and ref = :from",
        Map.of("to", ref, "k", kind, "from", from.ref()));
    Map<String, String> elements =
        Map.of(
            "from", Json.write(json(from)), "to", Json.write(json(new Target(from.kind(), ref))));
    for (String[] place : new String[][] {{"profile", "draft"}, {"profile_version", "content"}}) {
      for (String list : List.of("targets", "exclusions")) {
        tx.execute(
            """
            update %1$s set %2$s = jsonb_set(%2$s, '{%3$s}',
              (select jsonb_agg(case when e.item = cast(:from as jsonb) then cast(:to as jsonb)
                                     else e.item end order by e.place)
                 from jsonb_array_elements(%2$s -> '%3$s') with ordinality e(item, place)))
             where %2$s -> '%3$s' @> jsonb_build_array(cast(:from as jsonb))
            """
                .formatted(place[0], place[1], list),
            elements);
      }
    }
  }
}
