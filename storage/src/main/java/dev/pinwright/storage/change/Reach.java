package dev.pinwright.storage.change;

import dev.pinwright.core.Words;
import dev.pinwright.core.target.Assignment;
import dev.pinwright.core.target.Target;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * Whom one profile would reach, as SQL over {@code device_state st}.
 *
 * @param everyone nearness of everyone, where everyone is a target
 * @param nobody whether everyone is left out
 * @param hits selections of who is targeted or left out by more than being there
 * @param inKits whether kits take the profile along; they do so as before
 */
record Reach(Optional<Integer> everyone, boolean nobody, List<String> hits, boolean inKits) {

  private static final Map<Target.Kind, String> FROM =
      Map.of(
          Target.Kind.DEVICE,
          "select c.ref as device_id, c.excluded from unnest(%s) as c(ref, excluded)",
          Target.Kind.TAG,
          "select t.device_id, c.excluded from device_tag t"
              + " join unnest(%s) as c(ref, excluded) on c.ref = t.tag",
          Target.Kind.GROUP,
          "select g.device_id, c.excluded from group_member g"
              + " join unnest(%s) as c(ref, excluded) on c.ref = g.group_id",
          Target.Kind.PERSON,
          "select d.id, c.excluded from device d"
              + " join unnest(%s) as c(ref, excluded) on c.ref = d.person_id",
          Target.Kind.UNIT,
          "select d.id, c.excluded from device d join unit_within w on w.unit_id = d.unit_id"
              + " join unnest(%s) as c(ref, excluded) on c.ref = w.ancestor_id");

  static Reach of(Assignment a, boolean inKits, Map<String, Object> parameters) {
    Target everyone = new Target(Target.Kind.EVERYONE, "");
    List<String> hits = new ArrayList<>();
    for (Target.Kind kind : Target.Kind.values()) {
      List<Target> in = a.targets().stream().filter(t -> t.kind() == kind).toList();
      List<Target> out = a.exclusions().stream().filter(t -> t.kind() == kind).toList();
      if (kind != Target.Kind.EVERYONE && in.size() + out.size() > 0) {
        String name = Words.of(kind);
        parameters.put(
            name + "Refs",
            Stream.concat(in.stream(), out.stream()).map(Target::ref).toArray(String[]::new));
        parameters.put(
            name + "Out",
            Stream.concat(in.stream().map(t -> false), out.stream().map(t -> true))
                .toArray(Boolean[]::new));
        String given = "cast(:%1$sRefs as text[]), cast(:%1$sOut as boolean[])".formatted(name);
        hits.add(
            "select x.device_id, x.excluded, "
                + new Target(kind, "any").nearness()
                + " as nearness from ("
                + FROM.get(kind).formatted(given)
                + ") as x(device_id, excluded)");
      }
    }
    return new Reach(
        a.targets().contains(everyone) ? Optional.of(everyone.nearness()) : Optional.empty(),
        a.exclusions().contains(everyone),
        hits,
        inKits);
  }

  /** What has to be joined to tell; empty for nothing. */
  String joined() {
    String own =
        """
        left join (
          select device_id, bool_or(excluded) as excluded,
                 max(nearness) filter (where not excluded) as nearness
            from (%s) t group by device_id
        ) h on h.device_id = st.device_id
        """
            .formatted(String.join(" union all ", hits));
    String byKits =
        """
        left join (%s) k on k.device_id = st.device_id
        """
            .formatted(
                Matching.ON_FILE.nearest("a.profile_id = :profile and a.source <> :profile"));
    return (hits.isEmpty() ? "" : own) + (inKits ? byKits : "");
  }

  /** The nearness as text; empty for who is not reached. */
  String key() {
    String own = "cast(" + everyone.map(String::valueOf).orElse("null") + " as int)";
    if (nobody) {
      own = "cast(null as int)";
    } else if (!hits.isEmpty()) {
      own =
          "case when not coalesce(h.excluded, false) then greatest(h.nearness, %s) end"
              .formatted(own);
    }
    return "coalesce(cast(%s as text), '')"
        .formatted(inKits ? "greatest(" + own + ", k.nearness)" : own);
  }

  /** Who is looked at: those reached now, and those who would be. */
  String about() {
    if (everyone.isPresent() && !nobody) {
      return "true";
    }
    return "st.shape_key in (select shape_key from shape_profile where profile_id = :profile)"
        + (hits.isEmpty() ? "" : " or h.device_id is not null")
        + (inKits ? " or k.device_id is not null" : "");
  }
}
