package dev.pinwright.service.file;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import dev.pinwright.storage.Database;
import java.io.IOException;
import java.io.InputStream;

/**
 * Large objects, read a part at a time. Parts that many ask for at the same time, such as those of
 * a package that was just released, are read once: at most {@link #KEPT} bytes of them are kept.
 */
final class Parts {
  private static final int PART = 256 * 1024;

  /** Most bytes of parts that are kept in memory. */
  static final int KEPT = 32 << 20;

  private final Database database;
  private final Cache<Key, byte[]> kept =
      Caffeine.newBuilder()
          .maximumWeight(KEPT)
          .weigher((Key key, byte[] part) -> part.length)
          .build();

  Parts(Database database) {
    this.database = database;
  }

  /** One part of a large object, by its place among the parts. */
  private record Key(long object, long nr) {}

  private byte[] part(Key key) {
    return kept.get(key, k -> database.call(tx -> tx.partOf(k.object(), k.nr() * PART, PART)));
  }

  /**
   * Bytes of a large object, fetched as they are read; not to be read by two threads at once.
   *
   * @param from the first byte wanted
   * @param bytes how many are wanted
   */
  InputStream open(long object, long from, long bytes) {
    return new Reading(object, from, bytes);
  }

  private final class Reading extends InputStream {
    private final long object;
    private byte[] part = new byte[0];
    private int next;
    private long from;
    private long left;

    private Reading(long object, long from, long bytes) {
      this.object = object;
      this.from = from;
      this.left = bytes;
    }

    @Override
    public int read() throws IOException {
      byte[] one = new byte[1];
      return read(one, 0, 1) < 0 ? -1 : one[0] & 0xff;
    }

    @Override
    public int read(byte[] into, int offset, int length) throws IOException {
      if (length == 0) {
        return 0;
      }
      if (left == 0) {
        return -1;
      }
      if (next >= part.length) {
        fill();
      }
      int n = (int) Math.min(Math.min(length, part.length - next), left);
      System.arraycopy(part, next, into, offset, n);
      next += n;
      from += n;
      left -= n;
      return n;
    }

    private void fill() throws IOException {
      try {
        part = part(new Key(object, from / PART));
      } catch (RuntimeException e) {
        throw new IOException("the file cannot be read on", e);
      }
      next = (int) (from % PART);
      if (next >= part.length) {
        throw new IOException("the file was deleted while it was read");
      }
    }
  }
}
