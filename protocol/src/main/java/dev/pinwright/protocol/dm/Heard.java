package dev.pinwright.protocol.dm;

import dev.pinwright.core.session.Subtree;
import dev.pinwright.protocol.syncml.Element;
import dev.pinwright.protocol.syncml.Element.Alert;
import dev.pinwright.protocol.syncml.Element.Item;
import dev.pinwright.protocol.syncml.Element.Replace;
import dev.pinwright.protocol.syncml.Element.Results;
import dev.pinwright.protocol.syncml.Element.Status;
import dev.pinwright.protocol.syncml.Message;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A device's message, sorted by what it means to a server.
 *
 * @param devInfo leaves of {@code ./DevInfo} by name, when told
 * @param digests digest of each subtree that told one
 * @param leaving that its management ended, by its holder or because it was told to release
 * @param kioskLeft when its kiosk was left by a code, as it tells it
 * @param recoveryKeys keys that open its disk, each a number, a space and the wrapped key in base64
 * @param positions where it was, each as {@link Positions} reads it
 * @param located where it is now because it was asked, by correlator
 * @param reports ends of operations
 * @param appsDone ends of installations and removals: what the device said of each, by correlator
 * @param wishes ids of apps the holder picked from the shelf
 * @param read correlators of messages the holder read
 * @param screenshots where pictures of the screen were handed in, by correlator
 * @param scripts how scripts ended, as the device says it, by correlator
 * @param processes what runs on it, as the device says it, by correlator
 * @param answers status codes of our commands, by their CmdID, except the header's
 * @param told results of our {@code Get}s, by their CmdID
 * @param acknowledge every command that needs a {@code Status}, with the code we give it
 */
