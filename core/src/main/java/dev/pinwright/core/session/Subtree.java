package dev.pinwright.core.session;

import dev.pinwright.core.catalog.Catalog;
import java.util.Arrays;
import java.util.Optional;

/**
 * The parts of a device's management tree that are made equal to a desired tree, each with a digest
 * of its own, in the order a session works through them.
 */
public enum Subtree {
  /** What is the device's own; first, since texts of settings may name it. */
  SELF("./Vendor/Pinwright/Self", "urn:pinwright:at:self-digest:1", false),

  /** The settings in effect, one leaf each. */
  POLICY(Catalog.POLICY_ROOT, "urn:pinwright:at:tree-digest:1", true),

  /** The apps it has (OMA SCOMO 1.0). They come and go by operations, not by edits. */
  INVENTORY("./SCM/Inventory/Deployed", "urn:pinwright:at:inventory-digest:1", false);

  private final String root;
  private final String digestAlert;
  private final boolean everywhere;

  Subtree(String root, String digestAlert, boolean everywhere) {
    this.root = root;
    this.digestAlert = digestAlert;
    this.everywhere = everywhere;
  }

  /**
   * Whether every device has it. Where this does not hold, a device that tells no digest of it has
   * none and is not spoken to of it.
   */
  public boolean everywhere() {
    return everywhere;
  }

  /** Whether it is made as it should be by edits of its leaves. */
  public boolean edited() {
    return this != INVENTORY;
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
