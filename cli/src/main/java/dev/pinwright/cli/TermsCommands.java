package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;
import static dev.pinwright.cli.Context.time;

import dev.pinwright.client.model.NewTerms;
import dev.pinwright.client.model.Terms;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;

/** {@code terms}. */
@Command(
    name = "terms",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description = "What holders accept before joining: list, add.")
final class TermsCommands {
  private final Context context;

  TermsCommands(Context context) {
    this.context = context;
  }

  @Command(mixinStandardHelpOptions = true, description = "Lists versions of the terms.")
  int list() {
    List<Terms> all = call(() -> context.client().intake().listTerms());
    return context.list(
        all,
        all,
        x -> new Object[] {x.getVersion(), x.getTitle(), time(x.getCreatedAt())},
        "VERSION",
        "TITLE",
        "WRITTEN");
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Writes a new version, its text from a file.",
      footer = {
        "",
        "Example:",
        "  pinwright terms add \"Using a Vellmar Museums device\" terms.txt"
      })
  int add(
      @Parameters(paramLabel = "TITLE") String title, @Parameters(paramLabel = "FILE") Path file)
      throws IOException {
    if (!Files.isReadable(file)) {
      throw new Failure(Failure.USAGE, "There is no file " + file + " to read the terms from.");
    }
    String text = Files.readString(file);
    Terms t =
        call(() -> context.client().intake().addTerms(new NewTerms().title(title).text(text)));
    return context.print(t, () -> context.line("Version %d of the terms written.", t.getVersion()));
  }
}
