package dev.pinwright.service.journal;

import dev.pinwright.core.journal.JournalEntry;
import dev.pinwright.service.secret.Vault;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Instant;
import java.util.Base64;
import java.util.Optional;

/**
 * The last entry of the journal, with the time, kept outside the database and sealed with the key
 * that is not in it: whoever can write to the database alone can neither cut the journal's tail nor
 * write all of it anew without its being found.
 */
public final class JournalSeal {
  private final Path file;
  private final Vault vault;

  /**
   * @param home where the file is kept, beside the vault's key
   */
  public JournalSeal(Path home, Vault vault) {
    this.file = home.resolve("journal.seal");
    this.vault = vault;
  }

  /** The entry that was the last one at some time. */
  record Head(long number, String hash, Instant at) {}

  /** Keeps an entry as the last one there was. */
  synchronized void keep(JournalEntry last, Instant now) {
    String head = last.number() + " " + last.hash() + " " + now;
    Path fresh = file.resolveSibling(file.getFileName() + ".new");
    try {
      Files.deleteIfExists(fresh);
      Files.createFile(
          fresh,
          PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
      Files.writeString(fresh, Base64.getEncoder().encodeToString(vault.seal(head)));
      Files.move(fresh, file, StandardCopyOption.REPLACE_EXISTING, StandardCopyOption.ATOMIC_MOVE);
    } catch (IOException e) {
      throw new UncheckedIOException("the journal's last entry cannot be kept in " + file, e);
    }
  }

  /**
   * What was kept; empty before the first time.
   *
   * @throws IllegalStateException when the file is not what this service wrote
   */
  synchronized Optional<Head> read() {
    try {
      String[] parts =
          vault.open(Base64.getDecoder().decode(Files.readString(file).strip())).split(" ");
      return Optional.of(new Head(Long.parseLong(parts[0]), parts[1], Instant.parse(parts[2])));
    } catch (NoSuchFileException e) {
      return Optional.empty();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    } catch (IllegalArgumentException | IllegalStateException e) {
      throw new IllegalStateException(
          file
              + " is not what this service wrote with this seal.key: bring back the one of this"
              + " database, or take it away if the database was begun anew",
          e);
    }
  }
}
