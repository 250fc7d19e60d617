package dev.pinwright.sandbox.device;

import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.device.Ownership;
import dev.pinwright.core.device.Position;
import dev.pinwright.core.file.StoredFile;
import dev.pinwright.protocol.dm.Dm;
import dev.pinwright.protocol.dm.Processes;
import dev.pinwright.protocol.join.JoinMessages;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/** What a device can be told to do at once. Guarded by the device it belongs to. */
final class Operations {
  private static final String OPERATIONS = "./Vendor/Pinwright/Operations/";
  private static final String NOT_IN_USE = "not-in-use";
  private static final int REMEMBERED = 500;
  private static final long RESTART_MILLIS = 3_000;
  private static final double MIDDLE_LATITUDE = 47.20;
  private static final double MIDDLE_LONGITUDE = -20.40;
  private static final double SPREAD = 0.12;
  private static final double COARSE = 2_500;

  private final Catalog catalog;
  private final Model model;
  private final State state;
  private final KioskBox kiosk;
  private final WorkPart work;
  private final Passcode passcode;

  Operations(
      Catalog catalog, Model model, State state, KioskBox kiosk, Passcode passcode, WorkPart work) {
    this.passcode = passcode;
    this.work = work;
    this.kiosk = kiosk;
    this.catalog = catalog;
    this.model = model;
    this.state = state;
  }

  /** Remembers what was answered, so that it is answered again and nothing runs twice. */
  void remember(@Nullable String correlator, int code) {
    if (correlator != null) {
      state.carriedOut.put(correlator, code);
      if (state.carriedOut.size() > REMEMBERED) {
        state.carriedOut.remove(state.carriedOut.keySet().iterator().next());
      }
    }
  }

  /** Starts an operation; its status code. */
  int start(String uri, Map<String, String> fields, String correlator) {
    String key =
        catalog.commands().stream()
            .filter(c -> c.path().equals(uri))
            .map(c -> c.key())
            .findFirst()
            .orElse("");
    if (!catalog.platform(model.platform()).orElseThrow().commands().contains(key)) {
      return Dm.NOT_SUPPORTED;
    }
    if (state.inUse && "true".equals(fields.get(NOT_IN_USE))) {
      state.deferred.add(new State.Deferred(uri, new TreeMap<>(fields), correlator));
      return Dm.ACCEPTED;
    }
    state.runs.merge(key, 1, Integer::sum);
    switch (key) {
      case "lock" -> {
        state.locked = true;
        state.lockText = fields.getOrDefault("text", "");
        state.lockPhone = fields.getOrDefault("phone", "");
        state.biometricsOff = true;
        return Dm.OK;
      }
      case "unlock" -> {
        clearLock();
        return Dm.OK;
      }
      case "ring" -> {
        state.ringing = true;
        state.ringText = fields.getOrDefault("text", "");
        state.ringCorrelator = correlator;
        return Dm.ACCEPTED;
      }
      case "clear-passcode" -> {
        state.passcode = null;
        return Dm.OK;
      }
      case "set-passcode" -> {
        List<String> objections = passcode.choose(fields.getOrDefault("passcode", ""));
        return objections.isEmpty() ? Dm.OK : Dm.NOT_ALLOWED;
      }
      case "leave-kiosk" -> {
        if (kiosk.asked().isEmpty()) {
          return Dm.NOT_ALLOWED;
        }
        Optional<Duration> time =
            Optional.ofNullable(fields.get("back-after"))
                .map(m -> Duration.ofMinutes(Long.parseLong(m)));
        kiosk.leave(time, Instant.now());
        return Dm.OK;
      }
      case "enter-kiosk" -> {
        if (kiosk.asked().isEmpty()) {
          return Dm.NOT_ALLOWED;
        }
        kiosk.enter();
        return Dm.OK;
      }
      case "restart" -> {
        restart();
        state.reports.add(State.Report.of(correlator, Dm.OK));
        return Dm.ACCEPTED;
      }
      case "locate" -> {
        return locate(correlator);
      }
      case "update-os" -> {
        return update(fields.get("version"), correlator);
      }
      case "shut-down" -> {
        state.reports.add(State.Report.of(correlator, Dm.OK));
        state.goingOff = true;
        return Dm.ACCEPTED;
      }
      case "return-biometrics" -> {
        state.biometricsOff = false;
        return Dm.OK;
      }
      case "lock-sim", "unlock-sim" -> {
        if (state.imei == null) {
          return Dm.NOT_FOUND; // it has none
        }
        state.simLocked = key.equals("lock-sim");
        return Dm.OK;
      }
      case "screenshot", "assist" -> {
        return asksToSee(key.equals("assist"), fields, correlator);
      }
      case "run-script" -> {
        Optional<String> file = script(fields).filter(state.files::contains);
        long minutes = Long.parseLong(fields.getOrDefault("stop-after", "10"));
        file.ifPresent(f -> state.scripts.add(new State.ScriptRun(correlator, f, minutes * 60)));
        return file.isPresent() ? Dm.ACCEPTED : Dm.NOT_FOUND;
      }
      case "processes" -> {
        state.reports.add(
            new State.Report(
                Dm.TYPE_PROCESSES, correlator, Processes.write(Laptop.processes(state))));
        return Dm.ACCEPTED;
      }
      case "end-process" -> {
        String number = fields.getOrDefault("process", "");
        boolean ended = Laptop.end(state, number);
        state.reports.add(
            new State.Report(
                Dm.TYPE_OPERATION,
                correlator,
                ended ? "200" : "404 there is no process " + number));
        return Dm.ACCEPTED;
      }
      case "wipe-work" -> {
        work.wipe();
        tell("Your organisation took its part off this device. What is yours is as it was.");
        state.reports.add(State.Report.ofWipe(correlator));
        return Dm.ACCEPTED;
      }
      case "wipe" -> {
        if (personal()) {
          return Dm.NOT_FOUND;
        }
        state.erasing = true;
        state.reports.add(State.Report.ofWipe(correlator));
        return Dm.ACCEPTED;
      }
      case "release" -> {
        state.leaving = true;
        state.releasedBy = correlator;
        return Dm.ACCEPTED;
      }
      default -> {
        return uri.startsWith(OPERATIONS) ? Dm.NOT_SUPPORTED : Dm.NOT_FOUND;
      }
    }
  }

