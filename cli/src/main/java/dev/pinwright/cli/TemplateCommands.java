package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;

import dev.pinwright.client.model.CommandKey;
import dev.pinwright.client.model.MessageTemplate;
import dev.pinwright.client.model.MessageTemplateDraft;
import dev.pinwright.client.model.MessageTemplatePage;
import java.util.Map;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Parameters;

/** {@code template}. */
@Command(
    name = "template",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description = "Words that are used again, in all their languages: list, keep, delete.",
    footer = {
      "",
      "Examples:",
      "  pinwright template keep \"Closes early\" message text=\"We close at four.\" text@fr=\"…\"",
      "  pinwright message --unit VM-HAR --template \"Closes early\""
    })
final class TemplateCommands {
  private static final int ALL = 200;

  private final Context context;

  TemplateCommands(Context context) {
    this.context = context;
  }

  @Command(mixinStandardHelpOptions = true, description = "Lists words that were kept.")
  int list(@Mixin Paging paging) {
    MessageTemplatePage page =
        call(() -> context.client().acting().listMessageTemplates(paging.after, paging.limit));
    return context.list(
        page,
        page.getItems(),
        t ->
            new Object[] {
              t.getName(),
              t.getTitle(),
              t.getFields().entrySet().stream()
                  .map(f -> f.getKey() + "=" + f.getValue())
                  .collect(Collectors.joining("; ")),
              t.getMadeBy()
            },
        "NAME",
        "COMMAND",
        "WORDS",
        "BY");
  }

  @Command(mixinStandardHelpOptions = true, description = "Keeps words under a name.")
  int keep(
      @Parameters(paramLabel = "NAME") String name,
      @Parameters(paramLabel = "COMMAND") String command,
      @Parameters(arity = "1..*", paramLabel = "FIELD=TEXT") Map<String, String> words) {
    MessageTemplate made =
        call(
            () ->
                context
                    .client()
                    .acting()
                    .addMessageTemplate(
                        new MessageTemplateDraft()
                            .name(name)
                            .command(
                                Context.word(CommandKey.values(), CommandKey::fromValue, command))
                            .fields(words)));
    return context.print(
        made, () -> context.line("%s is kept for %s.", made.getName(), made.getTitle()));
  }

  @Command(mixinStandardHelpOptions = true, description = "Forgets words that were kept.")
  int delete(@Parameters(paramLabel = "NAME") String name) {
    MessageTemplate t = named(context, name);
    Context.act(
        () ->
            context
                .client()
                .acting()
                .deleteMessageTemplate(t.getId(), Context.onVersion(t.getVersion())));
    context.line("%s is forgotten.", t.getName());
    return 0;
  }

  /** The words of a name. */
  static MessageTemplate named(Context context, String name) {
    return call(() -> context.client().acting().listMessageTemplates(null, ALL)).getItems().stream()
        .filter(t -> t.getName().equalsIgnoreCase(name.strip()))
        .findFirst()
        .orElseThrow(
            () ->
                new Failure(
                    Failure.REFUSED,
                    "No words were kept as '" + name + "'. See: pinwright template list"));
  }
}
