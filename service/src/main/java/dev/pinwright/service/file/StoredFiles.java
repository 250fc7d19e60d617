package dev.pinwright.service.file;

import dev.pinwright.core.Words;
import dev.pinwright.core.file.FileKind;
import dev.pinwright.core.file.StoredFile;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.file.FileStore;
import dev.pinwright.storage.row.StoredFileRow;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;

/**
 * Files devices are handed: pictures, certificates, fonts, documents, scripts. Each is kept once,
 * under the digest of its content, and goes when nothing has used it for a month.
 */
public final class StoredFiles {
  private static final int PART = 64 * 1024;

  private final UseCases useCases;
  private final Database database;

  public StoredFiles(UseCases useCases, Database database) {
    this.useCases = useCases;
    this.database = database;
  }

  /** A file and what names it. */
  public record Detail(StoredFile file, List<FileStore.Use> uses) {}

  /** A file that is brought: the one there is now, and whether it was there before. */
  public record Kept(StoredFile file, boolean before) {}

  /** What an upload says of a file. */
  public record Brought(String name, Optional<FileKind> kind, Optional<String> password) {}

  /** Files by name, of one kind or all. */
  public Page<StoredFile> page(Caller caller, String words, String kind, Page.Request page) {
    Optional<FileKind> wanted = kind.isEmpty() ? Optional.empty() : Optional.of(kind(kind));
    return useCases.read(
        tx ->
            Page.byName(
                (after, limit) -> new FileStore(tx).page(words, wanted, after, limit),
                page,
                StoredFile::name,
                StoredFile::id));
  }

  /**
   * A kind by its word.
   *
   * @throws Problem 400 when there is none
   */
  public static FileKind kind(String word) {
    return Problem.reading("/kind", () -> Words.parse(FileKind.class, word));
  }

  /** One file. */
  public Detail get(Caller caller, String id) {
    return useCases.read(
        tx -> {
          StoredFile file = one(tx, id);
          return new Detail(file, new FileStore(tx).uses(id));
        });
  }

  private static StoredFile one(Tx tx, String id) {
    return new FileStore(tx).find(id).orElseThrow(() -> Problem.notFound("file", id));
  }

  /**
   * Keeps a file, read as it comes in: never more than a part of it is in memory.
   *
   * @throws Problem 400 saying what is wrong with it, 409 when there is another of its name, 413
   *     when it is larger than any may be
   */
  public Kept keep(Caller caller, Brought brought, InputStream content) {
    String name = name(brought.name());
    Path arrived = null;
    try {
      arrived = Files.createTempFile("pinwright-", ".file");
      String id = take(content, arrived);
      Judged judged = judged(arrived, brought);
      current(judged);
      long bytes = Files.size(arrived);
      try (InputStream in = Files.newInputStream(arrived)) {
        return useCases.act(caller, act -> write(act, id, name, judged, bytes, in));
      }
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    } finally {
      if (arrived != null) {
        forget(arrived);
      }
    }
  }

  private static Judged judged(Path arrived, Brought brought) throws IOException {
    Judged judged = FileJudge.judge(arrived, brought.password());
    if (Files.size(arrived) > judged.kind().most()) {
      throw FileJudge.tooLarge(judged.kind());
    }
    brought
        .kind()
        .filter(k -> k != judged.kind())
        .ifPresent(
            k -> {
              throw FileJudge.refused(
                  "This is " + judged.kind().words() + ", not " + k.words() + ".");
            });
    return judged;
  }

  private void current(Judged judged) {
    judged
        .validUntil()
        .filter(until -> until.isBefore(useCases.now()))
        .ifPresent(
            until -> {
              throw FileJudge.refused(
                  "This is a " + judged.about() + ", which is over; bring one that still holds.");
            });
  }

  private static void forget(Path arrived) {
    try {
      Files.deleteIfExists(arrived);
    } catch (IOException e) {
      arrived.toFile().deleteOnExit();
    }
  }

  /** Writes what comes in and says its digest. */
  private static String take(InputStream content, Path to) throws IOException {
    MessageDigest digest = sha256();
    byte[] part = new byte[PART];
    long bytes = 0;
    try (OutputStream out = Files.newOutputStream(to)) {
      for (int n = content.read(part); n >= 0; n = content.read(part)) {
        bytes += n;
        if (bytes > FileKind.MOST) {
          throw new Problem(
              413,
              "too-large",
              "Too large",
              "A file has at most " + (FileKind.MOST >> 20) + " MiB.");
        }
        digest.update(part, 0, n);
        out.write(part, 0, n);
      }
    }
    return HexFormat.of().formatHex(digest.digest());
  }

