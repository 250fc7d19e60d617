package dev.pinwright.service.file;

import dev.pinwright.service.work.Problem;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;

/**
 * Bytes that came in and are looked at before they are kept; on disk, since they may be many, and
 * gone when it is closed.
 *
 * @param sha256 lower-case hex SHA-256 of them
 */
public record ArrivedFile(Path path, String sha256, long bytes) implements AutoCloseable {
  private static final int PART = 64 * 1024;

  /**
   * Reads all of a stream.
   *
   * @param most bytes it may have
   * @throws Problem 413 when it has more
   */
  public static ArrivedFile of(InputStream content, long most) {
    Path path = null;
    boolean whole = false;
    try {
      path = Files.createTempFile("pinwright-", ".file");
      MessageDigest digest = MessageDigest.getInstance("SHA-256");
      byte[] part = new byte[PART];
      long bytes = 0;
      try (OutputStream out = Files.newOutputStream(path)) {
        for (int n = content.read(part); n >= 0; n = content.read(part)) {
          bytes += n;
          if (bytes > most) {
            throw new Problem(
                413, "too-large", "Too large", "A file has at most " + (most >> 20) + " MiB.");
          }
          digest.update(part, 0, n);
          out.write(part, 0, n);
        }
      }
      whole = true;
      return new ArrivedFile(path, HexFormat.of().formatHex(digest.digest()), bytes);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException(e);
    } finally {
      if (!whole && path != null) {
        forget(path);
      }
    }
  }

  private static void forget(Path path) {
    try {
      Files.deleteIfExists(path);
    } catch (IOException e) {
      path.toFile().deleteOnExit();
    }
  }

  @Override
  public void close() {
    forget(path);
  }
}
