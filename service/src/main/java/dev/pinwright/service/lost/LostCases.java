package dev.pinwright.service.lost;

import com.fasterxml.jackson.annotation.JsonUnwrapped;
import dev.pinwright.core.Versioned;
import dev.pinwright.core.Words;
import dev.pinwright.core.access.Role;
import dev.pinwright.core.change.Confirmation;
import dev.pinwright.core.device.Ownership;
import dev.pinwright.core.lost.CaseState;
import dev.pinwright.core.lost.LostCase;
import dev.pinwright.core.lost.PutBack;
import dev.pinwright.core.notice.News;
import dev.pinwright.core.wipe.Wipe;
import dev.pinwright.core.wipe.WipeKind;
import dev.pinwright.service.acting.DispatchOrder;
import dev.pinwright.service.acting.Dispatches;
import dev.pinwright.service.acting.Wipes;
import dev.pinwright.service.device.Retirement;
import dev.pinwright.service.print.Report;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.ManyLines;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.acting.WipeStore;
import dev.pinwright.storage.change.Moves;
import dev.pinwright.storage.lost.LostCaseStore;
import dev.pinwright.storage.row.DeviceRow;
import dev.pinwright.storage.row.LostCaseRow;
import dev.pinwright.storage.row.SiteRow;
import dev.pinwright.storage.row.StoredFileRow;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Lost devices. A case locks the device, asks it again and again where it is, tells when it is
 * heard, keeps what people write down of it, and ends with the device as it was, or without it.
 */
public final class LostCases {
  private static final Logger LOG = LoggerFactory.getLogger(LostCases.class);
  private static final DateTimeFormatter WHEN =
      DateTimeFormatter.ofPattern("yyyy-MM-dd HH:mm", Locale.ROOT);
  private static final int LONGEST = 2_000;
  private static final int TIMELINE = 500;
  private static final int LONGEST_TEXT = 200;
  private static final int LONGEST_PHONE = 40;

  private final UseCases useCases;
  private final Dispatches dispatches;
  private final Wipes wipes;
  private final String organisation;

  public LostCases(UseCases useCases, Dispatches dispatches, Wipes wipes, String organisation) {
    this.organisation = organisation;
    this.useCases = useCases;
    this.dispatches = dispatches;
    this.wipes = wipes;
  }

  /** A case, and whether somebody should be reminded of it. */
  public record Shown(@JsonUnwrapped LostCase lost, boolean overdue) implements Versioned {
    @Override
    public int version() {
      return lost.version();
    }
  }

  /**
   * A report.
   *
   * @param what what happened
   * @param lock whether it is locked, which it is unless this says no
   * @param text on its lock screen
   * @param phone number to call, on its lock screen
   * @param everyMinutes how often it is asked where it is; 0 for never, every ten minutes where
   *     nothing is said
   * @param lostAt when it went missing, where somebody knows
   * @param ringSiteId a site with an outline in which it rings by itself
   */
  public record Draft(
      @Nullable String deviceId,
      @ManyLines Optional<String> what,
      Optional<Boolean> lock,
      @ManyLines Optional<String> text,
      Optional<String> phone,
      Optional<Integer> everyMinutes,
      Optional<Instant> lostAt,
      Optional<String> ringSiteId) {}

  /**
   * What changes about a case; what is left out stays.
   *
   * @param everyMinutes how often it is asked where it is; 0 for never
   * @param ringSiteId a site in which it rings by itself; empty for none
   */
  public record Change(Optional<Integer> everyMinutes, Optional<String> ringSiteId) {}

  /**
   * Something to be written down.
   *
   * @param told whether it says who was told
   * @param fileId a stored file that goes with it
   */
  public record Note(
      @ManyLines Optional<String> text, Optional<Boolean> told, Optional<String> fileId) {}

  /**
   * The end of a case.
   *
   * @param found whether it was found; given up otherwise
   * @param words how it ended
   * @param wipe whether it is wiped, and retired once that is proved; for one given up
   * @param retire whether it is retired at once; for one given up
   */
  public record End(
      boolean found,
      @ManyLines Optional<String> words,
      Optional<Boolean> wipe,
      Optional<Boolean> retire) {}

  /** What happened in a case, the latest first. */
  public record Timeline(List<LostCaseStore.Entry> items) {}

  private Shown shown(LostCase c) {
    return new Shown(c, c.overdue(useCases.now()));
  }