  private static MessageDigest sha256() {
    try {
      return MessageDigest.getInstance("SHA-256");
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException(e);
    }
  }

  private static Kept write(
      UseCases.Act act, String id, String name, Judged judged, long bytes, InputStream content) {
    Tx tx = act.tx();
    tx.advisoryLock("file " + id);
    Optional<StoredFile> before = new FileStore(tx).find(id);
    if (before.isPresent()) {
      return new Kept(before.get(), true);
    }
    free(tx, name, id);
    StoredFileRow row = new StoredFileRow();
    row.id = id;
    row.name = name;
    row.kind = Words.of(judged.kind());
    row.mediaType = judged.mediaType();
    row.bytes = bytes;
    row.about = judged.about();
    row.validUntil = judged.validUntil().orElse(null);
    row.unusedSince = act.now();
    row.storedAt = act.now();
    row.storedBy = act.caller().login();
    row.content = tx.largeObject(content);
    tx.insert(row);
    act.done(Noun.FILE, "stored", id, "File " + name + " stored: " + judged.about());
    return new Kept(one(tx, id), false);
  }

  private static String name(String written) {
    String name = written.strip();
    if (name.isEmpty()
        || name.length() > 120
        || name.matches("\\.{1,2}")
        || name.codePoints().anyMatch(c -> c < 0x20 || c == 0x7f || c == '/' || c == '\\')) {
      throw Problem.malformed(
          "/name", "The name of a file has 1 to 120 characters on one line, and no slashes.");
    }
    return name;
  }

  private static void free(Tx tx, String name, String id) {
    if (new FileStore(tx).byName(name).filter(f -> !f.id.equals(id)).isPresent()) {
      throw Problem.conflict(
          "name-taken",
          "There is another file called " + name + " already; give this one another name.");
    }
  }

  /**
   * Gives a file another name.
   *
   * @throws Problem 409 when there is one of this name, 412 when someone else changed it meanwhile
   */
  public Detail rename(Caller caller, String id, int version, String written) {
    String name = name(written);
    useCases.run(
        caller,
        act -> {
          StoredFileRow row = locked(act.tx(), id, version);
          free(act.tx(), name, id);
          act.done(Noun.FILE, "renamed", id, "File " + row.name + " is called " + name + " now");
          row.name = name;
        });
    return get(caller, id);
  }

  /**
   * Calls a file this, where it is there, in a transaction of somebody else's. Another of this name
   * is called by its digest too from now on.
   */
  public static void call(UseCases.Act act, String written, String id) {
    String name = name(written);
    FileStore files = new FileStore(act.tx());
    files
        .byName(name)
        .filter(other -> !other.id.equals(id))
        .ifPresent(
            other -> {
              String start = other.id.substring(0, 8) + " ";
              other.name = start + other.name.substring(0, Math.min(other.name.length(), 100));
              act.tx().flush();
            });
    act.tx()
        .find(StoredFileRow.class, id)
        .filter(row -> !row.name.equals(name))
        .ifPresent(
            row -> {
              act.done(
                  Noun.FILE, "renamed", id, "File " + row.name + " is called " + name + " now");
              row.name = name;
            });
  }

  private static StoredFileRow locked(Tx tx, String id, int version) {
    return Known.locked(tx, StoredFileRow.class, "file", id, version, r -> r.version);
  }

  /**
   * Deletes a file that nothing names.
   *
   * @throws Problem 409 naming the profiles that do
   */
  public void delete(Caller caller, String id, int version) {
    useCases.run(
        caller,
        act -> {
          StoredFileRow row = locked(act.tx(), id, version);
          Known.unused(
              row.name,
              new FileStore(act.tx())
                  .uses(id).stream().map(u -> "the profile " + u.profileName()).toList());
          act.tx().delete(row);
          act.done(Noun.FILE, "deleted", id, "File " + row.name + " deleted");
        });
  }

  /** Notes what nothing uses any more, and clears what nothing has used for long. */
  public void clearUnused() {
    useCases.run(
        Caller.SERVICE,
        act -> {
          FileStore files = new FileStore(act.tx());
          files.noteUnused(act.now());
          files
              .clear(act.now().minus(StoredFile.KEPT_UNUSED))
              .forEach(
                  name ->
                      act.done(
                          Noun.FILE,
                          "cleared",
                          name,
                          "File " + name + " cleared: nothing used it"));
        });
  }

  // ---- reading ---------------------------------------------------------------------------------

  /** What is in a file; empty when there is none. */
  public Optional<FileContent> content(String id) {
    return database
        .call(tx -> new FileStore(tx).content(id))
        .map(content -> new FileContent(database, content));
  }
}
