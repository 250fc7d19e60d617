package dev.pinwright.storage.profile;

import dev.pinwright.core.Words;
import dev.pinwright.core.policy.ProfileKind;
import dev.pinwright.storage.After;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.query.Sought;
import dev.pinwright.storage.row.ProfileRow;
import dev.pinwright.storage.row.ProfileVersionRow;
import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Profiles and their published versions. */
public final class ProfileStore {
  private final Tx tx;

  public ProfileStore(Tx tx) {
    this.tx = tx;
  }

  /**
   * A profile in a list.
   *
   * @param settings how many settings its draft has
   * @param parts how many profiles it takes along
   * @param devices how many managed devices have it
   */
  public record Line(
      String id,
      String name,
      String description,
      Optional<Integer> publishedVersion,
      boolean draftChanged,
      int settings,
      int parts,
      long devices,
      Instant changedAt) {}

  /** Profiles or kits by name in small letters, then id. */
  public List<Line> page(ProfileKind kind, String words, After after, int limit) {
    Map<String, Object> p = new HashMap<>(after.parameters(limit));
    p.put("kind", Words.of(kind));
    return tx.select(
        Line.class,
        """
        select p.id, p.name, p.description, p.published_version, p.draft_changed,
               (select count(*) from jsonb_object_keys(p.draft -> 'settings')) as settings,
               coalesce(jsonb_array_length(p.draft -> 'parts'), 0) as parts,
               coalesce(n.devices, 0) as devices, p.changed_at
          from profile p left join (
            select sp.profile_id, count(*) as devices
              from device_state st join shape_profile sp using (shape_key)
             where st.standing <> 'retired' group by 1) n on n.profile_id = p.id
         where p.kind = :kind and (lower(p.name), p.id) > (:key, :id) and
        """
            + Sought.in("lower(p.name || ' ' || p.description)", words, p)
            + " order by lower(p.name), p.id limit :limit",
        p);
  }

  /** How many of the devices a profile is assigned to stand in some way. */
  public record Standing(String standing, long devices) {}

  /** How the devices stand that a profile is assigned to. */
  public List<Standing> standings(String id) {
    return tx.select(
        Standing.class,
        """
        select st.standing, count(*) as devices from device_state st
         where st.standing <> 'retired'
           and st.shape_key in (select shape_key from shape_profile where profile_id = :p)
         group by 1 order by 1
        """,
        Map.of("p", id));
  }

  /** The profile of a name. */
  public Optional<ProfileRow> byName(String name) {
    return tx
        .list(
            ProfileRow.class, "from ProfileRow where lower(name) = lower(:n)", Map.of("n", name), 1)
        .stream()
        .findFirst();
  }

  /** Published profiles that are to begin or end at a moment and have not yet; at most twenty. */
  public List<String> turning(Instant now) {
    return tx.column(
        String.class,
        """
        select id from profile
         where published_version is not null and (in_force_from is not null or in_force_until is not null)
           and in_force <> (coalesce(in_force_from <= :now, true)
                            and coalesce(in_force_until > :now, true))
         order by id limit 20
        """,
        Map.of("now", now));
  }

  /**
   * A profile as a whole.
   *
   * @param content of its published version; of its draft where it never was published
   */
  public record Whole(
      String id, String name, String description, boolean published, String content) {}

  /** Every profile or kit by name, as published. */
  public List<Whole> all(ProfileKind kind) {
    return tx.select(
        Whole.class,
        """
        select p.id, p.name, p.description, p.published_version is not null as published,
               cast(coalesce(v.content, p.draft) as text) as content
          from profile p
          left join profile_version v on v.profile_id = p.id and v.number = p.published_version
         where p.kind = :kind order by lower(p.name), p.id
        """,
        Map.of("kind", Words.of(kind)));
  }

  /** The number of a publication: later ones are higher, over all profiles. */
  public long nextPublication() {
    return tx.value("select nextval('publication')", Long.class, Map.of());
  }

  /** Published versions before a number, newest first. */
  public List<ProfileVersionRow> versions(String id, int before, int limit) {
    return tx.list(
        ProfileVersionRow.class,
        "from ProfileVersionRow where profileId = :p and number < :b order by number desc",
        Map.of("p", id, "b", before),
        limit);
  }
}
