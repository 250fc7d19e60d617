package dev.pinwright.core.notice;

import dev.pinwright.core.Words;
import dev.pinwright.core.app.Attempt;
import dev.pinwright.core.license.Forecast;
import dev.pinwright.core.license.Licensing;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * What is said on every day on which it is so, and no longer once it is not. Each function takes
 * what was found and answers with the notice, or with nothing when there is nothing to say.
 */
public final class Daily {
  /** How long a service of the house may fail before it is said: it may work again by itself. */
  public static final Duration FAILING_LONG = Duration.ofMinutes(10);

  /** How long a device may wait to be let in before it is said. */
  public static final Duration WAITING_LONG = Duration.ofHours(1);

  /** How long a row of the roster may wait for its device. */
  public static final Duration OVERDUE = Duration.ofDays(30);

  /** How long before licenses run out, or a printed code lapses, it is said. */
  public static final Duration SOON = Duration.ofDays(14);

  private static final DateTimeFormatter WHEN =
      DateTimeFormatter.ofPattern("d MMMM, HH:mm", Locale.ENGLISH);

  private Daily() {}

  /** What has a name, a page of its own, and something to be said of it. */
  public record Told(String id, String name, String words) {}

  /**
   * Devices that wait for somebody to let them in.
   *
   * @param since when the first of them asked
   */
  public static Optional<Notice> arrivals(long devices, Optional<Instant> since) {
    return when(
        devices > 0,
        "arrivals",
        (devices == 1 ? "A device waits" : devices + " devices wait")
            + " for somebody to let "
            + (devices == 1 ? "it" : "them")
            + " in",
        "The first asked on "
            + since.map(t -> WHEN.format(t.atZone(ZoneOffset.UTC)) + " UTC").orElse("")
            + ". Approve or refuse them in Intake, Arrivals.",
        "/intake/arrivals?outcome=waiting",
        false);
  }

  /** Profiles whose waves stopped by themselves; the words say why. */
  public static Optional<Notice> waves(List<Told> stopped) {
    return when(
        !stopped.isEmpty(),
        "waves",
        "The waves of " + nameOrNumber(stopped, " profiles") + " stopped",
        String.join(" ", stopped.stream().map(s -> s.name() + ": " + s.words() + ".").toList()),
        pageOf(stopped, "/rules/profiles/", "/rules/profiles"),
        true);
  }

  /**
   * Licenses of an app that are short, or will be soon.
   *
   * @param lacking how many go without one
   * @param soon what runs out {@link #SOON}
   * @param link the page of its licenses
   */
  public static Optional<Notice> licenses(
      Told app, Licensing licensing, long lacking, Optional<Forecast.RunsOut> soon, String link) {
    if (lacking == 0) {
      return soon.map(
          s ->
              new Notice(
                  "licenses " + app.id(),
                  "",
                  app.name()
                      + s.place().map(p -> " at " + p).orElse("")
                      + ": at this rate none is left in "
                      + Words.counted(s.days(), "day"),
                  "Buy more in the vendor's portal"
                      + (s.place().isPresent() ? ", or move some from another place," : "")
                      + " before they run out; "
                      + s.free()
                      + (s.free() == 1 ? " is free." : " are free."),
                  link,
                  false));
    }
    String whom = licensing == Licensing.BY_HOLDER ? "holder" : "device";
    return when(
        true,
        "licenses " + app.id(),
        app.name() + " is " + Words.counted(lacking, "license") + " short",
        (lacking == 1 ? "A " + whom + " goes" : Words.counted(lacking, whom) + " go")
            + " without. Buy more in the vendor's portal, or move some from another place.",
        link,
        true);
  }

  /** Apps of which a version appeared that nobody has released; the words are the version. */
  public static Optional<Notice> versions(List<Told> newer) {
    return when(
        !newer.isEmpty(),
        "versions",
        newer.size() == 1
            ? newer.get(0).name() + " " + newer.get(0).words() + " appeared"
            : newer.size() + " apps have a new version",
        "Devices keep the version they have until somebody releases the new one: "
            + String.join(", ", newer.stream().map(n -> n.name() + " " + n.words()).toList())
            + ".",
        pageOf(newer, "/apps/catalogue?card=", "/apps/catalogue"),
        false);
  }

  /** An app that is tried no more on some devices, and why. */
  public record GivenUp(String id, String name, long devices, String reason) {}

