package dev.pinwright.service.access;

import com.github.f4b6a3.ulid.UlidCreator;
import dev.pinwright.core.Versioned;
import dev.pinwright.core.Words;
import dev.pinwright.core.access.Role;
import dev.pinwright.service.secret.Passwords;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.access.AccountStore;
import dev.pinwright.storage.row.AccountRow;
import dev.pinwright.storage.row.SignInRow;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Accounts and their sign-ins. */
public final class Accounts {
  /** How long a sign-in lasts. */
  public static final Duration LASTS = Duration.ofHours(12);

  /** How long a program's sign-in lasts. */
  public static final Duration PROGRAM_LASTS = Duration.ofDays(30);

  private static final int MIN_PASSWORD = 12;
  private static final int MOST_NAME = 80;

  private final UseCases useCases;
  private final Clock clock;
  private final Vault vault;
  private final Guessing guesses;

  public Accounts(UseCases useCases, Database database, Vault vault, Clock clock) {
    this.useCases = useCases;
    this.clock = clock;
    this.vault = vault;
    guesses = new Guessing(database, clock, "sign-in");
  }

  /** An account as shown; nobody signs in by one that is disabled. */
  public record Account(
      String id,
      String login,
      String name,
      String role,
      boolean disabled,
      Instant createdAt,
      int version)
      implements Versioned {}

  /** What changes of an account; what is not said stays. */
  public record Change(@Nullable String name, @Nullable String role, @Nullable Boolean disabled) {}

  /**
   * A browser or program that is signed in.
   *
   * @param label what it calls itself
   * @param here whether it is the one that asks
   */
  public record SignInShown(
      String id, String label, Instant createdAt, Instant expiresAt, boolean here) {}

  /**
   * A sign-in that has just begun.
   *
   * @param token told only now
   * @param browser what a browser keeps, so that it is known when it signs in again
   */
  public record SignedIn(
      Account account, String token, String csrf, Instant expiresAt, String browser) {}

  /**
   * Where somebody signs in from.
   *
   * @param browser what it kept of an earlier sign-in
   */
  public record From(String address, Optional<String> browser) {}

  /** A known sign-in. */
  public record Entered(Caller caller, Account account, String csrf) {}

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
    longEnough(password);
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

  private static void longEnough(String password) {
    if (password.length() < MIN_PASSWORD) {
      throw Problem.malformed(
          "/password", "A password has at least " + MIN_PASSWORD + " characters.");
    }
  }

  private static AccountRow locked(Tx tx, String id) {
    return tx.lock(AccountRow.class, id).orElseThrow(() -> Problem.notFound("account", id));
  }

  /** One account. */
  public Account get(Caller caller, String id) {
    return useCases.read(
        tx ->
            tx.find(AccountRow.class, id)
                .map(Accounts::view)
                .orElseThrow(() -> Problem.notFound("account", id)));
  }

  /**
   * Changes an account. One that is disabled is signed out everywhere.
   *
   * @throws Problem 409 when nobody would be left to own the house, 412
   */
  public Account change(Caller caller, String id, int version, Change change) {
    return useCases.act(
        caller,
        act -> {
          AccountRow row = locked(act.tx(), id);
          Known.unchanged("account", version, row.version);
          List<String> done = new ArrayList<>();
          String name = change.name() == null ? row.name : change.name().strip();
          if (name.isEmpty() || name.length() > MOST_NAME) {
            throw Problem.malformed("/name", "A name has 1 to " + MOST_NAME + " characters.");
          }
          if (!name.equals(row.name)) {
            row.name = name;
            done.add("now called " + name);
          }
          String role =
              change.role() == null
                  ? row.role
                  : Words.of(
                      Problem.reading("/role", () -> Words.parse(Role.class, change.role())));
          if (!role.equals(row.role)) {
            row.role = role;
            done.add("now " + role);
          }
          boolean was = row.disabledAt != null;
          boolean disabled = change.disabled() == null ? was : change.disabled();
          if (disabled != was) {
            row.disabledAt = disabled ? act.now() : null;
            done.add(disabled ? "disabled" : "enabled again");
          }
          if (disabled || !role.equals(Words.of(Role.OWNER))) {
            somebodyOwns(act.tx(), row.id);
          }
          if (disabled) {
            new AccountStore(act.tx()).endAll(id, "");
          }
          if (!done.isEmpty()) {
            act.done(
                Noun.ACCOUNT,
                "changed",
                id,
                "Account " + row.login + " " + String.join(", ", done));
          }
          act.tx().flush();
          return view(row);
        });
  }

