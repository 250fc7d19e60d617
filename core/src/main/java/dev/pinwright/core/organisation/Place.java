package dev.pinwright.core.organisation;

import java.util.Optional;

/**
 * Where something belongs.
 *
 * @param unit id of a unit
 * @param site id of a site
 */
public record Place(Optional<String> unit, Optional<String> site) {
  /** Belongs nowhere. */
  public static final Place NOWHERE = new Place(Optional.empty(), Optional.empty());

  /**
   * Where a device that arrives belongs. Its row on the roster is nearest, then the person who
   * holds it, then the enrollment profile; unit and site are decided each by itself.
   */
  public static Place of(Place roster, Place person, Place profile) {
    return roster.or(person).or(profile);
  }

  /** This place, and where it says nothing the other. */
  public Place or(Place other) {
    return new Place(unit.or(other::unit), site.or(other::site));
  }
}
