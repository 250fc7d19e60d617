package dev.pinwright.cli;

import dev.pinwright.client.model.CommandKey;
import dev.pinwright.client.model.Dispatch;
import dev.pinwright.client.model.DispatchOrder;
import dev.pinwright.client.model.DispatchPreview;
import dev.pinwright.client.model.FindNamedDevicesRequest;
import dev.pinwright.client.model.Hours;
import dev.pinwright.client.model.Intent;
import dev.pinwright.client.model.NamedDevices;
import dev.pinwright.client.model.NamedDevicesFoundInner;
import dev.pinwright.client.model.OrderThere;
import dev.pinwright.core.catalog.CommandSpec;
import dev.pinwright.core.catalog.ValueType;
import java.nio.file.Path;
import java.time.Duration;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;
import java.util.UUID;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.ISetter;
import picocli.CommandLine.Model.OptionSpec;
import picocli.CommandLine.Option;

/** One verb for each command of the catalogue, with an option for each of its fields. */
@Command
final class Send implements Callable<Integer> {
  private final Context context;
  private final CommandSpec spec;
  private final Map<String, String> fields = new TreeMap<>();

  @Mixin TargetOptions targets = new TargetOptions();

  @Option(
      names = {"-h", "--help"},
      usageHelp = true,
      description = "Show this help message and exit.")
  boolean help;

  @Option(
      names = "--serial",
      description = "By serial number, IMEI or asset number, several with commas.",
      split = ",")
  @Nullable List<String> serials;

  @Option(
      names = "--list",
      paramLabel = "FILE",
      description =
          "Those of a file: serial numbers, IMEIs or asset numbers, one a line, or a sheet with a"
              + " column of them.")
  @Nullable Path list;

  @Mixin WhereOptions which = new WhereOptions();

  @Option(
      names = "--every",
      paramLabel = "DAYS@HH:MM",
      description = "Again and again: mon,thu@02:00, or daily@02:00, in your own time.")
  @Nullable String every;

  @Option(names = "--called", description = "What it is called, with --every.")
  @Nullable String called;

  @Mixin GivenOptions given = new GivenOptions();

  @Option(names = "--minutes", description = "How long it waits for a device.")
  @Nullable Long minutes;

  @Option(
      names = "--at",
      paramLabel = "YYYY-MM-DDTHH:MM",
      description = "When it is sent, in your own time; at once without.")
  @Nullable LocalDateTime at;

  @Option(
      names = "--there",
      description = "The time of --at as clocks show it where each device is.")
  boolean there;

  @Option(
      names = "--hours",
      paramLabel = "HH:MM-HH:MM",
      description = "Only at these hours where each device is, such as 22:00-05:00.")
  @Nullable String hours;

  @Option(
      names = "--not-in-use",
      description = "Each device carries it out once nobody is using it.")
  boolean notInUse;

  @Option(names = "--wait", description = "Follow it to the end.")
  boolean wait;

  private final Map<String, String> languages = new LinkedHashMap<>();
  private @Nullable String template;

  private Send(Context context, CommandSpec spec) {
    this.context = context;
    this.spec = spec;
  }

