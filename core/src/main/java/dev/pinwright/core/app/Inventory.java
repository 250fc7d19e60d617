package dev.pinwright.core.app;

import dev.pinwright.core.Sha256;
import java.util.Collection;
import java.util.Collections;
import java.util.Optional;
import java.util.SortedMap;
import java.util.TreeMap;

/**
 * The apps on a device.
 *
 * @param apps by id, in order of id; ids are ASCII, so this is byte order
 */
public record Inventory(SortedMap<String, Installed> apps) {
  /** No app at all. */
  public static final Inventory EMPTY = new Inventory(Collections.emptySortedMap());

  /** Most apps of one device that are kept. */
  public static final int MOST = 1_000;

  public Inventory {
    apps = Collections.unmodifiableSortedMap(new TreeMap<>(apps));
  }

  /** Of two of one id the later counts. */
  public static Inventory of(Collection<Installed> apps) {
    TreeMap<String, Installed> byId = new TreeMap<>();
    apps.forEach(a -> byId.put(a.id(), a));
    return new Inventory(byId);
  }

  /** An app by id. */
  public Optional<Installed> find(String id) {
    return Optional.ofNullable(apps.get(id));
  }

  /** Those alone that the organisation put there or took over. */
  public Inventory managed() {
    return of(apps.values().stream().filter(Installed::managed).toList());
  }

  /**
   * Lower-case hex SHA-256 over {@code ID=Version:State:Managed:Config} and a line feed for each
   * app, in byte order of id, UTF-8; State is {@code active} or {@code inactive}, Managed {@code
   * true} or {@code false}.
   */
  public String digest() {
    StringBuilder sb = new StringBuilder();
    apps.values()
        .forEach(
            a ->
                sb.append(a.id())
                    .append('=')
                    .append(a.version())
                    .append(':')
                    .append(a.active() ? "active" : "inactive")
                    .append(':')
                    .append(a.managed())
                    .append(':')
                    .append(a.configuration())
                    .append('\n'));
    return Sha256.hex(sb.toString());
  }
}
