package dev.pinwright.service.file;

import dev.pinwright.storage.Database;
import java.io.IOException;
import java.io.InputStream;

/** Bytes of a large object, fetched a part at a time. Not to be read by two threads at once. */
final class Parts extends InputStream {
  private static final int PART = 256 * 1024;

  private final Database database;
  private final long object;
  private byte[] part = new byte[0];
  private int next;
  private long from;
  private long left;

  Parts(Database database, long object, long from, long bytes) {
    this.database = database;
    this.object = object;
    this.from = from;
    this.left = bytes;
  }

  @Override
  public int read() throws IOException {
    return filled() ? part[next++] & 0xff : -1;
  }

  @Override
  public int read(byte[] into, int offset, int length) throws IOException {
    if (length == 0) {
      return 0;
    }
    if (!filled()) {
      return -1;
    }
    int n = Math.min(length, part.length - next);
    System.arraycopy(part, next, into, offset, n);
    next += n;
    return n;
  }

  private boolean filled() throws IOException {
    if (next < part.length) {
      return true;
    }
    if (left == 0) {
      return false;
    }
    int wanted = (int) Math.min(PART, left);
    try {
      part = database.call(tx -> tx.partOf(object, from, wanted));
    } catch (RuntimeException e) {
      throw new IOException("the file cannot be read on", e);
    }
    if (part.length < wanted) {
      throw new IOException("the file was deleted while it was read");
    }
    next = 0;
    from += wanted;
    left -= wanted;
    return true;
  }
}
