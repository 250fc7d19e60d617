package dev.pinwright.service.work;

import dev.pinwright.core.Words;

/** On whose behalf a use case runs. */
public record Caller(String accountId, String login, Role role) {
  /** The service itself, for jobs. */
  public static final Caller SERVICE = new Caller("", "pinwright", Role.OWNER);

  /** A device, which does what it does by itself. */
  public static Caller ofDevice(String id) {
    return new Caller("", "device:" + id, Role.READER);
  }

  /**
   * Checks the role.
   *
   * @throws Problem 403 naming the role that is needed
   */
  public void needs(Role role) {
    if (!this.role.covers(role)) {
      throw new Problem(
          403,
          "not-permitted",
          "Not permitted",
          "This needs the role " + Words.of(role) + "; yours is " + Words.of(this.role) + ".");
    }
  }
}
