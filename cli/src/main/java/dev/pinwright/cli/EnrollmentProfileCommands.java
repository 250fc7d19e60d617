package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;

import dev.pinwright.client.model.CopyName;
import dev.pinwright.client.model.EnrollmentProfile;
import dev.pinwright.client.model.EnrollmentProfileDraft;
import dev.pinwright.client.model.EnrollmentProfilePage;
import dev.pinwright.client.model.EnrollmentProfileUse;
import dev.pinwright.client.model.EnrollmentProfileVersionPage;
import dev.pinwright.client.model.FirstRun;
import dev.pinwright.client.model.NamePreviewDraft;
import dev.pinwright.client.model.NamedDevice;
import dev.pinwright.client.model.ReadyGate;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code enrollment-profile}. */
@Command(
    name = "enrollment-profile",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description = "How devices join: list, show, add, copy, versions, uses, names, delete.")
final class EnrollmentProfileCommands {
  private final Context context;

  EnrollmentProfileCommands(Context context) {
    this.context = context;
  }

  @Command(mixinStandardHelpOptions = true, description = "Lists enrollment profiles.")
  int list(@Mixin Paging paging) {
    EnrollmentProfilePage page =
        call(() -> context.client().intake().listEnrollmentProfiles(paging.after, paging.limit));
    return context.list(
        page,
        page.getItems(),
        p ->
            new Object[] {
              p.getName(),
              p.getOwnership(),
              p.getMode(),
              String.join(", ", p.getPlatforms()),
              p.getTermsVersion(),
              p.getApproval() ? "asked" : "",
              p.getDevices()
            },
        "NAME",
        "OWNERSHIP",
        "MODE",
        "PLATFORMS",
        "TERMS",
        "APPROVAL",
        "DEVICES");
  }

  @Command(mixinStandardHelpOptions = true, description = "Shows one enrollment profile.")
  int show(@Parameters(paramLabel = "NAME") String name) {
    EnrollmentProfile p = context.enrollmentProfile(name);
    return context.print(
        p,
        () ->
            new Table(p.getName(), "")
                .row("ownership, mode", p.getOwnership() + ", " + p.getMode())
                .row("platforms", String.join(", ", p.getPlatforms()))
                .row("kinds", String.join(", ", p.getKinds()))
                .row("sign-in", p.getSignIn())
                .row("terms version", p.getTermsVersion())
                .row("lowest OS", p.getMinimumOs())
                .row("approval", p.getApproval() ? "asked" : "not asked")
                .row("names", p.getNamePattern())
                .row("tags", String.join(", ", p.getTags()))
                .row("first-run screens left out", String.join(", ", p.getFirstRun().getSkipped()))
                .row("ready gate", gate(p.getReadyGate()))
                .row("holder may end management", p.getRemovable() ? "yes" : "no")
                .row("comes back after a reset", p.getComesBack() ? "by itself" : "once approved")
                .row("open invitations", p.getInvitations())
                .row("identifiers", p.getIdentifiers())
                .row("devices", p.getDevices()));
  }

  private static String gate(ReadyGate gate) {
    String os = gate.getOsVersions().isEmpty() ? "" : " OS " + gate.getOsVersions();
    return (Boolean.TRUE.equals(gate.getProfiles()) ? "profiles" : "") + os;
  }

  @Command(mixinStandardHelpOptions = true, description = "Copies one under another name.")
  int copy(
      @Parameters(paramLabel = "NAME") String name,
      @Parameters(paramLabel = "NEW-NAME") String other) {
    EnrollmentProfile p = context.enrollmentProfile(name);
    EnrollmentProfile made =
        call(
            () ->
                context
                    .client()
                    .intake()
                    .copyEnrollmentProfile(p.getId(), new CopyName().name(other)));
    return context.print(made, () -> context.line("Enrollment profile %s made.", made.getName()));
  }

  @Command(mixinStandardHelpOptions = true, description = "Who wrote it when.")
  int versions(@Parameters(paramLabel = "NAME") String name, @Mixin Paging paging) {
    EnrollmentProfile p = context.enrollmentProfile(name);
    EnrollmentProfileVersionPage page =
        call(
            () ->
                context
                    .client()
                    .intake()
                    .listEnrollmentProfileVersions(p.getId(), paging.after, paging.limit));
    return context.list(
        page,
        page.getItems(),
        v ->
            new Object[] {
              v.getNumber(),
              v.getWrittenBy(),
              Context.time(v.getWrittenAt()),
              v.getContent().getName()
            },
        "VERSION",
        "BY",
        "WRITTEN",
        "NAME");
  }

