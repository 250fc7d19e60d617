package dev.pinwright.service.shape;

import com.fasterxml.jackson.core.type.TypeReference;
import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import dev.pinwright.core.app.WantedApp;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.change.Move;
import dev.pinwright.core.device.DeviceState;
import dev.pinwright.core.policy.Effective;
import dev.pinwright.core.policy.Layer;
import dev.pinwright.core.policy.ProfileKind;
import dev.pinwright.core.policy.Resolver;
import dev.pinwright.core.policy.Shape;
import dev.pinwright.core.tree.Leaf;
import dev.pinwright.core.tree.Refused;
import dev.pinwright.core.tree.Tree;
import dev.pinwright.service.group.Membership;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.work.Json;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.app.AppStore;
import dev.pinwright.storage.change.Moves;
import dev.pinwright.storage.license.LicenseStore;
import dev.pinwright.storage.row.ProfileVersionRow;
import dev.pinwright.storage.shape.ShapeStore;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Shapes: devices with the same platform, mode, OS level and matching profiles share one desired
 * tree, compiled once and kept under its digest. What a device refused is taken out of its tree.
 */
public final class Shapes {
  private static final Logger LOG = LoggerFactory.getLogger(Shapes.class);
  private final Vault vault;
  private final Membership membership;
  private final Clock clock;
  private final Resolver resolver;
  private final Cache<String, Published> versions =
      Caffeine.newBuilder().maximumSize(5_000).build();
  private final Cache<String, Compiled> compiled = Caffeine.newBuilder().maximumSize(1_000).build();
  private final Cache<String, Set<String>> platforms =
      Caffeine.newBuilder().maximumSize(1_000).expireAfterWrite(Duration.ofMinutes(1)).build();
  private final Cache<String, List<WantedApp>> assigned =
      Caffeine.newBuilder().maximumSize(5_000).build();
  private final Cache<String, Tree> trees = Caffeine.newBuilder().maximumSize(2_000).build();

  public Shapes(Catalog catalog, Vault vault, Membership membership, Clock clock) {
    this.vault = vault;
    this.membership = membership;
    this.clock = clock;
    this.resolver = new Resolver(catalog);
  }

  private record Published(String name, long publication, ProfileContent content) {}

  /** A profile version that is not stored yet, for a rehearsal. */
  public record Unpublished(
      String profileId, ProfileKind kind, int version, String name, ProfileContent content) {}

  private record Compiled(Effective effective, Move.Goal whole) {
    static Compiled of(Effective effective) {
      return new Compiled(effective, new Move.Goal(effective.compile(), effective.wanted()));
    }
  }

  /**
   * Works out what becomes of each kind of device; stores nothing. The moves are in the order of
   * the kinds.
   */
  public List<Move> moves(Tx tx, List<Moves.Kind> kinds, Optional<Unpublished> draft) {
    Map<String, Tree> now =
        trees(tx, kinds.stream().flatMap(k -> Stream.of(k.desired(), k.wanted())).toList());
    Map<Shape, Compiled> goals = new HashMap<>();
    List<Move> out = new ArrayList<>();
    for (Moves.Kind k : kinds) {
      Compiled to = goals.computeIfAbsent(k.to(), s -> compiled(tx, s, draft));
      Refused refused = Refused.parse(k.refused());
      Tree policy = now.get(k.desired());
      Tree wanted = k.wanted().isEmpty() ? Tree.EMPTY : now.get(k.wanted());
      Move.Goal before =
          policy == null || wanted == null
              ? recompiled(tx, k.fromShape(), refused)
              : new Move.Goal(policy, wanted);
      out.add(
          Move.of(
              String.valueOf(out.size()),
              k.devices(),
              k.examples(),
              k.to(),
              refused,
              before,
              to.whole(),
              to.effective()));
    }
    return out;
  }

  /**
   * Stores shapes and trees and moves the devices.
   *
   * @param worked what {@link #moves} made of the kinds
   * @return how many devices got another desired tree
   */
  public long apply(
      Tx tx, Moves moves, List<Moves.Kind> kinds, List<Move> worked, Optional<String> changeId) {
    List<Moves.Goal> goals = new ArrayList<>();
    Map<String, Tree> wanted = new HashMap<>();
    Map<Shape, ShapeStore.Digests> shapes = new HashMap<>();
    Map<Shape, Tree> wholes = new HashMap<>();
    for (int i = 0; i < kinds.size(); i++) {
      Move m = worked.get(i);
      Tree whole = wholes.computeIfAbsent(m.to(), s -> m.effective().compile());
      Tree policy = m.after().policy();
      Tree besides = m.after().wanted();
      wanted.put(whole.digest(), whole);
      wanted.put(policy.digest(), policy);
      wanted.put(besides.digest(), besides);
      String of = besides.leaves().isEmpty() ? "" : besides.digest();
      shapes.put(m.to(), new ShapeStore.Digests(whole.digest(), of));
      goals.add(new Moves.Goal(kinds.get(i), m.to().key(), policy.digest(), of));
    }
    keep(tx, wanted);
    new ShapeStore(tx).keep(shapes, clock.instant());
    if (goals.stream().anyMatch(g -> !g.wanted().equals(g.kind().wanted()))) {
      new LicenseStore(tx).due(clock.instant());
    }
    return moves.apply(goals, changeId);
  }

