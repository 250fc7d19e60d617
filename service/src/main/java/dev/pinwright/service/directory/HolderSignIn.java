package dev.pinwright.service.directory;

import dev.pinwright.core.Words;
import dev.pinwright.core.enrollment.EnrollmentProfile.SignIn;
import dev.pinwright.protocol.join.JoinMessages;
import dev.pinwright.service.secret.Passwords;
import dev.pinwright.storage.row.EnrollmentProfileRow;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** How holders prove who they are. */
public final class HolderSignIn {
  private final StaffDirectory directory;

  public HolderSignIn(StaffDirectory directory) {
    this.directory = directory;
  }

  /** The staff directory, as far as joining needs it. */
  public interface StaffDirectory {
    /**
     * Proves a login and password.
     *
     * @param group name of a group the holder has to belong to; empty for none
     */
    Proof prove(String login, String password, String group);
  }

  /**
   * What came of a sign-in.
   *
   * @param personId who it was, when the directory knows
   * @param fault why it could not be decided, or what else was wrong; empty for a plain yes or no
   */
  public record Proof(boolean right, Optional<String> personId, Optional<String> fault) {
    /** No sign-in was asked for. */
    public static final Proof NOT_ASKED = new Proof(true, Optional.empty(), Optional.empty());

    /** Wrong, without saying what. */
    public static final Proof WRONG = new Proof(false, Optional.empty(), Optional.empty());

    /** Not right, for a reason the holder may know. */
    public static Proof not(String why) {
      return new Proof(false, Optional.empty(), Optional.of(why));
    }
  }

  /** Holds what the holder typed against what the profile asks for. */
  public Proof prove(EnrollmentProfileRow profile, JoinMessages.@Nullable SignIn typed) {
    String secret = typed == null || typed.secret() == null ? "" : typed.secret();
    String login = typed == null || typed.login() == null ? "" : typed.login().strip();
    return switch (Words.parse(SignIn.class, profile.signIn)) {
      case NONE -> Proof.NOT_ASKED;
      case PASSPHRASE ->
          !secret.isEmpty()
                  && profile.passphraseHash != null
                  && Passwords.sharedMatches(secret, profile.passphraseHash)
              ? Proof.NOT_ASKED
              : Proof.WRONG;
      case DIRECTORY ->
          login.isEmpty() || secret.isEmpty()
              ? Proof.WRONG
              : directory.prove(
                  login, secret, profile.directoryGroup == null ? "" : profile.directoryGroup);
    };
  }
}
