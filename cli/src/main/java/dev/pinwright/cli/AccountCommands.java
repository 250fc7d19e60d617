package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;

import dev.pinwright.client.model.Account;
import dev.pinwright.client.model.AccountChange;
import dev.pinwright.client.model.NewAccount;
import dev.pinwright.client.model.NewPassword;
import dev.pinwright.client.model.PasswordChange;
import dev.pinwright.client.model.SignInShown;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code account}. */
@Command(
    name = "account",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description =
        "Who signs in: list, add, change, disable, enable, delete, password, sign-ins, sign-out.")
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
        a ->
            new Object[] {
              a.getLogin(), a.getName(), a.getRole(), a.getDisabled() ? "disabled" : ""
            },
        "LOGIN",
        "NAME",
        "ROLE",
        "STATE");
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
    String password = typed();
    Account a =
        call(
            () ->
                context
                    .client()
                    .access()
                    .addAccount(
                        new NewAccount().login(login).name(name).role(role).password(password)));
    return context.print(a, () -> context.line("Account %s made.", a.getLogin()));
  }

  private static String typed() throws IOException {
    String line =
        new BufferedReader(new InputStreamReader(System.in, StandardCharsets.UTF_8)).readLine();
    return line == null ? "" : line;
  }

  private Account named(String login) {
    return call(() -> context.client().access().listAccounts()).stream()
        .filter(a -> a.getLogin().equalsIgnoreCase(login.strip()))
        .findFirst()
        .orElseThrow(
            () -> new Failure(Failure.REFUSED, "There is no account " + login.strip() + "."));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Changes an account's name or role.",
      footer = {"", "Example:", "  pinwright account change tova --role operator"})
  int change(
      @Parameters(paramLabel = "LOGIN") String login,
      @Option(names = "--name") @Nullable String name,
      @Option(names = "--role", description = "owner, operator, helpdesk or reader.")
          @Nullable String role) {
    AccountChange change = new AccountChange().name(name);
    if (role != null) {
      change.role(
          Context.word(AccountChange.RoleEnum.values(), AccountChange.RoleEnum::fromValue, role));
    }
    return changed(login, change, "changed");
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Disables an account and signs it out everywhere.")
  int disable(@Parameters(paramLabel = "LOGIN") String login) {
    return changed(login, new AccountChange().disabled(true), "disabled");
  }

  @Command(mixinStandardHelpOptions = true, description = "Lets a disabled account sign in again.")
  int enable(@Parameters(paramLabel = "LOGIN") String login) {
    return changed(login, new AccountChange().disabled(false), "enabled again");
  }

  private int changed(String login, AccountChange change, String how) {
    Account a = named(login);
    Account now =
        call(
            () ->
                context
                    .client()
                    .access()
                    .changeAccount(a.getId(), Context.onVersion(a.getVersion()), change));
    return context.print(
        now, () -> context.line("%s, %s, is %s.", now.getLogin(), now.getRole(), how));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Deletes an account; what it did stays in the journal.")
  int delete(@Parameters(paramLabel = "LOGIN") String login) {
    Account a = named(login);
    Context.act(
        () ->
            context.client().access().deleteAccount(a.getId(), Context.onVersion(a.getVersion())));
    context.line("%s is deleted.", a.getLogin());
    return 0;
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = {
        "Gives an account a new password, read from standard input, and signs it out everywhere.",
        "Without a login one's own is changed: the one so far is the first line, the new the second."
      })
  int password(@Parameters(paramLabel = "LOGIN", arity = "0..1") @Nullable String login)
      throws IOException {
    if (login == null) {
      BufferedReader in =
          new BufferedReader(new InputStreamReader(System.in, StandardCharsets.UTF_8));
      String soFar = String.valueOf(in.readLine());
      String password = String.valueOf(in.readLine());
      Context.act(
          () ->
              context
                  .client()
                  .access()
                  .changePassword(new PasswordChange().soFar(soFar).password(password)));
      context.line("Your password is changed; elsewhere you are signed out.");
      return 0;
    }
    Account a = named(login);
    String password = typed();
    call(
        () ->
            context
                .client()
                .access()
                .resetPassword(a.getId(), new NewPassword().password(password)));
    context.line("%s has a new password and is signed out everywhere.", a.getLogin());
    return 0;
  }

  @Command(
      name = "sign-ins",
      mixinStandardHelpOptions = true,
      description = "Lists where an account is signed in; without a login one's own.")
  int signIns(@Parameters(paramLabel = "LOGIN", arity = "0..1") @Nullable String login) {
    List<SignInShown> all =
        login == null
            ? call(() -> context.client().access().mySignIns())
            : call(() -> context.client().access().listSignIns(named(login).getId()));
    return context.list(
        all,
        all,
        s ->
            new Object[] {
              s.getLabel(),
              Context.time(s.getCreatedAt()),
              Context.time(s.getExpiresAt()),
              s.getHere() ? "here" : "",
              s.getId()
            },
        "BY",
        "SINCE",
        "UNTIL",
        "",
        "ID");
  }

  @Command(
      name = "sign-out",
      mixinStandardHelpOptions = true,
      description = "Ends a sign-in by its id; of another account with --account.")
  int signOut(
      @Parameters(paramLabel = "ID") String id,
      @Option(names = "--account", paramLabel = "LOGIN") @Nullable String login) {
    if (login == null) {
      Context.act(() -> context.client().access().endMySignIn(id));
    } else {
      Account a = named(login);
      Context.act(() -> context.client().access().endSignIn(a.getId(), id));
    }
    context.line("That sign-in has ended.");
    return 0;
  }
}