  /** Puts single devices into their right groups and shape, after something about them changed. */
  public long place(Tx tx, Collection<String> deviceIds) {
    membership.follow(tx, deviceIds);
    return placed(tx, deviceIds);
  }

  /**
   * {@link #place}, after something changed that only rules of groups ask for.
   *
   * @return whether they came into a group or left one
   */
  public boolean follow(Tx tx, Collection<String> deviceIds) {
    boolean moved = Membership.rules(tx) && membership.follow(tx, deviceIds);
    if (moved) {
      placed(tx, deviceIds);
    }
    return moved;
  }

  private long placed(Tx tx, Collection<String> deviceIds) {
    Moves moves = Moves.ofDevices(tx, deviceIds);
    List<Moves.Kind> kinds = moves.kinds();
    return apply(tx, moves, kinds, moves(tx, kinds, Optional.empty()), Optional.empty());
  }

  /**
   * Finds devices that are not where they belong, whatever the cause, and puts them right.
   *
   * @return how many
   */
  public long repair(Tx tx) {
    if (misplaced(tx, Moves.ofAll(tx)).isEmpty()) {
      return 0;
    }
    Moves.aloneWithRules(tx);
    Moves all = Moves.ofAll(tx);
    List<Moves.Kind> wrong = misplaced(tx, all);
    List<Move> worked = moves(tx, wrong, Optional.empty());
    apply(tx, all, wrong, worked, Optional.empty());
    long devices = wrong.stream().mapToLong(Moves.Kind::devices).sum();
    LOG.warn("{} devices were not in the shape they belong to, and are now", devices);
    return devices;
  }

  private List<Moves.Kind> misplaced(Tx tx, Moves all) {
    List<Moves.Kind> kinds = all.kinds();
    List<Move> worked = moves(tx, kinds, Optional.empty());
    Set<String> kept =
        new ShapeStore(tx)
            .present(kinds.stream().map(Moves.Kind::desired).collect(Collectors.toSet()));
    List<Moves.Kind> wrong = new ArrayList<>();
    for (int i = 0; i < kinds.size(); i++) {
      Moves.Kind k = kinds.get(i);
      String digest = worked.get(i).after().policy().digest();
      boolean right =
          k.fromShape().equals(k.to().key())
              && k.desired().equals(digest)
              && (kept.contains(digest) || digest.equals(Tree.EMPTY.digest()));
      if (!right) {
        wrong.add(k);
      }
    }
    return wrong;
  }

  /** What a shape resolves to, with every reason. */
  public Effective explain(Tx tx, Shape shape) {
    return compiled(tx, shape, Optional.empty()).effective();
  }

  /** What a shape means; of published versions, which never change, it is kept. */
  private Compiled compiled(Tx tx, Shape shape, Optional<Unpublished> draft) {
    boolean published =
        draft.isEmpty()
            || shape.parts().stream()
                .noneMatch(
                    p ->
                        p.profileId().equals(draft.get().profileId())
                            && p.version() == draft.get().version());
    return published
        ? compiled.get(shape.key(), k -> Compiled.of(resolve(tx, shape, Optional.empty())))
        : Compiled.of(resolve(tx, shape, draft));
  }

  private Effective resolve(Tx tx, Shape shape, Optional<Unpublished> draft) {
    List<Layer> layers = new ArrayList<>();
    for (Shape.Part part : shape.parts()) {
      Published said =
          draft
              .filter(d -> d.profileId().equals(part.profileId()) && d.version() == part.version())
              .map(d -> new Published(d.name(), Long.MAX_VALUE, d.content()))
              .orElseGet(
                  () ->
                      versions.get(
                          part.profileId() + ":" + part.version(), k -> version(tx, part)));
      if (isFor(tx, said.content(), shape.platform())) {
        layers.add(
            new Layer(
                new Layer.Source(part.profileId(), said.name(), part.version()),
                part.nearness(),
                said.publication(),
                said.content().settings()));
      }
    }
    return resolver.resolve(layers, shape.traits());
  }

  /** Whether a profile is about devices of a platform: not where it assigns what is for others. */
  private boolean isFor(Tx tx, ProfileContent content, String platform) {
    return WantedApp.in(content.settings()).stream()
        .allMatch(
            w -> {
              // where no version is wanted it may be an app that comes with some of them
              long release = w.release().orElse(0L);
              Set<String> runsOn =
                  platforms.get(
                      w.key() + ":" + release, k -> new AppStore(tx).platforms(w.key(), release));
              return runsOn.isEmpty() || runsOn.contains(platform);
            });
  }

