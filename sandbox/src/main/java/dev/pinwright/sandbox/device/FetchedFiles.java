package dev.pinwright.sandbox.device;

import dev.pinwright.sandbox.file.PrivateFiles;
import dev.pinwright.sandbox.link.HttpLine;
import dev.pinwright.sandbox.link.HttpLine.Reply;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.Executor;

/** Files that devices have fetched: each device fetches for itself, and they share the disk. */
final class FetchedFiles {
  private static final int PART = 512 * 1024;
  private static final int PARTIAL = 206;
  private static final int NOT_FOUND = 404;

  private final Path folder;

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
      Fetch fetch = new Fetch(line, id, on, find(id).isEmpty());
      return fetch.next().whenComplete((right, failure) -> fetch.tidy());
    } catch (IOException e) {
      return CompletableFuture.failedFuture(e);
    }
  }

  private final class Fetch {
    private final HttpLine line;
    private final String id;
    private final Executor on;
    private final Optional<Path> into;
    private final MessageDigest digest;
    private long from;

    private Fetch(HttpLine line, String id, Executor on, boolean kept) throws IOException {
      this.line = line;
      this.id = id;
      this.on = on;
      into = kept ? Optional.of(Files.createTempFile(folder, id, ".part")) : Optional.empty();
      try {
        digest = MessageDigest.getInstance("SHA-256");
      } catch (NoSuchAlgorithmException e) {
        throw new IllegalStateException(e);
      }
    }

    private CompletableFuture<Boolean> next() {
      String range = "bytes=" + from + "-" + (from + PART - 1);
      return line.send("GET", "/content/sha256/" + id, Map.of("Range", range), new byte[0])
          .thenComposeAsync(this::take, on);
    }

    private CompletableFuture<Boolean> take(Reply reply) {
      if (reply.status() == NOT_FOUND) {
        return CompletableFuture.completedFuture(false);
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
        if (from < Long.parseLong(told.substring(told.indexOf('/') + 1))) {
          return next();
        }
        boolean right = HexFormat.of().formatHex(digest.digest()).equals(id);
        if (right && into.isPresent()) {
          Files.move(into.get(), folder.resolve(id), StandardCopyOption.REPLACE_EXISTING);
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
