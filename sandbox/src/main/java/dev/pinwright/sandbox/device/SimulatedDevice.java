package dev.pinwright.sandbox.device;

import dev.pinwright.catalog.Catalogue;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.Platform;
import dev.pinwright.core.device.Identifier;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.device.Position;
import dev.pinwright.protocol.dm.DeviceSession;
import dev.pinwright.protocol.dm.Dm;
import dev.pinwright.protocol.join.JoinMessages;
import java.time.Instant;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;

/**
 * A device as its holder has it in hand: its screen, its passcode, what its rules let happen. Every
 * method may be called from any thread.
 */
public final class SimulatedDevice {
  private static final int MOST_WRITTEN = 400;

  private final Catalog catalog;
  private final Handover handover;
  private final Operations operations;
  private final Talk talk;
  private final ManagedTree tree;
  private final Obedience obedience;
  private final KioskBox kiosk;
  private final Passcode passcode;
  private final DiskKey diskKey;
  private final Trail trail;
  private final AppBox apps;
  private final WorkPart work;
  private final Updates updates;
  private final Power power;
  private final Display display;
  private final Model model;
  private final State state;
  private final Consumer<SimulatedDevice> changed;
  private final Map<String, Integer> fetched = new ConcurrentHashMap<>();
  private boolean kioskWasLeft;
  private State.@Nullable ScreenAsk watched;

  SimulatedDevice(Catalogue catalogue, State state, Consumer<SimulatedDevice> changed) {
    this.catalog = catalogue.catalog();
    this.model = Model.named(state.model);
    this.state = state;
    this.handover = new Handover(catalogue.firstRun(), model, state);
    this.obedience = new Obedience(state);
    Platform platform = catalog.platform(model.platform()).orElseThrow();
    this.apps = new AppBox(platform, model, state);
    this.kiosk = new KioskBox(apps, state, obedience);
    this.passcode = new Passcode(state, obedience);
    this.diskKey = new DiskKey(state);
    this.trail = new Trail(state);
    this.work = new WorkPart(catalog, state, apps);
    this.operations = new Operations(catalog, model, state, kiosk, passcode, work);
    this.updates = new Updates(platform, state, obedience);
    this.talk = new Talk(state, apps, operations);
    this.tree =
        new ManagedTree(
            this, catalog, model, state, apps, kiosk, passcode, work, updates, operations, talk);
    this.power = new Power(state, obedience);
    this.display =
        new Display(
            catalog, model, state, handover, obedience, kiosk, passcode, apps, updates, power);
    this.changed = changed;
  }

  State state() {
    return state;
  }

  public Model model() {
    return model;
  }

  public String id() {
    return state.id;
  }

  /** What its server reads and edits of it. */
  public ManagedTree tree() {
    return tree;
  }

  /** The screen as it is now. {@code socketOpen} tells whether the device can be woken. */
  public synchronized Screen screen(boolean socketOpen) {
    return display.screen(socketOpen && !state.offline, mayLeave(), Map.copyOf(fetched), watched);
  }

  // ---- the first run
  // -----------------------------------------------------------------------------

  /** What lies between joining and the first use. */
  Handover handover() {
    return handover;
  }

  /** The holder is done with the first-run screen on show. */
  public synchronized void nextScreen() {
    handover.next();
    changed();
  }

  /** Whether the holder may end management. */
  public synchronized boolean mayLeave() {
    JoinMessages.Offer offer = state.offer;
    return state.stage == State.Stage.JOINED && offer != null && offer.profile().removable();
  }

  /** What the organisation put on the device goes with its management. */
  synchronized void forget() {
    apps.forget();
    state.policy.clear();
    state.files.clear();
    state.own.clear();
    state.order = "";
    state.orderReasons = "";
    state.recoveryToTell = "";
    state.recoveryWrappedFor = "";
    state.kioskBackAt = 0;
    state.firstRun.clear();
    state.gate = "";
    state.wallpaper = "";
    state.keyPem = null;
    state.certificatePem = null;
    state.leaving = false;
    state.releasedBy = "";
  }