  /** Cases, newest first; in one state or any, of one device or any. */
  public Page<Shown> page(Caller caller, String state, String deviceId, Page.Request page) {
    String asked =
        state.isEmpty()
            ? ""
            : Words.of(Problem.reading("/state", () -> Words.parse(CaseState.class, state)));
    String[] c = page.parts(Page.Part.TEXT);
    return useCases.read(
        tx ->
            Page.of(
                new LostCaseStore(tx)
                    .page(asked, deviceId, c.length == 0 ? "~" : c[0], page.limit() + 1),
                page.limit(),
                this::shown,
                l -> Page.cursor(l.id())));
  }

  /** One case. */
  public Shown get(Caller caller, String id) {
    return useCases.read(tx -> shown(found(tx, id)));
  }

  private static LostCase found(Tx tx, String id) {
    return new LostCaseStore(tx).find(id).orElseThrow(() -> Problem.notFound("case", id));
  }

  /** What happened in a case, the latest first; at most five hundred of it. */
  public Timeline timeline(Caller caller, String id) {
    return useCases.read(
        tx ->
            new Timeline(new LostCaseStore(tx).timeline(found(tx, id), useCases.now(), TIMELINE)));
  }

  // ---- the report ------------------------------------------------------------------------------

  /**
   * Opens a case: the device is locked, and asked where it is from now on.
   *
   * @throws Problem 400, 404, 409 when it is retired or a case of it is open
   */
  public Shown open(Caller caller, Draft report) {
    String what = said(report.what(), "/what", "Say what happened, in 1 to 2000 characters.");
    String text = bounded(report.text(), "/text", LONGEST_TEXT);
    String phone = bounded(report.phone(), "/phone", LONGEST_PHONE);
    Integer every = minutes(report.everyMinutes()).orElse(LostCase.USUAL_MINUTES);
    return useCases.act(
        caller,
        act -> {
          Tx tx = act.tx();
          DeviceRow device =
              tx.lock(DeviceRow.class, report.deviceId() == null ? "" : report.deviceId())
                  .orElseThrow(() -> Problem.notFound("device", String.valueOf(report.deviceId())));
          if (device.retiredAt != null) {
            throw Problem.conflict("device-retired", device.name + " is retired.");
          }
          Optional<LostCase> before = new LostCaseStore(tx).open(device.id);
          if (before.isPresent()) {
            throw Problem.conflict("case-open", "A case of " + device.name + " is open already.")
                .with("case", before.get().id());
          }
          boolean personal = device.ownership.equals(Words.of(Ownership.PERSONAL));
          LostCaseRow row = new LostCaseRow();
          row.id = act.newId();
          row.deviceId = device.id;
          row.state = Words.of(CaseState.OPEN);
          row.what = what;
          row.lockText = text;
          row.lockPhone = phone;
          row.everyMinutes = personal || every == 0 ? null : every;
          Instant now = act.now();
          report
              .lostAt()
              .flatMap(at -> LostCase.objection(at, now))
              .ifPresent(
                  why -> {
                    throw Problem.malformed("/lostAt", why);
                  });
          row.lostAt = report.lostAt().orElse(null);
          row.ringSiteId = report.ringSiteId().flatMap(s -> ringing(act, device, s)).orElse(null);
          row.openedAt = now;
          row.openedBy = caller.login();
          tx.insert(row);
          tx.flush();
          entry(act, row.id, "opened", what, null);
          if (report.lock().orElse(true)) {
            lock(act, device.id, what, text, phone);
          }
          act.say(News.lost(row.id, device.name, caller.login(), what));
          act.done(Noun.CASE, "opened", Noun.DEVICE, device.id, device.name + " lost: " + what);
          return shown(found(tx, row.id));
        });
  }

  /** The site in which a device is to ring by itself; empty for none. */
  private Optional<String> ringing(UseCases.Act act, DeviceRow device, String siteId) {
    if (siteId.isEmpty()) {
      return Optional.empty();
    }
    SiteRow site = Known.row(act.tx(), SiteRow.class, "site", "/ringSiteId", siteId);
    neverAsked(device);
    dispatches.within(act).cannot(act.caller(), device.id).stream()
        .filter(c -> c.command().equals("ring"))
        .findFirst()
        .ifPresent(
            c -> {
              throw Problem.malformed("/ringSiteId", "It cannot ring: " + c.reason() + ".");
            });
    if (site.outline == null) {
      throw Problem.malformed(
          "/ringSiteId", site.name + " has no outline; draw it on the map first.");
    }
    return Optional.of(siteId);
  }

