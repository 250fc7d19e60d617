package dev.pinwright.service.access;

import com.github.f4b6a3.ulid.UlidCreator;
import dev.pinwright.core.Words;
import dev.pinwright.service.secret.Passwords;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Role;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.access.AccountStore;
import dev.pinwright.storage.row.AccountRow;
import dev.pinwright.storage.row.SignInRow;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** Accounts and their sign-ins. */
public final class Accounts {
  /** How long a sign-in lasts. */
  public static final Duration LASTS = Duration.ofHours(12);

  /** How long a program's sign-in lasts. */
  public static final Duration PROGRAM_LASTS = Duration.ofDays(30);

  private static final int MIN_PASSWORD = 12;

  private final UseCases useCases;
  private final Clock clock;
  private final Throttle throttle;

  public Accounts(UseCases useCases, Database database, Clock clock) {
    this.useCases = useCases;
    this.clock = clock;
    throttle = new Throttle(database, clock, "sign-in", 8, Duration.ofMinutes(1));
  }

  /** An account as shown. */
  public record Account(String id, String login, String name, String role, Instant createdAt) {}

  /** A sign-in that has just begun. {@code token} is told only now. */
  public record SignedIn(Account account, String token, String csrf, Instant expiresAt) {}

  /** A known sign-in. */
  public record Known(Caller caller, Account account, String csrf) {}

  /**
   * Makes the first owner when there is no account yet.
   *
   * @param wanted the password to use, or empty to make one up
   * @return the password, when an account was made
   */
  public Optional<String> firstOwner(String wanted) {
    return useCases.act(
        Caller.SERVICE,
        act -> {
          Tx tx = act.tx();
          if (new AccountStore(tx).any()) {
            return Optional.empty();
          }
          String password = wanted.isEmpty() ? Vault.randomText() : wanted;
          AccountRow row = row("owner", "Owner", Role.OWNER, password);
          tx.insert(row);
          act.done(Noun.ACCOUNT, "made", row.id, "First owner made: owner");
          return Optional.of(password);
        });
  }

  private AccountRow row(String login, String name, Role role, String password) {
    AccountRow row = new AccountRow();
    row.id = UlidCreator.getMonotonicUlid().toString();
    row.login = login;
    row.name = name;
    row.role = Words.of(role);
    row.passwordHash = Passwords.hash(password);
    row.createdAt = now();
    return row;
  }

  /**
   * Makes an account.
   *
   * @throws Problem 400 for a bad login, role or password, 409 when the login is taken
   */
  public Account add(Caller caller, String login, String name, String role, String password) {
    String plain = login.strip().toLowerCase(Locale.ROOT);
    if (!plain.matches("[a-z0-9._@-]{2,80}")) {
      throw Problem.malformed("/login", "A login has 2 to 80 letters, digits, dots, hyphens or @.");
    }
    if (password.length() < MIN_PASSWORD) {
      throw Problem.malformed(
          "/password", "A password has at least " + MIN_PASSWORD + " characters.");
    }
    Role known = Problem.reading("/role", () -> Words.parse(Role.class, role));
    AccountRow row = row(plain, name.isBlank() ? plain : name.strip(), known, password);
    return useCases.act(
        caller,
        act -> {
          if (new AccountStore(act.tx()).byLogin(plain).isPresent()) {
            throw Problem.conflict("login-taken", "There is an account " + plain + " already.");
          }
          act.tx().insert(row);
          act.done(Noun.ACCOUNT, "made", row.id, "Account " + plain + " made, role " + role);
          return view(row);
        });
  }

  /** Every account, by login. */
  public List<Account> all(Caller caller) {
    return useCases.read(tx -> new AccountStore(tx).all().stream().map(Accounts::view).toList());
  }

  /**
   * Signs in.
   *
   * @param label what signs in, such as {@code console} or {@code command line}
   * @param address where from, for slowing down guesses
   * @throws Problem 401 when login or password is wrong, without saying which; 429
   */
  public SignedIn signIn(
      String login, String password, String label, boolean program, String address) {
    String plain = login.strip().toLowerCase(Locale.ROOT);
    throttle.check("address " + address);
    throttle.check("login " + plain);
    Optional<AccountRow> found = useCases.read(tx -> new AccountStore(tx).byLogin(plain));
    boolean right =
        found
            .map(a -> Passwords.matches(password, a.passwordHash))
            .orElseGet(() -> Passwords.matchesNobody(password));
    if (!right) {
      throttle.failed("address " + address);
      throttle.failed("login " + plain);
      throw new Problem(
          401, "sign-in-failed", "Not signed in", "The login or the password is wrong.");
    }
    AccountRow account = found.orElseThrow();
    String token = Vault.randomText();
    SignInRow row = new SignInRow();
    row.tokenHash = Vault.hash(token);
    row.accountId = account.id;
    row.csrf = Vault.randomText();
    row.label = label;
    row.createdAt = now();
    row.expiresAt = row.createdAt.plus(program ? PROGRAM_LASTS : LASTS);
    useCases.run(
        caller(account),
        act -> {
          act.tx().insert(row);
          act.done(Noun.ACCOUNT, "signed-in", account.id, "Signed in by " + label);
        });
    return new SignedIn(view(account), token, row.csrf, row.expiresAt);
  }

  /** The sign-in a token belongs to; empty when there is none or it has ended. */
  public Optional<Known> known(String token) {
    return useCases.read(
        tx ->
            tx.find(SignInRow.class, Vault.hash(token))
                .filter(s -> s.expiresAt.isAfter(clock.instant()))
                .flatMap(
                    s ->
                        tx.find(AccountRow.class, s.accountId)
                            .map(a -> new Known(caller(a), view(a), s.csrf))));
  }

  /** Ends a sign-in. */
  public void signOut(String token) {
    useCases.run(
        Caller.SERVICE,
        act ->
            act.tx().find(SignInRow.class, Vault.hash(token)).ifPresent(s -> act.tx().delete(s)));
  }

  private Instant now() {
    return clock.instant().truncatedTo(ChronoUnit.MICROS);
  }

  private static Caller caller(AccountRow a) {
    return new Caller(a.id, a.login, Words.parse(Role.class, a.role));
  }

  private static Account view(AccountRow a) {
    return new Account(a.id, a.login, a.name, a.role, a.createdAt);
  }
}