  @Command(mixinStandardHelpOptions = true, description = "Where it is used.")
  int uses(@Parameters(paramLabel = "NAME") String name) {
    EnrollmentProfile p = context.enrollmentProfile(name);
    List<EnrollmentProfileUse> uses =
        call(() -> context.client().intake().listEnrollmentProfileUses(p.getId()));
    return context.list(
        uses, uses, u -> new Object[] {u.getKind(), u.getName(), u.getId()}, "KIND", "NAME", "ID");
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Writes an enrollment profile.",
      footer = {
        "",
        "Example:",
        "  pinwright enrollment-profile add \"Lighthouse kiosks\" --mode supervised \\",
        "    --platform tarn --terms 1 --min-os tarn=7.0 --tag gallery --name-pattern \"LIG {serial}\""
      })
  int add(
      @Parameters(paramLabel = "NAME") String name,
      @Option(names = "--ownership", description = "corporate (default) or personal.")
          @Nullable String ownership,
      @Option(names = "--mode", description = "supervised, standard or work-profile.")
          @Nullable String mode,
      @Option(names = "--platform") @Nullable List<String> platforms,
      @Option(names = "--kind", description = "phone, tablet or laptop.")
          @Nullable List<String> kinds,
      @Option(names = "--passphrase", description = "Ask the holder for this passphrase.")
          @Nullable String passphrase,
      @Option(
              names = "--directory",
              arity = "0..1",
              fallbackValue = "",
              paramLabel = "GROUP",
              description = "Holders sign in with their staff account, and belong to this group.")
          @Nullable String directory,
      @Option(names = "--skip", description = "A first-run screen to leave out.")
          @Nullable List<String> skip,
      @Option(names = "--language", description = "The device starts in, such as en.")
          @Nullable String language,
      @Option(names = "--region", description = "Such as QV.") @Nullable String region,
      @Option(names = "--wallpaper") @Nullable String wallpaper,
      @Option(names = "--ready-profiles", description = "Hand over when settings are on it.")
          boolean readyProfiles,
      @Option(names = "--ready-os", description = "Hand over at this version: tarn=7.2.")
          @Nullable Map<String, String> readyOs,
      @Option(names = "--removable", description = "The holder may end management.")
          @Nullable Boolean removable,
      @Option(
              names = "--stays-away",
              description = "A reset device waits for a human instead of coming back by itself.")
          boolean staysAway,
      @Option(names = "--terms", description = "Version of the terms to be accepted.")
          @Nullable Integer terms,
      @Option(names = "--min-os", description = "Such as tarn=7.0.")
          @Nullable Map<String, String> minimum,
      @Option(names = "--approval", description = "A human approves each arrival.")
          boolean approval,
      @Option(names = "--roster-only", description = "Only devices on the roster are let in.")
          boolean rosterOnly,
      @Option(names = "--name-pattern") @Nullable String pattern,
      @Option(names = "--fill-gaps", description = "Give out numbers that became free first.")
          boolean fillGaps,
      @Option(names = "--unit", description = "Where devices land, by code.") @Nullable String unit,
      @Option(names = "--site", description = "Where devices land.") @Nullable String site,
      @Option(names = "--group") @Nullable List<String> groups,
      @Option(names = "--tag") @Nullable List<String> tags) {
    EnrollmentProfileDraft draft =
        new EnrollmentProfileDraft()
            .name(name)
            .ownership(ownership)
            .mode(mode)
            .platforms(platforms)
            .kinds(kinds)
            .signIn(directory != null ? "directory" : passphrase == null ? "none" : "passphrase")
            .directoryGroup(directory)
            .firstRun(
                new FirstRun().skipped(skip).language(language).region(region).wallpaper(wallpaper))
            .readyGate(new ReadyGate().profiles(readyProfiles).osVersions(readyOs))
            .removable(removable)
            .comesBack(!staysAway)
            .passphrase(passphrase)
            .termsVersion(terms)
            .minimumOs(minimum)
            .approval(approval)
            .rosterOnly(rosterOnly)
            .namePattern(pattern)
            .fillGaps(fillGaps)
            .unitId(unit == null ? null : context.unit(unit).getId())
            .siteId(site == null ? null : context.site(site).getId())
            .groups(
                groups == null ? null : groups.stream().map(g -> context.group(g).getId()).toList())
            .tags(tags);
    EnrollmentProfile p = call(() -> context.client().intake().addEnrollmentProfile(draft));
    return context.print(p, () -> context.line("Enrollment profile %s made.", p.getName()));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Shows what a name pattern makes of devices that are there.",
      footer = {"", "Example:", "  pinwright enrollment-profile names \"{unit} kiosk {seq:3}\""})
  int names(@Parameters(paramLabel = "PATTERN") String pattern) {
    List<NamedDevice> named =
        call(
            () ->
                context
                    .client()
                    .intake()
                    .previewNames(new NamePreviewDraft().namePattern(pattern)));
    return context.list(
        named, named, n -> new Object[] {n.getDevice(), n.getName()}, "DEVICE", "NAME");
  }

  @Command(mixinStandardHelpOptions = true, description = "Deletes one nothing depends on.")
  int delete(@Parameters(paramLabel = "NAME") String name) {
    EnrollmentProfile p = context.enrollmentProfile(name);
    Context.act(() -> context.client().intake().deleteEnrollmentProfile(p.getId()));
    context.line("Enrollment profile %s deleted.", p.getName());
    return 0;
  }
}