  /** The end of its management, as it tells it. */
  synchronized DeviceSession.Outstanding leaving() {
    return new DeviceSession.Outstanding(
        Dm.TYPE_MANAGEMENT_ENDED,
        work.leavings().json(),
        Optional.of(state.releasedBy).filter(c -> !c.isEmpty()));
  }

  /** Wi-Fi that came over the bench's cable. */
  public synchronized void joinNetwork(String name) {
    state.wifi = name;
    factsChanged();
  }

  // ---- what its rules let happen ---------------------------------------------------------------

  /** Signs somebody in to a laptop; why not, when they may not. */
  public synchronized Optional<String> signIn(String login) {
    touched();
    Optional<String> objection = display.signIn().flatMap(w -> w.objection(login));
    if (objection.isEmpty()) {
      state.signedIn = login.isBlank() ? "a guest" : login.strip();
      changed();
    }
    return objection;
  }

  /** Signs out whoever is signed in to a laptop. */
  public synchronized void signOut() {
    state.signedIn = null;
    changed();
  }

  /** Takes an exit code typed into the kiosk; why it does not open, when it does not. */
  public synchronized Optional<String> typeExitCode(String code) {
    Optional<String> objection = kiosk.typed(code, Instant.now());
    factsChanged();
    return objection;
  }

  /** Opens an app, or goes home where none is named; why not, when it cannot. */
  public synchronized Optional<String> openApp(String app) {
    touched();
    Instant now = Instant.now();
    Optional<String> objection = Optional.empty();
    if (kiosk.inside(now).isEmpty()) {
      objection = apps.notOpened(app);
      state.opened = objection.isEmpty() ? app : state.opened;
    } else if (app.isEmpty()) {
      kiosk.home(now);
    } else {
      objection = kiosk.open(app, now);
    }
    changed();
    return objection;
  }

  /** Takes an app that came with it away, or puts it back. */
  public synchronized void takeAway(String app) {
    if (!state.goneApps.remove(app)) {
      state.goneApps.add(app);
    }
    factsChanged();
  }

  /** So much of the package of an app has come, in percent. */
  void fetched(String app, int percent) {
    if (!Integer.valueOf(percent).equals(fetched.put(app, percent))) {
      changed();
    }
  }

  /** Its holder reads another language from now on, such as {@code fr}. */
  public synchronized void speak(String language) {
    state.language = language;
    factsChanged();
  }

  /** Its clock shows the time of another zone. */
  public synchronized void travel(ZoneId zone) {
    state.zone = zone.getId();
    factsChanged();
  }

  /** Somebody uses it from now on, or lays it down. */
  public synchronized void use(boolean inUse) {
    operations.use(inUse);
    factsChanged();
  }

  /** What a cable of a bench does to it. */
  public OnCable onCable() {
    return new OnCable(this, catalog, model, state);
  }

  /** Types a character into the app on show, or takes the last one away. */
  public synchronized void type(int character) {
    touched();
    String app = state.opened;
    if (!app.isEmpty()) {
      String before = state.written.getOrDefault(app, "");
      String after =
          character == Drawing.BACKSPACE
              ? before.substring(
                  0, before.offsetByCodePoints(before.length(), before.isEmpty() ? 0 : -1))
              : before + Character.toString(character);
      state.written.put(app, after.substring(Math.max(0, after.length() - MOST_WRITTEN)));
      changed();
    }
  }

  /** Who asked to see its screen and may, as the holder said; nobody is asked twice. */
  synchronized List<State.ScreenAsk> screensToShow() {
    List<State.ScreenAsk> allowed =
        state.screenAsks.values().stream().filter(State.ScreenAsk::allowed).toList();
    allowed.forEach(ask -> state.screenAsks.remove(ask.correlator()));
    return allowed;
  }

  /** Scripts it was told to run. */
  synchronized List<State.ScriptRun> scriptsToRun() {
    List<State.ScriptRun> out = List.copyOf(state.scripts);
    state.scripts.clear();
    return out;
  }

  /** Somebody sees its screen from now on, or nobody does. */
  synchronized void watched(State.@Nullable ScreenAsk by) {
    watched = by;
    changed();
  }

  /** The end of an operation, which is yet to be told. */
  synchronized void report(State.Report report) {
    state.reports.add(report);
  }

  /** The apps on it, and what is to become of them. */
  AppBox apps() {
    return apps;
  }

