package dev.pinwright.core.screen;

import dev.pinwright.core.Words;
import dev.pinwright.core.device.Ownership;
import java.util.Map;

/** How much of a device's screen is shown to somebody else. */
public enum Shows {
  /** The organisation's apps while one of them is open, and nothing else. */
  WORK,
  /** Everything that is on it. */
  WHOLE;

  private static final String FIELD = "shows";

  /**
   * What is shown of a device: of a personal one never more than the organisation's apps, whatever
   * was asked for.
   *
   * @param filled what was filled in of the command
   */
  public static Shows of(Ownership ownership, Map<String, String> filled) {
    return ownership == Ownership.PERSONAL || Words.of(WORK).equals(filled.get(FIELD))
        ? WORK
        : WHOLE;
  }
}
