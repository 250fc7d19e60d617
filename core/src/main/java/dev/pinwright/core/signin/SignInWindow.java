package dev.pinwright.core.signin;

import dev.pinwright.core.catalog.JsonTexts;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * The window a laptop shows before anybody works on it.
 *
 * @param banner the text above it; empty for none
 * @param names the accounts to choose from; none where the login is typed
 * @param guests whether somebody without an account may sign in
 * @param who the only logins that may; all accounts where there are none
 * @param accounts logins set up on the laptop
 */
public record SignInWindow(
    String banner, List<String> names, boolean guests, List<String> who, List<String> accounts) {
  public SignInWindow {
    names = List.copyOf(names);
    who = List.copyOf(who);
    accounts = List.copyOf(accounts);
  }

  /**
   * Reads the window from the texts of the sign-in settings, as they stand in a policy tree; empty
   * where nothing is said of it.
   *
   * @param accounts logins set up on the laptop
   */
  public static Optional<SignInWindow> read(
      Map<String, String> texts, Collection<String> accounts) {
    if (texts.isEmpty()) {
      return Optional.empty();
    }
    List<String> who =
        Optional.ofNullable(texts.get("who")).flatMap(JsonTexts::read).orElse(List.of());
    List<String> known =
        Stream.concat(accounts.stream(), who.stream()).distinct().sorted().toList();
    return Optional.of(
        new SignInWindow(
            texts.getOrDefault("banner", ""),
            "names".equals(texts.get("style"))
                ? known.stream().filter(n -> who.isEmpty() || who.contains(n)).toList()
                : List.of(),
            Boolean.parseBoolean(texts.get("guest")),
            who,
            known));
  }

  /** Why somebody may not sign in, in the words of the laptop; empty when they may. */
  public Optional<String> objection(String login) {
    String typed = login.strip();
    if (typed.isEmpty()) {
      return guests ? Optional.empty() : Optional.of("Type your login.");
    }
    if (!who.isEmpty() && !who.contains(typed)) {
      return Optional.of(typed + " may not sign in to this laptop.");
    }
    return accounts.isEmpty() || accounts.contains(typed)
        ? Optional.empty()
        : Optional.of("There is no account " + typed + " on this laptop.");
  }
}
