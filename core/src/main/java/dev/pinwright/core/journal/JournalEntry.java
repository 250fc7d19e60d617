package dev.pinwright.core.journal;

import dev.pinwright.core.Sha256;
import java.nio.charset.StandardCharsets;
import java.time.Instant;

/**
 * One entry: who did what to what, chained to the one before.
 *
 * @param number counts from 1 without gaps
 * @param at to the microsecond
 * @param actor an account's login, {@code device:<id>} or {@code pinwright}
 * @param action such as {@code profile.published}
 * @param subject such as {@code profile:01J…}
 * @param summary a sentence for people; never holds a secret
 * @param previous hash of the entry before; 64 zeros for the first
 * @param hash lower-case hex SHA-256, see {@link #hashOf}
 */
public record JournalEntry(
    long number,
    Instant at,
    String actor,
    String action,
    String subject,
    String summary,
    String previous,
    String hash) {
  /** What the first entry is chained to. */
  public static final String START = "0".repeat(64);

  /** The entry after another, or the first; its hash is computed here. */
  public static JournalEntry after(
      long number,
      String previous,
      Instant at,
      String actor,
      String action,
      String subject,
      String summary) {
    return new JournalEntry(
        number,
        at,
        actor,
        action,
        subject,
        summary,
        previous,
        hashOf(number, previous, at, actor, action, subject, summary));
  }

  /** Whether the entry's hash is right and it follows {@code before}. */
  public boolean follows(long numberBefore, String hashBefore) {
    return number == numberBefore + 1
        && previous.equals(hashBefore)
        && hash.equals(hashOf(number, previous, at, actor, action, subject, summary));
  }

  /**
   * SHA-256 over the fields, each as its UTF-8 length in bytes, a colon, and its text; so no two
   * different entries have the same input.
   */
  private static String hashOf(
      long number,
      String previous,
      Instant at,
      String actor,
      String action,
      String subject,
      String summary) {
    StringBuilder sb = new StringBuilder();
    for (String field :
        new String[] {
          Long.toString(number), previous, at.toString(), actor, action, subject, summary
        }) {
      sb.append(field.getBytes(StandardCharsets.UTF_8).length).append(':').append(field);
    }
    return Sha256.hex(sb.toString());
  }
}
