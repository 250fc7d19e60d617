package dev.pinwright.sandbox.device;

import dev.pinwright.catalog.Catalogue;
import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.Platform;
import dev.pinwright.core.catalog.Setting;
import dev.pinwright.core.catalog.ValueType;
import dev.pinwright.core.device.DeviceTraits;
import dev.pinwright.core.device.Identifier;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.device.Position;
import dev.pinwright.core.file.StoredFile;
import dev.pinwright.core.own.Placeholders;
import dev.pinwright.core.session.Subtree;
import dev.pinwright.core.tree.Leaf;
import dev.pinwright.core.tree.Tree;
import dev.pinwright.protocol.dm.DeviceSession;
import dev.pinwright.protocol.dm.DeviceSide;
import dev.pinwright.protocol.dm.Dm;
import dev.pinwright.protocol.join.JoinMessages;
import dev.pinwright.protocol.syncml.Element;
import dev.pinwright.protocol.syncml.Message;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Consumer;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * A device as its operating system sees it: its tree, its passcode, its screen. It takes only what
 * its platform's capability sheet has. Every method may be called from any thread.
 */
public final class SimulatedDevice implements DeviceSide {
  private static final int MOST_WRITTEN = 400;

  /** Of 97 holders who are automatic so many answer a question with choices. */
  private static final int ANSWER = 61;

