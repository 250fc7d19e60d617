package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;
import static dev.pinwright.cli.Context.time;

import dev.pinwright.client.model.Baseline;
import dev.pinwright.client.model.Profile;
import dev.pinwright.client.model.ProfileDraft;
import dev.pinwright.client.model.ProfileKind;
import dev.pinwright.client.model.ProfileWaves;
import dev.pinwright.client.model.WaveAct;
import dev.pinwright.client.model.Waves;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code profile}. */
@Command(
    name = "profile",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description =
        "Named sets of settings: list, show, add, set, unset, assign, rehearse, publish, waves, standing, "
            + "versions, compare, restore, copy, export, import, delete.")
final class ProfileCommands extends ProfileVerbs {
  ProfileCommands(Context context) {
    super(context, ProfileKind.PROFILE);
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

  @Command(
      mixinStandardHelpOptions = true,
      description = "Says how far the latest publication has spread, or does something about it.",
      footer = {"", "Example:", "  pinwright profile waves \"Gallery tablets\" --next"})
  int waves(
      @Parameters(paramLabel = "NAME") String name,
      @Option(names = "--next", description = "Begin the next wave now.") boolean next,
      @Option(names = "--stop", description = "Stop it where it is.") boolean stop,
      @Option(names = "--go-on", description = "Go on after it stopped.") boolean goOn) {
    String id = get(name).getId();
    ProfileWaves now = call(() -> context.client().rules().getProfileWaves(id));
    Waves spreading = now.getSpreading();
    if ((next ? 1 : 0) + (stop ? 1 : 0) + (goOn ? 1 : 0) > 1) {
      throw new Failure(Failure.USAGE, "Say one of --next, --stop and --go-on.");
    }
    if (spreading != null && (next || stop || goOn)) {
      WaveAct act =
          new WaveAct()
              .at(spreading.getAt())
              .verb(
                  next
                      ? WaveAct.VerbEnum.NEXT
                      : stop ? WaveAct.VerbEnum.STOP : WaveAct.VerbEnum.GO_ON);
      now = call(() -> context.client().rules().actOnProfileWaves(id, act));
      spreading = now.getSpreading();
    }
    Waves w = spreading;
    return context.print(
        now,
        () -> {
          if (w == null) {
            context.line("Its latest version went to everybody it goes to.");
            return;
          }
          context.line(
              "Version %d %s: wave %d of %d; %d of %d devices reached, %d have it, %d wait, %d"
                  + " failed.",
              w.getVersion(),
              w.getStopped() ? "stopped (" + w.getReason() + ")" : "spreads",
              w.getAt() + 1,
              w.getWaves().size(),
              w.getReached(),
              w.getDevices(),
              w.getDone(),
              w.getWaiting(),
              w.getFailed());
          w.getWaves()
              .forEach(
                  step -> context.line("  %s %s", step.getBegun() ? "*" : "-", step.getWords()));
          if (!w.getStopped()) {
            context.line("The next wave begins after %s, unless too many fail.", time(w.getNext()));
          }
        });
  }
}
