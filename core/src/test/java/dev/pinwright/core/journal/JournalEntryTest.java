package dev.pinwright.core.journal;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import org.junit.jupiter.api.Test;

class JournalEntryTest {
  private static final Instant AT = Instant.parse("2026-05-01T10:00:00.000001Z");
  private final JournalEntry first =
      JournalEntry.after(1, JournalEntry.START, AT, "owner", "profile.made", "profile:1", "Made");

  @Test
  void anEntryFollowsOnlyTheOneItWasChainedTo() {
    JournalEntry second =
        JournalEntry.after(2, first.hash(), AT, "owner", "profile.published", "profile:1", "Out");
    assertThat(first.follows(0, JournalEntry.START)).isTrue();
    assertThat(second.follows(1, first.hash())).isTrue();
    assertThat(second.follows(1, JournalEntry.START)).isFalse();
    assertThat(second.follows(2, first.hash())).isFalse();
  }

  @Test
  void changingAnyFieldBreaksTheLink() {
    JournalEntry forged =
        new JournalEntry(
            1, AT, "owner", "profile.made", "profile:1", "Forged", first.previous(), first.hash());
    assertThat(forged.follows(0, JournalEntry.START)).isFalse();
  }

  @Test
  void movingTextBetweenFieldsChangesTheHash() {
    JournalEntry a = JournalEntry.after(1, JournalEntry.START, AT, "ab", "c", "s", "t");
    JournalEntry b = JournalEntry.after(1, JournalEntry.START, AT, "a", "bc", "s", "t");
    assertThat(a.hash()).isNotEqualTo(b.hash());
  }
}
