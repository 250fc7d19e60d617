package dev.pinwright.service.access;

import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Database;
import java.time.Clock;
import java.time.Duration;
import java.util.Locale;

/**
 * Slows down guessing of passwords where people sign in: a few tries a minute at a login from an
 * address, more at a login from everywhere and at all logins from an address. However a login is
 * written, it is the same.
 */
public final class Guessing {
  private static final int LONGEST = 80;
  private static final Duration WINDOW = Duration.ofMinutes(1);

  private final Throttle few;
  private final Throttle logins;
  private final Throttle addresses;

  /**
   * @param where people sign in; tries at different places do not meet
   */
  public Guessing(Database database, Clock clock, String where) {
    few = new Throttle(database, clock, where, 8, WINDOW);
    logins = new Throttle(database, clock, where + " of a login", 60, WINDOW);
    addresses = new Throttle(database, clock, where + " from an address", 200, WINDOW);
  }

  /**
   * Counts a try before it is made.
   *
   * @return what it is counted by, for {@link #right}
   * @throws Problem 429 when there were too many
   */
  public String trying(String login, String address) {
    String plain = login.strip().toLowerCase(Locale.ROOT);
    String named = plain.length() > LONGEST ? plain.substring(0, LONGEST) : plain;
    String key = "login " + named + " at " + address;
    few.trying(key);
    addresses.trying(address);
    logins.trying(named);
    return key;
  }

  /**
   * Counts a try of whoever is known already, by what they are known by alone: nobody else keeps
   * them out.
   *
   * @throws Problem 429 when there were too many
   */
  public void trying(String key) {
    few.trying(key);
  }

  /** Forgets the tries counted by a key, whose owner was right. */
  public void right(String key) {
    few.right(key);
  }
}
