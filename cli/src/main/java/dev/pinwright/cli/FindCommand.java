package dev.pinwright.cli;

import dev.pinwright.client.model.Found;
import java.util.List;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;

/** {@code find}. */
@Command(
    name = "find",
    mixinStandardHelpOptions = true,
    description = "Finds devices, people, units, rules and more by any part of a name or number.",
    footer = {"", "Example:", "  pinwright find 0042-7731"})
final class FindCommand implements Callable<Integer> {
  private final Context context;

  @Parameters(paramLabel = "WORDS", arity = "1..*")
  List<String> words = List.of();

  FindCommand(Context context) {
    this.context = context;
  }

  @Override
  public Integer call() {
    List<Found> found =
        Context.call(
            () -> context.client().catalogue().search(String.join(" ", words), null, null));
    return context.list(
        found,
        found,
        f -> new Object[] {f.getKind(), f.getName(), f.getDetail(), f.getId()},
        "KIND",
        "NAME",
        "",
        "ID");
  }
}
