package dev.pinwright.service.rules;

import com.fasterxml.jackson.core.type.TypeReference;
import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import com.github.f4b6a3.ulid.UlidCreator;
import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.device.DeviceTraits;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.policy.Effective;
import dev.pinwright.core.policy.Layer;
import dev.pinwright.core.policy.Resolver;
import dev.pinwright.core.tree.Leaf;
import dev.pinwright.core.tree.Tree;
import dev.pinwright.service.Json;
import dev.pinwright.service.access.Caller;
import dev.pinwright.service.live.Wakes;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.storage.ShapeMoves;
import dev.pinwright.storage.ShapeMoves.Kind;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.ChangeRow;
import dev.pinwright.storage.row.ProfileVersionRow;
import dev.pinwright.storage.row.ShapeRow;
import java.time.Clock;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * Shapes: devices with the same platform, mode, OS level and matching profiles share one desired
 * tree, compiled once and kept under its digest. What a device refused is taken out of its tree.
 */
public final class Shapes {
  private final Catalog catalog;
  private final Vault vault;
  private final Clock clock;
  private final Resolver resolver;
  private final Cache<String, Layered> versions = Caffeine.newBuilder().maximumSize(5_000).build();
  private final Cache<String, Tree> trees = Caffeine.newBuilder().maximumSize(2_000).build();

  public Shapes(Catalog catalog, Vault vault, Clock clock) {
    this.catalog = catalog;
    this.vault = vault;
    this.clock = clock;
    this.resolver = new Resolver(catalog);
  }

  private record Layered(String name, long publication, ProfileContent content) {}

  /** A profile version that is not stored yet, for a rehearsal. */
  public record Unpublished(String profileId, int version, String name, ProfileContent content) {}

  /** What a kind of device has now and would have. */
  public record Outcome(Kind kind, Tree from, Tree to, Effective effective) {}

  /** Works out what becomes of each kind of affected device; stores nothing. */
  public List<Outcome> outcomes(Tx tx, ShapeMoves moves, @Nullable Unpublished unpublished) {
    List<Outcome> out = new ArrayList<>();
    Map<String, Effective> compiled = new HashMap<>();
    for (Kind kind : moves.kinds()) {
      String key = String.join("|", kind.platform(), kind.mode(), kind.osLevel(), kind.layers());
      Effective effective =
          compiled.computeIfAbsent(
              key,
              k ->
                  resolve(
                      tx,
                      kind.platform(),
                      kind.mode(),
                      kind.osLevel(),
                      kind.layers(),
                      unpublished));
      Tree from = tree(tx, kind.fromDigest()).orElse(Tree.EMPTY);
      out.add(new Outcome(kind, from, without(effective.compile(), kind.refused()), effective));
    }
    return out;
  }

  /**
   * Stores shapes and trees and moves the devices.
   *
   * @return how many devices got another desired tree
   */
  public int apply(Tx tx, ShapeMoves moves, List<Outcome> outcomes, @Nullable String changeId) {
    List<ShapeMoves.Settled> settled = new ArrayList<>();
    Set<String> stored = new HashSet<>();
    for (Outcome o : outcomes) {
      Kind k = o.kind();
      Tree plain = o.effective().compile();
      String digest = o.to().digest();
      String key =
          Vault.hash(String.join("|", k.platform(), k.mode(), k.osLevel(), k.layers()))
              .substring(0, 32);
      if (stored.add(digest)) {
        store(tx, o.to());
      }
      if (stored.add(key)) {
        store(tx, key, k, plain, stored);
      }
      settled.add(new ShapeMoves.Settled(k, key, digest));
    }
    return moves.apply(settled, changeId);
  }

  /** Keeps a shape. One that is kept already is only read: writing it would make joins queue. */
  private void store(Tx tx, String key, Kind k, Tree plain, Set<String> stored) {
    String digest = plain.digest();
    boolean kept =
        !tx.rows(
                "select key, 1 from shape where key = :key and digest = :digest",
                Map.of("key", key, "digest", digest))
            .isEmpty();
    if (kept) {
      return;
    }
    if (stored.add(digest)) {
      store(tx, plain);
    }
    tx.execute(
        """
        insert into shape (key, platform, mode, os_level, layers, digest, created_at)
        values (:key, :platform, :mode, :level, :layers, :digest, :now)
        on conflict (key) do update set digest = excluded.digest
        """,
        Map.of(
            "key", key,
            "platform", k.platform(),
            "mode", k.mode(),
            "level", k.osLevel(),
            "layers", k.layers(),
            "digest", digest,
            "now", clock.instant()));
  }

