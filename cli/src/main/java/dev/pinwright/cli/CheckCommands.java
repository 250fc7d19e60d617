package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;
import static dev.pinwright.cli.Context.counted;
import static dev.pinwright.cli.Context.time;

import dev.pinwright.client.model.ById;
import dev.pinwright.client.model.Check;
import dev.pinwright.client.model.CheckDraft;
import dev.pinwright.client.model.CheckIntent;
import dev.pinwright.client.model.CheckRehearsal;
import dev.pinwright.client.model.CheckTemplate;
import dev.pinwright.client.model.DeviceOrder;
import dev.pinwright.client.model.Intent;
import dev.pinwright.client.model.Ladder;
import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.ArgGroup;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code check}. */
@Command(
    name = "check",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description = {
      "Checks: list, templates, show, add, change, delete; and device, which says whether one is in"
          + " order.",
      "A check finds devices that are not in order, gives them time, and tells who has to know."
    })
final class CheckCommands {
  private static final String NEVER = "never";
  private final Context context;

  CheckCommands(Context context) {
    this.context = context;
  }

  @Command(mixinStandardHelpOptions = true, description = "Lists checks and what they find.")
  int list() {
    List<Check> all = call(() -> context.client().rules().listChecks());
    return context.list(
        all,
        all,
        c ->
            new Object[] {
              c.getName(), c.getOutOfOrder(), c.getInGrace(), c.getWithheld(), steps(c.getLadder())
            },
        "NAME",
        "OUT OF ORDER",
        "IN GRACE",
        "WITHHELD",
        "STEPS");
  }

  private static String steps(Ladder l) {
    return "out of order after "
        + hours(l.getGrace())
        + "; holder "
        + hours(l.getHolder())
        + ", house "
        + hours(l.getHouse())
        + ", withhold "
        + hours(l.getWithhold());
  }

  private static String hours(@Nullable Integer hours) {
    return hours == null ? NEVER : hours + " h";
  }

  @Command(mixinStandardHelpOptions = true, description = "Lists checks ready to be taken.")
  int templates() {
    List<CheckTemplate> all = call(() -> context.client().rules().listCheckTemplates());
    return context.list(
        all,
        all,
        t -> new Object[] {t.getKey(), t.getTitle(), t.getRule(), t.getHelp()},
        "KEY",
        "TITLE",
        "FINDS",
        "");
  }

  @Command(mixinStandardHelpOptions = true, description = "Shows a check.")
  int show(@Parameters(paramLabel = "CHECK") String name) {
    Check c = check(name);
    return context.print(c, () -> table(c));
  }

  private static Table table(Check c) {
    Table t = new Table(c.getName(), "");
    t.row("finds", c.getRule() == null ? "the group " + c.getGroup().getName() : c.getRule());
    t.row("tells the holder", c.getAdvice());
    t.row("out of order after", hours(c.getLadder().getGrace()));
    t.row("holder told after", hours(c.getLadder().getHolder()));
    t.row("house told after", hours(c.getLadder().getHouse()));
    t.row("withheld after", hours(c.getLadder().getWithhold()));
    t.row("out of order", c.getOutOfOrder()).row("in grace", c.getInGrace());
    return t.row("withheld from", c.getWithheld());
  }

  private Check check(String wanted) {
    List<Check> all = call(() -> context.client().rules().listChecks());
    return all.stream()
        .filter(c -> c.getId().equals(wanted) || c.getName().equalsIgnoreCase(wanted))
        .findFirst()
        .orElseThrow(
            () ->
                new Failure(
                    Failure.REFUSED,
                    "There is no check "
                        + wanted
                        + (all.isEmpty()
                            ? "."
                            : "; there is "
                                + String.join(", ", all.stream().map(Check::getName).toList())
                                + ".")));
  }

  /** Where what a check finds comes from. */
  static final class Finds {
    @Option(names = "--rule", description = "Which devices it finds, in the language of rules.")
    @Nullable String rule;

    @Option(names = "--group", description = "The group whose devices it finds.")
    @Nullable String group;

    @Option(names = "--template", description = "One that is ready; see: pinwright check templates")
    @Nullable String template;
  }

  /** What follows, in hours. */
  static final class Steps {
    @Option(names = "--grace", description = "Hours until a device is out of order.")
    @Nullable Integer grace;

    @Option(
        names = "--tell-holder",
        paramLabel = "HOURS",
        description = "When its holder is told; or never.")
    @Nullable String holder;

    @Option(
        names = "--tell-house",
        paramLabel = "HOURS",
        description = "When the administrators are told; or never.")
    @Nullable String house;

    @Option(
        names = "--withhold",
        paramLabel = "HOURS",
        description = "When it loses what kits give only while in order; or never.")
    @Nullable String withhold;

    private Ladder on(Ladder before) {
      return new Ladder()
          .grace(grace == null ? before.getGrace() : grace)
          .holder(step(holder, before.getHolder()))
          .house(step(house, before.getHouse()))
          .withhold(step(withhold, before.getWithhold()));
    }

