package dev.pinwright.core.catalog;

import dev.pinwright.core.device.DeviceKind;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.OsVersion;
import java.util.List;
import java.util.Set;

/**
 * The capability sheet of an OS family.
 *
 * @param key catalogue key, such as {@code tarn}
 * @param name for people
 * @param kinds kinds of device it runs on
 * @param modes management modes it knows
 * @param versions released OS versions, oldest first
 * @param commands keys of the commands it can carry out
 * @param apps apps that come with it
 */
public record Platform(
    String key,
    String name,
    Set<DeviceKind> kinds,
    Set<Mode> modes,
    List<OsVersion> versions,
    Set<String> commands,
    List<SystemApp> apps) {
  public Platform {
    kinds = Set.copyOf(kinds);
    modes = Set.copyOf(modes);
    versions = List.copyOf(versions);
    commands = Set.copyOf(commands);
    apps = List.copyOf(apps);
  }
}