  /** The holder picks an app from the shelf. */
  public synchronized void pick(String app) {
    if (!state.wishes.contains(app)) {
      state.wishes.add(app);
    }
    changed();
  }

  /** The holder installs an app from elsewhere, or removes one. */
  public synchronized void holders(String id, String name, String version) {
    if (version.isEmpty()) {
      state.apps.remove(id);
    } else {
      apps.holders(id, name, version);
    }
    factsChanged();
  }

  /** Opens an address in the browser; why not, when the rules or the way there say so. */
  public synchronized Optional<String> open(String address) {
    touched();
    return obedience
        .web()
        .objection(address, Pages.category(address))
        .or(() -> obedience.way().objection(address));
  }

  /** By what way the browser reaches an address, in words. */
  public synchronized List<String> way(String address) {
    return obedience.way().words(address);
  }

  private void touched() {
    power.touched(System.currentTimeMillis());
  }

  /** Somebody touches it, which wakes it. */
  public synchronized void wake() {
    touched();
    changed();
  }

  /** Closes the lid of a laptop, or opens it. */
  public synchronized void lid(boolean closed) {
    state.goingOff |= power.lid(closed, System.currentTimeMillis());
    changed();
  }

  /** What the time that has come asks for; see {@link Power}. */
  synchronized Power.Due powerDue() {
    Power.Due due = power.due(state.clock(), System.currentTimeMillis());
    if (due == Power.Due.SWITCH_OFF) {
      state.goingOff = true;
    } else if (due == Power.Due.RESTART) {
      operations.restart();
    }
    return due;
  }

  /** Whether it has come up again after a restart since this was asked last. */
  synchronized boolean started() {
    long over = state.restartedUntil;
    boolean started = over > state.startedFor && over < System.currentTimeMillis();
    state.startedFor = started ? over : state.startedFor;
    return started;
  }

  /** Scripts that run by themselves when something happens, by entry. */
  synchronized Map<String, State.ScriptRun> scripts(String when) {
    return obedience.scripts(when);
  }

  /** How a script that runs by itself ended. */
  synchronized void scriptEnded(String entry, String how) {
    state.scriptEnds.put(entry, how);
    changed();
  }

  /** Its passcode, and what is asked of it. */
  Passcode passcode() {
    return passcode;
  }

  // ---- what the holder does --------------------------------------------------------------------

  /** Sets a passcode; the objections when it is not good enough, and nothing is changed then. */
  public synchronized List<String> choosePasscode(String typed) {
    List<String> objections = passcode.choose(typed);
    if (objections.isEmpty()) {
      factsChanged();
    }
    return objections;
  }

  /** Unlocks by passcode; false when it is wrong. Without a passcode a swipe is enough. */
  public synchronized boolean unlock(String typed) {
    touched();
    boolean right = passcode.opens(typed);
    if (right) {
      operations.clearLock();
      factsChanged();
    } else {
      changed();
    }
    return right;
  }

  /** Whether the holder is asked for a passcode now. */
  synchronized boolean asksForPasscode() {
    return state.stage == State.Stage.JOINED && passcode.mustChoose();
  }

  /** Whether so many wrong passcodes were typed that it erases itself. */
  public synchronized boolean erasesItself() {
    return passcode.erases();
  }

  /** Stops the ringing. */
  public synchronized void stopRinging() {
    if (state.ringing) {
      state.ringing = false;
      if (!state.ringCorrelator.isEmpty()) {
        state.reports.add(State.Report.of(state.ringCorrelator, Dm.OK));
        state.ringCorrelator = "";
      }
      changed();
    }
  }

  /** Puts all messages away. */
  public synchronized void readMessages() {
    talk.read();
    changed();
  }

  /** The holder takes one of the choices of what is asked first; 1 for the first. */
  public synchronized void take(int choice) {
    talk.take(choice);
    changed();
  }

  /** The holder says yes or no to what is asked first. */
  public synchronized void say(boolean yes) {
    talk.say(yes);
    changed();
  }

  /** Whether it has a key that opens its disk to hand in; see {@link DiskKey}. */
  synchronized boolean keepRecoveryKey() {
    return diskKey.keep();
  }

