package dev.pinwright.core.device;

import dev.pinwright.core.tree.Refused;
import java.time.Instant;
import java.util.Optional;

/**
 * What changes about a device with every publication and every session.
 *
 * @param shapeKey its shape; none before it has been placed for the first time
 * @param desired digest of the tree it should hold: that of its shape without what it refused
 * @param reported digest of the tree it was last known to hold
 * @param standing how the two stand to each other
 * @param standingReason in plain words; empty when settled
 * @param factsAt when its facts were last read
 * @param apps what is known of its apps
 */
public record DeviceState(
    String deviceId,
    Optional<String> shapeKey,
    String desired,
    Optional<String> reported,
    Standing standing,
    String standingReason,
    Refused refused,
    Optional<Instant> factsAt,
    Apps apps) {

  /**
   * What is known of the apps of a device.
   *
   * @param wanted digest of the apps it should have; empty where none are assigned to it
   * @param inventory digest of those it has, as it told it and as they are on file
   * @param due when to look at them although it tells nothing new
   */
  public record Apps(String wanted, Optional<String> inventory, Optional<Instant> due) {
    /** Of a device of which nothing is known. */
    public static final Apps NONE = new Apps("", Optional.empty(), Optional.empty());
  }

  /** This with what is known of its apps now. */
  public DeviceState with(Apps known) {
    return new DeviceState(
        deviceId, shapeKey, desired, reported, standing, standingReason, refused, factsAt, known);
  }

  /** Whether it was last known to hold what it should. */
  public boolean agreed() {
    return reported.filter(desired::equals).isPresent();
  }

  /** This with another goal. */
  public DeviceState wanting(String digest, Refused nowRefused) {
    return new DeviceState(
        deviceId, shapeKey, digest, reported, standing, standingReason, nowRefused, factsAt, apps);
  }

  /** This with another standing. */
  public DeviceState standing(Standing.Judgement judged) {
    return new DeviceState(
        deviceId,
        shapeKey,
        desired,
        reported,
        judged.standing(),
        judged.reason(),
        refused,
        factsAt,
        apps);
  }

  /** This after it said what it holds. */
  public DeviceState reporting(Optional<String> digest) {
    return new DeviceState(
        deviceId, shapeKey, desired, digest, standing, standingReason, refused, factsAt, apps);
  }

  /** This after its facts were read. */
  public DeviceState factsRead(Instant at) {
    return new DeviceState(
        deviceId,
        shapeKey,
        desired,
        reported,
        standing,
        standingReason,
        refused,
        Optional.of(at),
        apps);
  }

  /** A device that has just joined, whether for the first time or again. */
  public static DeviceState joined(String deviceId, String desired) {
    return new DeviceState(
        deviceId,
        Optional.empty(),
        desired,
        Optional.empty(),
        Standing.CATCHING_UP,
        "it has just joined",
        Refused.NOTHING,
        Optional.empty(),
        Apps.NONE);
  }
}
