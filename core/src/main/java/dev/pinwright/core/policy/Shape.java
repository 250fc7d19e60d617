package dev.pinwright.core.policy;

import dev.pinwright.core.Sha256;
import dev.pinwright.core.Words;
import dev.pinwright.core.device.DeviceTraits;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.OsVersion;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * What devices with the same effective settings have in common. However many devices there are,
 * there are only some hundreds of shapes.
 *
 * @param osLevel see {@code Catalog.osLevel}
 * @param parts the profiles that reach these devices, in order of profile id, each once
 */
public record Shape(String platform, Mode mode, OsVersion osLevel, List<Part> parts) {

  /**
   * One profile as it reaches a shape.
   *
   * @param version the published version
   * @param nearness see {@code Target.nearness}
   */
  public record Part(String profileId, int version, int nearness) {}

  public Shape {
    parts = parts.stream().sorted(Comparator.comparing(Part::profileId)).toList();
  }

  /** Names this shape: equal shapes have equal keys. 32 hex digits. */
  public String key() {
    return Sha256.hex(text()).substring(0, 32);
  }

  /**
   * This shape in one line, as statements over many devices put it together: platform, mode, OS
   * level and parts, separated by {@code |}; each part {@code profile:version:nearness}, separated
   * by commas.
   */
  public String text() {
    String profiles =
        parts.stream()
            .map(p -> p.profileId() + ":" + p.version() + ":" + p.nearness())
            .collect(Collectors.joining(","));
    return String.join("|", platform, Words.of(mode), osLevel.toString(), profiles);
  }

  /**
   * From {@link #text}.
   *
   * @throws IllegalArgumentException when the text is none
   */
  public static Shape parse(String text) {
    String[] fields = text.split("\\|", -1);
    if (fields.length != 4) {
      throw new IllegalArgumentException("'" + text + "' is not a shape");
    }
    List<Part> parts = new ArrayList<>();
    for (String part : fields[3].isEmpty() ? new String[0] : fields[3].split(",")) {
      String[] p = part.split(":");
      parts.add(new Part(p[0], Integer.parseInt(p[1]), Integer.parseInt(p[2])));
    }
    return new Shape(
        fields[0], Words.parse(Mode.class, fields[1]), OsVersion.parse(fields[2]), parts);
  }

  /** What decides which settings work here. */
  public DeviceTraits traits() {
    return new DeviceTraits(platform, mode, osLevel);
  }

  /** This shape when a profile says what it says in another way, or no longer reaches it. */
  public Shape with(String profileId, Optional<Part> part) {
    List<Part> other = new ArrayList<>(parts);
    other.removeIf(p -> p.profileId().equals(profileId));
    part.ifPresent(other::add);
    return new Shape(platform, mode, osLevel, other);
  }
}
