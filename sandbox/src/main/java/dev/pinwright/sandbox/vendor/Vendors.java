package dev.pinwright.sandbox.vendor;

import com.fasterxml.jackson.annotation.JsonAutoDetect;
import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.pinwright.sandbox.file.PrivateFiles;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** The vendors of all platforms, kept in a directory, and the address of their services. */
public final class Vendors implements AutoCloseable {
  private static final ObjectMapper JSON =
      new ObjectMapper()
          .setVisibility(
              com.fasterxml.jackson.annotation.PropertyAccessor.FIELD,
              JsonAutoDetect.Visibility.ANY)
          .disable(DeserializationFeature.FAIL_ON_UNKNOWN_PROPERTIES);
  private final Path directory;
  private final Map<String, Vendor> vendors = new LinkedHashMap<>();
  private final VendorServices services;

  /**
   * Opens them.
   *
   * @param port where the services of the first listen, those of the others on the ones after it; 0
   *     takes any
   */
  public Vendors(Path directory, Collection<String> platforms, int port) {
    this.directory = directory;
    try {
      PrivateFiles.directory(directory);
      for (String p : platforms) {
        Path file = directory.resolve(p + ".json");
        Vendor.Book book =
            Files.exists(file)
                ? JSON.readValue(file.toFile(), Vendor.Book.class)
                : new Vendor.Book();
        vendors.put(p, new Vendor(p, book, directory.resolve(p + "-store")));
      }
    } catch (IOException e) {
      throw new UncheckedIOException("the vendors in " + directory + " cannot be read", e);
    }
    services = new VendorServices(this, port);
    save();
  }

  /**
   * The vendor of a platform.
   *
   * @throws IllegalArgumentException when there is no such platform
   */
  public Vendor of(String platform) {
    Vendor v = vendors.get(platform);
    if (v == null) {
      throw new IllegalArgumentException("there is no platform " + platform);
    }
    return v;
  }

  /** All of them. */
  public List<Vendor> all() {
    return List.copyOf(vendors.values());
  }

  /** Base address of a platform's services. */
  public String address(String platform) {
    return "https://127.0.0.1:" + services.port(platform) + "/" + platform;
  }

  /** Keeps what the vendors know. */
  public synchronized void save() {
    for (Vendor v : vendors.values()) {
      try {
        byte[] json;
        synchronized (v) {
          synchronized (v.store()) {
            json = JSON.writeValueAsBytes(v.book());
          }
        }
        PrivateFiles.replace(directory.resolve(v.platform() + ".json"), json);
      } catch (IOException e) {
        throw new UncheckedIOException(e);
      }
    }
  }

  @Override
  public void close() {
    services.close();
    save();
  }
}