  /** The verb of a command: its words, options and help are those of the catalogue. */
  static CommandLine verb(Context context, CommandSpec spec) {
    Send send = new Send(context, spec);
    CommandLine line = new CommandLine(send);
    for (CommandSpec.Field f : spec.fields()) {
      OptionSpec.Builder option =
          OptionSpec.builder("--" + f.key())
              .type(String.class)
              .paramLabel(f.key().toUpperCase(Locale.ROOT))
              .description(f.title() + (f.required() ? "; has to be given." : "."))
              .setter(send.field(f.key()));
      if (f.type() instanceof ValueType.FlagType) {
        option.arity("0..1").fallbackValue("true");
      }
      line.getCommandSpec().addOption(option.build());
    }
    if (spec.speaks()) {
      line.getCommandSpec()
          .addOption(
              OptionSpec.builder("--in")
                  .type(Map.class)
                  .auxiliaryTypes(String.class, String.class)
                  .arity("1")
                  .paramLabel("FIELD@LANGUAGE=TEXT")
                  .description("The same in another language: text@fr=…; may be repeated.")
                  .setter(send.languages())
                  .build())
          .addOption(
              OptionSpec.builder("--template")
                  .type(String.class)
                  .paramLabel("NAME")
                  .description("Words that were kept; see pinwright template.")
                  .setter(send.template())
                  .build());
    }
    line.getCommandSpec()
        .usageMessage()
        .description(
            Stream.of(
                    spec.help(),
                    spec.cost().isEmpty() ? "" : "What it costs: " + spec.cost(),
                    spec.holder().isEmpty() ? "" : "What the holder notices: " + spec.holder(),
                    "Needs the role " + spec.roleWord() + ".",
                    "Waits "
                        + said(spec.waits())
                        + " for a device unless --minutes says otherwise."
                        + (spec.reasonRequired() ? " Needs a --reason." : ""))
                .filter(p -> !p.isEmpty())
                .toArray(String[]::new))
        .footer(examples(spec));
    return line;
  }

  private static String[] examples(CommandSpec spec) {
    String verb = "  pinwright " + spec.key();
    String fields =
        spec.fields().stream()
                .filter(CommandSpec.Field::required)
                .map(f -> " --" + f.key() + " \"…\"")
                .collect(Collectors.joining())
            + (spec.reasonRequired() ? " --reason \"…\"" : "");
    return new String[] {
      "",
      "Examples:",
      verb + " --device \"Quay door\"" + fields + " --wait",
      verb + " --serial AR10-0042-7731,AR10-0042-7732" + fields,
      verb + " --group Glasshouse" + fields + " --dry-run",
      verb + " --where standing=drifted --where platform=tarn" + fields + " --confirm 36"
    };
  }

  private static String said(Duration d) {
    return d.toDays() > 1
        ? d.toDays() + " days"
        : d.toHours() > 1 ? d.toHours() + " hours" : d.toMinutes() + " minutes";
  }

  private ISetter languages() {
    return new ISetter() {
      @Override
      @SuppressWarnings("unchecked")
      public <T> T set(T value) {
        languages.clear();
        if (value != null) {
          languages.putAll((Map<String, String>) value);
        }
        return value;
      }
    };
  }

  private ISetter template() {
    return new ISetter() {
      @Override
      public <T> T set(T value) {
        template = value == null ? null : value.toString();
        return value;
      }
    };
  }

  private ISetter field(String key) {
    return new ISetter() {
      @Override
      @SuppressWarnings("unchecked")
      public <T> T set(T value) {
        // picocli sets null before it parses
        return (T) (value == null ? fields.remove(key) : fields.put(key, value.toString()));
      }
    };
  }

  /** When, where each device is; nothing where that does not matter. */
  private @Nullable OrderThere there() {
    if (!there && hours == null) {
      return null;
    }
    if (there && at == null) {
      throw new Failure(Failure.USAGE, "--there says where the time of --at is; give that too.");
    }
    OrderThere where = new OrderThere().zone(ZoneId.systemDefault().getId());
    if (there && at != null) {
      where.local(at.toString());
    }
    if (hours != null) {
      String[] ends = hours.split("-", 2);
      if (ends.length < 2) {
        throw new Failure(Failure.USAGE, "--hours are from one time until another: 22:00-05:00.");
      }
      where.window(new Hours().from(ends[0].strip()).to(ends[1].strip()));
    }
    return where;
  }

  /** What was filled in; a file may be named as it is called. */
  private Map<String, String> filled() {
    Map<String, String> filled = new LinkedHashMap<>();
    if (template != null) {
      filled.putAll(TemplateCommands.named(context, template).getFields());
    }
    filled.putAll(languages);
    filled.putAll(fields);
    spec.fields().stream()
        .filter(f -> f.type() instanceof ValueType.FileType)
        .forEach(
            f ->
                filled.computeIfPresent(
                    f.key(),
                    (key, text) ->
                        text.startsWith("sha256:")
                            ? text
                            : "sha256:" + context.file(text).getId()));
    return filled;
  }

