package dev.pinwright.core.place;

import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * What is drawn under the devices.
 *
 * @param kind how it comes
 * @param address of tiles: with {@code {x}}, {@code {y}} and {@code {z}} for {@link Kind#XYZ}, of
 *     the service for {@link Kind#WMS} (OGC 06-042); empty otherwise
 * @param layers of a {@link Kind#WMS}
 * @param attribution whose map it is, shown on it
 * @param drawing GeoJSON (RFC 7946), for {@link Kind#DRAWING}
 */
public record MapSource(
    Kind kind, String address, String layers, String attribution, Optional<String> drawing) {
  /** Nothing: sites and devices alone. */
  public static final MapSource NONE = new MapSource(Kind.NONE, "", "", "", Optional.empty());

  private static final Pattern ADDRESS =
      Pattern.compile("(https?://[A-Za-z0-9.-]+(?::\\d{1,5})?)(?:[/?][^\\s;]*)?");
  private static final int LONGEST_DRAWING = 2_000_000;

  /** How a map comes. */
  public enum Kind {
    NONE,
    XYZ,
    WMS,
    DRAWING
  }

  /**
   * @throws IllegalArgumentException saying what is wrong
   */
  public MapSource {
    if (address.length() > 500) {
      throw new IllegalArgumentException("an address of a map has at most 500 characters");
    }
    if (attribution.length() > 200 || layers.length() > 200) {
      throw new IllegalArgumentException(
          "whose map it is and which layers are shown is said in at most 200 characters each");
    }
    if (kind == Kind.XYZ
        && !(address.contains("{x}") && address.contains("{y}") && address.contains("{z}"))) {
      throw new IllegalArgumentException("the address of tiles has {x}, {y} and {z} in it");
    }
    if (kind == Kind.WMS && layers.isBlank()) {
      throw new IllegalArgumentException("say which layers of the map service are shown");
    }
    if (kind == Kind.XYZ || kind == Kind.WMS) {
      origin(address);
    }
    if (kind == Kind.DRAWING
        && drawing.filter(d -> !d.isBlank() && d.length() <= LONGEST_DRAWING).isEmpty()) {
      throw new IllegalArgumentException("a drawing is GeoJSON of at most 2 MB");
    }
  }

  /** Where its pictures come from, as a browser has to know it; empty for what comes from here. */
  public Optional<String> origin() {
    return address.isEmpty() ? Optional.empty() : Optional.of(origin(address));
  }

  private static String origin(String address) {
    Matcher m = ADDRESS.matcher(address);
    if (!m.matches()) {
      throw new IllegalArgumentException("the address of a map begins with https:// and a host");
    }
    return m.group(1);
  }
}
