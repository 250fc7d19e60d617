package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;

import dev.pinwright.client.model.Setting;
import java.util.List;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;

/** {@code setting}. */
@Command(
    name = "setting",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description = "What devices can be told: find.")
final class SettingCommands {
  private final Context context;

  SettingCommands(Context context) {
    this.context = context;
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Finds settings by words.",
      footer = {"", "Example:", "  pinwright setting find photo"})
  int find(@Parameters(paramLabel = "WORD", arity = "0..*") List<String> words) {
    String q = words == null ? "" : String.join(" ", words);
    List<Setting> found = call(() -> context.client().catalogue().searchSettings(q));
    return context.list(
        found,
        found,
        s ->
            new Object[] {
              s.getKey(),
              s.getTitle(),
              takes(s),
              s.getSupport().stream()
                  .map(
                      x ->
                          x.getPlatform()
                              + " from "
                              + x.getSince()
                              + (x.getModes().size() == 1
                                  ? " (" + x.getModes().get(0) + " only)"
                                  : ""))
                  .collect(Collectors.joining(", "))
            },
        "SETTING",
        "TITLE",
        "TAKES",
        "WORKS ON");
  }

  private static String takes(Setting s) {
    return switch (s.getType().getKind()) {
      case FLAG -> "true, false";
      case WHOLE ->
          s.getType().getMin() + " to " + s.getType().getMax() + " " + s.getType().getUnit();
      case CHOICE ->
          s.getType().getChoices().stream().map(c -> c.getKey()).collect(Collectors.joining(", "));
      case ITEMS -> "a list, a;b;c";
      default -> "text";
    };
  }
}
