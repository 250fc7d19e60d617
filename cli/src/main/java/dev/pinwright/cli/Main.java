package dev.pinwright.cli;

import java.io.PrintWriter;
import java.util.List;
import java.util.Map;
import picocli.AutoComplete;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.ScopeType;

/** The command line. */
@Command(
    name = "pinwright",
    mixinStandardHelpOptions = true,
    version = "Pinwright 0.1.0",
    synopsisSubcommandLabel = "COMMAND",
    description = "Looks after an organisation's phones, tablets and laptops.",
    footerHeading = "%nExamples:%n",
    footer = {
      "  pinwright signin --login owner",
      "  pinwright device list --standing blocked",
      "  pinwright invitation add \"Harbour gallery kiosks\" --uses 36",
      "  pinwright profile set \"Gallery tablets\" passcode.min-length=8",
      "  pinwright profile rehearse \"Gallery tablets\"",
      "  pinwright profile publish \"Gallery tablets\" --wait",
      "  pinwright lock --device \"HAR AR10-0001-4471\" --reason \"left in the quay cafe\" --wait",
      "",
      "The launcher also knows: demo, stop, serve, sandbox, test.",
      "Exit codes: 0 done, 1 refused, 2 wrong words, 3 not signed in, 4 unreachable,",
      "            5 some devices failed while waiting."
    })
public final class Main {
  private final Context context;

  private Main(Context context) {
    this.context = context;
  }

  @Option(names = "--json", description = "Print the answer as JSON.", scope = ScopeType.INHERIT)
  void json(boolean on) {
    context.json(on);
  }

  /** Entry point. */
  public static void main(String[] args) {
    System.exit(
        run(
            System.getenv(),
            new PrintWriter(System.out, true),
            new PrintWriter(System.err, true),
            args));
  }

  /** Runs a command line and returns its exit code. */
  public static int run(Map<String, String> env, PrintWriter out, PrintWriter err, String... args) {
    Context context = new Context(env, out);
    CommandLine line = new CommandLine(new Main(context));
    line.addSubcommand(new SignInCommand(context));
    line.addSubcommand(new SignOutCommand(context));
    line.addSubcommand(new FleetCommand(context));
    line.addSubcommand(new DeviceCommands(context));
    line.addSubcommand(new GroupCommands(context));
    line.addSubcommand(new EnrollmentProfileCommands(context));
    line.addSubcommand(new InvitationCommands(context));
    line.addSubcommand(new ArrivalCommands(context));
    line.addSubcommand(new TermsCommands(context));
    line.addSubcommand(new ProfileCommands(context));
    line.addSubcommand(new SettingCommands(context));
    line.addSubcommand(new ChangeCommands(context));
    for (String command : Send.COMMANDS) {
      line.addSubcommand(command, new Send(context, command));
    }
    line.addSubcommand(new DispatchCommands(context));
    line.addSubcommand(new JournalCommands(context));
    line.addSubcommand(new AccountCommands(context));
    line.addSubcommand(new AutoComplete.GenerateCompletion());
    line.getSubcommands().get("generate-completion").getCommandSpec().usageMessage().hidden(true);
    line.setOut(out);
    line.setErr(err);
    line.setUsageHelpWidth(100);
    line.setExecutionExceptionHandler(
        (e, cmd, parsed) -> {
          if (e instanceof Failure f) {
            err.println(f.getMessage());
            err.flush();
            return f.code();
          }
          throw e;
        });
    if (List.of(args).equals(List.of("--warm-up"))) {
      return warmUp(context, line);
    }
    if (args.length == 0) {
      line.usage(out);
      return 0;
    }
    return line.execute(args);
  }

  /** Loads the classes most commands use, for the launcher's class-data archive. */
  private static int warmUp(Context context, CommandLine line) {
    line.execute("--version");
    new dev.pinwright.client.PinwrightClient("http://127.0.0.1:9", "x").devices();
    try {
      Context.call(
          () ->
              new dev.pinwright.client.PinwrightClient("http://127.0.0.1:9", "x")
                  .devices()
                  .getFleet());
    } catch (Failure expected) {
      context.print(new dev.pinwright.client.model.Fleet(), () -> new Table("a").row("b"));
    }
    return 0;
  }
}
