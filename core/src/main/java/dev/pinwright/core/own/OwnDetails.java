package dev.pinwright.core.own;

import dev.pinwright.core.session.Subtree;
import dev.pinwright.core.tree.Leaf;
import dev.pinwright.core.tree.Tree;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/**
 * What a device is told of itself, so that texts that are the same for many can name it. Kept apart
 * from the settings, which would otherwise be others for each device.
 *
 * @param attributes values of its attributes, by the attribute's name
 * @param recoveryKeyWrap whom the key of its disk is wrapped for: a number, a space and a
 *     certificate (base64 of its DER); for devices that have such a key
 * @param exitSecret what the codes that leave a kiosk are made from; for devices that can have one
 */
public record OwnDetails(
    String name,
    Optional<String> asset,
    Optional<String> unit,
    Optional<String> site,
    Optional<Holder> holder,
    Map<String, String> attributes,
    Optional<String> exitSecret,
    Optional<String> recoveryKeyWrap) {

  /** Who has the device. */
  public record Holder(String name, Optional<String> login, Optional<String> mail) {}

  /** Name of the leaf with what exit codes are made from. */
  public static final String EXIT_SECRET = "ExitSecret";

  /** Name of the leaf with whom it wraps the key of its disk for. */
  public static final String RECOVERY_KEY_WRAP = "RecoveryKeyWrap";

  /** Name of the leaf with the name of its unit. */
  public static final String UNIT = "Unit";

  /** Below it are the attributes. */
  static final String ATTRIBUTE = "Attribute/";

  /** Names of the leaves a text may hold a placeholder for, besides attributes. */
  static final List<String> NAMES =
      List.of("Name", "Asset", UNIT, "Site", "Person", "Login", "Mail");

  /** The leaves; nothing stands where there is nothing to tell. */
  public Tree tree() {
    Map<String, Leaf> leaves = new TreeMap<>();
    put(leaves, "Name", Optional.of(name));
    put(leaves, "Asset", asset);
    put(leaves, UNIT, unit);
    put(leaves, "Site", site);
    put(leaves, "Person", holder.map(Holder::name));
    put(leaves, "Login", holder.flatMap(Holder::login));
    put(leaves, "Mail", holder.flatMap(Holder::mail));
    new TreeMap<>(attributes)
        .forEach(
            (attribute, value) -> {
              String key = key(attribute);
              if (!key.isEmpty() && !leaves.containsKey(path(ATTRIBUTE + key))) {
                put(leaves, ATTRIBUTE + key, Optional.of(value));
              }
            });
    put(leaves, EXIT_SECRET, exitSecret);
    put(leaves, RECOVERY_KEY_WRAP, recoveryKeyWrap);
    return new Tree(leaves);
  }

  private static void put(Map<String, Leaf> leaves, String name, Optional<String> value) {
    value.filter(v -> !v.isBlank()).ifPresent(v -> leaves.put(path(name), new Leaf("chr", v)));
  }

  /** LocURI of a leaf. */
  public static String path(String name) {
    return Subtree.SELF.root() + "/" + name;
  }

  /** What an attribute is called in a path and in a placeholder: {@code Lease ends}, lease-ends. */
  public static String key(String attribute) {
    String key = attribute.toLowerCase(Locale.ROOT).replaceAll("[^\\p{L}\\p{N}]+", "-");
    return key.replaceAll("^-|-$", "");
  }
}
