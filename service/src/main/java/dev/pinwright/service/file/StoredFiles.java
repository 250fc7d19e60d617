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
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * Files devices are handed: pictures, certificates, fonts, documents, scripts. Each is kept once,
 * under the digest of its content, and goes when nothing has used it for a month.
 */
public final class StoredFiles {
  private static final long LARGEST = FileKind.DOCUMENT.most();
  private static final String PACKAGE_TYPE = "application/vnd.pinwright.package+zip";

  private final UseCases useCases;
  private final Database database;
  private final Parts parts;

  public StoredFiles(UseCases useCases, Database database) {
    this.useCases = useCases;
    this.database = database;
    parts = new Parts(database);
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
    try (ArrivedFile arrived = ArrivedFile.of(content, LARGEST)) {
      Judged judged = judged(arrived, brought);
      current(judged);
      return useCases.act(caller, act -> keep(act, arrived, name, judged));
    }
  }

  private static Judged judged(ArrivedFile arrived, Brought brought) {
    Judged judged = FileJudge.judge(arrived.path(), brought.password());
    if (arrived.bytes() > judged.kind().most()) {
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

  /**
   * Keeps the package of an app, in a transaction of somebody else's.
   *
   * @param name what it is called among the files
   * @param about what was found in it
   */
  public static Kept keepPackage(UseCases.Act act, ArrivedFile arrived, String name, String about) {
    return keep(act, arrived, name(name), new Judged(FileKind.PACKAGE, PACKAGE_TYPE, about));
  }

  private static Kept keep(UseCases.Act act, ArrivedFile arrived, String name, Judged judged) {
    Tx tx = act.tx();
    String id = arrived.sha256();
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
    row.bytes = arrived.bytes();
    row.about = judged.about();
    row.validUntil = judged.validUntil().orElse(null);
    row.unusedSince = act.now();
    row.storedAt = act.now();
    row.storedBy = act.caller().login();
    try (InputStream in = Files.newInputStream(arrived.path())) {
      row.content = tx.largeObject(in);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
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
              Stream.concat(
                      new FileStore(act.tx())
                          .uses(id).stream().map(u -> "the profile " + u.profileName()),
                      new FileStore(act.tx()).packageOf(id).map("the app "::concat).stream())
                  .toList());
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
        .map(content -> new FileContent(parts, content));
  }
}
