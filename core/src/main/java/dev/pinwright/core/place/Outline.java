package dev.pinwright.core.place;

import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * The outline of a site: the outer ring of a polygon (RFC 7946, 3.1.6), each corner once.
 *
 * @param corners 3 to 200, each {@code [longitude, latitude]} in degrees (WGS 84)
 */
public record Outline(List<List<Double>> corners) {
  private static final Pattern POLYGON =
      Pattern.compile("(?i)POLYGON\\s*\\(\\s*\\(([^()]{1,20000})\\)\\s*\\)");
  private static final Pattern CORNER =
      Pattern.compile("\\s*-?\\d{1,3}(\\.\\d{1,15})?\\s+-?\\d{1,2}(\\.\\d{1,15})?\\s*");
  private static final int LEAST = 3;
  private static final int MOST = 200;

  /**
   * @throws IllegalArgumentException saying what is wrong
   */
  public Outline {
    if (corners.size() > 1 && corners.get(0).equals(corners.get(corners.size() - 1))) {
      corners = corners.subList(0, corners.size() - 1);
    }
    if (corners.size() < LEAST || corners.size() > MOST) {
      throw new IllegalArgumentException("an outline has 3 to 200 corners");
    }
    for (List<Double> c : corners) {
      if (c.size() != 2 || !(Math.abs(c.get(0)) <= 180 && Math.abs(c.get(1)) <= 90)) {
        throw new IllegalArgumentException(
            "a corner is a longitude from -180 to 180 and a latitude from -90 to 90");
      }
    }
    corners = corners.stream().map(List::copyOf).toList();
  }

  /** An outline from the longitude and latitude of each corner, one after the other. */
  public static Outline flat(List<Double> numbers) {
    List<List<Double>> corners = new ArrayList<>();
    for (int i = 0; i + 1 < numbers.size(); i += 2) {
      corners.add(List.of(numbers.get(i), numbers.get(i + 1)));
    }
    return new Outline(corners);
  }

  /** The longitude and latitude of each corner, one after the other. */
  public List<Double> flat() {
    return corners.stream().flatMap(List::stream).toList();
  }

  /**
   * An outline as well-known text has it (ISO 19125-1, 7): {@code POLYGON ((-20.51 47.19, …))},
   * longitude first.
   *
   * @throws IllegalArgumentException saying what is wrong
   */
  public static Outline ofText(String text) {
    Matcher polygon = POLYGON.matcher(text.strip());
    if (!polygon.matches()) {
      throw new IllegalArgumentException(
          "an outline is written POLYGON ((longitude latitude, longitude latitude, ...)), without"
              + " holes");
    }
    List<List<Double>> corners = new ArrayList<>();
    for (String corner : polygon.group(1).split(",", -1)) {
      if (!CORNER.matcher(corner).matches()) {
        throw new IllegalArgumentException(
            "a corner is a longitude and a latitude, such as -20.51 47.19, and not '"
                + corner.strip()
                + "'");
      }
      String[] numbers = corner.strip().split("\\s+");
      corners.add(List.of(Double.valueOf(numbers[0]), Double.valueOf(numbers[1])));
    }
    return new Outline(corners);
  }

  /** It as well-known text, which ends at the corner it began at. */
  public String text() {
    return Stream.concat(corners.stream(), Stream.of(corners.get(0)))
        .map(c -> c.get(0) + " " + c.get(1))
        .collect(Collectors.joining(", ", "POLYGON ((", "))"));
  }

  /** Whether a place lies within it (even-odd rule); its edge may count as either. */
  public boolean contains(double latitude, double longitude) {
    boolean in = false;
    for (int i = 0, j = corners.size() - 1; i < corners.size(); j = i++) {
      double yi = corners.get(i).get(1);
      double yj = corners.get(j).get(1);
      double xi = corners.get(i).get(0);
      double xj = corners.get(j).get(0);
      if (yi > latitude != yj > latitude
          && longitude < (xj - xi) * (latitude - yi) / (yj - yi) + xi) {
        in = !in;
      }
    }
    return in;
  }

  /** The southernmost latitude. */
  public double south() {
    return corners.stream().mapToDouble(c -> c.get(1)).min().orElseThrow();
  }

  /** The northernmost latitude. */
  public double north() {
    return corners.stream().mapToDouble(c -> c.get(1)).max().orElseThrow();
  }

  /** The westernmost longitude. */
  public double west() {
    return corners.stream().mapToDouble(c -> c.get(0)).min().orElseThrow();
  }

  /** The easternmost longitude. */
  public double east() {
    return corners.stream().mapToDouble(c -> c.get(0)).max().orElseThrow();
  }
}
