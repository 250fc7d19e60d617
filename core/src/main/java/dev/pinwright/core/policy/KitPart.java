package dev.pinwright.core.policy;

/**
 * A profile that goes wherever a kit goes, as near as the kit does.
 *
 * @param profileId the profile
 * @param whenInOrder whether devices that are out of order go without it
 */
public record KitPart(String profileId, boolean whenInOrder) {
  /** Most profiles one kit takes along. */
  public static final int MOST = 50;
}
