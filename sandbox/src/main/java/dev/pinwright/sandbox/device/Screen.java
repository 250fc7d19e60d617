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
 * @param kioskBack when its kiosk comes back, where it was left for a time
 * @param recoveryKey what its disk opens with besides the passcode, where it made that for somebody
 * @param faults what is wrong with it
 * @param order what it was told of being in order; none before that
 * @param apps those that come with it
 * @param installed those that were installed
 * @param coming those that are on their way
 * @param shelf what may be picked, as it was told, by path
 * @param choices of what is asked; none for yes and no
 * @param biometricsOff whether fingerprint and face open nothing for now
 * @param wishes ids of apps that were picked and not answered yet
 * @param opened the app on show; none on the home screen
 * @param written what was typed into it
 * @param watched who sees the screen now; nobody mostly
 * @param inUse whether somebody is using it
 * @param language its holder reads
 * @param givenName by a cable; empty for none
 * @param update a version of the system that can be installed
 * @param provided what it was set up with for work
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
    List<String> choices,
    Optional<String> passcodeUntil,
    Optional<SignIn> signIn,
    Optional<String> signedIn,
    List<Shortcut> shortcuts,
    List<Document> documents,
    List<String> turnedOff,
    Optional<KioskView> kiosk,
    Optional<String> kioskBack,
    Optional<String> recoveryKey,
    List<String> faults,
    Optional<Order> order,
    List<App> apps,
    List<Tile> installed,
    List<Coming> coming,
    Map<String, String> shelf,
    List<String> wishes,
    boolean biometricsOff,
    boolean simLocked,
    Optional<String> opened,
    String written,
    Optional<Watched> watched,
    boolean inUse,
    String language,
    String givenName,
    Optional<Update> update,
    Provided provided) {
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

  /** An app, whether it is on the device, and the page of the web it is, if it is one. */
  public record App(String id, String name, boolean there, String opens) {}

  /**
   * An app that was installed.
   *
   * @param config what it was told, its placeholders filled in; empty for nothing
   * @param opens the page of the web it is; empty for one that is none
   */
  public record Tile(
      String id,
      String name,
      String version,
      boolean managed,
      boolean usable,
      String config,
      String opens) {}

  /** An app on its way: percent of its package that has come, and what it waits for. */
  public record Coming(String id, String name, int percent, Optional<String> waits) {}

  /**
   * A kiosk.
   *
   * @param open the app on show; none on its home screen, and where the one app is gone
   * @param off what does nothing, such as {@code home-button}
   * @param changes what may be changed
   */
  public record KioskView(
      String title,
      boolean one,
      int columns,
      List<List<Optional<App>>> rows,
      List<App> dock,
      Optional<App> open,
      List<App> missing,
      List<String> off,
      List<String> changes,
      boolean exitCode) {}

  /** Who sees the screen, whether all of it, and whether they may tap and type. */
  public record Watched(String by, boolean whole, boolean taps) {}

  /** Whether the device is in order, and why it is not. */
  public record Order(String state, List<String> reasons) {}

  /** A version of the system, and when it comes by itself; empty words for never. */
  public record Update(String version, String words) {}

  /** Something to read, by the digest of its file. */
  public record Document(String title, String file) {}

  /** An address that stands on the home screen like an app. */
  public record Shortcut(String title, String address) {}

  /**
   * What a device was set up with for work.
   *
   * @param scripts how those that run by themselves ended last, by name
   */
  public record Provided(
      List<Mailbox> mailboxes,
      List<Certificate> certificates,
      Map<String, String> scripts,
      boolean lidClosed) {}

  /**
   * A mailbox.
   *
   * @param in host and port its mail is fetched from
   * @param out host and port its mail is handed to
   * @param days how far back it is kept; empty where nothing is said
   * @param asksPassword whether its holder is asked for the password
   */
  public record Mailbox(
      String address,
      String in,
      String out,
      String days,
      String signature,
      boolean asksPassword,
      boolean withoutAttachments) {}

  /**
   * A certificate.
   *
   * @param own whether the device proves itself with it, rather than trusts whoever it vouches for
   * @param kept whether the holder cannot take it off
   */
  public record Certificate(String name, boolean own, boolean kept) {}
}
