package dev.pinwright.service.file;

import dev.pinwright.core.file.FileKind;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.file.UploadStore;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.SequenceInputStream;
import java.io.UncheckedIOException;
import java.time.Duration;
import java.util.Collections;
import java.util.Enumeration;
import java.util.Iterator;
import java.util.List;

/**
 * Large files on their way here, in parts: what has arrived stays for a day, so that whoever is cut
 * off goes on where it stopped. A part is kept whole or not at all.
 */
public final class Uploads {
  /** Most bytes of a part. */
  public static final int MOST_PART = 8 << 20;

  private static final Duration KEPT = Duration.ofDays(1);

  /** Uploads one account can have open. */
  private static final int MOST_OPEN = 4;

  private final UseCases useCases;

  public Uploads(UseCases useCases) {
    this.useCases = useCases;
  }

  /**
   * How far an upload is.
   *
   * @param bytes it is to have
   * @param there how many of them are here; the next part begins there
   * @param mostPart bytes a part can have
   */
  public record Shown(String id, long bytes, long there, int mostPart) {}

  /** How large what is to be sent is. */
  public record Draft(long bytes) {}

  /**
   * Begins one. Of the open ones of an account the oldest go.
   *
   * @throws Problem 400, or 413 when it is larger than any package may be
   */
  public Shown begin(Caller caller, Draft draft) {
    if (draft.bytes() < 1) {
      throw Problem.malformed("/bytes", "Say how many bytes there are.");
    }
    if (draft.bytes() > FileKind.PACKAGE.most()) {
      throw new Problem(
          413,
          "too-large",
          "Too large",
          "A package has at most " + (FileKind.PACKAGE.most() >> 20) + " MiB.");
    }
    return useCases.act(
        caller,
        act -> {
          UploadStore store = new UploadStore(act.tx());
          String id = act.newId();
          store.begin(id, caller.accountId(), draft.bytes(), act.now());
          store.forgetOld(act.now().minus(KEPT), caller.accountId(), MOST_OPEN);
          return shown(mine(act.tx(), caller, id));
        });
  }

  /** How far one is. */
  public Shown get(Caller caller, String id) {
    return useCases.read(tx -> shown(mine(tx, caller, id)));
  }

  private static UploadStore.Upload mine(Tx tx, Caller caller, String id) {
    return new UploadStore(tx)
        .find(id)
        .filter(u -> u.accountId().equals(caller.accountId()))
        .orElseThrow(() -> Problem.notFound("upload", id));
  }

  private static Shown shown(UploadStore.Upload u) {
    return new Shown(u.id(), u.bytes(), u.there(), MOST_PART);
  }

  /**
   * Takes a part.
   *
   * @param from where it begins
   * @throws Problem 409 when that is not where the next one begins, 413 when it is too large
   */
  public Shown take(Caller caller, String id, long from, InputStream content) {
    byte[] part = read(content);
    return useCases.act(
        caller,
        act -> {
          act.tx().advisoryLock("upload " + id);
          UploadStore.Upload u = mine(act.tx(), caller, id);
          if (from != u.there()) {
            throw Problem.conflict(
                    "another-part",
                    "There are "
                        + u.there()
                        + " bytes here; go on from there, not from "
                        + from
                        + ".")
                .with("there", u.there());
          }
          if (part.length == 0 || u.there() + part.length > u.bytes()) {
            throw Problem.malformed(
                "",
                "A part has at least one byte, and all of them together "
                    + u.bytes()
                    + "; with this one there would be "
                    + (u.there() + part.length)
                    + ".");
          }
          new UploadStore(act.tx()).keep(id, from, part);
          return shown(mine(act.tx(), caller, id));
        });
  }

  private static byte[] read(InputStream content) {
    try {
      byte[] part = content.readNBytes(MOST_PART + 1);
      if (part.length > MOST_PART) {
        throw new Problem(
            413, "too-large", "Too large", "A part has at most " + (MOST_PART >> 20) + " MiB.");
      }
      return part;
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  /**
   * All of an upload, read part by part.
   *
   * @throws Problem 409 when some of it is missing
   */
  public InputStream whole(Caller caller, String id) {
    List<Long> starts =
        useCases.read(
            tx -> {
              UploadStore.Upload u = mine(tx, caller, id);
              if (u.there() < u.bytes()) {
                throw Problem.conflict(
                        "not-whole",
                        "There are "
                            + u.there()
                            + " of "
                            + u.bytes()
                            + " bytes here; send the rest first.")
                    .with("there", u.there());
              }
              return new UploadStore(tx).starts(id);
            });
    Iterator<Long> next = starts.iterator();
    Enumeration<InputStream> parts =
        new Enumeration<>() {
          @Override
          public boolean hasMoreElements() {
            return next.hasNext();
          }

          @Override
          public InputStream nextElement() {
            long at = next.next();
            return new ByteArrayInputStream(useCases.read(tx -> new UploadStore(tx).part(id, at)));
          }
        };
    return starts.isEmpty()
        ? new SequenceInputStream(Collections.emptyEnumeration())
        : new SequenceInputStream(parts);
  }

  /** Forgets an upload; what became of it is elsewhere. */
  public void forget(Caller caller, String id) {
    useCases.run(
        caller,
        act -> {
          mine(act.tx(), caller, id);
          new UploadStore(act.tx()).forget(id);
        });
  }

  /** Forgets those nobody went on with. */
  public void forgetOld() {
    useCases.run(
        Caller.SERVICE,
        act -> new UploadStore(act.tx()).forgetOld(act.now().minus(KEPT), "", MOST_OPEN));
  }
}
