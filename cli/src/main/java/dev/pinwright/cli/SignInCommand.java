package dev.pinwright.cli;

import dev.pinwright.client.PinwrightClient;
import dev.pinwright.client.model.SignIn;
import dev.pinwright.client.model.SignedIn;
import java.io.BufferedReader;
import java.io.Console;
import java.io.IOException;
import java.io.InputStreamReader;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

/** {@code signin}. */
@Command(
    name = "signin",
    mixinStandardHelpOptions = true,
    description = "Signs this computer in; the sign-in is kept for thirty days.",
    footer = {
      "",
      "Examples:",
      "  pinwright signin --login owner",
      "  pinwright signin --login owner --password-stdin < .pinwright/owner.password"
    })
final class SignInCommand implements Callable<Integer> {
  private final Context context;

  @Option(names = "--address", description = "Of the console, such as http://127.0.0.1:7480.")
  @Nullable String address;

  @Option(names = "--login", required = true, description = "Your login.")
  String login = "";

  @Option(names = "--password-stdin", description = "Read the password from standard input.")
  boolean fromStdin;

  SignInCommand(Context context) {
    this.context = context;
  }

  @Override
  public Integer call() throws IOException {
    String where = address == null ? context.address() : address;
    String password;
    Console console = System.console();
    if (fromStdin || console == null) {
      String line = new BufferedReader(new InputStreamReader(System.in)).readLine();
      password = line == null ? "" : line;
    } else {
      password = new String(console.readPassword("Password of %s: ", login));
    }
    SignedIn in =
        Context.call(
            () ->
                new PinwrightClient(where, "")
                    .access()
                    .signIn(
                        new SignIn()
                            .login(login)
                            .password(password)
                            .label("command line")
                            .program(true)));
    context.keep(where, String.valueOf(in.getToken()));
    return context.print(
        in.getAccount(),
        () -> context.line("Signed in as %s at %s.", in.getAccount().getLogin(), where));
  }
}
