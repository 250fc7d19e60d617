package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;

import dev.pinwright.client.model.Account;
import dev.pinwright.client.model.NewAccount;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code account}. */
@Command(
    name = "account",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description = "Who signs in: list, add.")
final class AccountCommands {
  private final Context context;

  AccountCommands(Context context) {
    this.context = context;
  }

  @Command(mixinStandardHelpOptions = true, description = "Lists accounts.")
  int list() {
    List<Account> all = call(() -> context.client().access().listAccounts());
    return context.list(
        all,
        all,
        a -> new Object[] {a.getLogin(), a.getName(), a.getRole()},
        "LOGIN",
        "NAME",
        "ROLE");
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Makes an account; its password is read from standard input.")
  int add(
      @Parameters(paramLabel = "LOGIN") String login,
      @Option(names = "--name", defaultValue = "") String name,
      @Option(
              names = "--role",
              required = true,
              description = "owner, operator, helpdesk or reader.")
          String role)
      throws IOException {
    String password = new BufferedReader(new InputStreamReader(System.in)).readLine();
    Account a =
        call(
            () ->
                context
                    .client()
                    .access()
                    .addAccount(
                        new NewAccount()
                            .login(login)
                            .name(name)
                            .role(role)
                            .password(password == null ? "" : password)));
    return context.print(a, () -> context.line("Account %s made.", a.getLogin()));
  }
}
