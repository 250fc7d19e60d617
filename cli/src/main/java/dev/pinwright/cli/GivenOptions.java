package dev.pinwright.cli;

import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Option;

/** What is asked before something is done to devices. */
final class GivenOptions {
  @Option(names = "--dry-run", description = "Only say what it would do.")
  boolean dryRun;

  @Option(names = "--confirm", description = "The number of devices, where it is asked for.")
  @Nullable Long confirm;

  @Option(names = "--reason", description = "Why, where it is asked for.")
  @Nullable String reason;

  @Option(
      names = "--propose",
      paramLabel = "NOTE",
      description = "Only propose it, with a word to whoever agrees.")
  @Nullable String note;

  /** Says what is asked for. */
  void tell(Context context, @Nullable Boolean second, @Nullable Long number, Boolean why) {
    if (Boolean.TRUE.equals(second)) {
      context.line("Somebody else has to agree: add --propose with a word to them.");
    } else if (number != null) {
      context.line("To do it, add --confirm %d.", number);
    }
    if (Boolean.TRUE.equals(why) && reason == null) {
      context.line("A reason is asked for: add --reason.");
    }
  }
}