  private static void neverAsked(DeviceRow device) {
    if (device.ownership.equals(Words.of(Ownership.PERSONAL))) {
      throw Problem.conflict(
          "personal",
          device.name + " is its holder's own; where such a device is is never asked for.");
    }
  }

  private void lock(UseCases.Act act, String deviceId, String what, String text, String phone) {
    Map<String, String> fields = new TreeMap<>();
    if (!text.isEmpty()) {
      fields.put("text", text);
    }
    if (!phone.isEmpty()) {
      fields.put("phone", phone);
    }
    order(act, "lock", deviceId, reason(what), fields, Confirmation.NONE);
  }

  private void order(
      UseCases.Act act,
      String command,
      String deviceId,
      String reason,
      Map<String, String> fields,
      Confirmation given) {
    dispatches
        .within(act)
        .order(act.caller(), DispatchOrder.toDevice(command, deviceId, reason, fields), "", given);
  }

  private static String reason(String what) {
    String reason = "Lost: " + what.replace('\n', ' ');
    return reason.length() > Confirmation.LONGEST_REASON
        ? reason.substring(0, Confirmation.LONGEST_REASON - 1) + "…"
        : reason;
  }

  private static String said(Optional<String> text, String pointer, String wanted) {
    String words = text.orElse("").strip();
    if (words.isEmpty() || words.length() > LONGEST) {
      throw Problem.malformed(pointer, wanted);
    }
    return words;
  }

  private static String bounded(Optional<String> text, String pointer, int most) {
    String words = text.orElse("").strip();
    if (words.length() > most) {
      throw Problem.malformed(pointer, "It has at most " + most + " characters.");
    }
    return words;
  }

  private static Optional<Integer> minutes(Optional<Integer> every) {
    if (every.filter(m -> m < 0 || m > LostCase.MOST_MINUTES).isPresent()) {
      throw Problem.malformed(
          "/everyMinutes", "It is asked every 1 to 1440 minutes, or never, which is 0.");
    }
    return every;
  }

  private static void entry(
      UseCases.Act act, String caseId, String kind, String text, @Nullable String file) {
    new LostCaseStore(act.tx())
        .add(act.newId(), caseId, act.now(), act.caller().login(), kind, text, file);
    act.touch(Noun.CASE);
  }

  // ---- while it is open ------------------------------------------------------------------------

  /**
   * Writes something down.
   *
   * @throws Problem 400, 404
   */
  public Timeline note(Caller caller, String id, Note note) {
    String text = said(note.text(), "/text", "Write 1 to 2000 characters.");
    useCases.run(
        caller,
        act -> {
          found(act.tx(), id);
          note.fileId().ifPresent(f -> Known.id(act.tx(), StoredFileRow.class, "file", f));
          entry(
              act,
              id,
              note.told().orElse(false) ? "told" : "note",
              text,
              note.fileId().orElse(null));
          act.done(Noun.CASE, "noted", id, "Written down: " + text.lines().findFirst().orElse(""));
        });
    return timeline(caller, id);
  }

  /**
   * Changes how often the device is asked where it is, and where it rings.
   *
   * @throws Problem 400, 404, 409 when it is over or the device is its holder's own, 412
   */
  public Shown change(Caller caller, String id, int version, Change change) {
    Optional<Integer> every = minutes(change.everyMinutes());
    useCases.run(
        caller,
        act -> {
          LostCaseRow row = held(act, id, version);
          DeviceRow device = act.tx().find(DeviceRow.class, row.deviceId).orElseThrow();
          if (every.isPresent()) {
            int minutes = every.get();
            if (minutes > 0) {
              neverAsked(device);
            }
            row.everyMinutes = minutes == 0 ? null : minutes;
            row.lookedAt = null;
            entry(
                act,
                id,
                "note",
                minutes == 0
                    ? "It is no longer asked where it is"
                    : "It is asked where it is every " + Words.counted(minutes, "minute"),
                null);
          }
          if (change.ringSiteId().isPresent()) {
            row.ringSiteId = ringing(act, device, change.ringSiteId().get()).orElse(null);
            act.tx().flush();
            entry(
                act,
                id,
                "note",
                found(act.tx(), id)
                    .ringSite()
                    .map(site -> "It rings by itself at " + site)
                    .orElse("It no longer rings by itself"),
                null);
          }
        });
    return get(caller, id);
  }

