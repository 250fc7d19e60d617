package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;
import static dev.pinwright.cli.Context.time;

import dev.pinwright.client.model.Baseline;
import dev.pinwright.client.model.Profile;
import dev.pinwright.client.model.ProfileDraft;
import dev.pinwright.client.model.ProfileKind;
import dev.pinwright.client.model.ProfilePage;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code profile}. */
@Command(
    name = "profile",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description =
        "Named sets of settings: list, show, add, set, unset, assign, rehearse, publish, standing, "
            + "versions, compare, restore, copy, export, import, delete.")
final class ProfileCommands extends ProfileVerbs {
  ProfileCommands(Context context) {
    super(context, ProfileKind.PROFILE);
  }

  @Command(mixinStandardHelpOptions = true, description = "Lists profiles.")
  int list(@Mixin Paging paging) {
    ProfilePage page =
        call(
            () ->
                context
                    .client()
                    .rules()
                    .listProfiles(ProfileKind.PROFILE, "", paging.after, paging.limit));
    return context.list(
        page,
        page.getItems(),
        p ->
            new Object[] {
              p.getName(), state(p), p.getSettings(), p.getDevices(), time(p.getChangedAt())
            },
        "NAME",
        "STATE",
        "SETTINGS",
        "DEVICES",
        "CHANGED");
  }

  @Command(mixinStandardHelpOptions = true, description = "Writes a new, empty profile.")
  int add(
      @Parameters(paramLabel = "NAME") String name,
      @Option(names = "--description", defaultValue = "") String description) {
    Profile p =
        call(
            () ->
                context
                    .client()
                    .rules()
                    .addProfile(new ProfileDraft().name(name).description(description)));
    return context.print(p, () -> context.line("%s made, as a draft.", called(p)));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = {
        "Writes the sane baseline as a draft for everyone: passcode, encryption, approved sources.",
        "Shows and explains it first; rehearse and publish it like any profile."
      })
  int baseline(@Option(names = "--write", description = "Write it.") boolean write) {
    Baseline b = call(() -> context.client().rules().getBaseline());
    if (!write) {
      return context.list(
          b,
          b.getSettings(),
          p -> new Object[] {p.getTitle(), p.getValue(), p.getHelp()},
          "SETTING",
          "VALUE",
          "WHAT IT DOES");
    }
    Profile p = call(() -> context.client().rules().writeBaseline());
    return context.print(
        p,
        () ->
            context.line(
                "%s is drafted for everyone. Next: pinwright profile rehearse %s",
                p.getName(), p.getName()));
  }
}
