package dev.pinwright.storage.profile;

import dev.pinwright.storage.Tx;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Kits and what they take along. */
public final class KitStore {
  private final Tx tx;

  public KitStore(Tx tx) {
    this.tx = tx;
  }

  /** A profile or kit by id and name. */
  public record Named(String id, String name, String kind, Optional<Integer> publishedVersion) {}

  /** Profiles and kits by id; those that are no more are left out. */
  public List<Named> named(Collection<String> ids) {
    return tx.select(
        Named.class,
        "select id, name, kind, published_version from profile where id = any(:ids)",
        Map.of("ids", ids.toArray(String[]::new)));
  }

  /** Kits that take a profile along, drafted or published, by name; at most twenty. */
  public List<Named> taking(String profileId) {
    return tx.select(
        Named.class,
        """
        select p.id, p.name, p.kind, p.published_version from profile p
         where p.kind = 'kit' and p.id <> :id
           and (p.draft @> jsonb_build_object('parts', jsonb_build_array(
                             jsonb_build_object('profile', cast(:id as text))))
             or exists (select 1 from assignment a where a.source = p.id and a.profile_id = :id)
             or exists (select 1 from profile_version v
                         where v.profile_id = p.id and v.number = p.published_version
                           and v.content @> jsonb_build_object('parts', jsonb_build_array(
                                 jsonb_build_object('profile', cast(:id as text))))))
         order by lower(p.name), p.id limit 20
        """,
        Map.of("id", profileId));
  }
}