  private final Catalog catalog;
  private final Handover handover;
  private final Operations operations;
  private final Obedience obedience;
  private final KioskBox kiosk;
  private final Passcode passcode;
  private final DiskKey diskKey;
  private final Trail trail;
  private final AppBox apps;
  private final WorkPart work;
  private final Updates updates;
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
    this.display =
        new Display(catalog, model, state, handover, obedience, kiosk, passcode, apps, updates);
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
    changed.accept(this);
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
    Optional<String> objection = display.signIn().flatMap(w -> w.objection(login));
    if (objection.isEmpty()) {
      state.signedIn = login.isBlank() ? "a guest" : login.strip();
      changed.accept(this);
    }
    return objection;
  }

  /** Signs out whoever is signed in to a laptop. */
  public synchronized void signOut() {
    state.signedIn = null;
    changed.accept(this);
  }

  /** Takes an exit code typed into the kiosk; why it does not open, when it does not. */
  public synchronized Optional<String> typeExitCode(String code) {
    Optional<String> objection = kiosk.typed(code, Instant.now());
    factsChanged();
    return objection;
  }

  /** Opens an app, or goes home where none is named; why not, when it cannot. */
  public synchronized Optional<String> openApp(String app) {
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
    changed.accept(this);
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
      changed.accept(this);
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
    String app = state.opened;
    if (!app.isEmpty()) {
      String before = state.written.getOrDefault(app, "");
      String after =
          character == Drawing.BACKSPACE
              ? before.substring(
                  0, before.offsetByCodePoints(before.length(), before.isEmpty() ? 0 : -1))
              : before + Character.toString(character);
      state.written.put(app, after.substring(Math.max(0, after.length() - MOST_WRITTEN)));
      changed.accept(this);
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
    changed.accept(this);
  }

  /** The end of an operation, which is yet to be told. */
  synchronized void report(State.Report report) {
    state.reports.add(report);
  }

  /** The apps on it, and what is to become of them. */
  AppBox apps() {
    return apps;
  }

  /** It told how installations ended, and what was picked. */
  synchronized void toldApps(List<State.AppReport> reports, List<String> wishes) {
    state.appReports.removeAll(reports);
    state.wishes.removeAll(wishes);
  }

  /** The holder picks an app from the shelf. */
  public synchronized void pick(String app) {
    if (!state.wishes.contains(app)) {
      state.wishes.add(app);
    }
    changed.accept(this);
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

  /** Opens an address in the browser; why not, when the rules say so. */
  public synchronized Optional<String> open(String address) {
    return obedience.web().objection(address, Pages.category(address));
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
    boolean right = passcode.opens(typed);
    if (right) {
      operations.clearLock();
      factsChanged();
    } else {
      changed.accept(this);
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
      changed.accept(this);
    }
  }

  /** Puts all messages away. */
  public synchronized void readMessages() {
    state.notes.stream()
        .filter(n -> !n.read() && !n.correlator().isEmpty())
        .forEach(n -> state.readToTell.add(n.correlator()));
    state.notes.replaceAll(n -> new State.Note(n.text(), n.at(), true, n.correlator()));
    changed.accept(this);
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

  /** It told where it is. */
  synchronized void toldFound(List<State.Found> told) {
    state.found.removeAll(told);
  }

  /** It told which messages were read. */
  synchronized void toldRead(List<String> told) {
    state.readToTell.removeAll(told);
  }

  /** Puts it somewhere. Where it was before, it remembers while a trail is wanted. */
  public synchronized void be(Position position) {
    state.here = State.Place.of(position);
    trail.note(state.here);
    changed.accept(this);
  }

  /** Lets something be wrong with the device, or no longer; see {@link State#faults}. */
  public synchronized void fault(String fault, boolean on) {
    if (on ? state.faults.add(fault) : state.faults.remove(fault)) {
      state.factsChanged = true;
      changed.accept(this);
    }
  }

  /** Changes a setting behind the server's back. */
  public synchronized void tamper(String path, String value) {
    String[] leaf = state.policy.get(path);
    state.policy.put(path, new String[] {leaf == null ? "chr" : leaf[0], value});
    changed.accept(this);
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
      changed.accept(this);
    }
    return found;
  }

  /** Makes the device refuse some settings whatever its sheet says. */
  public synchronized void refuseAlways(List<String> paths) {
    state.stubborn.clear();
    state.stubborn.addAll(paths);
    changed.accept(this);
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
    changed.accept(this);
  }

  /** Installs another OS version. */
  public synchronized void updateOs(String version) {
    operations.updateOs(version);
    factsChanged();
  }

  /** It has something new to tell. */
  void factsChanged() {
    state.factsChanged = true;
    changed.accept(this);
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
    } else if (state.battery > 99) {
      state.charging = false;
    }
    boolean left = kiosk.backAt(Instant.now()).isPresent();
    if (kioskWasLeft && !left) {
      state.opened = "";
      factsChanged();
    }
    kioskWasLeft = left;
  }

  // ---- what the server does --------------------------------------------------------------------

  /** Digest of a subtree. */
  synchronized String digest(Subtree subtree) {
    return subtree == Subtree.INVENTORY ? apps.inventory().digest() : tree(held(subtree)).digest();
  }

  /** Files a message names that are still to be fetched. */
  synchronized List<String> missingFiles(Message message) {
    Stream<String> settings =
        message.body().stream()
            .flatMap(e -> e instanceof Element.Atomic a ? a.parts().stream() : Stream.of(e))
            .flatMap(
                e ->
                    e instanceof Element.Add add
                        ? add.items().stream()
                        : e instanceof Element.Replace r ? r.items().stream() : Stream.empty())
            .flatMap(i -> i.data() == null ? Stream.empty() : named(i.target(), i.data()).stream());
    Stream<String> scripts =
        message.body().stream()
            .flatMap(e -> e instanceof Element.Exec x ? Stream.of(x.item()) : Stream.empty())
            .flatMap(i -> Operations.script(Fields.read(i.data())).stream());
    return Stream.concat(settings, scripts)
        .filter(id -> !state.files.contains(id))
        .distinct()
        .toList();
  }

  /** The file that a setting names; none where its text is no file. */
  private Optional<String> named(@Nullable String uri, String text) {
    return Optional.ofNullable(uri)
        .flatMap(catalog::settingAt)
        .filter(s -> s.type() instanceof ValueType.FileType)
        .flatMap(s -> StoredFile.referred(text));
  }

  /** Says that a file was fetched and is what it should be. */
  synchronized void hasFile(String id) {
    state.files.add(id);
  }

  /** Throws away what no setting names any more. */
  synchronized void keepNamedFiles() {
    Set<String> named = new HashSet<>();
    state.policy.forEach((path, leaf) -> named(path, leaf[1]).ifPresent(named::add));
    state.scripts.forEach(run -> named.add(run.file()));
    state.files.retainAll(named);
  }

  private Map<String, String[]> held(Subtree subtree) {
    return switch (subtree) {
      case SELF -> state.own;
      case POLICY -> state.policy;
      case INVENTORY -> throw new IllegalArgumentException("apps are no leaves to be edited");
    };
  }

  private static Stream<Subtree> edited() {
    return Stream.of(Subtree.values()).filter(Subtree::edited);
  }

  private static Tree tree(Map<String, String[]> held) {
    Map<String, Leaf> leaves = new TreeMap<>();
    held.forEach((p, l) -> leaves.put(p, new Leaf(l[0], l[1])));
    return new Tree(leaves);
  }

  @Override
  public synchronized Map<String, Leaf> read(String uri) {
    Map<String, Leaf> all = new LinkedHashMap<>();
    edited().forEach(subtree -> all.putAll(tree(held(subtree)).leaves()));
    all.putAll(apps.leaves());
    all.putAll(work.leaves());
    new Facts(model, state)
        .read(
            display.noticed().getOrDefault("network", ""),
            !passcode.mustChoose(),
            passcode.until(),
            updates.offered(state.clock().toLocalDate()).map(OsVersion::toString),
            kiosk)
        .forEach((k, v) -> all.put(Dm.FACTS + "/" + k, v));
    devInfo().forEach((k, v) -> all.put(Dm.DEV_INFO + k, new Leaf("chr", v)));
    Map<String, Leaf> out = new LinkedHashMap<>();
    all.forEach(
        (p, l) -> {
          if (p.equals(uri) || p.startsWith(uri + "/")) {
            out.put(p, l);
          }
        });
    if (uri.startsWith(Dm.FACTS)) {
      state.factsChanged = false;
    }
    return out;
  }

  synchronized Map<String, String> devInfo() {
    Map<String, String> out = new LinkedHashMap<>();
    out.put("DevId", "SERIAL:" + state.serial);
    out.put("Man", model.maker());
    out.put("Mod", model.name());
    out.put("DmV", "1.2");
    out.put("Lang", state.language);
    return out;
  }

  @Override
  public synchronized int put(String uri, Leaf leaf, boolean mayExist) {
    if (uri.equals(Dm.READY_GATE)) {
      state.gate = leaf.value();
      changed.accept(this);
      return Dm.OK;
    }
    if (uri.equals(Dm.COMPLIANCE_STATE) || uri.equals(Dm.COMPLIANCE_REASONS)) {
      state.order = uri.equals(Dm.COMPLIANCE_STATE) ? leaf.value() : state.order;
      state.orderReasons = uri.equals(Dm.COMPLIANCE_REASONS) ? leaf.value() : state.orderReasons;
      changed.accept(this);
      return Dm.OK;
    }
    if (uri.startsWith(Dm.DOWNLOAD) || uri.startsWith(Dm.SHELF)) {
      int code =
          uri.startsWith(Dm.DOWNLOAD) ? apps.put(uri, leaf.value()) : apps.offer(uri, leaf.value());
      changed.accept(this);
      return code;
    }
    if (uri.startsWith(Subtree.SELF.root() + "/")) {
      return keep(state.own, uri, leaf, mayExist);
    }
    Setting setting = catalog.settingAt(uri).orElse(null);
    if (setting == null || state.stubborn.contains(uri) || !Placeholders.allKnown(leaf.value())) {
      return Dm.NOT_SUPPORTED;
    }
    Mode mode =
        state.offer == null ? Mode.STANDARD : Words.parse(Mode.class, state.offer.profile().mode());
    DeviceTraits traits =
        new DeviceTraits(model.platform(), mode, OsVersion.parse(state.osVersion));
    if (setting.objection(traits).isPresent()) {
      return Dm.NOT_ALLOWED;
    }
    if (named(uri, leaf.value()).filter(id -> !state.files.contains(id)).isPresent()) {
      return Dm.NOT_FOUND;
    }
    if (setting.section().equals("kiosk")) {
      kiosk.enter(); // another kiosk than the one that was left
    }
    return keep(state.policy, uri, leaf, mayExist);
  }

  private int keep(Map<String, String[]> held, String uri, Leaf leaf, boolean mayExist) {
    if (!mayExist && held.containsKey(uri)) {
      return Dm.EXISTS;
    }
    held.put(uri, new String[] {leaf.format(), leaf.value()});
    changed.accept(this);
    return Dm.OK;
  }

  @Override
  public synchronized int delete(String uri) {
    boolean gone = false;
    List<Map<String, ?>> all = new ArrayList<>(List.of(state.shelf));
    edited().forEach(subtree -> all.add(held(subtree)));
    for (Map<String, ?> held : all) {
      gone |= held.keySet().removeIf(p -> p.equals(uri) || p.startsWith(uri + "/"));
    }
    changed.accept(this);
    return gone ? Dm.OK : Dm.NOT_FOUND;
  }

  @Override
  public synchronized int exec(String uri, @Nullable String data, @Nullable String correlator) {
    if (correlator != null && state.carriedOut.containsKey(correlator)) {
      return state.carriedOut.get(correlator);
    }
    String known = correlator == null ? "" : correlator;
    int code =
        AppBox.operates(uri)
            ? apps.start(uri, known)
            : operations.start(uri, Fields.read(data), known);
    operations.remember(correlator, code);
    factsChanged();
    return code;
  }

  @Override
  public synchronized int show(String text, @Nullable String correlator) {
    if (correlator != null && state.carriedOut.containsKey(correlator)) {
      return state.carriedOut.get(correlator);
    }
    state.runs.merge("message", 1, Integer::sum);
    String known = correlator == null ? "" : correlator;
    boolean reads = state.automaticHolder && Math.floorMod(state.serial.hashCode(), 3) > 0;
    state.notes.add(0, new State.Note(text, Instant.now().toString(), reads, known));
    if (reads && !known.isEmpty()) {
      state.readToTell.add(known);
    }
    if (state.notes.size() > 20) {
      state.notes.remove(state.notes.size() - 1);
    }
    operations.remember(correlator, Dm.OK);
    changed.accept(this);
    return Dm.OK;
  }

  @Override
  public synchronized int confirm(String text, @Nullable String correlator) {
    if (correlator != null && state.carriedOut.containsKey(correlator)) {
      return state.carriedOut.get(correlator);
    }
    state.runs.merge("confirm", 1, Integer::sum);
    String asked = correlator == null ? "" : correlator;
    if (state.automaticHolder) {
      state.reports.add(State.Report.of(asked, Dm.OK));
    } else {
      state.questions.add(new State.Question(text, asked));
    }
    operations.remember(correlator, Dm.ACCEPTED);
    changed.accept(this);
    return Dm.ACCEPTED;
  }

  @Override
  public synchronized int choose(String text, List<String> choices, @Nullable String correlator) {
    if (correlator != null && state.carriedOut.containsKey(correlator)) {
      return state.carriedOut.get(correlator);
    }
    state.runs.merge("choose", 1, Integer::sum);
    String asked = correlator == null ? "" : correlator;
    int h = Math.floorMod(state.serial.hashCode(), 97);
    if (state.automaticHolder && h < ANSWER) {
      state.reports.add(
          new State.Report(Dm.TYPE_OPERATION, asked, Dm.OK + " " + (h % choices.size() + 1)));
    } else {
      state.questions.add(new State.Question(text, asked, List.copyOf(choices)));
    }
    operations.remember(correlator, Dm.ACCEPTED);
    changed.accept(this);
    return Dm.ACCEPTED;
  }

  /** The holder takes one of the choices of what is asked first; 1 for the first. */
  public synchronized void take(int choice) {
    if (!state.questions.isEmpty() && choice <= state.questions.get(0).choices().size()) {
      State.Question q = state.questions.remove(0);
      state.reports.add(new State.Report(Dm.TYPE_OPERATION, q.correlator(), Dm.OK + " " + choice));
      changed.accept(this);
    }
  }

  /** The holder says yes or no to what is asked first. */
  public synchronized void say(boolean yes) {
    if (!state.questions.isEmpty()) {
      State.Question q = state.questions.remove(0);
      if (!apps.say(q.correlator(), yes) && !operations.say(q.correlator(), yes)) {
        state.reports.add(State.Report.of(q.correlator(), yes ? Dm.OK : Dm.CANCELLED));
      }
      changed.accept(this);
    }
  }

  private record Held(Map<String, String[]> policy, Map<String, String[]> own) {}

  @Override
  public synchronized Object snapshot() {
    return new Held(new TreeMap<>(state.policy), new TreeMap<>(state.own));
  }

  @Override
  public synchronized boolean restore(Object snapshot) {
    if (snapshot instanceof Held before) {
      state.policy.clear();
      state.policy.putAll(before.policy());
      state.own.clear();
      state.own.putAll(before.own());
      changed.accept(this);
      return true;
    }
    return false;
  }
}