  private static void somebodyOwns(Tx tx, String but) {
    if (!new AccountStore(tx).anotherOwner(but)) {
      throw Problem.conflict(
          "last-owner", "Nobody else owns this house; make another account an owner first.");
    }
  }

  /**
   * Deletes an account and signs it out everywhere; what it did stays in the journal.
   *
   * @throws Problem 409 for the last owner
   */
  public void delete(Caller caller, String id, int version) {
    useCases.run(
        caller,
        act -> {
          AccountRow row = locked(act.tx(), id);
          Known.unchanged("account", version, row.version);
          somebodyOwns(act.tx(), id);
          act.tx().delete(row);
          act.done(Noun.ACCOUNT, "deleted", id, "Account " + row.login + " deleted");
        });
  }

  /**
   * Gives an account a new password, for somebody who forgot theirs; it is signed out everywhere.
   */
  public Account resetPassword(Caller caller, String id, String password) {
    longEnough(password);
    String hash = Passwords.hash(password);
    return useCases.act(
        caller,
        act -> {
          AccountRow row = locked(act.tx(), id);
          row.passwordHash = hash;
          new AccountStore(act.tx()).endAll(id, "");
          act.done(Noun.ACCOUNT, "password-reset", id, "Password of " + row.login + " was reset");
          act.tx().flush();
          return view(row);
        });
  }

  /**
   * Changes one's own password. One's other sign-ins end.
   *
   * @param token of the sign-in that asks, which goes on
   * @throws Problem 403 when the password so far is wrong, 429 after many tries
   */
  public void changePassword(Caller caller, String token, String soFar, String password) {
    longEnough(password);
    prove(caller, soFar);
    String hash = Passwords.hash(password);
    useCases.run(
        caller,
        act -> {
          AccountRow row = locked(act.tx(), caller.accountId());
          row.passwordHash = hash;
          new AccountStore(act.tx()).endAll(row.id, Vault.hash(token));
          act.done(Noun.ACCOUNT, "password-changed", row.id, row.login + " changed their password");
        });
  }

  /**
   * Holds a password against one's own, for what a sign-in alone is not enough for.
   *
   * @throws Problem 403 when it is wrong, 429 after many tries
   */
  public void prove(Caller caller, String password) {
    String key = "password of " + caller.accountId();
    guesses.trying(key);
    AccountRow account =
        useCases.read(tx -> tx.find(AccountRow.class, caller.accountId()).orElseThrow());
    if (!Passwords.matches(password, account.passwordHash)) {
      throw new Problem(403, "wrong-password", "Not changed", "Your password is wrong.");
    }
    guesses.right(key);
  }

  /** Where an account is signed in, newest first. {@code token} is that of whoever asks. */
  public List<SignInShown> signIns(Caller caller, String accountId, String token) {
    String here = Vault.hash(token);
    return useCases.read(
        tx -> {
          tx.find(AccountRow.class, accountId)
              .orElseThrow(() -> Problem.notFound("account", accountId));
          return new AccountStore(tx)
              .signIns(accountId, clock.instant()).stream()
                  .map(
                      s ->
                          new SignInShown(
                              s.id, s.label, s.createdAt, s.expiresAt, s.tokenHash.equals(here)))
                  .toList();
        });
  }

