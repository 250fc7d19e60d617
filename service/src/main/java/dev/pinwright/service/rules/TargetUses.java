package dev.pinwright.service.rules;

import dev.pinwright.core.Words;
import dev.pinwright.core.target.Target;
import dev.pinwright.storage.Tx;
import java.util.List;
import java.util.Map;

/** Which profiles name a target, drafted or published. */
public final class TargetUses {
  private TargetUses() {}

  /** Names of the profiles, in order; at most twenty. */
  public static List<String> of(Tx tx, Target target) {
    String ref =
        "[{\"kind\":\"" + Words.of(target.kind()) + "\",\"ref\":\"" + target.ref() + "\"}]";
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
}
