package dev.pinwright.core.file;

import dev.pinwright.core.Versioned;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;

/**
 * A file that devices are handed. It is what is in it: another content is another file.
 *
 * @param id lower-case hex SHA-256 of its content
 * @param mediaType of its content (RFC 6838)
 * @param bytes how large it is
 * @param about what was found in it, for people: {@code 1280 × 800 pixels}
 * @param validUntil when the first of its certificates ends
 * @param profiles profiles whose draft or one of whose versions names it
 * @param clearedAt when it goes unless something names it until then; empty while something does
 * @param storedBy login of who brought it
 */
public record StoredFile(
    String id,
    int version,
    String name,
    FileKind kind,
    String mediaType,
    long bytes,
    String about,
    Optional<Instant> validUntil,
    long profiles,
    Optional<Instant> clearedAt,
    Instant storedAt,
    String storedBy)
    implements Versioned {

  /** How long a file is kept that nothing uses. */
  public static final Duration KEPT_UNUSED = Duration.ofDays(30);

  private static final String SCHEME = "sha256:";

  /** How a setting names a file: {@code sha256:} and its id. */
  public static String reference(String id) {
    return SCHEME + id;
  }

  /** The id of the file a text names; empty when it names none. */
  public static Optional<String> referred(String text) {
    return Optional.of(text)
        .filter(t -> t.matches(SCHEME + "[0-9a-f]{64}"))
        .map(t -> t.substring(SCHEME.length()));
  }

  /**
   * Why a file that is named cannot be handed out; empty when it can.
   *
   * @param kind what is wanted there
   * @param file the one of this digest, where there is one
   */
  public static Optional<String> objection(FileKind kind, Optional<StoredFile> file, String id) {
    if (file.isEmpty()) {
      return Optional.of("There is no file " + reference(id) + " on file; store it first.");
    }
    return file.filter(f -> f.kind() != kind)
        .map(f -> f.name() + " is " + f.kind().words() + "; here " + kind.words() + " goes.");
  }
}