  /** Ends a sign-in of an account. */
  public void endSignIn(Caller caller, String accountId, String signInId) {
    useCases.run(
        caller,
        act -> {
          if (!new AccountStore(act.tx()).end(accountId, signInId)) {
            throw Problem.notFound("sign-in", signInId);
          }
          act.done(
              Noun.ACCOUNT,
              "signed-out",
              accountId,
              "A sign-in of " + locked(act.tx(), accountId).login + " ended");
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
   * @param from where from, for slowing down guesses
   * @throws Problem 401 when login or password is wrong, without saying which; 429
   */
  public SignedIn signIn(String login, String password, String label, boolean program, From from) {
    String plain = login.strip().toLowerCase(Locale.ROOT);
    String key = slowed(plain, from);
    Optional<AccountRow> found = useCases.read(tx -> new AccountStore(tx).byLogin(plain));
    boolean right =
        found
            .map(a -> Passwords.matches(password, a.passwordHash))
            .orElseGet(() -> Passwords.matchesNobody(password));
    if (!right) {
      throw new Problem(
          401, "sign-in-failed", "Not signed in", "The login or the password is wrong.");
    }
    guesses.right(key);
    AccountRow account = found.orElseThrow();
    if (account.disabledAt != null) {
      throw new Problem(
          403,
          "account-disabled",
          "Not signed in",
          "This account is disabled; an owner can enable it.");
    }
    String token = Vault.randomText();
    SignInRow row = new SignInRow();
    row.id = UlidCreator.getMonotonicUlid().toString();
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
    return new SignedIn(view(account), token, row.csrf, row.expiresAt, browser(plain));
  }

  /**
   * Counts a try at a login. A browser that was signed in by it before is counted by itself, so
   * that nobody keeps its owner out; all others by their address, and together.
   *
   * @return the key it is counted by
   */
  private String slowed(String login, From from) {
    if (from.browser().filter(b -> knows(b, login)).isPresent()) {
      String key = "browser " + Vault.hash(from.browser().get());
      guesses.trying(key);
      return key;
    }
    return guesses.trying(login, from.address());
  }

  /** What a browser keeps to be known by: the login, sealed. */
  private String browser(String login) {
    byte[] sealed = vault.seal(login + "\n" + Vault.randomText());
    return Base64.getUrlEncoder().withoutPadding().encodeToString(sealed);
  }

  private boolean knows(String browser, String login) {
    try {
      return vault.open(Base64.getUrlDecoder().decode(browser)).startsWith(login + "\n");
    } catch (RuntimeException notOurs) {
      return false;
    }
  }

  /** The sign-in a token belongs to; empty when there is none or it has ended. */
  public Optional<Entered> known(String token) {
    return useCases.read(
        tx ->
            tx.find(SignInRow.class, Vault.hash(token))
                .filter(s -> s.expiresAt.isAfter(clock.instant()))
                .flatMap(
                    s ->
                        tx.find(AccountRow.class, s.accountId)
                            .filter(a -> a.disabledAt == null)
                            .map(a -> new Entered(caller(a), view(a), s.csrf))));
  }

  /** Ends a sign-in. */
  public void signOut(String token) {
    useCases.run(
        Caller.SERVICE,
        act -> {
          act.tx().find(SignInRow.class, Vault.hash(token)).ifPresent(s -> act.tx().delete(s));
          act.touch(Noun.ACCOUNT);
        });
  }

  private Instant now() {
    return clock.instant().truncatedTo(ChronoUnit.MICROS);
  }

  private static Caller caller(AccountRow a) {
    return new Caller(a.id, a.login, Words.parse(Role.class, a.role));
  }

  private static Account view(AccountRow a) {
    return new Account(a.id, a.login, a.name, a.role, a.disabledAt != null, a.createdAt, a.version);
  }
}
