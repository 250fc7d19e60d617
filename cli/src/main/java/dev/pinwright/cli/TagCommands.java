package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;

import dev.pinwright.client.model.TagName;
import java.util.List;
import java.util.Map;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;

/** {@code tag}. A device's own tags are given with {@code device tag}. */
@Command(
    name = "tag",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description = "Free labels on devices: list, rename, remove.",
    footer = {
      "",
      "One device's tags are set with 'pinwright device tag', those of many with a sheet:",
      "'pinwright device export' and 'pinwright device import'."
    })
final class TagCommands {
  private final Context context;

  TagCommands(Context context) {
    this.context = context;
  }

  @Command(mixinStandardHelpOptions = true, description = "Lists tags with their devices' number.")
  int list() {
    Map<String, Long> counts = call(() -> context.client().devices().listTags());
    return context.list(
        counts,
        List.copyOf(counts.entrySet()),
        t -> new Object[] {t.getKey(), t.getValue()},
        "TAG",
        "DEVICES");
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = {
        "Gives a tag another name wherever it stands: on devices, in enrollment profiles,",
        "on the roster and where profiles are assigned by it."
      },
      footer = {"", "Example:", "  pinwright tag rename gallery galleries"})
  int rename(
      @Parameters(paramLabel = "TAG") String tag, @Parameters(paramLabel = "NAME") String name) {
    Context.act(() -> context.client().devices().renameTag(tag, new TagName().name(name)));
    context.line("Tag %s is now %s.", tag, name);
    return 0;
  }

  @Command(mixinStandardHelpOptions = true, description = "Takes a tag away wherever it stands.")
  int remove(@Parameters(paramLabel = "TAG") String tag) {
    Context.act(() -> context.client().devices().removeTag(tag));
    context.line("Tag %s taken away.", tag);
    return 0;
  }
}