public record Heard(
    Map<String, String> devInfo,
    Map<Subtree, String> digests,
    boolean factsChanged,
    boolean aborted,
    Optional<Leaving> leaving,
    List<String> kioskLeft,
    List<String> recoveryKeys,
    List<String> positions,
    Map<String, String> located,
    List<Report> reports,
    Map<String, String> appsDone,
    List<String> wishes,
    List<String> read,
    Map<String, String> screenshots,
    Map<String, String> scripts,
    Map<String, String> processes,
    Map<String, Integer> answers,
    Map<String, List<Item>> told,
    List<Acknowledged> acknowledge) {

  /**
   * The end of an operation.
   *
   * @param code a status code; 200 when nothing was said, 500 when what was said is none
   * @param words what was said besides; empty when nothing was
   */
  public record Report(String correlator, int code, String words) {

    static Report of(String correlator, String data) {
      if (data.isEmpty()) {
        return new Report(correlator, Dm.OK, "");
      }
      Matcher m = CODE_AND_WORDS.matcher(data);
      return m.matches()
          ? new Report(
              correlator, Integer.parseInt(m.group(1)), m.group(2) == null ? "" : m.group(2))
          : new Report(correlator, Dm.FAILED, data);
    }

    /** How a lock or a wipe ended (OMA LAWMO 1.0, result codes): 1200 is the only good end. */
    static Report ofLawmo(String correlator, String data) {
      Matcher m = LAWMO.matcher(data);
      boolean done = m.matches() && m.group(1).equals("1200");
      String words = m.matches() && m.group(2) != null ? m.group(2) : data;
      return new Report(correlator, done ? Dm.OK : Dm.FAILED, done ? "" : words);
    }
  }

  /**
   * The end of management.
   *
   * @param correlator of the command to release it; none where its holder ended it
   * @param data what it says of it; see {@link Leavings}
   */
  public record Leaving(Optional<String> correlator, String data) {}

  private static final Pattern LAWMO = Pattern.compile("(?s)(\\d{4})(?:\\s+(.*))?");
  private static final Pattern CODE_AND_WORDS = Pattern.compile("(?s)(\\d{3})(?:\\s+(.*))?");

  /** A command and the code it is answered with. */
  public record Acknowledged(Element element, int code) {}

  /** Sorts a message. Commands a device has no business sending are answered with 406. */
  public static Heard of(Message message) {
    Map<String, String> devInfo = new LinkedHashMap<>();
    Map<Subtree, String> digests = new EnumMap<>(Subtree.class);
    boolean factsChanged = false;
    boolean aborted = false;
    Optional<Leaving> leaving = Optional.empty();
    List<String> kioskLeft = new ArrayList<>();
    List<String> recoveryKeys = new ArrayList<>();
    List<String> positions = new ArrayList<>();
    Map<String, String> located = new LinkedHashMap<>();
    List<Report> reports = new ArrayList<>();
    Map<String, String> appsDone = new LinkedHashMap<>();
    List<String> wishes = new ArrayList<>();
    List<String> read = new ArrayList<>();
    Map<String, String> screenshots = new LinkedHashMap<>();
    Map<String, String> scripts = new LinkedHashMap<>();
    Map<String, String> processes = new LinkedHashMap<>();
    Map<String, Integer> answers = new LinkedHashMap<>();
    Map<String, List<Item>> told = new LinkedHashMap<>();
    List<Acknowledged> acknowledge = new ArrayList<>();
    for (Element e : message.body()) {
      if (e instanceof Status s) {
        if (!s.cmdRef().equals("0")) {
          answers.put(s.cmdRef(), s.code());
        }
      } else if (e instanceof Results r) {
        told.computeIfAbsent(r.cmdRef(), k -> new ArrayList<>()).addAll(r.items());
        acknowledge.add(new Acknowledged(e, Dm.OK));
      } else if (e instanceof Replace r && r.items().stream().allMatch(Heard::isDevInfo)) {
        for (Item i : r.items()) {
          String place = i.source() != null ? i.source() : String.valueOf(i.target());
          devInfo.put(place.substring(Dm.DEV_INFO.length()), i.data() == null ? "" : i.data());
        }
        acknowledge.add(new Acknowledged(e, Dm.OK));
      } else if (e instanceof Alert a) {
        aborted |= a.code() == Dm.ALERT_ABORT;
        if (a.code() == Dm.ALERT_GENERIC) {
          for (Item i : a.items()) {
            String type = i.type() == null ? "" : i.type();
            String data = i.data() == null ? "" : i.data().strip();
            Optional<Subtree> subtree = Subtree.toldBy(type);
            if (subtree.isPresent()) {
              digests.put(subtree.get(), data);
            } else if (type.equals(Dm.TYPE_FACTS_CHANGED)) {
              factsChanged = true;
            } else if (type.equals(Dm.TYPE_MANAGEMENT_ENDED)) {
              leaving = Optional.of(new Leaving(Optional.ofNullable(a.correlator()), data));
            } else if (type.equals(Dm.TYPE_KIOSK_LEFT)) {
              kioskLeft.add(data);
            } else if (type.equals(Dm.TYPE_RECOVERY_KEY)) {
              recoveryKeys.add(data);
            } else if (type.equals(Dm.TYPE_POSITION) && a.correlator() != null) {
              located.put(a.correlator(), data);
            } else if (type.equals(Dm.TYPE_POSITION)) {
              positions.add(data);
            } else if (type.equals(Dm.TYPE_SHELF_WISH)) {
              wishes.add(data);
            } else if (type.equals(Dm.TYPE_MESSAGE_READ) && a.correlator() != null) {
              read.add(a.correlator());
            } else if (type.equals(Dm.TYPE_SCREENSHOT) && a.correlator() != null) {
              screenshots.put(a.correlator(), data);
            } else if (type.equals(Dm.TYPE_SCRIPT_END) && a.correlator() != null) {
              scripts.put(a.correlator(), data);
            } else if (type.equals(Dm.TYPE_PROCESSES) && a.correlator() != null) {
              processes.put(a.correlator(), data);
            } else if (type.equals(Dm.TYPE_LAWMO_DONE) && a.correlator() != null) {
              reports.add(Report.ofLawmo(a.correlator(), data));
            } else if (type.equals(Dm.TYPE_APP_DONE) && a.correlator() != null) {
              appsDone.put(a.correlator(), data);
            } else if (a.correlator() != null) {
              reports.add(Report.of(a.correlator(), data));
            }
          }
        }
        acknowledge.add(new Acknowledged(e, Dm.OK));
      } else {
        acknowledge.add(new Acknowledged(e, Dm.NOT_SUPPORTED));
      }
    }
    return new Heard(
        devInfo,
        digests,
        factsChanged,
        aborted,
        leaving,
        kioskLeft,
        recoveryKeys,
        positions,
        located,
        reports,
        appsDone,
        wishes,
        read,
        screenshots,
        scripts,
        processes,
        answers,
        told,
        acknowledge);
  }

  /** Whether it tells anything besides digests and answers. */
  public boolean news() {
    return factsChanged
        || leaving.isPresent()
        || !kioskLeft.isEmpty()
        || !recoveryKeys.isEmpty()
        || !positions.isEmpty()
        || !located.isEmpty()
        || !appsDone.isEmpty()
        || !wishes.isEmpty()
        || !read.isEmpty()
        || !screenshots.isEmpty()
        || !scripts.isEmpty()
        || !processes.isEmpty()
        || !reports.isEmpty();
  }

  private static boolean isDevInfo(Item i) {
    String place = i.source() != null ? i.source() : i.target();
    return place != null && place.startsWith(Dm.DEV_INFO);
  }
}
