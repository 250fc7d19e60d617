package dev.pinwright.core.device;

import dev.pinwright.core.compliance.Order;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * A device as lists show it.
 *
 * @param order how it is with the checks
 * @param battery percent
 * @param storageFree bytes
 * @param attributes values by name
 * @param unit code of its unit
 * @param site name of its site
 * @param person name of its holder
 */
public record DeviceSummary(
    String id,
    String name,
    String platform,
    String kind,
    String maker,
    String model,
    String osVersion,
    String ownership,
    String mode,
    Optional<String> serial,
    Optional<String> imei,
    Standing standing,
    String standingReason,
    Order order,
    Optional<Integer> battery,
    Optional<Long> storageFree,
    Optional<Boolean> passcodeCompliant,
    List<String> tags,
    Map<String, String> attributes,
    Optional<String> unit,
    Optional<String> site,
    Optional<String> person,
    Instant enrolledAt,
    Optional<Instant> lastSeen,
    Optional<Retired> retired) {

  /**
   * The end of its management.
   *
   * @param by login of whoever ended it
   * @param letGoAt when the device itself heard of it, and let go of what it had from here
   */
  public record Retired(Instant at, Optional<String> by, Optional<Instant> letGoAt) {}
}