  /**
   * Moves the devices as a change of its own, which the tray follows, and wakes them.
   *
   * @return the change, with how many devices got another desired tree
   */
  public ChangeRow change(
      Tx tx, Caller caller, String title, ShapeMoves moves, List<Outcome> outcomes) {
    ChangeRow change = new ChangeRow();
    change.id = UlidCreator.getMonotonicUlid().toString();
    change.title = title;
    change.at = clock.instant();
    change.actor = caller.login();
    change.total = apply(tx, moves, outcomes, change.id);
    tx.insert(change);
    Wakes.change(tx, change.id);
    return change;
  }

  /** Puts single devices into their right shape, after something about them changed. */
  public int place(Tx tx, Collection<String> deviceIds, @Nullable String changeId) {
    tx.flush();
    ShapeMoves moves = new ShapeMoves(tx);
    moves.begin(false);
    moves.affect(deviceIds);
    moves.work(null);
    return apply(tx, moves, outcomes(tx, moves, null), changeId);
  }

  /** What a shape resolves to, with every reason. */
  public Effective explain(Tx tx, ShapeRow shape) {
    return resolve(tx, shape.platform, shape.mode, shape.osLevel, shape.layers, null);
  }

  private Effective resolve(
      Tx tx,
      String platform,
      String mode,
      String osLevel,
      String layers,
      @Nullable Unpublished unpublished) {
    List<Layer> list = new ArrayList<>();
    for (String part : layers.isEmpty() ? new String[0] : layers.split(",")) {
      String[] p = part.split(":");
      int version = Integer.parseInt(p[1]);
      Layered said;
      if (unpublished != null
          && unpublished.profileId().equals(p[0])
          && unpublished.version() == version) {
        said = new Layered(unpublished.name(), Long.MAX_VALUE, unpublished.content());
      } else {
        said = versions.get(p[0] + ":" + version, k -> version(tx, p[0], version));
      }
      list.add(
          new Layer(
              new Layer.Source(p[0], said.name(), version),
              Integer.parseInt(p[2]),
              said.publication(),
              said.content().settings()));
    }
    return resolver.resolve(
        list, new DeviceTraits(platform, Words.parse(Mode.class, mode), OsVersion.parse(osLevel)));
  }

  private Layered version(Tx tx, String profileId, int number) {
    ProfileVersionRow row =
        tx.find(ProfileVersionRow.class, new ProfileVersionRow.Key(profileId, number))
            .orElseThrow();
    return new Layered(row.name, row.publication, ProfileContent.load(row.content, vault));
  }

  /** The tree of a digest, if it is one we ever wanted. */
  public Optional<Tree> tree(Tx tx, String digest) {
    if (digest.equals(Tree.EMPTY.digest())) {
      return Optional.of(Tree.EMPTY);
    }
    Tree cached = trees.getIfPresent(digest);
    if (cached != null) {
      return Optional.of(cached);
    }
    List<Object[]> rows =
        tx.rows("select sealed, 1 from desired_tree where digest = :d", Map.of("d", digest));
    if (rows.isEmpty()) {
      return Optional.empty();
    }
    Map<String, String[]> leaves =
        Json.read(vault.open((byte[]) rows.get(0)[0]), new TypeReference<>() {});
    Map<String, Leaf> out = new HashMap<>();
    leaves.forEach((path, fv) -> out.put(path, new Leaf(fv[0], fv[1])));
    Tree tree = new Tree(out);
    trees.put(digest, tree);
    return Optional.of(tree);
  }

  /** Keeps a tree under its digest. */
  public void store(Tx tx, Tree tree) {
    Map<String, String[]> leaves = new HashMap<>();
    tree.leaves().forEach((path, l) -> leaves.put(path, new String[] {l.format(), l.value()}));
    tx.execute(
        "insert into desired_tree (digest, sealed, created_at) values (:d, :s, :now)"
            + " on conflict do nothing",
        Map.of("d", tree.digest(), "s", vault.seal(Json.write(leaves)), "now", clock.instant()));
  }

  /** How a refused leaf is kept with the device: its path and a hash of its value. */
  public static String refusedLeaf(String path, Leaf leaf) {
    return path + "=" + Vault.hash(leaf.format() + ":" + leaf.value()).substring(0, 16);
  }

  /** A tree without the leaves a device refused; a leaf with another value is tried again. */
  public static Tree without(Tree tree, String refused) {
    if (refused.isEmpty()) {
      return tree;
    }
    Set<String> leaves = Set.of(refused.split("\n"));
    return tree.without(e -> leaves.contains(refusedLeaf(e.getKey(), e.getValue())));
  }
}
