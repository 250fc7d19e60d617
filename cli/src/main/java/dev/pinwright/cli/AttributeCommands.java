package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;

import dev.pinwright.client.model.Attribute;
import dev.pinwright.client.model.AttributeChange;
import dev.pinwright.client.model.AttributeDraft;
import dev.pinwright.client.model.AttributeKind;
import dev.pinwright.client.model.AttributeRewrite;
import dev.pinwright.client.model.AttributeValue;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code attribute}. */
@Command(
    name = "attribute",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description =
        "Fields of your own on devices, people and units: list, add, change, show, set, delete.")
final class AttributeCommands {
  private final Context context;

  AttributeCommands(Context context) {
    this.context = context;
  }

  @Command(mixinStandardHelpOptions = true, description = "Lists attributes.")
  int list() {
    List<Attribute> all = call(() -> context.client().organisation().listAttributes());
    return context.list(
        all,
        all,
        a ->
            new Object[] {
              a.getName(),
              a.getKind(),
              a.getType(),
              String.join(", ", a.getChoices()),
              a.getUsed(),
              a.getId()
            },
        "NAME",
        "OF",
        "TYPE",
        "CHOICES",
        "USED",
        "ID");
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Makes an attribute.",
      footer = {
        "",
        "Example:",
        "  pinwright attribute add Room --of device --type choice --choice Tower --choice Hall"
      })
  int add(
      @Parameters(paramLabel = "NAME") String name,
      @Option(names = "--of", defaultValue = "device", description = "${COMPLETION-CANDIDATES}.")
          AttributeKind kind,
      @Option(names = "--type", description = "text, number, date or choice.")
          @Nullable String type,
      @Option(names = "--choice") @Nullable List<String> choices) {
    AttributeDraft draft = new AttributeDraft().name(name).kind(kind).type(type).choices(choices);
    Attribute a = call(() -> context.client().organisation().addAttribute(draft));
    return context.print(a, () -> context.line("Attribute %s made.", a.getName()));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = {
        "Gives an attribute another name, or a choice other words.",
        "The words given take the place of those there were."
      },
      footer = {
        "",
        "Example:",
        "  pinwright attribute change Room --choice Tower --choice Hall --choice Cellar"
      })
  int change(
      @Parameters(paramLabel = "NAME") String name,
      @Option(names = "--of", description = "device, person or unit, where two have the name.")
          @Nullable String kind,
      @Option(names = "--name", description = "Another name for it.") @Nullable String other,
      @Option(names = "--choice") @Nullable List<String> choices) {
    Attribute before = attribute(name, kind);
    AttributeRewrite rewrite = new AttributeRewrite().name(other).choices(choices);
    Attribute a =
        call(
            () ->
                context
                    .client()
                    .organisation()
                    .changeAttribute(
                        before.getId(), Context.onVersion(before.getVersion()), rewrite));
    return context.print(a, () -> context.line("Attribute %s changed.", a.getName()));
  }

  @Command(mixinStandardHelpOptions = true, description = "Deletes an attribute with its values.")
  int delete(
      @Parameters(paramLabel = "NAME") String name,
      @Option(names = "--of", description = "device, person or unit, where two have the name.")
          @Nullable String kind) {
    Attribute a = attribute(name, kind);
    Context.act(
        () ->
            context
                .client()
                .organisation()
                .deleteAttribute(a.getId(), Context.onVersion(a.getVersion())));
    context.line("Attribute %s deleted with %d values.", a.getName(), a.getUsed());
    return 0;
  }

  private Attribute attribute(String wanted, @Nullable String kind) {
    List<Attribute> all = call(() -> context.client().organisation().listAttributes());
    return Context.one(
        "attribute",
        wanted,
        all.stream()
            .filter(a -> kind == null || kind.equals(a.getKind().getValue()))
            .filter(a -> a.getId().equals(wanted) || a.getName().equalsIgnoreCase(wanted))
            .toList(),
        all,
        Attribute::getName);
  }

  private String id(AttributeKind kind, String wanted) {
    return switch (kind) {
      case DEVICE -> context.device(wanted).getId();
      case PERSON -> context.person(wanted).getId();
      case UNIT -> context.unit(wanted).getId();
    };
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Shows the attributes of a device, person or unit.")
  int show(
      @Parameters(paramLabel = "device|person|unit") AttributeKind kind,
      @Parameters(paramLabel = "WHICH") String which) {
    return shown(
        call(() -> context.client().organisation().getAttributeValues(kind, id(kind, which))));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Sets attributes; an empty value takes one away.",
      footer = {"", "Example:", "  pinwright attribute set device \"VM-HAR kiosk 004\" Room=Hall"})
  int set(
      @Parameters(paramLabel = "device|person|unit") AttributeKind kind,
      @Parameters(paramLabel = "WHICH") String which,
      @Parameters(paramLabel = "NAME=VALUE", arity = "1..*") Map<String, String> values) {
    AttributeChange change = new AttributeChange().values(values);
    return shown(
        call(
            () ->
                context.client().organisation().setAttributeValues(kind, id(kind, which), change)));
  }

  private int shown(List<AttributeValue> values) {
    return context.list(
        values, values, v -> new Object[] {v.getName(), v.getValue()}, "ATTRIBUTE", "VALUE");
  }
}
