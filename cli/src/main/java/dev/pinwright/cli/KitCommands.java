package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;

import dev.pinwright.client.model.KitPartSpec;
import dev.pinwright.client.model.Profile;
import dev.pinwright.client.model.ProfileDraft;
import dev.pinwright.client.model.ProfileKind;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code kit}. */
@Command(
    name = "kit",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description =
        "Profiles and files handed out together: list, show, add, take, leave, set, unset, assign, "
            + "rehearse, publish, standing, versions, compare, restore, copy, export, delete.",
    footer = {
      "",
      "Example:",
      "  pinwright kit add \"Gallery kit\"",
      "  pinwright kit take \"Gallery kit\" \"Gallery tablets\" \"Guest Wi-Fi\" --when-in-order",
      "  pinwright kit set \"Gallery kit\" documents[rules].title=\"House rules\""
          + " documents[rules].file=house-rules.pdf",
      "  pinwright kit assign \"Gallery kit\" --tag gallery",
      "  pinwright kit publish \"Gallery kit\""
    })
final class KitCommands extends ProfileVerbs {
  KitCommands(Context context) {
    super(context, ProfileKind.KIT);
  }

  @Command(mixinStandardHelpOptions = true, description = "Makes a new, empty kit.")
  int add(
      @Parameters(paramLabel = "NAME") String name,
      @Option(names = "--description", defaultValue = "") String description) {
    ProfileDraft draft = new ProfileDraft().kind(ProfileKind.KIT).name(name);
    Profile p = call(() -> context.client().rules().addProfile(draft.description(description)));
    return context.print(p, () -> context.line("%s made, as a draft.", called(p)));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Lets profiles and assignments of apps go along with the kit, in its draft.")
  int take(
      @Parameters(paramLabel = "NAME") String name,
      @Parameters(paramLabel = "PROFILE", arity = "1..*") List<String> profiles,
      @Option(
              names = "--when-in-order",
              description = "Devices that are out of order go without them until they are not.")
          boolean whenInOrder) {
    Profile kit = get(name);
    Set<String> ids = ids(profiles);
    List<KitPartSpec> parts = others(kit, ids);
    ids.forEach(id -> parts.add(new KitPartSpec().profile(id).whenInOrder(whenInOrder)));
    return save(kit, new ProfileDraft().parts(parts));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Takes profiles out of the kit, in its draft.")
  int leave(
      @Parameters(paramLabel = "NAME") String name,
      @Parameters(paramLabel = "PROFILE", arity = "1..*") List<String> profiles) {
    Profile kit = get(name);
    return save(kit, new ProfileDraft().parts(others(kit, ids(profiles))));
  }

  private Set<String> ids(List<String> profiles) {
    return profiles.stream()
        .map(p -> context.part(p).getId())
        .collect(Collectors.toCollection(java.util.LinkedHashSet::new));
  }

  private static List<KitPartSpec> others(Profile kit, Set<String> ids) {
    return kit.getParts().stream()
        .filter(p -> !ids.contains(p.getProfile()))
        .map(p -> new KitPartSpec().profile(p.getProfile()).whenInOrder(p.getWhenInOrder()))
        .collect(Collectors.toCollection(ArrayList::new));
  }
}
