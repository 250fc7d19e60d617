package dev.pinwright.core.session;

import dev.pinwright.core.catalog.Catalog;
import java.util.Arrays;
import java.util.Optional;

/**
 * The parts of a device's management tree that are made equal to a desired tree, each with a digest
 * of its own, in the order a session works through them.
 */
public enum Subtree {
  /** The settings in effect, one leaf each. */
  POLICY(Catalog.POLICY_ROOT, "urn:pinwright:at:tree-digest:1");

  private final String root;
  private final String digestAlert;

  Subtree(String root, String digestAlert) {
    this.root = root;
    this.digestAlert = digestAlert;
  }

  /** LocURI below which its leaves are. */
  public String root() {
    return root;
  }

  /** Type of the generic alert that tells its digest. */
  public String digestAlert() {
    return digestAlert;
  }

  /** The subtree whose digest an alert of this type tells. */
  public static Optional<Subtree> toldBy(String alertType) {
    return Arrays.stream(values()).filter(s -> s.digestAlert.equals(alertType)).findFirst();
  }
}
