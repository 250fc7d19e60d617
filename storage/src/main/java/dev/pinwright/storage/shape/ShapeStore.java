package dev.pinwright.storage.shape;

import dev.pinwright.core.Words;
import dev.pinwright.core.policy.KitPart;
import dev.pinwright.core.policy.Shape;
import dev.pinwright.core.target.Assignment;
import dev.pinwright.core.target.Target;
import dev.pinwright.storage.Tx;
import java.time.Instant;
import java.util.Base64;
import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/** Shapes and desired trees, each kept once; and the assignments that are in effect. */
public final class ShapeStore {
  private final Tx tx;

  public ShapeStore(Tx tx) {
    this.tx = tx;
  }

  private record Row(String key, String line, String digest, String wanted) {}

  private record Part(String shapeKey, String profileId, int version, int nearness) {}

  /** A shape on file and what it asks for. */
  public record Kept(Shape shape, Digests digests) {}

  /**
   * What a shape asks for.
   *
   * @param policy digest of the tree of its settings
   * @param wanted digest of what it asks for besides; empty for nothing
   */
  public record Digests(String policy, String wanted) {}

  /** Shapes by key, read at once; those that are not on file are left out. */
  public Map<String, Kept> find(Collection<String> keys) {
    Map<String, Kept> out = new TreeMap<>();
    tx.select(
            Row.class,
            "select key, line, digest, wanted from shape where key = any(:keys)",
            Map.of("keys", keys.toArray(String[]::new)))
        .forEach(
            r ->
                out.put(
                    r.key(), new Kept(Shape.parse(r.line()), new Digests(r.digest(), r.wanted()))));
    return out;
  }

  /** A shape by key. */
  public Optional<Kept> find(String key) {
    return Optional.ofNullable(find(List.of(key)).get(key));
  }

  /**
   * Keeps shapes, however many, by two statements. Those that are kept already are only read:
   * writing them would make joins queue.
   *
   * @param digests what each shape asks for
   */
  public void keep(Map<Shape, Digests> digests, Instant now) {
    Map<String, Kept> kept = find(digests.keySet().stream().map(Shape::key).toList());
    List<Shape> missing =
        digests.keySet().stream()
            .filter(
                s ->
                    Optional.ofNullable(kept.get(s.key()))
                        .filter(k -> k.digests().equals(digests.get(s)))
                        .isEmpty())
            .sorted(Comparator.comparing(Shape::key))
            .toList();
    if (missing.isEmpty()) {
      return;
    }
    tx.execute(
        """
        insert into shape (key, platform, mode, os_level, digest, wanted, line, created_at)
        select s.*, cast(:now as timestamptz)
          from unnest(cast(:keys as text[]), cast(:platforms as text[]), cast(:modes as text[]),
                      cast(:levels as text[]), cast(:digests as text[]),
                      cast(:wanted as text[]), cast(:lines as text[])) as s
        on conflict (key) do update set digest = excluded.digest, wanted = excluded.wanted
        """,
        Map.of(
            "keys", column(missing, Shape::key),
            "platforms", column(missing, Shape::platform),
            "modes", column(missing, s -> Words.of(s.mode())),
            "levels", column(missing, s -> s.osLevel().toString()),
            "digests", column(missing, s -> digests.get(s).policy()),
            "wanted", column(missing, s -> digests.get(s).wanted()),
            "lines", column(missing, Shape::text),
            "now", now.toString()));
    List<Part> parts =
        missing.stream()
            .flatMap(
                s ->
                    s.parts().stream()
                        .map(p -> new Part(s.key(), p.profileId(), p.version(), p.nearness())))
            .toList();
    tx.execute(
        """
        insert into shape_profile (shape_key, profile_id, version, nearness)
        select p.* from unnest(cast(:keys as text[]), cast(:profiles as text[]),
                               cast(:versions as int[]), cast(:nearness as int[])) as p
        on conflict do nothing
        """,
        Map.of(
            "keys", column(parts, Part::shapeKey),
            "profiles", column(parts, Part::profileId),
            "versions", parts.stream().map(Part::version).toArray(Integer[]::new),
            "nearness", parts.stream().map(Part::nearness).toArray(Integer[]::new)));
  }

  private static <T> String[] column(Collection<T> rows, Function<T, String> of) {
    return rows.stream().map(of).toArray(String[]::new);
  }

  private record Sealed(String digest, byte[] sealed) {}

  /** Sealed trees by digest, read at once; those that are not on file are left out. */
  public Map<String, byte[]> trees(Collection<String> digests) {
    return tx
        .select(
            Sealed.class,
            "select digest, sealed from desired_tree where digest = any(:digests)",
            Map.of("digests", digests.toArray(String[]::new)))
        .stream()
        .collect(Collectors.toMap(Sealed::digest, Sealed::sealed));
  }

  /** Which of these trees are on file. */
  public Set<String> present(Collection<String> digests) {
    return Set.copyOf(
        tx.column(
            String.class,
            "select digest from desired_tree where digest = any(:digests)",
            Map.of("digests", digests.toArray(String[]::new))));
  }

  /** Keeps sealed trees under their digests, however many, by one statement. */
  public void keepTrees(Map<String, byte[]> trees, Instant now) {
    List<String> digests = trees.keySet().stream().sorted().toList();
    tx.execute(
        """
        insert into desired_tree (digest, sealed, created_at)
        select t.digest, decode(t.sealed, 'base64'), cast(:now as timestamptz)
          from unnest(cast(:digests as text[]), cast(:sealed as text[])) as t(digest, sealed)
        on conflict do nothing
        """,
        Map.of(
            "digests", digests.toArray(String[]::new),
            "sealed", column(digests, d -> Base64.getEncoder().encodeToString(trees.get(d))),
            "now", now.toString()));
  }

  /**
   * Makes an assignment the one in effect for a profile and for what goes with it.
   *
   * @param parts what does; those that are no more are left out
   */
  public void assign(String profileId, Assignment a, List<KitPart> parts) {
    tx.execute("delete from assignment where source = :p", Map.of("p", profileId));
    tx.execute(
        """
        insert into assignment (profile_id, source, kind, ref, excluded, nearness, when_in_order)
        select distinct k.profile_id, :p, c.*, k.when_in_order
          from unnest(cast(:parts as text[]), cast(:inOrder as boolean[])) as k(profile_id, when_in_order)
          join profile p on p.id = k.profile_id
         cross join unnest(:kinds, :refs, :excluded, :nearness) as c
        """,
        Map.of(
            "p", profileId,
            "parts",
                Stream.concat(Stream.of(profileId), parts.stream().map(KitPart::profileId))
                    .toArray(String[]::new),
            "inOrder",
                Stream.concat(Stream.of(false), parts.stream().map(KitPart::whenInOrder))
                    .toArray(Boolean[]::new),
            "kinds", kinds(a).toArray(String[]::new),
            "refs", all(a).map(Target::ref).toArray(String[]::new),
            "excluded",
                Stream.concat(
                        a.targets().stream().map(t -> false),
                        a.exclusions().stream().map(t -> true))
                    .toArray(Boolean[]::new),
            "nearness", all(a).map(Target::nearness).toArray(Integer[]::new)));
  }

  private static Stream<Target> all(Assignment a) {
    return Stream.concat(a.targets().stream(), a.exclusions().stream());
  }

  private static Stream<String> kinds(Assignment a) {
    return all(a).map(t -> Words.of(t.kind()));
  }
}
