package dev.pinwright.service.proposal;

import dev.pinwright.service.acting.DispatchOrder;
import dev.pinwright.service.compliance.Checks;
import dev.pinwright.service.configuration.Configurations;
import dev.pinwright.service.device.DeviceEdits;
import dev.pinwright.service.device.Groups;
import dev.pinwright.service.rules.Waves;
import dev.pinwright.service.work.Problem;
import java.util.Optional;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * What is proposed; exactly one of these.
 *
 * @param publish a profile whose draft is to be published
 * @param deleteProfile a profile that is to be deleted
 * @param takeBack a change that is to be taken back
 * @param edit of many devices
 * @param group that is to be written anew
 * @param check that is to be made or written anew
 * @param deleteCheck a check that is to be deleted
 * @param unit that is to be moved
 * @param members of a group, to be put in and taken out
 * @param load a configuration that is to be loaded; without secrets
 * @param order a command that is to be ordered
 */
public record Intent(
    Optional<OfPublication> publish,
    Optional<OfProfile> deleteProfile,
    Optional<OfChange> takeBack,
    Optional<DeviceEdits.Edit> edit,
    Optional<OfGroup> group,
    Optional<OfCheck> check,
    Optional<OfProfile> deleteCheck,
    Optional<OfUnit> unit,
    Optional<OfMembers> members,
    Optional<Configurations.Load> load,
    Optional<DispatchOrder> order) {

  /** A profile whose draft is to be published, and how it spreads; to all at once without. */
  public record OfPublication(@Nullable String id, Optional<Waves.Spec> waves) {}

  /** A profile or a check by id. */
  public record OfProfile(@Nullable String id) {}

  /** A change by id. */
  public record OfChange(@Nullable String id) {}

  /** A group by id, as it is to be. */
  public record OfGroup(@Nullable String id, Groups.@Nullable Draft draft) {}

  /** A check by id, as it is to be; without an id a new one. */
  public record OfCheck(Optional<String> id, Checks.@Nullable Draft draft) {}

  /** A unit by id, and the unit it is to lie in; none for the top. */
  public record OfUnit(@Nullable String id, @Nullable String parentId) {}

  /** A group by id, and devices to put in and take out. */
  public record OfMembers(@Nullable String id, Groups.@Nullable Members members) {}

  /**
   * @throws Problem 400 when it is not exactly one
   */
  Intent sound() {
    long said =
        Stream.of(
                publish,
                deleteProfile,
                takeBack,
                edit,
                group,
                check,
                deleteCheck,
                unit,
                members,
                load,
                order)
            .filter(Optional::isPresent)
            .count();
    if (said != 1) {
      throw Problem.malformed(
          "",
          "Propose one thing: publish, deleteProfile, takeBack, edit, group, check, deleteCheck, unit,"
              + " members, load or order; this has "
              + said
              + ".");
    }
    return this;
  }

  /**
   * What an intent has to say.
   *
   * @param where its place in the intent, such as {@code publish/id}
   * @throws Problem 400 when it does not
   */
  static <T> T said(@Nullable T said, String where) {
    if (said == null) {
      throw Problem.malformed(
          "/intent/" + where,
          where.isEmpty() ? "Say what is proposed." : "The intent has to say " + where + ".");
    }
    return said;
  }
}
