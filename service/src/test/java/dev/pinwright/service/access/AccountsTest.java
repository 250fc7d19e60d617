package dev.pinwright.service.access;

import static dev.pinwright.service.Node.OWNER;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.service.Node;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Role;
import java.time.Duration;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** Who signs in, and for how long. */
class AccountsTest {
  private static final String PASSWORD = "a long enough password";
  private static Node node;
  private static Accounts accounts;

  @BeforeAll
  static void start() {
    node = new Node();
    accounts = node.pinwright.accounts();
  }

  @AfterAll
  static void stop() {
    node.close();
  }

  private static Accounts.SignedIn signIn(String login, boolean program) {
    return accounts.signIn(login, PASSWORD, "test", program, "127.0.0.1");
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
      accounts.signIn(login, password, "test", false, "10.1.1.1");
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
