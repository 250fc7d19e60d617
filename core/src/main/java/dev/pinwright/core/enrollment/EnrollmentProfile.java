package dev.pinwright.core.enrollment;

import dev.pinwright.core.device.DeviceKind;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.device.Ownership;
import dev.pinwright.core.naming.NamePattern;
import dev.pinwright.core.organisation.Place;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * How a device joins.
 *
 * @param platforms catalogue keys let in; never empty
 * @param kinds kinds let in; never empty
 * @param signIn how the holder proves who they are
 * @param termsVersion version of the terms that has to be accepted, if any
 * @param minimumOs lowest OS version let in, per platform
 * @param approval whether a human must approve each arrival
 * @param rosterOnly whether only devices on the roster are let in
 * @param namePattern how a device is named, see {@link NamePattern}
 * @param place where a device lands of which nothing nearer is known
 * @param removable whether the holder may end management
 * @param comesBack whether a device already on file is let back hands-free without anybody's word
 */
public record EnrollmentProfile(
    Ownership ownership,
    Mode mode,
    Set<String> platforms,
    Set<DeviceKind> kinds,
    SignIn signIn,
    Optional<Integer> termsVersion,
    Map<String, OsVersion> minimumOs,
    boolean approval,
    boolean rosterOnly,
    NamePattern namePattern,
    Place place,
    List<String> groups,
    List<String> tags,
    FirstRun firstRun,
    ReadyGate readyGate,
    boolean removable,
    boolean comesBack) {

  /** How the holder proves who they are. */
  public enum SignIn {
    NONE,
    PASSPHRASE,
    /** The staff directory, by login and password. */
    DIRECTORY
  }

  public EnrollmentProfile {
    platforms = Set.copyOf(platforms);
    kinds = Set.copyOf(kinds);
    minimumOs = Map.copyOf(minimumOs);
    groups = List.copyOf(groups);
    tags = List.copyOf(tags);
  }
}
