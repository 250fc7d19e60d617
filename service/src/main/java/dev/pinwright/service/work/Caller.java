package dev.pinwright.service.work;

import dev.pinwright.core.Words;
import dev.pinwright.core.access.Role;
import java.util.Optional;

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
    objection(role)
        .ifPresent(
            why -> {
              throw new Problem(403, "not-permitted", "Not permitted", "This " + why + ".");
            });
  }

  /** Why what needs a role cannot be done, such as {@code needs the role owner}; or empty. */
  public Optional<String> objection(Role needed) {
    return role.covers(needed)
        ? Optional.empty()
        : Optional.of("needs the role " + Words.of(needed) + "; yours is " + Words.of(this.role));
  }
}