  /** Where it was that it tells next; see {@link Trail}. */
  synchronized List<State.Place> trail() {
    trail.live(System.currentTimeMillis());
    return trail.next();
  }

  /** It told where it was. */
  synchronized void toldTrail(List<State.Place> places) {
    trail.told(places);
  }

  /** Puts it somewhere. Where it was before, it remembers while a trail is wanted. */
  public synchronized void be(Position position) {
    state.here = State.Place.of(position);
    trail.note(state.here);
    changed();
  }

  /** Lets something be wrong with the device, or no longer; see {@link State#faults}. */
  public synchronized void fault(String fault, boolean on) {
    if (on ? state.faults.add(fault) : state.faults.remove(fault)) {
      state.factsChanged = true;
      changed();
    }
  }

  /** Changes a setting behind the server's back. */
  public synchronized void tamper(String path, String value) {
    String[] leaf = state.policy.get(path);
    state.policy.put(path, new String[] {leaf == null ? "chr" : leaf[0], value});
    changed();
  }

  /** Lets something on the device write a value over whatever it is told there; empty ends that. */
  public synchronized void meddle(String path, String value) {
    if (value.isEmpty()) {
      state.meddled.remove(path);
    } else {
      state.meddled.put(path, value);
    }
    meddled();
  }

  /** Whether what meddles with it found something to write over. */
  synchronized boolean meddled() {
    boolean found = false;
    for (Map.Entry<String, String> m : state.meddled.entrySet()) {
      String[] leaf = state.policy.get(m.getKey());
      if (leaf != null && !leaf[1].equals(m.getValue())) {
        state.policy.put(m.getKey(), new String[] {leaf[0], m.getValue()});
        found = true;
      }
    }
    if (found) {
      changed();
    }
    return found;
  }

  /** Makes the device refuse some settings whatever its sheet says. */
  public synchronized void refuseAlways(List<String> paths) {
    state.stubborn.clear();
    state.stubborn.addAll(paths);
    changed();
  }

  /**
   * Gives it another main board, and with it another serial number and maker's certificate.
   *
   * @throws IllegalArgumentException when it is no serial number
   */
  public synchronized void swapBoard(String serial) {
    state.serial = Identifier.of(Identifier.Kind.SERIAL, serial).value();
    state.identityKeyPem = null;
    state.identityPem = null;
    factsChanged();
  }

  /** Puts another SIM into it. */
  public synchronized void swapSim(String number) {
    state.sim = number;
    state.simLocked = false;
    factsChanged();
  }

  /** Makes it say what cannot be when it asks to be let in, or speak sense again. */
  public synchronized void garble(boolean on) {
    state.garbled = on;
    changed();
  }

  /** Installs another OS version. */
  public synchronized void updateOs(String version) {
    operations.updateOs(version);
    factsChanged();
  }

  /** It has something new to tell. */
  void factsChanged() {
    state.factsChanged = true;
    changed();
  }

  /** Something of it is otherwise than before. */
  void changed() {
    changed.accept(this);
  }

  /** What its holder notices of its settings. */
  Map<String, String> noticed() {
    return display.noticed();
  }

  /** The version of its system that is to be installed now; none while one is. */
  synchronized Optional<String> updateDue() {
    return handover.updating()
        ? Optional.empty()
        : handover.updateWanted().or(() -> updates.due(state.clock()).map(OsVersion::toString));
  }

  /** The version its holder may install; none where it has the newest that is offered. */
  synchronized Optional<String> updateOffered() {
    return handover.updating()
        ? Optional.empty()
        : updates.offered(state.clock().toLocalDate()).map(OsVersion::toString);
  }

  /** Time passes: the battery drains, or fills while charging. */
  synchronized void live() {
    trail.live(System.currentTimeMillis());
    double step = state.charging ? 0.4 : -0.05;
    state.battery = Math.max(1, Math.min(100, state.battery + step));
    if (state.battery < 8) {
      state.charging = true;
    } else if (state.battery > power.most()) {
      state.charging = false;
    }
    boolean left = kiosk.backAt(Instant.now()).isPresent();
    if (kioskWasLeft && !left) {
      state.opened = "";
      factsChanged();
    }
    kioskWasLeft = left;
  }
}
