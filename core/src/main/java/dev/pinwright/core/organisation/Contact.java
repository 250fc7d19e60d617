package dev.pinwright.core.organisation;

import java.util.Locale;

/** How a person is reached: the login of the staff directory, and the mail address. */
public final class Contact {
  private Contact() {}

  /**
   * A login in the form it is kept in: small letters; empty for none.
   *
   * @throws IllegalArgumentException when it cannot be one
   */
  public static String login(String written) {
    String login = written.strip().toLowerCase(Locale.ROOT);
    if (!login.matches("[a-z0-9._@-]{0,80}")) {
      throw new IllegalArgumentException("a login has letters, digits, dots, hyphens or @");
    }
    return login;
  }

  /**
   * A mail address (RFC 5321, 4.1.2, without quoted parts); empty for none.
   *
   * @throws IllegalArgumentException when it cannot be one
   */
  public static String mail(String written) {
    String mail = written.strip();
    if (!mail.isEmpty() && !mail.matches("[^\\s@,;<>]{1,64}@[A-Za-z0-9.-]{1,190}")) {
      throw new IllegalArgumentException(
          "'" + mail + "' is not a mail address such as ines@vellmar.example");
    }
    return mail;
  }
}
