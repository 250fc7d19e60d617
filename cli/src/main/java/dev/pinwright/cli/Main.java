package dev.pinwright.cli;

import com.sun.net.httpserver.HttpServer;
import dev.pinwright.catalog.Catalogue;
import dev.pinwright.client.model.AttributeKind;
import dev.pinwright.client.model.DeviceKind;
import dev.pinwright.client.model.Fate;
import dev.pinwright.client.model.FileKind;
import dev.pinwright.client.model.Mode;
import dev.pinwright.client.model.Ownership;
import dev.pinwright.client.model.PlatformKey;
import dev.pinwright.client.model.ProposalState;
import dev.pinwright.client.model.RosterState;
import dev.pinwright.client.model.Standing;
import dev.pinwright.core.catalog.CommandSpec;
import java.io.IOException;
import java.io.PrintWriter;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import java.util.function.Supplier;
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
    if (args.length == 1 && args[0].equals("--warm-up")) {
      try {
        return warmUp(out, err);
      } catch (IOException e) {
        return Failure.REFUSED;
      }
    }
    Context context = new Context(env, out);
    CommandLine line = new CommandLine(new Main(context));
    String first = args.length == 0 ? "" : args[0];
    boolean version = first.equals("--version") || first.equals("-V");
    Map<String, Supplier<Object>> commands = commands(context, List.of());
    if (!commands.containsKey(first) && !version) {
      commands = commands(context, Catalogue.commands());
    }
    // reading the annotations of every command takes longer than most commands do
    if (commands.containsKey(first)) {
      line.addSubcommand(first, commands.get(first).get());
    } else if (!version) {
      commands.forEach((name, command) -> line.addSubcommand(name, command.get()));
      line.getSubcommands().get("generate-completion").getCommandSpec().usageMessage().hidden(true);
    }
    converts(line, PlatformKey.class, PlatformKey.values(), PlatformKey::fromValue);
    converts(line, Mode.class, Mode.values(), Mode::fromValue);
    converts(line, Ownership.class, Ownership.values(), Ownership::fromValue);
    converts(line, DeviceKind.class, DeviceKind.values(), DeviceKind::fromValue);
    converts(line, Standing.class, Standing.values(), Standing::fromValue);
    converts(line, Fate.class, Fate.values(), Fate::fromValue);
    converts(line, FileKind.class, FileKind.values(), FileKind::fromValue);
    converts(line, ProposalState.class, ProposalState.values(), ProposalState::fromValue);
    converts(line, RosterState.class, RosterState.values(), RosterState::fromValue);
    converts(line, AttributeKind.class, AttributeKind.values(), AttributeKind::fromValue);
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
          if (env.containsKey("PINWRIGHT_TRACE")) {
            throw e;
          }
          err.println("This client failed (" + e + "). With PINWRIGHT_TRACE=1 it says where.");
          err.flush();
          return Failure.BROKEN;
        });
    if (args.length == 0) {
      line.usage(out);
      return 0;
    }
    return line.execute(args);
  }

  private static <E extends Enum<E>> void converts(
      CommandLine line, Class<E> type, E[] words, Function<String, E> of) {
    line.registerConverter(type, text -> Context.word(words, of, text));
  }

  private static Map<String, Supplier<Object>> commands(Context context, List<CommandSpec> verbs) {
    Map<String, Supplier<Object>> all = new LinkedHashMap<>();
    all.put("signin", () -> new SignInCommand(context));
    all.put("signout", () -> new SignOutCommand(context));
    all.put("fleet", () -> new FleetCommand(context));
    all.put("find", () -> new FindCommand(context));
    all.put("device", () -> new DeviceCommands(context));
    all.put("group", () -> new GroupCommands(context));
    all.put("unit", () -> new UnitCommands(context));
    all.put("site", () -> new SiteCommands(context));
    all.put("person", () -> new PersonCommands(context));
    all.put("tag", () -> new TagCommands(context));
    all.put("attribute", () -> new AttributeCommands(context));
    all.put("roster", () -> new RosterCommands(context));
    all.put("enrollment-profile", () -> new EnrollmentProfileCommands(context));
    all.put("invitation", () -> new InvitationCommands(context));
    all.put("arrival", () -> new ArrivalCommands(context));
    all.put("terms", () -> new TermsCommands(context));
    all.put("bench", () -> new BenchCommands(context));
    all.put("gateway", () -> new GatewayCommands(context));
    all.put("house", () -> new HouseCommands(context));
    all.put("profile", () -> new ProfileCommands(context));
    all.put("kit", () -> new KitCommands(context));
    all.put("check", () -> new CheckCommands(context));
    all.put("configuration", () -> new ConfigurationCommands(context));
    all.put("app", () -> new AppCommands(context));
    all.put("app-code", () -> new AppCodeCommands(context));
    all.put("assignment", () -> new AssignmentCommands(context));
    all.put("store", () -> new StoreCommands(context));
    all.put("license", () -> new LicenseCommands(context));
    all.put("package", () -> new PackageCommands(context));
    all.put("file", () -> new FileCommands(context));
    all.put("setting", () -> new SettingCommands(context));
    all.put("proposal", () -> new ProposalCommands(context));
    all.put("change", () -> new ChangeCommands(context));
    verbs.forEach(v -> all.put(v.key(), () -> Send.verb(context, v)));
    all.put("dispatch", () -> new DispatchCommands(context));
    all.put("wipes", () -> new WipeCommands(context));
    all.put("standing", () -> new StandingCommands(context));
    all.put("template", () -> new TemplateCommands(context));
    all.put("case", () -> new CaseCommands(context));
    all.put("journal", () -> new JournalCommands(context));
    all.put("account", () -> new AccountCommands(context));
    all.put("generate-completion", AutoComplete.GenerateCompletion::new);
    return all;
  }

  /**
   * Makes the classes of a query load, for the launcher's class-data archive: a list is asked for
   * from a server that lasts for this one answer.
   */
  private static int warmUp(PrintWriter out, PrintWriter err) throws IOException {
    HttpServer once =
        HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
    once.createContext(
        "/",
        exchange -> {
          byte[] body = "{\"items\":[]}".getBytes(StandardCharsets.UTF_8);
          exchange.getResponseHeaders().add("Content-Type", "application/json");
          exchange.sendResponseHeaders(200, body.length);
          exchange.getResponseBody().write(body);
          exchange.close();
        });
    once.start();
    Map<String, String> env =
        Map.of(
            "PINWRIGHT_ADDRESS",
            "http://127.0.0.1:" + once.getAddress().getPort(),
            "PINWRIGHT_TOKEN",
            "none");
    int code = run(env, out, err, "device", "list");
    run(env, out, err, "profile", "list", "--json");
    once.stop(0);
    return code;
  }
}
