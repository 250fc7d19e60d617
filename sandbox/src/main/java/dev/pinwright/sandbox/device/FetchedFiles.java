package dev.pinwright.sandbox.device;

import dev.pinwright.protocol.pack.PackageFile;
import dev.pinwright.protocol.pack.PackageRefused;
import dev.pinwright.sandbox.file.PrivateFiles;
import dev.pinwright.sandbox.link.HttpLine;
import dev.pinwright.sandbox.link.HttpLine.Reply;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HashMap;
import java.util.HexFormat;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Executor;
import java.util.function.IntConsumer;

/** Files that devices have fetched: each device fetches for itself, and they share the disk. */
final class FetchedFiles {
  private static final int PART = 512 * 1024;
  private static final int PARTIAL = 206;
  private static final int FORBIDDEN = 403;
  private static final int NOT_FOUND = 404;

  private final Path folder;
  private final Map<String, Fetch> unfinished = new ConcurrentHashMap<>();
  private final Map<String, PackageFile> packages = new ConcurrentHashMap<>();

  FetchedFiles(Path folder) {
    this.folder = folder;
    try {
      PrivateFiles.directory(folder);
    } catch (IOException e) {
      throw new UncheckedIOException("files cannot be kept in " + folder, e);
    }
  }

  /** A file that was fetched and found to be right. */
  Optional<Path> find(String id) {
    return Optional.of(folder.resolve(id))
        .filter(f -> id.matches("[0-9a-f]{64}") && Files.exists(f));
  }

  /**
   * Fetches a file in ranges (RFC 9110, 14) and checks it; false when the server has none of this
   * digest, or sends another content. The future fails when it cannot be had now.
   */
  CompletableFuture<Boolean> fetch(HttpLine line, String id, Executor on) {
    try {
      Fetch fetch =
          new Fetch("/content/sha256/" + id, id, Optional.empty(), on, find(id).isEmpty(), p -> {});
      return fetch.next(line).whenComplete((right, failure) -> fetch.tidy());
    } catch (IOException e) {
      return CompletableFuture.failedFuture(e);
    }
  }

  /**
   * {@link #fetch}, of a package, which may be large: a fetch that broke off goes on where it
   * stopped the next time its owner asks.
   *
   * @param path where it is
   * @param holder mail address of whoever holds the device, for a store that asks who
   * @param percent told how much of it has come
   */
  CompletableFuture<Boolean> fetchPackage(
      String owner,
      HttpLine line,
      String path,
      String id,
      Optional<String> holder,
      Executor on,
      IntConsumer percent) {
    Fetch fetch =
        unfinished.computeIfAbsent(
            owner + " " + id,
            k -> {
              try {
                return new Fetch(path, id, holder, on, find(id).isEmpty(), percent);
              } catch (IOException e) {
                throw new UncheckedIOException(e);
              }
            });
    return fetch
        .next(line)
        .whenComplete(
            (right, failure) -> {
              if (failure == null || failure.getCause() instanceof Refused) {
                unfinished.remove(owner + " " + id);
                fetch.tidy();
              }
            });
  }

  /** A server does not give a package to this device. */
  static final class Refused extends IOException {
    private static final long serialVersionUID = 1;

    Refused(String message) {
      super(message);
    }
  }

  /** A package cannot be read, or is not what its signer made. */
  static final class Unreadable extends Exception {
    private static final long serialVersionUID = 1;

    Unreadable(String message) {
      super(message);
    }
  }

  /** What a package that was fetched holds; each is read once for all devices. */
  Optional<PackageFile> read(String id) throws Unreadable {
    PackageFile known = packages.get(id);
    if (known == null) {
      try {
        known = PackageFile.read(find(id).orElseThrow(() -> new Unreadable("it is not there")));
      } catch (PackageRefused | IOException e) {
        throw new Unreadable(String.valueOf(e.getMessage()));
      }
      packages.put(id, known);
    }
    return Optional.of(known);
  }

  private final class Fetch {
    private final String path;
    private final String id;
    private final Optional<String> holder;
    private final Executor on;
    private final Optional<Path> into;
    private final IntConsumer percent;
    private final MessageDigest digest;
    private long from;

    private Fetch(
        String path,
        String id,
        Optional<String> holder,
        Executor on,
        boolean kept,
        IntConsumer percent)
        throws IOException {
      this.path = path;
      this.percent = percent;
      this.holder = holder;
      this.id = id;
      this.on = on;
      into = kept ? Optional.of(Files.createTempFile(folder, id, ".part")) : Optional.empty();
      try {
        digest = MessageDigest.getInstance("SHA-256");
      } catch (NoSuchAlgorithmException e) {
        throw new IllegalStateException(e);
      }
    }

    private CompletableFuture<Boolean> next(HttpLine line) {
      String range = "bytes=" + from + "-" + (from + PART - 1);
      Map<String, String> headers = new HashMap<>(Map.of("Range", range));
      holder.ifPresent(mail -> headers.put("From", mail));
      return line.send("GET", path, headers, new byte[0])
          .thenComposeAsync(reply -> take(line, reply), on);
    }

    private CompletableFuture<Boolean> take(HttpLine line, Reply reply) {
      if (reply.status() == NOT_FOUND) {
        return CompletableFuture.completedFuture(false);
      }
      if (reply.status() == FORBIDDEN) {
        throw new CompletionException(
            new Refused(new String(reply.body(), StandardCharsets.UTF_8)));
      }
      String told = reply.headers().getOrDefault("Content-Range", "");
      if (reply.status() != PARTIAL || !told.matches("bytes " + from + "-\\d+/\\d+")) {
        throw new CompletionException(new IOException("the server answered " + reply.status()));
      }
      digest.update(reply.body());
      from += reply.body().length;
      try {
        if (into.isPresent()) {
          Files.write(into.get(), reply.body(), StandardOpenOption.APPEND);
        }
        long all = Long.parseLong(told.substring(told.indexOf('/') + 1));
        percent.accept((int) (from * 100 / Math.max(1, all)));
        if (from < all) {
          return next(line);
        }
        boolean right = HexFormat.of().formatHex(digest.digest()).equals(id);
        if (right && into.isPresent()) {
          // many devices may put the same file there at once: REPLACE_EXISTING would delete it
          // first
          Files.move(into.get(), folder.resolve(id), StandardCopyOption.ATOMIC_MOVE);
        }
        return CompletableFuture.completedFuture(right);
      } catch (IOException e) {
        throw new CompletionException(e);
      }
    }

    private void tidy() {
      into.ifPresent(
          part -> {
            try {
              Files.deleteIfExists(part);
            } catch (IOException e) {
              part.toFile().deleteOnExit();
            }
          });
    }
  }
}
