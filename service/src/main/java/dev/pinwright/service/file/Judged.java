package dev.pinwright.service.file;

import dev.pinwright.core.file.FileKind;
import java.time.Instant;
import java.util.Optional;

/**
 * What a file was found to be.
 *
 * @param mediaType of its content (RFC 6838)
 * @param about what was found in it, for people
 * @param validUntil when the first of its certificates ends
 */
record Judged(FileKind kind, String mediaType, String about, Optional<Instant> validUntil) {
  Judged(FileKind kind, String mediaType, String about) {
    this(kind, mediaType, about, Optional.empty());
  }
}
