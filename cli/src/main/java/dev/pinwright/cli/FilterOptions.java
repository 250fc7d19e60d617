package dev.pinwright.cli;

import dev.pinwright.client.model.DeviceFilter;
import dev.pinwright.client.model.Mode;
import dev.pinwright.client.model.Ownership;
import dev.pinwright.client.model.PlatformKey;
import dev.pinwright.client.model.Standing;
import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Option;

/** Which devices of the list, each condition an option of its own. */
final class FilterOptions {
  @Option(names = "--search", description = "Words in name, serial, IMEI or model.")
  @Nullable String words;

  @Option(names = "--platform", description = "${COMPLETION-CANDIDATES}.")
  @Nullable PlatformKey platform;

  @Option(names = "--standing", description = "${COMPLETION-CANDIDATES}.")
  @Nullable Standing standing;

  @Option(names = "--mode", description = "${COMPLETION-CANDIDATES}.")
  @Nullable Mode mode;

  @Option(names = "--ownership", description = "${COMPLETION-CANDIDATES}.")
  @Nullable Ownership ownership;

  @Option(names = "--tag")
  @Nullable String tag;

  @Option(names = "--group")
  @Nullable String group;

  @Option(names = "--unit", description = "By code; all below it too.")
  @Nullable String unit;

  @Option(names = "--site")
  @Nullable String site;

  @Option(names = "--person")
  @Nullable String person;

  @Option(names = "--profile", description = "A profile that is assigned to them.")
  @Nullable String profile;

  @Option(
      names = "--attribute",
      paramLabel = "CONDITION",
      description = "Such as Room=Tower or \"Lease ends<2027-01-01\"; can be repeated.")
  @Nullable List<String> attributes;

  @Option(
      names = "--rule",
      description = "In words: \"os < 7.1 and unit in VM-GLA and not tag has spare\".")
  @Nullable String rule;

  @Option(
      names = "--terms-below",
      paramLabel = "VERSION",
      description = "Whose holder has not accepted this version of the terms, or a later one.")
  @Nullable Integer termsBelow;

  @Option(names = "--retired", description = "Retired devices instead.")
  boolean retired;

  /** What was given, with ids in place of names. */
  DeviceFilter given(Context context) {
    return new DeviceFilter()
        .q(words)
        .platform(platform)
        .standing(standing)
        .mode(mode)
        .ownership(ownership)
        .tag(tag)
        .group(group == null ? null : context.group(group).getId())
        .unit(unit == null ? null : context.unit(unit).getId())
        .site(site == null ? null : context.site(site).getId())
        .person(person == null ? null : context.person(person).getId())
        .profile(profile == null ? null : context.profile(profile).getId())
        .attributes(attributes)
        .rule(rule)
        .termsBelow(termsBelow);
  }
}
