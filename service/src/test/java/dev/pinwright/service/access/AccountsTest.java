package dev.pinwright.service.access;

import static dev.pinwright.service.Node.OWNER;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import dev.pinwright.core.access.Role;
import dev.pinwright.service.Node;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** Who signs in, and for how long. */
class AccountsTest {
  private static final String PASSWORD = "a long enough password";
  private static final Accounts.From AT_HOME = new Accounts.From("127.0.0.1", Optional.empty());
  private static Node node;
  private static Accounts accounts;

  @BeforeAll
  static void start() {
    node = Node.fresh();
    accounts = node.pinwright.accounts();
  }

  @AfterAll
  static void stop() {
    node.close();
  }

  private static Accounts.SignedIn signIn(String login, boolean program) {
    return accounts.signIn(login, PASSWORD, "test", program, AT_HOME);
  }

  @Test
  void theFirstOwnerIsMadeOnce() {
    assertThat(node.pinwright.ownerPassword()).hasValue(PASSWORD);
    assertThat(accounts.firstOwner("another password")).isEmpty();
    try (Node other = node.another()) {
      assertThat(other.pinwright.ownerPassword()).isEmpty();
    }
  }

  @Test
  void aSignInIsKnownByItsTokenUntilItEnds() {
    Accounts.SignedIn in = signIn("owner", false);
    assertThat(accounts.known(in.token()).orElseThrow().csrf()).isEqualTo(in.csrf());
    assertThat(accounts.known(in.token() + "x")).isEmpty();
    node.clock.pass(Accounts.LASTS.plusMinutes(1));
    assertThat(accounts.known(in.token())).isEmpty();
    Accounts.SignedIn program = signIn("owner", true);
    node.clock.pass(Accounts.LASTS.plusMinutes(1));
    assertThat(accounts.known(program.token())).as("programs stay longer").isPresent();
    accounts.signOut(program.token());
    assertThat(accounts.known(program.token())).isEmpty();
  }

  @Test
  void whoGuessesKeepsNobodyOutWhoWasHereBefore() {
    made("jory", "operator");
    Accounts.SignedIn before = signIn("jory", false);
    Accounts.From known = new Accounts.From("127.0.0.1", Optional.of(before.browser()));
    for (int i = 0; i < 8; i++) {
      assertThat(refused(() -> accounts.signIn("jory", "guess", "test", false, AT_HOME)))
          .isEqualTo("sign-in-failed");
    }
    assertThat(refused(() -> accounts.signIn("jory", PASSWORD, "test", false, AT_HOME)))
        .as("even the right one, from a browser nobody knows at the same address")
        .isEqualTo("too-many-tries");
    assertThat(refused(() -> accounts.signIn("jory", PASSWORD, "test", false, known)))
        .as("in the browser that was signed in before")
        .isEqualTo("done");
    Accounts.From elsewhere = new Accounts.From("10.0.0.9", Optional.of("made up"));
    assertThat(refused(() -> accounts.signIn("jory", PASSWORD, "test", false, elsewhere)))
        .as("from another address")
        .isEqualTo("done");
    assertThat(refused(() -> signIn("owner", false))).as("somebody else").isEqualTo("done");
    node.clock.pass(Duration.ofMinutes(2));
  }

  private static String refused(Runnable work) {
    Problem p = catchThrowableOfType(Problem.class, work::run);
    return p == null ? "done" : p.type();
  }

  private static Accounts.Account made(String login, String role) {
    return accounts.add(OWNER, login, "", role, PASSWORD);
  }

  private static Accounts.Account changed(Accounts.Account a, String role, Boolean disabled) {
    return accounts.change(OWNER, a.id(), a.version(), new Accounts.Change(null, role, disabled));
  }

  @Test
  void whoIsDisabledIsSignedOutEverywhereUntilEnabledAgain() {
    Accounts.Account tova = made("tova", "helpdesk");
    Accounts.SignedIn in = signIn("tova", false);
    Accounts.Account disabled = changed(tova, null, true);
    assertThat(accounts.known(in.token())).isEmpty();
    assertThat(refused(() -> signIn("tova", false))).isEqualTo("account-disabled");
    changed(disabled, "operator", false);
    assertThat(signIn("tova", false).account().role()).isEqualTo("operator");
    assertThat(refused(() -> changed(tova, "reader", null)))
        .as("on a version that was")
        .isEqualTo("changed-meanwhile");
  }

