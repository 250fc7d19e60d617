package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;
import static dev.pinwright.cli.Context.counted;

import dev.pinwright.client.model.Group;
import dev.pinwright.client.model.GroupDraft;
import dev.pinwright.client.model.GroupMembers;
import dev.pinwright.client.model.GroupPage;
import dev.pinwright.client.model.GroupRehearsal;
import dev.pinwright.client.model.InnerGroup;
import dev.pinwright.client.model.Rehearsal;
import dev.pinwright.client.model.RuleFault;
import dev.pinwright.client.model.RuleReading;
import dev.pinwright.client.model.TypedRule;
import java.util.List;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.ArgGroup;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code group}. */
@Command(
    name = "group",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description = {
      "Groups: list, show, add, change, put, take, delete; and find, which tries a rule.",
      "A group is picked by hand or made by a rule, and may have groups inside."
    })
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
        g -> new Object[] {g.getName(), g.getDevices(), how(g), g.getId()},
        "NAME",
        "DEVICES",
        "DEVICES ARE IN IT BY",
        "ID");
  }

  private static String how(Group g) {
    String rule = g.getRule();
    String how = rule == null ? "hand" : rule.replaceAll("\\s+", " ");
    return g.getInside().isEmpty() ? how : how + "; inside: " + names(g);
  }

  private static String names(Group g) {
    return g.getInside().stream().map(InnerGroup::getName).collect(Collectors.joining(", "));
  }

  @Command(mixinStandardHelpOptions = true, description = "Shows a group.")
  int show(@Parameters(paramLabel = "GROUP") String group) {
    Group g = context.group(group);
    return context.print(
        g,
        () -> {
          context.line("%s: %s", g.getName(), counted(g.getDevices(), "device"));
          context.line("%s", g.getRule() == null ? "picked by hand" : "by the rule:");
          if (g.getRule() != null) {
            context.line("  %s", g.getRule());
          }
          if (!g.getInside().isEmpty()) {
            context.line("inside: %s", names(g));
          }
        });
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Makes a group: picked by hand, or by a rule.",
      footer = {
        "",
        "Example:",
        "  pinwright group add \"Old tablets\" --rule \"platform is tarn and os < 7.1\""
      })
  int add(
      @Parameters(paramLabel = "NAME") String name,
      @Option(names = "--rule", description = "Which devices are in it by themselves.")
          @Nullable String rule,
      @Option(names = "--inside", paramLabel = "GROUP", description = "Can be repeated.")
          @Nullable List<String> inside) {
    GroupDraft draft = new GroupDraft().name(name).rule(rule).inside(inside(inside));
    Group g = call(() -> context.client().devices().addGroup(draft));
    return context.print(
        g,
        () ->
            context.line("Group %s made with %s.", g.getName(), counted(g.getDevices(), "device")));
  }

  private @Nullable List<String> inside(@Nullable List<String> groups) {
    return groups == null ? null : groups.stream().map(g -> context.group(g).getId()).toList();
  }

  /** Where a group's devices come from. */
  private static final class From {
    @Option(names = "--rule", description = "Which devices are in it by themselves.")
    @Nullable String rule;

    @Option(names = "--picked", description = "Its devices are picked by hand from now on.")
    boolean picked;
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Changes a group; what is not said stays.",
      footer = {
        "",
        "Example:",
        "  pinwright group change \"Old tablets\" --rule \"os < 7.2\" --dry-run"
      })
  int change(
      @Parameters(paramLabel = "GROUP") String group,
      @Option(names = "--name") @Nullable String name,
      @ArgGroup(exclusive = true) @Nullable From from,
      @Option(names = "--inside", paramLabel = "GROUP", description = "Can be repeated.")
          @Nullable List<String> inside,
      @Option(names = "--nothing-inside", description = "No groups are inside any more.")
          boolean nothingInside,
      @Option(names = "--dry-run", description = "Says what would change and changes nothing.")
          boolean dryRun,
      @Option(names = "--confirm", paramLabel = "N", description = "How many devices change.")
          @Nullable Long confirm) {
    Group g = context.group(group);
    GroupDraft draft =
        new GroupDraft()
            .name(name == null ? g.getName() : name)
            .rule(from == null ? g.getRule() : from.rule)
            .inside(
                nothingInside
                    ? List.of()
                    : inside == null
                        ? g.getInside().stream().map(InnerGroup::getId).toList()
                        : inside(inside))
            .confirmDevices(confirm);
    if (dryRun) {
      GroupRehearsal r = call(() -> context.client().devices().rehearseGroup(g.getId(), draft));
      return context.print(r, () -> tell(draft, r));
    }
    Group now =
        call(
            () ->
                context
                    .client()
                    .devices()
                    .changeGroup(g.getId(), Context.onVersion(g.getVersion()), draft));
    return context.print(
        now, () -> context.line("%s has %s.", now.getName(), counted(now.getDevices(), "device")));
  }

  private void tell(GroupDraft draft, GroupRehearsal r) {
    context.line("%s would have %s.", draft.getName(), counted(r.getDevices(), "device"));
    tell("come in", r.getEntering(), r.getEntered());
    tell("go out", r.getLeaving(), r.getLeft());
    if (r.getSettings() == null) {
      context.line("No settings change.");
    } else {
      context.line("Settings change on %s.", counted(r.getSettings().getChanging(), "device"));
    }
    context.line(
        "Nothing is changed yet%s.",
        r.getConfirmDevices() == null ? "" : "; it takes --confirm " + r.getConfirmDevices());
  }

  private void tell(String what, long devices, List<String> some) {
    if (devices > 0) {
      context.line(
          "%d %s: %s%s",
          devices, what, String.join(", ", some), devices > some.size() ? " and others" : "");
    }
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Tries a rule: how many devices it finds, or where it stops being one.",
      footer = {"", "Example:", "  pinwright group find \"unit in VM-GLA and not tag has spare\""})
  int find(@Parameters(paramLabel = "RULE") String rule) {
    RuleReading r = call(() -> context.client().devices().readRule(new TypedRule().rule(rule)));
    RuleFault fault = r.getFault();
    if (fault != null) {
      throw new Failure(
          Failure.USAGE,
          rule.replaceAll("\\s", " ")
              + "\n"
              + " ".repeat(fault.getColumn() - 1)
              + "^\n"
              + fault.getMessage());
    }
    return context.print(
        r,
        () -> {
          List<String> some = r.getExamples();
          context.line(
              "%s%s%s",
              counted(r.getDevices(), "device"),
              some.isEmpty() ? "" : ": " + String.join(", ", some),
              r.getDevices() > some.size() ? " and others" : "");
        });
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Puts devices into a group.",
      footer = {"", "Example:", "  pinwright group put Glasshouse AR8-0015-1177 AR8-0016-2034"})
  int put(
      @Parameters(paramLabel = "GROUP") String group,
      @Parameters(paramLabel = "DEVICE", arity = "1..*") List<String> devices,
      @Mixin Given given) {
    return members(group, new GroupMembers().add(ids(devices)), given);
  }

  @Command(mixinStandardHelpOptions = true, description = "Takes devices out of a group.")
  int take(
      @Parameters(paramLabel = "GROUP") String group,
      @Parameters(paramLabel = "DEVICE", arity = "1..*") List<String> devices,
      @Mixin Given given) {
    return members(group, new GroupMembers().remove(ids(devices)), given);
  }

  private List<String> ids(List<String> devices) {
    return devices.stream().map(d -> context.device(d).getId()).toList();
  }

  /** What is given before devices get other settings. */
  static final class Given {
    @Option(names = "--dry-run", description = "Only say what it would do.")
    boolean dryRun;

    @Option(names = "--confirm", description = "The number of devices, where it is asked for.")
    @Nullable Long confirm;

    @Option(names = "--reason", description = "Why, where it is asked for.")
    @Nullable String reason;
  }

  private int members(String group, GroupMembers members, Given given) {
    String id = context.group(group).getId();
    if (given.dryRun) {
      Rehearsal r = call(() -> context.client().devices().rehearseGroupMembers(id, members));
      return context.print(r, () -> Rehearsals.effects(context, r, false));
    }
    members.confirmDevices(given.confirm).reason(given.reason);
    Group g = call(() -> context.client().devices().changeGroupMembers(id, members));
    return context.print(
        g,
        () -> context.line("%s has %s.", g.getName(), Context.counted(g.getDevices(), "device")));
  }

  @Command(mixinStandardHelpOptions = true, description = "Deletes a group nothing depends on.")
  int delete(@Parameters(paramLabel = "GROUP") String group) {
    Group g = context.group(group);
    Context.act(() -> context.client().devices().deleteGroup(g.getId()));
    context.line("Group %s deleted.", g.getName());
    return 0;
  }
}
