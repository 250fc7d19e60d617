package dev.pinwright.sandbox.device;

import dev.pinwright.protocol.join.JoinMessages;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What the holder sees, as JSON for the hand-held view.
 *
 * @param noticed values of the settings that show, by where they show
 * @param passcodeUntil until when the holder may go on with a passcode that is not good enough
 * @param turnedOff titles of what was turned off and would be missed
 */
public record Screen(
    String id,
    String maker,
    String model,
    String platform,
    String kind,
    String osVersion,
    String serial,
    Optional<String> imei,
    String screen,
    String reason,
    String problem,
    Optional<JoinMessages.Offer> offer,
    boolean online,
    boolean managed,
    double battery,
    boolean charging,
    String lockText,
    String lockPhone,
    boolean passcodeSet,
    String passcodeDemand,
    boolean ringing,
    String ringText,
    List<Message> messages,
    Map<String, String> noticed,
    List<Told> settings,
    int sessions,
    Map<String, Integer> runs,
    Optional<FirstRun> firstRun,
    List<JoinMessages.GateStep> gate,
    boolean updating,
    boolean removable,
    boolean pushOnly,
    boolean handsFree,
    boolean offline,
    Optional<String> question,
    Optional<String> passcodeUntil,
    Optional<SignIn> signIn,
    Optional<String> signedIn,
    List<Shortcut> shortcuts,
    List<String> turnedOff) {
  /** Whether a flag of the catalogue shows on the device, such as that its camera is gone. */
  public boolean notices(String place) {
    return "true".equals(noticed.get(place));
  }

  /** The first-run screen on show, and how many are left with it. */
  public record FirstRun(String key, String title, String text, int left) {}

  /** A message on the screen. */
  public record Message(String text, String at, boolean read) {}

  /** A setting the organisation has put on the device. */
  public record Told(String section, String title, String value) {}

  /**
   * The sign-in window of a laptop.
   *
   * @param names accounts to choose from; none where the login is typed
   */
  public record SignIn(String banner, List<String> names, boolean guests) {}

  /** An address that stands on the home screen like an app. */
  public record Shortcut(String title, String address) {}
}
