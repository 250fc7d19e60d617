package dev.pinwright.core.access;

/** Roles, from most to least. A role may do whatever the ones after it may. */
public enum Role {
  /** Everything. */
  OWNER,
  /** Rules, intake, groups, and all commands. */
  OPERATOR,
  /** Commands to devices. */
  HELPDESK,
  /** Looks, and changes nothing. */
  READER;

  /** Whether this role may do what {@code needed} may. */
  public boolean covers(Role needed) {
    return ordinal() <= needed.ordinal();
  }
}