  /** Devices that are named one by one; says which of them are named twice. */
  private @Nullable List<String> named() {
    if (list == null) {
      return serials;
    }
    List<String> lines = FileText.read(list, "devices").lines().toList();
    NamedDevices named =
        Context.call(
            () ->
                context
                    .client()
                    .devices()
                    .findNamedDevices(new FindNamedDevicesRequest().identifiers(lines)));
    String wrong =
        Stream.of(
                said("No managed device has: ", named.getUnknown()),
                said("More than one device has: ", named.getSeveral()))
            .filter(w -> !w.isEmpty())
            .collect(Collectors.joining(" "));
    if (!wrong.isEmpty()) {
      throw new Failure(Failure.REFUSED, wrong);
    }
    if (!named.getDoubled().isEmpty()) {
      // beside what is printed as JSON
      System.err.println(said("Named more than once, taken once: ", named.getDoubled()));
    }
    return Stream.concat(
            named.getFound().stream().map(NamedDevicesFoundInner::getIdentifier),
            serials == null ? Stream.empty() : serials.stream())
        .toList();
  }

  private static String said(String what, List<String> named) {
    return named.isEmpty() ? "" : what + String.join(", ", named) + ".";
  }

  @Override
  public Integer call() throws InterruptedException {
    DispatchOrder order =
        new DispatchOrder()
            .command(CommandKey.fromValue(spec.key()))
            .fields(filled())
            .reason(given.reason)
            .targets(targets.specs(context))
            .serials(named())
            .matching(which.filter(context))
            .at(at == null || there ? null : at.atZone(ZoneId.systemDefault()).toOffsetDateTime())
            .there(there())
            .notInUse(notInUse ? true : null)
            .expiresInMinutes(minutes)
            .confirmDevices(given.confirm);
    if (given.dryRun) {
      DispatchPreview p = Context.call(() -> context.client().acting().rehearseDispatch(order));
      return context.print(
          p,
          () -> {
            context.line(
                "%s would go to %s; %d can carry it out.",
                spec.title(), Context.counted(p.getDevices(), "device"), p.getAble());
            p.getUnable()
                .forEach(u -> context.line("  %d cannot: %s", u.getDevices(), u.getReason()));
            p.getLosses().forEach(context::line);
            if (p.getSecondWhy() != null) {
              context.line(p.getSecondWhy());
            }
            given.tell(context, p.getSecondWanted(), p.getConfirmDevices(), p.getReasonWanted());
          });
    }
    if (given.note != null) {
      return ProposalCommands.propose(context, new Intent().order(order), given.note);
    }
    if (every != null) {
      return StandingCommands.keep(context, order, every, called == null ? spec.title() : called);
    }
    Dispatch d =
        Context.call(
            () -> context.client().acting().addDispatch(order, UUID.randomUUID().toString()));
    if (d.getCommand() == CommandKey.ASSIST) {
      return context.print(
          d,
          () ->
              context.line(
                  "The holder is asked once you are there to look: %s/devices/screens/%s",
                  context.address(), d.getId()));
    }
    if (wait) {
      return DispatchCommands.follow(context, d.getId());
    }
    long cannot = d.getStates().getOrDefault("failed", 0L);
    int printed = context.print(d, () -> tell(d, cannot));
    return cannot == d.getTotal() && cannot > 0 ? Failure.SOME_FAILED : printed;
  }

  /** Says what became of an order; some devices cannot do it, which is known at once. */
  private void tell(Dispatch d, long cannot) {
    if (cannot > 0) {
      context.line(
          "%s cannot, and the reasons are in: pinwright dispatch show %s",
          Context.counted(cannot, "device"), d.getId());
    }
    long sent = d.getTotal() - cannot;
    if (sent > 0) {
      context.line(
          at == null
              ? "%s sent to %s. Follow with: pinwright dispatch wait %s"
              : "%s planned for %s. Take it back with: pinwright dispatch cancel %s",
          d.getTitle(),
          Context.counted(sent, "device"),
          d.getId());
    }
  }
}
