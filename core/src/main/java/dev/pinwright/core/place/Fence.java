package dev.pinwright.core.place;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** A site with an outline, which devices come to and leave. */
public record Fence(String siteId, String name, Outline outline) {

  /** The site a place lies in: the first of those given that has it. */
  public static Optional<Fence> around(List<Fence> fences, double latitude, double longitude) {
    return fences.stream().filter(f -> f.outline().contains(latitude, longitude)).findFirst();
  }

  /**
   * What is to be told of a device that was at one site and is at another now.
   *
   * @param before the name of the site it was at; empty for none
   */
  public static List<String> told(Optional<String> before, Optional<String> now) {
    List<String> told = new ArrayList<>();
    if (!before.equals(now)) {
      before.ifPresent(b -> told.add("It left " + b));
      now.ifPresent(n -> told.add("It came to " + n));
    }
    return told;
  }
}
