package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;

import dev.pinwright.client.model.CopyName;
import dev.pinwright.client.model.EnrollmentProfile;
import dev.pinwright.client.model.EnrollmentProfileDraft;
import dev.pinwright.client.model.EnrollmentProfilePage;
import dev.pinwright.client.model.EnrollmentProfileUse;
import dev.pinwright.client.model.EnrollmentProfileVersion;
import dev.pinwright.client.model.EnrollmentProfileVersionPage;
import dev.pinwright.client.model.HolderScreen;
import dev.pinwright.client.model.NamePreviewDraft;
import dev.pinwright.client.model.NamedDevice;
import dev.pinwright.client.model.PlatformKey;
import dev.pinwright.client.model.ReadyGate;
import java.util.List;
import java.util.stream.Collectors;
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
    description = {
      "How devices join: list, show, add, change, copy, preview, versions, restore, uses,",
      "names, delete."
    })
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
              Context.joined(p.getPlatforms()),
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
                .row("platforms", Context.joined(p.getPlatforms()))
                .row("kinds", Context.joined(p.getKinds()))
                .row("sign-in", p.getSignIn())
                .row("terms version", p.getTermsVersion())
                .row(
                    "lowest OS",
                    p.getMinimumOs().entrySet().stream()
                        .map(e -> e.getKey() + " " + e.getValue())
                        .collect(Collectors.joining(", ")))
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

  @Command(
      mixinStandardHelpOptions = true,
      description = "What a holder goes through, screen by screen.",
      footer = {"", "Example:", "  pinwright enrollment-profile preview \"Staff phones\""})
  int preview(
      @Parameters(paramLabel = "NAME") String name,
      @Option(
              names = "--platform",
              description = "Of the device in hand; its first one if left out.")
          @Nullable PlatformKey platform) {
    EnrollmentProfile p = context.enrollmentProfile(name);
    PlatformKey on = platform == null ? p.getPlatforms().get(0) : platform;
    List<HolderScreen> screens =
        call(() -> context.client().intake().previewHolderPath(on, EnrollmentOptions.written(p)));
    return context.list(
        screens,
        screens,
        s -> new Object[] {s.getKind(), s.getTitle(), s.getText(), String.join(", ", s.getLines())},
        "STEP",
        "TITLE",
        "TEXT",
        "");
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "What it said each time it was written, newest first.")
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
              Context.time(v.getWrittenAt()),
              v.getWrittenBy(),
              v.getContent().getName(),
              v.getContent().getNamePattern(),
              String.join(", ", v.getContent().getTags())
            },
        "VERSION",
        "WRITTEN",
        "BY",
        "NAME",
        "NAMES DEVICES",
        "TAGS");
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Writes an earlier version again; it counts for devices that join from now on.",
      footer = {"", "Example:", "  pinwright enrollment-profile restore \"Lighthouse kiosks\" 3"})
  int restore(
      @Parameters(paramLabel = "NAME") String name,
      @Parameters(paramLabel = "VERSION") int version) {
    EnrollmentProfile now = context.enrollmentProfile(name);
    EnrollmentProfile then = version(now, version);
    EnrollmentProfile p =
        call(
            () ->
                context
                    .client()
                    .intake()
                    .changeEnrollmentProfile(
                        now.getId(),
                        Context.onVersion(now.getVersion()),
                        EnrollmentOptions.written(then)));
    return context.print(
        p, () -> context.line("%s says again what version %d said.", p.getName(), version));
  }

  private EnrollmentProfile version(EnrollmentProfile p, int number) {
    String after = "";
    do {
      String from = after;
      EnrollmentProfileVersionPage page =
          call(() -> context.client().intake().listEnrollmentProfileVersions(p.getId(), from, 200));
      for (EnrollmentProfileVersion v : page.getItems()) {
        if (v.getNumber() == number) {
          return v.getContent();
        }
      }
      after = page.getNext();
    } while (after != null);
    throw new Failure(
        Failure.REFUSED,
        p.getName()
            + " has no version "
            + number
            + "; see 'pinwright enrollment-profile versions'.");
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
  int add(@Parameters(paramLabel = "NAME") String name, @Mixin EnrollmentOptions options) {
    EnrollmentProfileDraft draft =
        options.onto(new EnrollmentProfileDraft().name(name).signIn("none"), context);
    EnrollmentProfile p = call(() -> context.client().intake().addEnrollmentProfile(draft));
    return context.print(p, () -> context.line("Enrollment profile %s made.", p.getName()));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = {
        "Changes what is said and leaves the rest. It counts for devices that join from now on.",
        "A list that is given takes the place of the one there was."
      },
      footer = {
        "",
        "Example:",
        "  pinwright enrollment-profile change \"Lighthouse kiosks\" --min-os tarn=7.2 --no-approval"
      })
  int change(
      @Parameters(paramLabel = "NAME") String name,
      @Option(names = "--name", description = "Another name for it.") @Nullable String other,
      @Mixin EnrollmentOptions options) {
    EnrollmentProfile before = context.enrollmentProfile(name);
    EnrollmentProfileDraft draft = options.onto(EnrollmentOptions.written(before), context);
    if (other != null) {
      draft.name(other);
    }
    EnrollmentProfile p =
        call(
            () ->
                context
                    .client()
                    .intake()
                    .changeEnrollmentProfile(
                        before.getId(), Context.onVersion(before.getVersion()), draft));
    return context.print(p, () -> context.line("Enrollment profile %s changed.", p.getName()));
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
    Context.act(
        () ->
            context
                .client()
                .intake()
                .deleteEnrollmentProfile(p.getId(), Context.onVersion(p.getVersion())));
    context.line("Enrollment profile %s deleted.", p.getName());
    return 0;
  }
}
