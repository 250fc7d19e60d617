package dev.pinwright.cli;

import dev.pinwright.client.model.ProfileKind;
import picocli.CommandLine.Command;

/** {@code assignment}. */
@Command(
    name = "assignment",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description =
        "What assigns apps: list, show, set, unset, assign, rehearse, publish, standing, versions,"
            + " compare, restore, copy, delete. New ones are made with: pinwright app assign",
    footer = {
      "",
      "Example:",
      "  pinwright assignment set \"Rota, required\" apps[rota].wifi-only=true",
      "  pinwright assignment assign \"Rota, required\" --unit VM --except-tag spare",
      "  pinwright assignment publish \"Rota, required\" --wait"
    })
final class AssignmentCommands extends ProfileVerbs {
  AssignmentCommands(Context context) {
    super(context, ProfileKind.APP);
  }
}
