package dev.pinwright.core.enrollment;

import dev.pinwright.core.naming.NamePattern;
import dev.pinwright.core.organisation.Place;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;

/**
 * What letting a device in does to its record: what it is known by, who holds it, where it belongs,
 * what it is tagged and grouped by, and how it is named.
 *
 * @param identifiers those of the record, and where one is missing what the device told, and where
 *     that is silent what its row on the roster says
 * @param holder the person who holds it
 */
public record Admission(
    Identifiers identifiers,
    Optional<String> holder,
    Place place,
    List<String> tags,
    List<String> groups,
    Naming naming) {

  public Admission {
    tags = List.copyOf(tags);
    groups = List.copyOf(groups);
  }

  /** The record of a device that was here before. */
  public record OnFile(
      Identifiers identifiers, Optional<String> holder, Place place, String name) {}

  /**
   * The row of the roster a device was expected by.
   *
   * @param name what it is to be called; empty for whatever the pattern makes
   * @param person who is to hold it
   */
  public record Expected(
      Identifiers identifiers,
      String name,
      Optional<String> person,
      Place place,
      List<String> tags) {}

  /**
   * What the bench asks for on which a device is prepared; it goes before the enrollment profile.
   *
   * @param assetPrefix what asset numbers begin with; empty to give none
   */
  public record Bench(
      NamePattern namePattern,
      long firstNumber,
      Optional<String> group,
      Place place,
      String assetPrefix) {

    /** The asset number of a device that has none, by its running number. */
    public Optional<String> asset(Identifiers known, long number) {
      return assetPrefix.isEmpty() || known.asset().isPresent()
          ? Optional.empty()
          : Optional.of(assetPrefix + String.format("%04d", number));
    }
  }

  /** How it is named. */
  public sealed interface Naming permits Fixed, ByPattern {}

  /** By this name. */
  public record Fixed(String name) implements Naming {}

  /**
   * By a pattern.
   *
   * @param first the least number, where the pattern counts
   */
  public record ByPattern(NamePattern pattern, long first) implements Naming {}

  /**
   * Decides. A device that comes back keeps its place and its name; when somebody else holds it
   * now, it goes where they belong.
   *
   * @param before its record, when it is on file
   * @param expected its row of the roster, when it has one
   * @param holder who joined it: by signing in, or by an invitation of their own
   * @param placeOf where a person belongs
   */
  public static Admission of(
      EnrollmentProfile profile,
      JoinAttempt attempt,
      Optional<OnFile> before,
      Optional<Expected> expected,
      Optional<String> holder,
      Optional<Bench> bench,
      Function<String, Place> placeOf) {
    Identifiers identifiers =
        before
            .map(OnFile::identifiers)
            .orElse(Identifiers.of(List.of()))
            .or(Identifiers.of(attempt.identifiers()))
            .or(expected.map(Expected::identifiers).orElse(Identifiers.of(List.of())));
    LinkedHashSet<String> tags = new LinkedHashSet<>(profile.tags());
    expected.ifPresent(e -> tags.addAll(e.tags()));
    List<String> groups = new ArrayList<>(profile.groups());
    bench.flatMap(Bench::group).ifPresent(groups::add);
    if (before.isPresent()) {
      OnFile was = before.get();
      Optional<String> holds = holder.or(was::holder);
      Place stands =
          holds.equals(was.holder())
              ? was.place()
              : holds.map(placeOf).orElse(Place.NOWHERE).or(was.place());
      return new Admission(
          identifiers, holds, stands, List.copyOf(tags), groups, new Fixed(was.name()));
    }
    Optional<String> held = expected.flatMap(Expected::person).or(() -> holder);
    Place place =
        Place.of(
            expected.map(Expected::place).orElse(Place.NOWHERE),
            held.map(placeOf).orElse(Place.NOWHERE),
            bench.map(b -> b.place().or(profile.place())).orElse(profile.place()));
    return new Admission(
        identifiers, held, place, List.copyOf(tags), groups, naming(profile, expected, bench));
  }

  /**
   * The name its row of the roster has is its name, unless the pattern says where that name stands;
   * otherwise the pattern makes one.
   */
  private static Naming naming(
      EnrollmentProfile profile, Optional<Expected> expected, Optional<Bench> bench) {
    NamePattern pattern = bench.map(Bench::namePattern).orElse(profile.namePattern());
    return expected
        .map(Expected::name)
        .filter(n -> !n.isEmpty() && !pattern.text().contains("{sheet}"))
        .<Naming>map(Fixed::new)
        .orElse(new ByPattern(pattern, bench.map(Bench::firstNumber).orElse(1L)));
  }
}
