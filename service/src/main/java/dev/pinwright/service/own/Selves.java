package dev.pinwright.service.own;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.kiosk.ExitCode;
import dev.pinwright.core.own.OwnDetails;
import dev.pinwright.core.tree.Leaf;
import dev.pinwright.core.tree.Tree;
import dev.pinwright.protocol.dm.Dm;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.service.live.Wakes;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.device.SelfStore;
import dev.pinwright.storage.device.SelfStore.Details;
import dev.pinwright.storage.device.SelfStore.Own;
import dev.pinwright.storage.device.SelfStore.Worked;
import java.security.cert.X509Certificate;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * What each device is told of itself: worked out once something of it has changed, by the clock for
 * all those of which something did, and at the latest in the device's next session.
 */
public final class Selves {
  private static final int TOGETHER = 500;
  private static final int SECRET_BYTES = 20;

  private final Vault vault;
  private final Catalog catalog;
  private final String wrapper;
  private final Cache<String, Tree> trees = Caffeine.newBuilder().maximumSize(2_000).build();

  /**
   * @param recipient whom keys of disks are wrapped for
   */
  public Selves(Vault vault, Catalog catalog, X509Certificate recipient) {
    this.vault = vault;
    wrapper = Pki.base64(Pki.der(recipient));
    this.catalog = catalog;
  }

  /**
   * What a device should hold of its own.
   *
   * @param toldFor the digest of what it has given its last word about, such as this one's
   */
  public record Wanted(Tree tree, Optional<String> toldFor, Optional<String> accepted) {
    /**
     * What a leaf says, as far as the device is known to hold it: not before it has said what it
     * makes of all this, and not when this leaf is what it turned down.
     */
    Optional<String> held(String name) {
      Tree without = tree.without(leaf -> leaf.getKey().equals(OwnDetails.path(name)));
      return Optional.ofNullable(tree.leaves().get(OwnDetails.path(name)))
          .filter(leaf -> toldFor.isPresent() && !accepted.equals(Optional.of(without.digest())))
          .map(Leaf::value);
    }

    /** Whether a device that tells this digest has said what it makes of this, and kept to it. */
    public boolean asLeft(String told) {
      return toldFor.filter(tree.digest()::equals).isPresent()
          && accepted.filter(told::equals).isPresent();
    }
  }

  /** What a device should hold of its own, as things are now. */
  public Wanted wanted(Tx tx, String deviceId) {
    tx.flush();
    SelfStore store = new SelfStore(tx);
    Own own = store.lock(deviceId).orElseThrow();
    boolean news = own.due() && store.take(List.of(deviceId));
    Optional<Tree> known =
        own.desired().filter(d -> !news).map(d -> trees.getIfPresent(deviceId + d));
    return new Wanted(known.orElseGet(() -> work(tx, own)), own.toldFor(), own.accepted());
  }

  private Tree work(Tx tx, Own own) {
    Working working = work(tx, List.of(own)).get(own.deviceId());
    if (!own.desired().equals(Optional.of(working.worked().desired()))) {
      new SelfStore(tx).worked(List.of(working.worked()));
    }
    trees.put(own.deviceId() + working.worked().desired(), working.tree());
    return working.tree();
  }

  /** A device has given its last word about what it should hold, and tells this since. */
  public static void told(Tx tx, String deviceId, Wanted wanted, String accepted) {
    new SelfStore(tx).told(deviceId, wanted.tree().digest(), accepted);
  }

  /** Works out what changed, of all devices, and wakes those that hold something else. */
  public void followDue(Database database) {
    while (database.call(this::followSome) > 0) {
      // the next ones
    }
  }

  private int followSome(Tx tx) {
    SelfStore store = new SelfStore(tx);
    List<Own> due = store.due(TOGETHER);
    if (due.isEmpty()) {
      return 0;
    }
    store.take(due.stream().map(Own::deviceId).toList());
    Map<String, Working> worked = work(tx, due);
    store.worked(worked.values().stream().map(Working::worked).toList());
    List<String> changed = new ArrayList<>();
    for (Own own : due) {
      String now = worked.get(own.deviceId()).tree().digest();
      if (!own.desired().equals(Optional.of(now))) {
        changed.add(own.deviceId());
      }
    }
    Wakes.devices(tx, changed);
    return due.size();
  }

  private record Working(Worked worked, Tree tree) {}

  private Map<String, Working> work(Tx tx, Collection<Own> all) {
    List<String> ids = all.stream().map(Own::deviceId).toList();
    SelfStore store = new SelfStore(tx);
    Map<String, Details> details = store.details(ids);
    Map<String, List<SelfStore.Value>> attributes = store.attributes(ids);
    Map<String, Working> out = new HashMap<>();
    for (Own own : all) {
      Details d = details.get(own.deviceId());
      Optional<String> secret = secret(own, d);
      Tree tree =
          d.emptied()
              ? Tree.EMPTY
              : new OwnDetails(
                      d.name(),
                      d.asset(),
                      d.unit(),
                      d.site(),
                      d.person().map(p -> new OwnDetails.Holder(p, d.login(), d.mail())),
                      attributes.getOrDefault(own.deviceId(), List.of()).stream()
                          .collect(
                              Collectors.toMap(
                                  SelfStore.Value::attribute, SelfStore.Value::value, (a, b) -> a)),
                      secret,
                      wrap(own, d))
                  .tree();
      Optional<byte[]> sealed =
          own.exitSecret().filter(s -> secret.isPresent()).or(() -> secret.map(vault::seal));
      out.put(own.deviceId(), new Working(new Worked(d.deviceId(), tree.digest(), sealed), tree));
    }
    return out;
  }

  /** Whom the key of its disk is wrapped for, for a device that hands it in. */
  private Optional<String> wrap(Own own, Details d) {
    return RecoveryKeys.handedIn(catalog, d.platform(), Words.parse(Mode.class, d.mode()))
        ? Optional.of(own.recoveryNumber() + " " + wrapper)
        : Optional.empty();
  }

  /** What exit codes are made from, for a device that can have a kiosk. */
  private Optional<String> secret(Own own, Details d) {
    if (!catalog.operates(d.platform(), Words.parse(Mode.class, d.mode()), Dm.LEAVE_KIOSK)) {
      return Optional.empty();
    }
    return own.exitSecret()
        .map(vault::open)
        .or(() -> Optional.of(ExitCode.secret(Vault.random(SECRET_BYTES))));
  }
}