  /** Apps that were tried so often on devices that they are tried no more. */
  public static Optional<Notice> failingApps(List<GivenUp> apps) {
    List<Told> told = apps.stream().map(a -> new Told(a.id(), a.name(), a.reason())).toList();
    return when(
        !apps.isEmpty(),
        "apps",
        apps.size() == 1
            ? apps.get(0).name() + " fails again and again"
            : apps.size() + " apps fail again and again",
        "Tried "
            + Attempt.MOST
            + " times and no more: "
            + String.join(
                "; ",
                apps.stream()
                    .map(
                        a ->
                            a.name()
                                + " on "
                                + Words.counted(a.devices(), "device")
                                + ", "
                                + a.reason())
                    .toList())
            + ". Push them once the cause is mended.",
        pageOf(told, "/apps/catalogue?card=", "/apps/behind"),
        false);
  }

  /** Printed codes that lapse soon; the id is that of their app, the words the day. */
  public static Optional<Notice> codes(List<Told> lapsing) {
    return when(
        !lapsing.isEmpty(),
        "codes",
        lapsing.size() == 1
            ? "The printed code " + lapsing.get(0).name() + " lapses soon"
            : lapsing.size() + " printed codes lapse soon",
        "Print new ones and hang them up: "
            + String.join(
                ", ", lapsing.stream().map(l -> l.name() + " until " + l.words()).toList())
            + ".",
        lapsing.isEmpty() ? "" : "/apps/catalogue?card=" + lapsing.get(0).id(),
        false);
  }

  /**
   * Lost devices that have been looked for for long.
   *
   * @param one the id and the device of the first
   */
  public static Optional<Notice> cases(long cases, Optional<Told> one) {
    return when(
        cases > 0,
        "cases",
        cases == 1
            ? one.map(Told::name).orElse("") + " has been lost for a week"
            : cases + " devices have been lost for a week",
        "Say how it ended: found, or given up.",
        cases == 1 ? "/devices/lost/" + one.map(Told::id).orElse("") : "/devices/lost?state=open",
        false);
  }

  /**
   * A site's cache that is gone round.
   *
   * @param site its id and name, and what the cache says of itself
   * @param since when it stopped working; empty while it works, or where it was never set up
   */
  public static Optional<Notice> cache(Told site, Optional<Instant> since, Instant now) {
    return when(
        since.isPresent() && since.get().isBefore(now.minus(FAILING_LONG)),
        "cache " + site.id(),
        "The cache at " + site.name() + " is gone round",
        "What it says of itself: "
            + site.words()
            + ". Its devices fetch everything over their line until it is back.",
        "/devices/sites?card=" + site.id(),
        false);
  }

  /**
   * Devices that a check finds out of order.
   *
   * @param check its id and name, and what holders are told
   */
  public static Optional<Notice> check(Told check, long devices) {
    return when(
        devices > 0,
        "check " + check.id(),
        check.name()
            + ": "
            + Words.counted(devices, "device")
            + (devices == 1 ? " is" : " are")
            + " out of order",
        "Their holders are told: " + check.words(),
        "/rules/checks?card=" + check.id(),
        false);
  }

  /**
   * A service of the house that fails.
   *
   * @param kind {@code mail} or {@code directory}
   * @param fault what it said
   * @param since since when it was seen to fail; empty when it does not
   */
  public static Optional<Notice> connection(
      String kind, String fault, Optional<Instant> since, Instant now) {
    boolean mail = kind.equals("mail");
    return when(
        since.isPresent() && !since.get().isAfter(now.minus(FAILING_LONG)),
        kind,
        mail ? "Mail cannot be sent" : "The staff directory needs you",
        fault.replaceFirst("[.\\s]*$", ". ")
            + (mail
                ? "Invitations and notices wait until it can."
                : "Until then people stay as they were read last, and signing in to join may"
                    + " fail."),
        "/house/" + kind,
        true);
  }

  /** Rows of the roster whose devices have not come in {@link #OVERDUE}. */
  public static Optional<Notice> roster(long rows) {
    return when(
        rows > 0,
        "roster",
        (rows == 1 ? "A device on the roster has" : rows + " devices on the roster have")
            + " not come in "
            + Words.counted(OVERDUE.toDays(), "day"),
        "Find them, or take their rows off the roster, so that nobody else joins as them.",
        "/intake/roster?state=expected&waitingDays=" + OVERDUE.toDays(),
        false);
  }

  private static Optional<Notice> when(
      boolean so, String about, String title, String detail, String link, boolean urgent) {
    return so ? Optional.of(new Notice(about, "", title, detail, link, urgent)) : Optional.empty();
  }

  private static String nameOrNumber(List<Told> things, String noun) {
    return things.size() == 1 ? things.get(0).name() : things.size() + noun;
  }

  private static String pageOf(List<Told> things, String one, String all) {
    return things.size() == 1 ? one + things.get(0).id() : all;
  }
}
