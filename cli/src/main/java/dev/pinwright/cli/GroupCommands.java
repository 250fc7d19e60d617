package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;

import dev.pinwright.client.model.Group;
import dev.pinwright.client.model.GroupMembers;
import dev.pinwright.client.model.GroupPage;
import dev.pinwright.client.model.NewGroup;
import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Parameters;

/** {@code group}. */
@Command(
    name = "group",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description = "Groups picked by hand: list, add, put, take, delete.")
final class GroupCommands {
  private final Context context;

  GroupCommands(Context context) {
    this.context = context;
  }

  @Command(mixinStandardHelpOptions = true, description = "Lists groups.")
  int list(@Mixin Paging paging) {
    GroupPage page =
        call(() -> context.client().devices().listGroups("", paging.after, paging.limit));
    return context.list(
        page,
        page.getItems(),
        g -> new Object[] {g.getName(), g.getDevices(), g.getId()},
        "NAME",
        "DEVICES",
        "ID");
  }

  @Command(mixinStandardHelpOptions = true, description = "Makes a group.")
  int add(@Parameters(paramLabel = "NAME") String name) {
    Group g = call(() -> context.client().devices().addGroup(new NewGroup().name(name)));
    return context.print(g, () -> context.line("Group %s made.", g.getName()));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Puts devices into a group.",
      footer = {"", "Example:", "  pinwright group put Glasshouse AR8-0015-1177 AR8-0016-2034"})
  int put(
      @Parameters(paramLabel = "GROUP") String group,
      @Parameters(paramLabel = "DEVICE", arity = "1..*") List<String> devices) {
    return change(group, new GroupMembers().add(ids(devices)));
  }

  @Command(mixinStandardHelpOptions = true, description = "Takes devices out of a group.")
  int take(
      @Parameters(paramLabel = "GROUP") String group,
      @Parameters(paramLabel = "DEVICE", arity = "1..*") List<String> devices) {
    return change(group, new GroupMembers().remove(ids(devices)));
  }

  private List<String> ids(List<String> devices) {
    return devices.stream().map(d -> context.device(d).getId()).toList();
  }

  private int change(String group, GroupMembers members) {
    String id = context.group(group).getId();
    Group g = call(() -> context.client().devices().changeGroupMembers(id, members));
    return context.print(g, () -> context.line("%s has %d devices.", g.getName(), g.getDevices()));
  }

  @Command(mixinStandardHelpOptions = true, description = "Deletes a group nothing is assigned to.")
  int delete(@Parameters(paramLabel = "GROUP") String group) {
    Group g = context.group(group);
    Context.act(() -> context.client().devices().deleteGroup(g.getId()));
    context.line("Group %s deleted.", g.getName());
    return 0;
  }
}