  private static LostCaseRow held(UseCases.Act act, String id, int version) {
    LostCaseRow row =
        act.tx().lock(LostCaseRow.class, id).orElseThrow(() -> Problem.notFound("case", id));
    if (row.version != version) {
      throw Problem.changedMeanwhile("case", row.version);
    }
    if (!row.state.equals(Words.of(CaseState.OPEN))) {
      throw Problem.conflict("case-over", "This case is over: " + row.state + ".");
    }
    return row;
  }

  /**
   * Notes when lost devices are heard, has those ring that are where they should, and asks them
   * where they are; run as often as one likes.
   */
  public void follow() {
    useCases.run(
        Caller.SERVICE, act -> new LostCaseStore(act.tx()).heard().forEach(h -> heard(act, h)));
    useCases
        .read(tx -> new LostCaseStore(tx).near())
        .forEach(n -> each(n.id(), act -> ring(act, n)));
    useCases
        .read(tx -> new LostCaseStore(tx).due(useCases.now()))
        .forEach(id -> each(id, act -> ask(act, id)));
  }

  /** Each for itself: what goes wrong with one keeps no other from being looked for. */
  private void each(String id, Consumer<UseCases.Act> work) {
    try {
      useCases.run(Caller.SERVICE, work);
    } catch (RuntimeException e) {
      LOG.warn("case {} could not be followed and is looked at again", id, e);
    }
  }

  private void ring(UseCases.Act act, LostCaseStore.Near near) {
    LostCaseRow row = act.tx().lock(LostCaseRow.class, near.id()).orElseThrow();
    LostCase c = found(act.tx(), near.id());
    if (c.ringsNow(act.now(), Optional.of(near.siteId()), near.at())) {
      row.rungAt = act.now();
      entry(act, c.id(), "rings", "It is at " + c.ringSite().orElse("") + " and rings", null);
      order(act, "ring", c.deviceId(), reason(c.what()), Map.of(), Confirmation.NONE);
    }
  }

  private void ask(UseCases.Act act, String id) {
    LostCaseRow row = act.tx().lock(LostCaseRow.class, id).orElseThrow();
    LostCase c = found(act.tx(), id);
    if (c.asksNow(act.now(), false)) {
      row.lookedAt = act.now();
      order(act, "locate", c.deviceId(), reason(c.what()), Map.of(), Confirmation.NONE);
    }
  }

  private static void heard(UseCases.Act act, LostCaseStore.Heard heard) {
    LostCase c = found(act.tx(), heard.id());
    act.tx().find(LostCaseRow.class, c.id()).orElseThrow().heardAt = heard.at();
    if (!c.isNews(heard.at())) {
      return;
    }
    String words = c.heardAt().isEmpty() ? "It is heard" : "It is heard again";
    entry(act, c.id(), "heard", words, null);
    act.say(News.heard(c, heard.at()));
  }

  /**
   * A paper for the insurer or the police: the device, what happened, and what was done, as PDF.
   */
  public byte[] sheet(Caller caller, String id) {
    LostCase c = get(caller, id).lost();
    List<LostCaseStore.Entry> entries = new ArrayList<>(timeline(caller, id).items());
    Collections.reverse(entries);
    DeviceRow d = useCases.read(tx -> tx.find(DeviceRow.class, c.deviceId()).orElseThrow());
    List<Report.Line> device = new ArrayList<>();
    line(device, "Name", d.name);
    line(device, "Made by, model", d.maker + " " + d.model);
    line(device, "Serial number", d.serial);
    line(device, "IMEI", d.imei);
    line(device, "Asset number", d.asset);
    line(device, "Held by", c.holder().orElse(null));
    line(device, "Phone number", Json.tree(d.facts).path("network/phone-number").asText(""));
    line(device, "With us since", said(d.enrolledAt));
    List<Report.Line> lost = new ArrayList<>();
    line(lost, "Reported", said(c.openedAt()) + " by " + c.openedBy());
    c.lostAt().ifPresent(at -> line(lost, "Missing since", said(at)));
    line(lost, "What happened", c.what());
    c.heardAt().ifPresent(at -> line(lost, "Heard last", said(at)));
    c.endedAt()
        .ifPresent(
            at ->
                line(
                    lost,
                    c.state() == CaseState.FOUND ? "Found" : "Given up",
                    said(at) + " by " + c.endedBy().orElse("") + ": " + c.words()));
    List<Report.Line> done =
        entries.stream()
            .map(
                e ->
                    new Report.Line(
                        said(e.at()), e.text() + (e.by().isEmpty() ? "" : " (" + e.by() + ")")))
            .toList();
    return Report.pdf(
        "Lost: " + c.device(),
        organisation + ", " + said(useCases.now()),
        List.of(
            new Report.Section("The device", device),
            new Report.Section("The loss", lost),
            new Report.Section("What was done", done)));
  }

