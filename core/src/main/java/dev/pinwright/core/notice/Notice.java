package dev.pinwright.core.notice;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;

/**
 * Something the people who look after devices should know. It is said once for each occasion, and
 * takes the place of what was said of the same thing on another.
 *
 * @param about the thing it is of, such as {@code push tarn}
 * @param occasion what makes it news once more, such as a day; empty for what is said only once
 * @param detail what follows from it, or what to do
 * @param link an address in the console
 * @param urgent whether it cannot wait
 */
public record Notice(
    String about, String occasion, String title, String detail, String link, boolean urgent) {

  /** What tells it from all others. */
  public String key() {
    return occasion.isEmpty() ? about : about + " " + occasion;
  }

  /** This, said again on every day on which it is so. */
  public Notice daily(Instant now) {
    return new Notice(
        about, LocalDate.ofInstant(now, ZoneOffset.UTC).toString(), title, detail, link, urgent);
  }
}
