package dev.pinwright.core.signin;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

class SignInWindowTest {
  private static SignInWindow window(Map<String, String> texts, String... accounts) {
    return SignInWindow.read(texts, List.of(accounts)).orElseThrow();
  }

  @Test
  void whereNothingIsSaidThereIsNone() {
    assertThat(SignInWindow.read(Map.of(), List.of("desk"))).isEmpty();
  }

  @Test
  void onlyThoseNamedMaySignInAndOnlyWhereTheyHaveAnAccount() {
    SignInWindow w =
        window(Map.of("style", "names", "who", "[\"desk\",\"ines\"]"), "desk", "workshop");
    assertThat(w.names()).containsExactly("desk", "ines");
    assertThat(w.objection("desk")).isEmpty();
    assertThat(w.objection("workshop"))
        .hasValueSatisfying(o -> assertThat(o).contains("may not sign in"));
    SignInWindow open = window(Map.of("banner", "Mind the step."), "desk");
    assertThat(open.names()).as("the login is typed").isEmpty();
    assertThat(open.objection("desk")).isEmpty();
    assertThat(open.objection("nobody"))
        .hasValueSatisfying(o -> assertThat(o).contains("no account nobody"));
  }

  @Test
  void guestsComeInWhereTheyAreWelcome() {
    assertThat(window(Map.of("guest", "true"), "desk").objection(" ")).isEmpty();
    assertThat(window(Map.of("guest", "false"), "desk").objection("")).contains("Type your login.");
  }
}