  private Published version(Tx tx, Shape.Part part) {
    ProfileVersionRow row =
        tx.find(
                ProfileVersionRow.class,
                new ProfileVersionRow.Key(part.profileId(), part.version()))
            .orElseThrow();
    return new Published(row.name, row.publication, ProfileContent.load(row.content, vault));
  }

  /** The tree of a digest, if it is one we ever wanted. */
  public Optional<Tree> tree(Tx tx, String digest) {
    return Optional.ofNullable(trees(tx, List.of(digest)).get(digest));
  }

  private Map<String, Tree> trees(Tx tx, Collection<String> digests) {
    Map<String, Tree> out = new HashMap<>(trees.getAllPresent(digests));
    out.put(Tree.EMPTY.digest(), Tree.EMPTY);
    Set<String> missing = new TreeSet<>(digests);
    missing.removeAll(out.keySet());
    if (!missing.isEmpty()) {
      new ShapeStore(tx)
          .trees(missing)
          .forEach(
              (digest, bytes) -> {
                Tree tree = open(bytes);
                trees.put(digest, tree);
                out.put(digest, tree);
              });
    }
    return out;
  }

  private Tree open(byte[] bytes) {
    Map<String, String[]> leaves = Json.read(vault.open(bytes), new TypeReference<>() {});
    Map<String, Leaf> out = new HashMap<>();
    leaves.forEach((path, fv) -> out.put(path, new Leaf(fv[0], fv[1])));
    return new Tree(out);
  }

  /**
   * The tree a device should hold. Never taken to be empty because it is not known: one that was
   * lost is compiled again.
   *
   * @throws IllegalStateException when what follows from the device's shape is another tree; the
   *     look over all shapes puts that right
   */
  public Tree desired(Tx tx, DeviceState state) {
    return tree(tx, state.desired()).orElseGet(() -> compiledAgain(tx, state));
  }

  private Tree compiledAgain(Tx tx, DeviceState state) {
    Tree tree = recompiled(tx, state.shapeKey().orElse(""), state.refused()).policy();
    if (!tree.digest().equals(state.desired())) {
      throw new IllegalStateException(
          "the desired tree of device " + state.deviceId() + " is not on file");
    }
    LOG.warn("the desired tree {} was not on file and was compiled again", state.desired());
    keep(tx, Map.of(state.desired(), tree));
    return tree;
  }

  private Move.Goal recompiled(Tx tx, String shapeKey, Refused refused) {
    return new ShapeStore(tx)
        .find(shapeKey)
        .map(k -> compiled(tx, k.shape(), Optional.empty()).whole())
        .map(g -> new Move.Goal(refused.takenOutOf(g.policy()), g.wanted()))
        .orElse(new Move.Goal(Tree.EMPTY, Tree.EMPTY));
  }

  /** The apps a device should have, may have and may not have. */
  public List<WantedApp> apps(Tx tx, DeviceState state) {
    return state.apps().wanted().isEmpty()
        ? List.of()
        : state
            .shapeKey()
            .map(key -> assigned.get(key, k -> apps(tx, List.of(k)).getOrDefault(k, List.of())))
            .orElse(List.of());
  }

  /** The apps devices of some shapes should have, may have and may not have, by shape. */
  public Map<String, List<WantedApp>> apps(Tx tx, Collection<String> shapeKeys) {
    Map<String, List<WantedApp>> out = new HashMap<>();
    new ShapeStore(tx)
        .find(shapeKeys)
        .forEach(
            (key, kept) ->
                out.put(
                    key,
                    WantedApp.among(compiled(tx, kept.shape(), Optional.empty()).effective())));
    return out;
  }

  /** The tree of a device's shape, before what it refused is taken out of it. */
  public Tree ofShape(Tx tx, DeviceState state) {
    return state
        .shapeKey()
        .flatMap(key -> new ShapeStore(tx).find(key))
        .map(
            k ->
                tree(tx, k.digests().policy())
                    .orElseGet(() -> compiled(tx, k.shape(), Optional.empty()).whole().policy()))
        .orElse(Tree.EMPTY);
  }

  /** A device's state after it refused something, or no longer does. */
  public DeviceState retargeted(Tx tx, DeviceState state, Refused refused) {
    Tree tree = refused.takenOutOf(ofShape(tx, state));
    keep(tx, Map.of(tree.digest(), tree));
    return state.wanting(tree.digest(), refused);
  }

  private void keep(Tx tx, Map<String, Tree> wanted) {
    ShapeStore store = new ShapeStore(tx);
    Set<String> present = store.present(wanted.keySet());
    Map<String, byte[]> missing = new HashMap<>();
    wanted.forEach(
        (digest, tree) -> {
          if (!present.contains(digest)) {
            missing.put(digest, vault.seal(Json.write(written(tree))));
          }
        });
    if (!missing.isEmpty()) {
      store.keepTrees(missing, clock.instant());
    }
  }

  private static Map<String, String[]> written(Tree tree) {
    Map<String, String[]> leaves = new TreeMap<>();
    tree.leaves().forEach((path, l) -> leaves.put(path, new String[] {l.format(), l.value()}));
    return leaves;
  }
}