  private static void line(List<Report.Line> lines, String name, @Nullable String text) {
    if (text != null && !text.isEmpty()) {
      lines.add(new Report.Line(name, text));
    }
  }

  private static String said(Instant at) {
    return WHEN.format(at.atZone(ZoneOffset.UTC)) + " UTC";
  }

  // ---- the end ---------------------------------------------------------------------------------

  /**
   * Ends a case. A device that was found is put back as it was before: unlocked, its SIM too, its
   * work part brought back. One that is given up is wiped and then retired, or retired at once.
   *
   * @throws Problem 400, 403 for who may not give one up, 404, 409 when it is over, or when a
   *     second person has to agree to the wipe first, 412
   */
  public Shown end(Caller caller, String id, int version, End end) {
    String words = said(end.words(), "/words", "Say how it ended, in 1 to 2000 characters.");
    if (!end.found()) {
      caller.needs(Role.OPERATOR);
    } else if (end.wipe().orElse(false) || end.retire().orElse(false)) {
      throw Problem.malformed("/found", "What was found is neither wiped nor retired.");
    }
    return useCases.act(
        caller,
        act -> {
          Moves.besideRules(act.tx());
          LostCaseRow row = held(act, id, version);
          row.state = Words.of(end.found() ? CaseState.FOUND : CaseState.WRITTEN_OFF);
          row.endedAt = act.now();
          row.endedBy = caller.login();
          row.words = words;
          LostCase c = found(act.tx(), id);
          if (end.found()) {
            putBack(act, c, words);
          } else {
            giveUp(act, c, end, words);
          }
          entry(act, id, "ended", words, null);
          act.over(News.lost(id));
          act.over(News.heard(id));
          act.done(
              Noun.CASE,
              end.found() ? "found" : "written-off",
              Noun.DEVICE,
              c.deviceId(),
              c.device() + (end.found() ? " found: " : " given up: ") + words);
          act.touch(Noun.NOTICE, Noun.DEVICE);
          act.tx().flush();
          return shown(found(act.tx(), id));
        });
  }

  private void putBack(UseCases.Act act, LostCase c, String words) {
    List<String> done = new LostCaseStore(act.tx()).ordered(c.deviceId(), c.openedAt());
    for (String command : PutBack.of(done)) {
      order(act, command, c.deviceId(), "Found: " + shortened(words), Map.of(), Confirmation.NONE);
    }
    new WipeStore(act.tx())
        .latest(c.deviceId())
        .filter(w -> w.kind() == WipeKind.WORK && w.notRevocable().isEmpty())
        .filter(w -> w.askedAt().isAfter(c.openedAt()))
        .map(Wipe::id)
        .ifPresent(
            wipe ->
                wipes
                    .within(act)
                    .revoke(
                        act.caller(),
                        wipe,
                        new Wipes.Revocation(Optional.of("Found: " + shortened(words)))));
  }

  private void giveUp(UseCases.Act act, LostCase c, End end, String words) {
    if (end.wipe().orElse(false)) {
      boolean work = c.personal();
      order(
          act,
          work ? WipeKind.WORK.command() : WipeKind.DEVICE.command(),
          c.deviceId(),
          "Given up: " + shortened(words),
          work ? Map.of() : Map.of("retire", "true"),
          Confirmation.NONE);
    } else if (end.retire().orElse(false)) {
      Retirement.retire(act, List.of(c.deviceId()), "lost: " + shortened(words));
      act.done(Noun.DEVICE, "retired", c.deviceId(), c.device() + " retired: lost");
    }
  }

  private static String shortened(String words) {
    String line = words.replace('\n', ' ');
    return line.length() > 250 ? line.substring(0, 249) + "…" : line;
  }
}
