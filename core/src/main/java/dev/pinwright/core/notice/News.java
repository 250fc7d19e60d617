package dev.pinwright.core.notice;

import dev.pinwright.core.Lapse;
import dev.pinwright.core.Words;
import dev.pinwright.core.gateway.PushCredential;
import dev.pinwright.core.lost.LostCase;
import dev.pinwright.core.watch.Watch;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.List;

/** What is said when it happens. */
public final class News {
  /** Days before something ends from which it cannot wait. */
  private static final int URGENT_DAYS = 7;

  private News() {}

  /**
   * The right to wake a platform's devices ends.
   *
   * @param due which of {@link Lapse#NOTICE_DAYS} it is
   */
  public static Notice pushLapses(String platform, PushCredential held, int due, Instant now) {
    return new Notice(
        push(platform),
        held.expiresAt() + " " + due,
        "Push credential of " + platform + " " + held.lapse().words(now),
        "It holds until "
            + day(held.expiresAt())
            + ". Make a signing request, have it signed under "
            + held.account()
            + " and bring the result. Without it "
            + platform
            + " devices are woken only while they keep a connection open.",
        "/house/gateways?open=" + platform,
        due <= URGENT_DAYS);
  }

  /** What is said of a platform's push credential. */
  public static String push(String platform) {
    return "push " + platform;
  }

  /**
   * A certificate that devices are handed ends.
   *
   * @param due which of {@link Lapse#NOTICE_DAYS} it is
   * @param profiles names of those that hand it out
   */
  public static Notice certificateLapses(
      String id, String name, Lapse lapse, int due, List<String> profiles, Instant now) {
    return new Notice(
        "file " + id,
        String.valueOf(due),
        "The certificate " + name + " " + lapse.words(now),
        "It holds until "
            + day(lapse.at())
            + " and is handed out by "
            + String.join(", ", profiles)
            + ". Store its successor, name that there instead, and publish.",
        "/rules/files?card=" + id,
        due <= URGENT_DAYS);
  }

  /** Somebody reported a device lost. */
  public static Notice lost(String caseId, String device, String by, String what) {
    return new Notice(
        lost(caseId),
        "",
        device + " was reported lost",
        by + ": " + what,
        "/devices/lost/" + caseId,
        true);
  }

  /** What is said of a case. */
  public static String lost(String caseId) {
    return "case " + caseId;
  }

  /** A device that is lost is heard after it was quiet. */
  public static Notice heard(LostCase c, Instant at) {
    return new Notice(
        heard(c.id()),
        at.toString(),
        c.device() + ", which is lost, is heard",
        "It was reported lost on " + day(c.openedAt()) + ": " + c.what(),
        "/devices/lost/" + c.id(),
        true);
  }

  /** What is said of a case when its device is heard. */
  public static String heard(String caseId) {
    return "case-heard " + caseId;
  }

  /**
   * A device that said it would wipe itself goes on as before.
   *
   * @param words what it did
   */
  public static Notice notWiped(String wipeId, String deviceId, String device, String words) {
    return new Notice(
        "wipe-denied " + wipeId,
        "",
        device + " was not wiped",
        words + ". It is managed as before; order the wipe again.",
        "/devices?card=" + deviceId,
        true);
  }

  /** Something about a device changed for the worse. */
  public static Notice watched(String deviceId, String device, Watch.Change change, Instant at) {
    return new Notice(
        "watch " + deviceId + " " + Words.of(change.watch()),
        at.toString(),
        device + ": " + change.words().replaceFirst("^Its", "its"),
        "Look at the device; if it is lost, report it.",
        "/devices?card=" + deviceId,
        true);
  }

  /**
   * Somebody set what is asked before devices change: one who lifts it, does something and sets it
   * again is seen by all others.
   *
   * @param version of what was set
   */
  public static Notice thresholds(String by, int version, String words) {
    return new Notice(
        "thresholds",
        String.valueOf(version),
        by + " set what is asked before changes",
        words + ".",
        "/house/thresholds",
        false);
  }

  /** Somebody asks for a second person's word. */
  public static Notice proposed(String id, String by, String title, long devices, String note) {
    return new Notice(
        proposal(id),
        "",
        by + " asks for a second person’s word: " + title,
        Words.counted(devices, "device")
            + (devices == 1 ? " is" : " are")
            + " concerned."
            + (note.isEmpty() ? "" : " " + note),
        "/rules/proposals?card=" + id,
        false);
  }

  /** What is said of a proposal. */
  public static String proposal(String id) {
    return "proposal " + id;
  }

  /** A holder asks for an app. */
  public static Notice appAskedFor(
      String id, String holder, String deviceId, String device, String words) {
    return new Notice(
        "app-asked-for " + id,
        "",
        holder + " asks for an app",
        "For " + device + ": " + words,
        "/devices?card=" + deviceId,
        false);
  }

  private static String day(Instant at) {
    return at.atZone(ZoneOffset.UTC).toLocalDate().toString();
  }
}
