package dev.pinwright.service.configuration;

import dev.pinwright.core.catalog.ValueType;
import dev.pinwright.core.configuration.Part;
import dev.pinwright.core.configuration.Step;
import dev.pinwright.core.policy.ProfileKind;
import dev.pinwright.service.compliance.Checks;
import dev.pinwright.service.device.Groups;
import dev.pinwright.service.enrollment.EnrollmentProfiles;
import dev.pinwright.service.organisation.Attributes;
import dev.pinwright.service.organisation.People;
import dev.pinwright.service.organisation.Sites;
import dev.pinwright.service.organisation.Units;
import dev.pinwright.service.rules.Profiles;
import dev.pinwright.service.rules.Publishing;
import dev.pinwright.service.terms.HolderTerms;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.row.PersonRow;
import dev.pinwright.storage.row.SiteRow;
import dev.pinwright.storage.row.UnitRow;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.BiConsumer;
import java.util.function.Function;
import java.util.function.Supplier;
import java.util.stream.Collectors;

/**
 * Writes what files say, one thing after the other, by the use cases a person would have used, in
 * one transaction. Devices are let follow afterwards.
 */
final class Writing {
  private final Desk desk;
  private final OrganisationWriting organisation;
  private final IntakeWriting intake;
  private final RulesWriting rules;

  /** The use cases, within the one that loads; but for those that move devices. */
  record Nouns(
      ValueTypes types,
      Attributes attributes,
      Units units,
      Sites sites,
      People people,
      HolderTerms terms,
      EnrollmentProfiles enrollments,
      Profiles profiles,
      Publishing publishing,
      Checks checks,
      Groups groups) {}

  /** The type of a setting by its key. */
  interface ValueTypes extends Function<String, Optional<ValueType>> {}

  Writing(Desk desk) {
    this.desk = desk;
    organisation = new OrganisationWriting(desk);
    intake = new IntakeWriting(desk);
    rules = new RulesWriting(desk);
  }

  /** Does the steps that write; those that delete are {@link #delete}'s. */
  void write(List<Step> steps) {
    Map<Part, List<Step>> byPart =
        steps.stream()
            .filter(s -> s.verb() == Step.Verb.ADD || s.verb() == Step.Verb.CHANGE)
            .collect(Collectors.groupingBy(Step::part));
    for (Part part : Part.values()) {
      List<Step> own = new ArrayList<>(byPart.getOrDefault(part, List.of()));
      switch (part) {
        case UNIT -> own.sort(Comparator.comparingInt(s -> depth(s.name())));
        case TERMS -> own.sort(Comparator.comparingInt(s -> Integer.parseInt(s.name())));
        // groups may name each other, whichever is written first
        case GROUP -> own.stream().filter(this::isNew).forEach(this::found);
        default -> {
          // in any order
        }
      }
      own.forEach(this::write);
    }
  }

  private boolean isNew(Step s) {
    return s.verb() == Step.Verb.ADD;
  }

  private void found(Step s) {
    String id =
        at(s, () -> Groups.define(desk.act(), Optional.empty(), Groups.Draft.picked(s.name())));
    desk.ids(Part.GROUP).put(s.name(), id);
  }

  private int depth(String code) {
    int depth = 0;
    for (Optional<String> up = within(code);
        up.isPresent() && depth < Units.MAX_UNITS;
        up = within(up.get())) {
      depth++;
    }
    return depth;
  }

  private Optional<String> within(String code) {
    return desk.wanted().one(Part.UNIT, code).flatMap(u -> ((Thing.OfUnit) u).within());
  }

  private static <T> T at(Step s, Supplier<T> work) {
    return At.file(s.file().isEmpty() ? s.name() : s.file(), work);
  }