  /** Shuts down what runs and comes up again. */
  void restart() {
    state.opened = "";
    state.signedIn = null;
    state.restartedUntil = System.currentTimeMillis() + RESTART_MILLIS;
  }

  /** Somebody uses it from now on, or lays it down: then it does what was put off. */
  void use(boolean inUse) {
    state.inUse = inUse;
    List<State.Deferred> due = inUse ? List.of() : List.copyOf(state.deferred);
    state.deferred.removeAll(due);
    for (State.Deferred d : due) {
      int code = start(d.uri(), d.fields(), d.correlator());
      if (code != Dm.ACCEPTED) {
        state.reports.add(State.Report.of(d.correlator(), code));
      }
    }
  }

  /** Takes the lock screen and its text away. */
  void clearLock() {
    state.locked = false;
    state.lockText = "";
    state.lockPhone = "";
    state.biometricsOff = false;
  }

  /** The digest of the script a command names; none where it names none. */
  static Optional<String> script(Map<String, String> fields) {
    return Optional.ofNullable(fields.get("script")).flatMap(StoredFile::referred);
  }

  /** Its holder is asked first; of a personal device the whole screen is not to be had. */
  private int asksToSee(boolean live, Map<String, String> fields, String correlator) {
    boolean whole = "whole".equals(fields.get("shows"));
    if (whole && personal()) {
      return Dm.DENIED;
    }
    boolean taps = live && "true".equals(fields.get("taps"));
    String by = fields.getOrDefault("by", "Somebody");
    String to = fields.getOrDefault(live ? "address" : "to", "");
    State.ScreenAsk ask =
        new State.ScreenAsk(
            correlator,
            live,
            by,
            whole,
            taps,
            to,
            fields.getOrDefault("right", ""),
            state.automaticHolder);
    state.screenAsks.put(correlator, ask);
    if (!state.automaticHolder) {
      state.questions.add(
          new State.Question(
              by
                  + (live
                      ? " would like to see your screen while you look at it"
                          + (taps ? ", and tap and type for you" : "")
                      : " would like a picture of your screen as it is")
                  + (whole ? "." : "; your organisation's apps alone are shown.")
                  + (fields.getOrDefault("why", "").isEmpty() ? "" : "\n" + fields.get("why")),
              correlator));
    }
    return Dm.ACCEPTED;
  }

  /** The holder says whether somebody may see the screen; false where nobody asked that. */
  boolean say(String correlator, boolean yes) {
    State.ScreenAsk ask = state.screenAsks.remove(correlator);
    if (ask != null && yes) {
      state.screenAsks.put(correlator, ask.allow());
    } else if (ask != null) {
      state.reports.add(State.Report.of(correlator, Dm.CANCELLED));
    }
    return ask != null;
  }

  private boolean personal() {
    JoinMessages.Offer offer = state.offer;
    return offer == null || offer.profile().ownership().equals(Words.of(Ownership.PERSONAL));
  }

  private void tell(String words) {
    state.notes.add(0, new State.Note(words, Instant.now().toString(), false));
  }

  /** Tells where it is with the next session; its holder is told that somebody asked. */
  private int locate(String correlator) {
    if (personal()) {
      return Dm.NOT_FOUND;
    }
    tell("Your organisation asked where this device is.");
    State.Place here = state.here;
    if (state.faults.contains("nowhere")) {
      state.reports.add(State.Report.of(correlator, 500));
    } else {
      long now = System.currentTimeMillis();
      state.found.add(new State.Found(correlator, here == null ? byNetwork(now) : here.at(now)));
    }
    return Dm.ACCEPTED;
  }

  /** What its network address says, where nobody put it anywhere: somewhere on the island. */
  private State.Place byNetwork(long now) {
    int h = state.serial.hashCode();
    return new State.Place(
        now,
        MIDDLE_LATITUDE + (h >>> 8 & 0xff) * SPREAD / 255 - SPREAD / 2,
        MIDDLE_LONGITUDE + (h >>> 16 & 0xff) * SPREAD / 255 - SPREAD / 2,
        COARSE,
        Words.of(Position.Source.NETWORK));
  }

  private int update(@Nullable String version, String correlator) {
    List<OsVersion> there = catalog.platform(model.platform()).orElseThrow().versions();
    OsVersion now = OsVersion.parse(state.osVersion);
    Optional<OsVersion> wanted =
        version == null
            ? there.stream().reduce((a, b) -> b.atLeast(a) ? b : a)
            : there.stream().filter(v -> v.toString().equals(version.strip())).findFirst();
    if (wanted.isEmpty() || !wanted.get().atLeast(now)) {
      return Dm.NOT_SUPPORTED;
    }
    state.restartedUntil = System.currentTimeMillis() + RESTART_MILLIS;
    updateOs(wanted.get().toString());
    state.reports.add(State.Report.of(correlator, Dm.OK));
    return Dm.ACCEPTED;
  }

  /** Puts another version of the OS on it. */
  void updateOs(String version) {
    state.osVersion = OsVersion.parse(version).toString();
  }
}
