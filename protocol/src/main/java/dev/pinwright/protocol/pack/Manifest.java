package dev.pinwright.protocol.pack;

import dev.pinwright.core.device.OsVersion;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What a package says of itself.
 *
 * @param id see {@code AppId}
 * @param publisher who made it, for people; empty when it is not said
 * @param summary one sentence for the shelf; empty when it is not said
 * @param category one word for the shelf, such as {@code guide}; empty when it is not said
 * @param version as people write it
 * @param versionCode rises with each version
 * @param lowest the platforms it is for, each with the lowest OS version it runs on
 * @param permissions what it may do on a device, in words of its platform
 * @param icon path of its icon in the package, a PNG
 * @param bytes what it takes on a device once it is installed
 * @param notes what is new in this version; empty when it is not said
 * @param files SHA-256 of every other file in the package, by path, lower-case hex
 * @param configuration a JSON Schema (2020-12) of what it can be told, as JSON
 * @param opens the address it opens, where it is a page of the web
 */
public record Manifest(
    String id,
    String name,
    String publisher,
    String summary,
    String category,
    String version,
    long versionCode,
    Map<String, OsVersion> lowest,
    List<String> permissions,
    Optional<String> icon,
    long bytes,
    String notes,
    Map<String, String> files,
    Optional<String> configuration,
    Optional<String> opens) {
  /** The file of a package that is one. */
  public static final String FILE = "manifest.json";

  /** The file with the signature over it. */
  public static final String SIGNATURE = "manifest.jws";

  /** Value of {@code format} in this form of it. */
  public static final String FORMAT = "pinwright-package/1";

  public Manifest {
    lowest = Map.copyOf(lowest);
    permissions = List.copyOf(permissions);
    files = Map.copyOf(files);
  }
}
