package dev.pinwright.service.file;

import dev.pinwright.storage.file.FileStore;
import java.io.InputStream;

/** What is in a file. Nothing of it is read before it is {@linkplain #open opened}. */
public final class FileContent {
  private final Parts parts;
  private final FileStore.Content content;

  FileContent(Parts parts, FileStore.Content content) {
    this.parts = parts;
    this.content = content;
  }

  /** What the file is called. */
  public String name() {
    return content.name();
  }

  /** Its media type (RFC 6838). */
  public String mediaType() {
    return content.mediaType();
  }

  /** How large it is. */
  public long bytes() {
    return content.bytes();
  }

  /**
   * Bytes of it. They are read in parts, each by itself, so that however slowly they are taken no
   * connection to the database waits.
   *
   * @param from the first byte wanted
   * @param bytes how many are wanted; not more than there are
   */
  public InputStream open(long from, long bytes) {
    return parts.open(content.object(), from, bytes);
  }
}
