package dev.pinwright.cli;

import dev.pinwright.client.model.DeviceKind;
import dev.pinwright.client.model.EnrollmentProfile;
import dev.pinwright.client.model.EnrollmentProfileDraft;
import dev.pinwright.client.model.FirstRun;
import dev.pinwright.client.model.Mode;
import dev.pinwright.client.model.Ownership;
import dev.pinwright.client.model.PlatformKey;
import dev.pinwright.client.model.ReadyGate;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Option;

/** What an enrollment profile can say. What is not given stays as it is. */
final class EnrollmentOptions {
  @Option(names = "--ownership", description = "${COMPLETION-CANDIDATES}.")
  @Nullable Ownership ownership;

  @Option(names = "--mode", description = "${COMPLETION-CANDIDATES}.")
  @Nullable Mode mode;

  @Option(names = "--platform", description = "${COMPLETION-CANDIDATES}; can be repeated.")
  @Nullable List<PlatformKey> platforms;

  @Option(names = "--kind", description = "${COMPLETION-CANDIDATES}; can be repeated.")
  @Nullable List<DeviceKind> kinds;

  @Option(names = "--no-sign-in", description = "Holders need not say who they are.")
  boolean noSignIn;

  @Option(names = "--passphrase", description = "Ask the holder for this passphrase.")
  @Nullable String passphrase;

  @Option(
      names = "--directory",
      arity = "0..1",
      fallbackValue = "",
      paramLabel = "GROUP",
      description = "Holders sign in with their staff account, and belong to this group.")
  @Nullable String directory;

  @Option(names = "--skip", description = "A first-run screen to leave out; can be repeated.")
  @Nullable List<String> skip;

  @Option(names = "--language", description = "The device starts in, such as en.")
  @Nullable String language;

  @Option(names = "--region", description = "Such as QV.")
  @Nullable String region;

  @Option(names = "--wallpaper", description = "The device starts with.")
  @Nullable String wallpaper;

  @Option(
      names = "--ready-profiles",
      negatable = true,
      description = "Hand over when its settings are on it.")
  @Nullable Boolean readyProfiles;

  @Option(names = "--ready-os", description = "Hand over at this version: tarn=7.2.")
  @Nullable Map<String, String> readyOs;

  @Option(names = "--removable", negatable = true, description = "The holder may end management.")
  @Nullable Boolean removable;

  @Option(
      names = "--stays-away",
      negatable = true,
      description = "A reset device waits for a human instead of coming back by itself.")
  @Nullable Boolean staysAway;

  @Option(names = "--terms", description = "Version of the terms to be accepted; 0 for none.")
  @Nullable Integer terms;

  @Option(names = "--min-os", description = "Such as tarn=7.0.")
  @Nullable Map<String, String> minimum;

  @Option(names = "--approval", negatable = true, description = "A human approves each arrival.")
  @Nullable Boolean approval;

  @Option(
      names = "--roster-only",
      negatable = true,
      description = "Only devices on the roster are let in.")
  @Nullable Boolean rosterOnly;

  @Option(names = "--name-pattern", description = "Such as \"{unit} kiosk {seq:3}\".")
  @Nullable String pattern;

  @Option(
      names = "--fill-gaps",
      negatable = true,
      description = "Give out numbers that became free first.")
  @Nullable Boolean fillGaps;

  @Option(names = "--unit", description = "Where devices land, by code; \"\" for none.")
  @Nullable String unit;

  @Option(names = "--site", description = "Where devices land; \"\" for none.")
  @Nullable String site;

  @Option(names = "--group", description = "Devices are put in; can be repeated.")
  @Nullable List<String> groups;

  @Option(names = "--tag", description = "Devices are given; can be repeated.")
  @Nullable List<String> tags;

  /** What of a profile as shown can be written again. */
  static EnrollmentProfileDraft written(EnrollmentProfile p) {
    return new EnrollmentProfileDraft()
        .name(p.getName())
        .ownership(p.getOwnership())
        .mode(p.getMode())
        .platforms(p.getPlatforms())
        .kinds(p.getKinds())
        .signIn(p.getSignIn().getValue())
        .directoryGroup(p.getDirectoryGroup())
        .firstRun(p.getFirstRun())
        .readyGate(p.getReadyGate())
        .removable(p.getRemovable())
        .comesBack(p.getComesBack())
        .termsVersion(p.getTermsVersion())
        .minimumOs(p.getMinimumOs())
        .approval(p.getApproval())
        .rosterOnly(p.getRosterOnly())
        .namePattern(p.getNamePattern())
        .fillGaps(p.getFillGaps())
        .unitId(p.getUnitId())
        .siteId(p.getSiteId())
        .groups(p.getGroups())
        .tags(p.getTags());
  }

  /** The draft with what was given in it. */
  EnrollmentProfileDraft onto(EnrollmentProfileDraft d, Context context) {
    d.ownership(or(ownership, d.getOwnership()))
        .mode(or(mode, d.getMode()))
        .platforms(or(platforms, d.getPlatforms()))
        .kinds(or(kinds, d.getKinds()))
        .termsVersion(terms == null ? d.getTermsVersion() : terms == 0 ? null : terms)
        .minimumOs(or(minimum, d.getMinimumOs()))
        .removable(or(removable, d.getRemovable()))
        .comesBack(staysAway == null ? d.getComesBack() : Boolean.valueOf(!staysAway))
        .approval(or(approval, d.getApproval()))
        .rosterOnly(or(rosterOnly, d.getRosterOnly()))
        .namePattern(or(pattern, d.getNamePattern()))
        .fillGaps(or(fillGaps, d.getFillGaps()))
        .tags(or(tags, d.getTags()));
    if (unit != null) {
      d.unitId(unit.isEmpty() ? null : context.unit(unit).getId());
    }
    if (site != null) {
      d.siteId(site.isEmpty() ? null : context.site(site).getId());
    }
    if (groups != null) {
      d.groups(groups.stream().map(g -> context.group(g).getId()).toList());
    }
    signIn(d);
    firstUse(d);
    return d;
  }

  private void signIn(EnrollmentProfileDraft d) {
    if (noSignIn) {
      d.signIn("none").directoryGroup(null);
    } else if (passphrase != null) {
      d.signIn("passphrase").passphrase(passphrase).directoryGroup(null);
    } else if (directory != null) {
      d.signIn("directory").directoryGroup(directory.isEmpty() ? null : directory);
    }
  }

  private void firstUse(EnrollmentProfileDraft d) {
    FirstRun run = d.getFirstRun() == null ? new FirstRun() : d.getFirstRun();
    d.firstRun(
        run.skipped(or(skip, run.getSkipped()))
            .language(or(language, run.getLanguage()))
            .region(or(region, run.getRegion()))
            .wallpaper(or(wallpaper, run.getWallpaper())));
    ReadyGate gate = d.getReadyGate() == null ? new ReadyGate() : d.getReadyGate();
    d.readyGate(
        gate.profiles(or(readyProfiles, gate.getProfiles()))
            .osVersions(or(readyOs, gate.getOsVersions())));
  }

  private static <T> @Nullable T or(@Nullable T given, @Nullable T before) {
    return given == null ? before : given;
  }
}