  @Test
  void theLastOwnerStays() {
    Accounts.Account owner =
        accounts.all(OWNER).stream().filter(a -> a.login().equals("owner")).findFirst().get();
    assertThat(refused(() -> changed(owner, "operator", null))).isEqualTo("last-owner");
    assertThat(refused(() -> changed(owner, null, true))).isEqualTo("last-owner");
    assertThat(
            refused(
                () ->
                    accounts.delete(OWNER, owner.id(), accounts.get(OWNER, owner.id()).version())))
        .isEqualTo("last-owner");
    Accounts.Account other = made("maren", "owner");
    Accounts.Account demoted = changed(owner, "operator", null);
    assertThat(
            refused(
                () ->
                    accounts.delete(OWNER, other.id(), accounts.get(OWNER, other.id()).version())))
        .isEqualTo("last-owner");
    changed(demoted, "owner", null);
    accounts.delete(OWNER, other.id(), accounts.get(OWNER, other.id()).version());
    assertThat(accounts.all(OWNER)).extracting(Accounts.Account::login).doesNotContain("maren");
  }

  @Test
  void onesOwnPasswordIsChangedByKnowingItAndEndsOnesOtherSignIns() {
    made("eskil", "operator");
    Accounts.SignedIn here = signIn("eskil", false);
    Accounts.SignedIn there = signIn("eskil", true);
    Caller eskil = accounts.known(here.token()).orElseThrow().caller();
    assertThat(
            refused(
                () -> accounts.changePassword(eskil, here.token(), "wrong", "another long one")))
        .isEqualTo("wrong-password");
    assertThat(refused(() -> accounts.changePassword(eskil, here.token(), PASSWORD, "short")))
        .isEqualTo("malformed");
    accounts.changePassword(eskil, here.token(), PASSWORD, "another long one");
    assertThat(accounts.known(here.token())).isPresent();
    assertThat(accounts.known(there.token())).isEmpty();
    assertThat(refused(() -> signIn("eskil", false))).isEqualTo("sign-in-failed");
    String id = here.account().id();
    accounts.resetPassword(OWNER, id, PASSWORD);
    assertThat(accounts.known(here.token())).as("a reset ends all").isEmpty();
    Accounts.SignedIn again = signIn("eskil", false);
    signIn("eskil", true);
    List<Accounts.SignInShown> all = accounts.signIns(OWNER, id, again.token());
    assertThat(all).hasSize(2).filteredOn(Accounts.SignInShown::here).hasSize(1);
    Accounts.SignInShown other = all.stream().filter(x -> !x.here()).findFirst().orElseThrow();
    accounts.endSignIn(OWNER, id, other.id());
    assertThat(accounts.signIns(OWNER, id, again.token())).hasSize(1);
    assertThat(refused(() -> accounts.endSignIn(OWNER, id, other.id()))).isEqualTo("not-found");
  }

  @Test
  void noTokenOrPasswordIsKeptAsItIs() {
    Accounts.SignedIn in = signIn("owner", true);
    String kept =
        node.sql(
            tx ->
                tx.value(
                    "select string_agg(cast(s as text), ' ')"
                        + " || (select string_agg(cast(a as text), ' ') from account a)"
                        + " from sign_in s",
                    String.class,
                    java.util.Map.of()));
    assertThat(kept).contains("$argon2id$").doesNotContain(in.token(), PASSWORD);
  }

  @Test
  void anAccountSignsInWithItsRoleWhateverTheCaseOfItsLogin() {
    accounts.add(OWNER, "Ines", "Ines", "helpdesk", PASSWORD);
    Accounts.SignedIn in = signIn(" INES ", false);
    assertThat(in.account().role()).isEqualTo("helpdesk");
    assertThat(accounts.known(in.token()).orElseThrow().caller().role()).isEqualTo(Role.HELPDESK);
  }

  @Test
  void aWrongLoginAndAWrongPasswordSoundTheSame() {
    String nobody = refusal("nobody", PASSWORD);
    String wrong = refusal("owner", "not the password");
    assertThat(nobody).isEqualTo(wrong);
    node.clock.pass(Duration.ofMinutes(2));
  }

  private static String refusal(String login, String password) {
    try {
      accounts.signIn(
          login, password, "test", false, new Accounts.From("10.0.0.8", Optional.empty()));
      return "signed in";
    } catch (Problem p) {
      return p.status() + " " + p.type() + " " + p.getMessage();
    }
  }

  @Test
  void whatAnAccountNeedsIsSaid() {
    assertThatThrownBy(() -> accounts.add(OWNER, "x", "", "reader", PASSWORD))
        .hasMessageContaining("2 to 80 letters");
    assertThatThrownBy(() -> accounts.add(OWNER, "bo", "", "reader", "short"))
        .hasMessageContaining("at least 12 characters");
    assertThatThrownBy(() -> accounts.add(OWNER, "bo", "", "king", PASSWORD))
        .hasMessageContaining("king");
    accounts.add(OWNER, "bo", "", "reader", PASSWORD);
    assertThatThrownBy(() -> accounts.add(OWNER, "BO", "", "reader", PASSWORD))
        .hasMessageContaining("already");
  }
}