    private static @Nullable Integer step(@Nullable String written, @Nullable Integer before) {
      if (written == null || written.equals(NEVER)) {
        return written == null ? before : null;
      }
      if (!written.matches("\\d{1,5}")) {
        throw new Failure(Failure.USAGE, "A step is a number of hours, or never; not " + written);
      }
      return Integer.valueOf(written);
    }
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Makes a check.",
      footer = {
        "",
        "Example:",
        "  pinwright check add Encryption --template encryption --withhold 96 --dry-run",
        "  pinwright check add \"Old tablets\" --rule \"os < 7.1\" --advice \"Update it.\" --grace 72"
      })
  int add(
      @Parameters(paramLabel = "NAME") String name,
      @ArgGroup(multiplicity = "1") Finds finds,
      @Option(names = "--advice", description = "What the device tells its holder to do.")
          @Nullable String advice,
      @Mixin Steps steps,
      @Mixin GivenOptions given) {
    CheckDraft draft = new CheckDraft().name(name).advice(advice);
    Ladder usual = new Ladder().grace(72).holder(0).house(72);
    found(draft, finds, usual);
    if (draft.getAdvice() == null) {
      throw new Failure(Failure.USAGE, "Say what its holder is told to do: --advice.");
    }
    return put(draft.ladder(steps.on(usual)), null, given);
  }

  private void found(CheckDraft draft, Finds finds, Ladder ladder) {
    String template = finds.template;
    if (template != null) {
      CheckTemplate t =
          call(() -> context.client().rules().listCheckTemplates()).stream()
              .filter(x -> x.getKey().equals(template))
              .findFirst()
              .orElseThrow(
                  () ->
                      new Failure(
                          Failure.USAGE,
                          "There is no template "
                              + template
                              + "; list them with: pinwright check templates"));
      ladder.grace(t.getGrace()).house(t.getGrace());
      draft.rule(t.getRule());
      if (draft.getAdvice() == null) {
        draft.advice(t.getAdvice());
      }
    } else {
      draft.rule(finds.rule);
      String group = finds.group;
      draft.groupId(group == null ? null : context.group(group).getId());
    }
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Writes a check anew; what is not said stays.")
  int change(
      @Parameters(paramLabel = "CHECK") String name,
      @Option(names = "--name", description = "What it is called from now on.")
          @Nullable String newName,
      @ArgGroup @Nullable Finds finds,
      @Option(names = "--advice", description = "What the device tells its holder to do.")
          @Nullable String advice,
      @Mixin Steps steps,
      @Mixin GivenOptions given) {
    Check c = check(name);
    CheckDraft draft =
        new CheckDraft()
            .name(newName == null ? c.getName() : newName)
            .advice(advice == null ? c.getAdvice() : advice);
    Ladder before = c.getLadder();
    if (finds != null) {
      found(draft, finds, before);
    } else if (c.getOwnGroup()) {
      draft.rule(c.getRule());
    } else {
      draft.groupId(c.getGroup().getId());
    }
    return put(draft.ladder(steps.on(before)), c, given);
  }

  private int put(CheckDraft draft, @Nullable Check before, GivenOptions given) {
    draft.confirmDevices(given.confirm).reason(given.reason);
    if (given.dryRun) {
      CheckRehearsal r =
          call(
              () ->
                  before == null
                      ? context.client().rules().rehearseNewCheck(draft)
                      : context.client().rules().rehearseCheck(before.getId(), draft));
      return context.print(r, () -> tell(r, given));
    }
    if (given.note != null) {
      CheckIntent intent = new CheckIntent().draft(draft);
      return ProposalCommands.propose(
          context,
          new Intent().check(before == null ? intent : intent.id(before.getId())),
          given.note);
    }
    Check c =
        call(
            () ->
                before == null
                    ? context.client().rules().addCheck(draft)
                    : context
                        .client()
                        .rules()
                        .changeCheck(
                            before.getId(), Context.onVersion(before.getVersion()), draft));
    return context.print(c, () -> table(c));
  }

  private void tell(CheckRehearsal r, GivenOptions given) {
    context.line(
        "It finds %s: %d more out of order at once, %d fewer; something is withheld from %d.",
        counted(r.getFound(), "device"), r.getOutOfOrder(), r.getInOrder(), r.getWithheld());
    if (r.getSettings() != null) {
      Rehearsals.effects(context, r.getSettings(), false);
    }
    given.tell(context, r.getSecondWanted(), r.getConfirmDevices(), r.getReasonWanted());
  }

  @Command(mixinStandardHelpOptions = true, description = "Deletes a check.")
  int delete(@Parameters(paramLabel = "CHECK") String name, @Mixin GivenOptions given) {
    Check c = check(name);
    if (given.dryRun) {
      CheckRehearsal r = call(() -> context.client().rules().rehearseCheckDeletion(c.getId()));
      return context.print(r, () -> tell(r, given));
    }
    if (given.note != null) {
      return ProposalCommands.propose(
          context, new Intent().deleteCheck(new ById().id(c.getId())), given.note);
    }
    Context.act(
        () ->
            context
                .client()
                .rules()
                .deleteCheck(
                    c.getId(), Context.onVersion(c.getVersion()), given.reason, given.confirm));
    context.line("Check %s deleted.", c.getName());
    return 0;
  }

  @Command(mixinStandardHelpOptions = true, description = "Says whether a device is in order.")
  int device(@Parameters(paramLabel = "DEVICE") String name) {
    String id = context.device(name).getId();
    DeviceOrder o = call(() -> context.client().rules().getDeviceOrder(id));
    return context.print(
        o,
        () -> {
          context.line("%s", o.getOrder().getValue());
          Table t = new Table("CHECK", "", "SINCE", "TIME UNTIL", "WHAT TO DO");
          o.getFindings()
              .forEach(
                  f ->
                      t.row(
                          f.getName(),
                          f.getOrder().getValue() + (f.getWithheld() ? ", withheld" : ""),
                          time(f.getSince()),
                          time(f.getDue()),
                          f.getAdvice()));
          return t;
        });
  }
}