  private void write(Step s) {
    Thing thing = desk.wanted().one(s.part(), s.name()).orElseThrow();
    at(
        s,
        () -> {
          switch (s.part()) {
            case ATTRIBUTE -> organisation.attribute((Thing.OfAttribute) thing);
            case UNIT -> organisation.unit((Thing.OfUnit) thing);
            case SITE -> organisation.site((Thing.OfSite) thing);
            case PERSON -> organisation.person((Thing.OfPerson) thing);
            case TERMS -> intake.terms(s, (Thing.OfTerms) thing);
            case GROUP -> rules.group((Thing.OfGroup) thing);
            case ENROLLMENT_PROFILE -> intake.enrollment((Thing.OfEnrollment) thing);
            case PROFILE -> rules.profile(ProfileKind.PROFILE, (Thing.OfProfile) thing);
            case KIT -> rules.profile(ProfileKind.KIT, (Thing.OfProfile) thing);
            case CHECK -> rules.check((Thing.OfCheck) thing);
          }
          return s;
        });
  }

  // ---- deleting --------------------------------------------------------------------------------

  /** Takes checks away, and profiles from everybody, where they are in no file. */
  void withdraw(List<Step> steps) {
    gone(steps, Part.CHECK).forEach(s -> at(s, () -> told(s, desk.nouns().checks()::leave)));
    gone(steps, Part.KIT, Part.PROFILE).forEach(s -> at(s, () -> told(s, Publishing::leave)));
  }

  /**
   * Deletes what is in no file, once devices have followed; those first that nothing else needs.
   *
   * @throws Problem 409 naming what something is still needed by
   */
  void delete(List<Step> steps) {
    gone(steps, Part.KIT).forEach(s -> at(s, () -> told(s, Publishing::forget)));
    gone(steps, Part.PROFILE).forEach(s -> at(s, () -> told(s, Publishing::forget)));
    List<Step> left =
        new ArrayList<>(
            gone(
                steps,
                Part.ENROLLMENT_PROFILE,
                Part.GROUP,
                Part.PERSON,
                Part.SITE,
                Part.UNIT,
                Part.ATTRIBUTE));
    Optional<Problem> objection = Optional.empty();
    for (int before = left.size() + 1; left.size() < before && !left.isEmpty(); ) {
      before = left.size();
      for (Step s : List.copyOf(left)) {
        try {
          at(s, () -> told(s, (a, id) -> delete(s.part(), id)));
          left.remove(s);
        } catch (Problem p) {
          // what needs it may go as well, and then it is tried again
          objection = Optional.of(p);
        }
      }
    }
    if (!left.isEmpty()) {
      throw objection.orElseThrow();
    }
  }

  private static List<Step> gone(List<Step> steps, Part... parts) {
    return steps.stream()
        .filter(s -> s.verb() == Step.Verb.DELETE && List.of(parts).contains(s.part()))
        .sorted(Comparator.comparing(Step::part).reversed())
        .toList();
  }

  private Step told(Step s, BiConsumer<UseCases.Act, String> deletion) {
    deletion.accept(desk.act(), desk.ids(s.part()).get(s.name()));
    desk.act().tx().flush();
    return s;
  }

  private void delete(Part part, String id) {
    switch (part) {
      case ATTRIBUTE -> {
        int version =
            desk.nouns().attributes().all(desk.act().caller()).stream()
                .filter(a -> a.id().equals(id))
                .findFirst()
                .orElseThrow()
                .version();
        desk.nouns().attributes().delete(desk.act().caller(), id, version);
      }
      case UNIT ->
          desk.nouns().units().delete(desk.act().caller(), id, desk.one(UnitRow.class, id).version);
      case SITE ->
          desk.nouns().sites().delete(desk.act().caller(), id, desk.one(SiteRow.class, id).version);
      case PERSON ->
          desk.nouns()
              .people()
              .delete(desk.act().caller(), id, desk.one(PersonRow.class, id).version);
      case GROUP -> desk.nouns().groups().delete(desk.act().caller(), id);
      case ENROLLMENT_PROFILE ->
          desk.nouns()
              .enrollments()
              .delete(
                  desk.act().caller(),
                  id,
                  desk.nouns().enrollments().get(desk.act().caller(), id).version());
      default -> throw new IllegalArgumentException(part + " is not deleted like this");
    }
  }
}
