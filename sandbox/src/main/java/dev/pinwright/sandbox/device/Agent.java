package dev.pinwright.sandbox.device;

import dev.pinwright.protocol.dm.Dm;
import dev.pinwright.protocol.join.JoinMessages;
import dev.pinwright.protocol.notification.Notification;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.sandbox.link.HttpLine;
import dev.pinwright.sandbox.link.HttpLine.Reply;
import dev.pinwright.sandbox.link.Network;
import dev.pinwright.sandbox.link.WakeLine;
import dev.pinwright.sandbox.vendor.Vendor;
import dev.pinwright.sandbox.vendor.Vendors;
import io.netty.handler.ssl.SslContext;
import java.net.URI;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * The part of a device that speaks with the server: joins, holds the wake socket, checks in, and is
 * switched on and off.
 */
public final class Agent implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(Agent.class);
  private static final long UPDATE_MILLIS = 2_000;
  private static final long WATCHED_UPDATE_MILLIS = 6_000;

  private final Network network;
  private final @Nullable Vendors vendors;
  private final FetchedFiles files;
  private final SimulatedDevice device;
  private final State state;
  private final Consumer<SimulatedDevice> changed;
  private final CheckIns checkIns;
  private final Joiner joiner;
  private final Installer installer;
  private final Mirror mirror;
  private final Scripts scripts;
  private @Nullable SslContext identity;
  private @Nullable String identityOf;
  private volatile @Nullable WakeLine wake;
  private volatile boolean closed;

  Agent(
      Network network,
      @Nullable Vendors vendors,
      FetchedFiles files,
      SimulatedDevice device,
      Consumer<SimulatedDevice> changed) {
    this.network = network;
    this.vendors = vendors;
    this.files = files;
    this.device = device;
    this.state = device.state();
    this.changed = changed;
    this.checkIns = new CheckIns(network, files, device, new Managed());
    this.joiner = new Joiner(network, vendors, device, changed, this::connect);
    this.installer = new Installer(network, files, device, this::line, () -> checkIn(false));
    this.scripts = new Scripts(network, files, device, () -> checkIn(false));
    this.mirror = new Mirror(network, device, this::screen, this::identity, () -> checkIn(false));
  }

  public SimulatedDevice device() {
    return device;
  }

  /** The screen as it is now. */
  public Screen screen() {
    WakeLine w = wake;
    return device.screen(w != null && w.isOpen());
  }

  // ---- joining ---------------------------------------------------------------------------------

  /** Takes a join link and reads what it offers; the holder then accepts or declines. */
  public CompletableFuture<Void> take(String link) {
    return joiner.take(link);
  }

  /** The holder accepts what is offered, with a passphrase where one is asked for. */
  public CompletableFuture<Void> accept(@Nullable String secret) {
    return joiner.accept(null, secret);
  }

  /** The holder accepts what is offered, with their staff login and password. */
  public CompletableFuture<Void> accept(String login, String password) {
    return joiner.accept(login, password);
  }

  /** Turns a device on that nobody has told anything: it asks its maker's registrar. */
  public CompletableFuture<Void> boot() {
    return joiner.boot();
  }

  /** Goes on where it was when it was turned off: joins on, or connects. */
  void resume() {
    joiner.resume();
    connect();
  }

  /** Ends management, as the holder may where the organisation allows it. */
  public void leave() {
    if (!device.mayLeave()) {
      throw new IllegalStateException("the organisation does not allow that");
    }
    synchronized (device) {
      state.leaving = true;
    }
    checkIn(false);
  }

  /** Keeps no connection open and relies on being pushed, or the other way round. */
  public void saveBattery(boolean on) {
    synchronized (device) {
      state.pushOnly = on;
      state.factsChanged = true;
    }
    connect();
    changed.accept(device);
  }

  /** The holder declines; nothing is sent. */
  public void decline() {
    joiner.decline();
  }

  /** The device's TLS identity, made once so that TLS sessions can be resumed. */
  private synchronized SslContext identity() {
    String keyPem = state.keyPem;
    String certificatePem = state.certificatePem;
    if (keyPem == null || certificatePem == null) {
      throw new IllegalStateException("the device has no certificate");
    }
    SslContext made = identity;
    if (made == null || !certificatePem.equals(identityOf)) {
      made =
          network.identity(
              state.fingerprint, Pki.privateKey(keyPem), Pki.certificate(certificatePem));
      identity = made;
      identityOf = certificatePem;
    }
    return made;
  }

  /** Erases the device as a factory reset does, and turns it on again. */
  public void reset() {
    erase();
    joiner.boot();
  }

  /** It has told that it erases itself, and does; or, where that is wrong with it, does not. */
  private boolean erasesItself(List<State.Report> told) {
    synchronized (device) {
      if (!state.erasing || told.stream().noneMatch(r -> r.type().equals(Dm.TYPE_LAWMO_DONE))) {
        return false;
      }
      state.erasing = false;
      if (state.faults.contains("no-erasing")) {
        return false;
      }
      state.erasedFor = state.server;
      state.erasedForRoot = state.fingerprint;
    }
    erase();
    joiner.blank().whenComplete((x, failure) -> joiner.boot());
    return true;
  }

  /** Erases the device and leaves it as it came from the factory. */
  public void erase() {
    disconnect();
    synchronized (device) {
      state.policy.clear();
      state.meddled.clear();
      state.here = null;
      state.trail.clear();
      state.recoveryKey = "";
      state.recoveryNumber = 0;
      state.recoveryToTell = "";
      state.recoveryWrappedFor = "";
      state.order = "";
      state.orderReasons = "";
      state.files.clear();
      state.apps.clear();
      device.apps().forget();
      state.passcode = null;
      state.locked = false;
      state.ringing = false;
      state.notes.clear();
      state.questions.clear();
      state.reports.clear();
      state.carriedOut.clear();
      state.keyPem = null;
      state.certificatePem = null;
      state.commonName = null;
      state.offer = null;
      state.link = null;
      state.firstRun.clear();
      state.gate = "";
      state.wifi = "";
      state.wallpaper = "";
      state.leaving = false;
      state.releasedBy = "";
      state.erasing = false;
      state.simLocked = false;
      state.biometricsOff = false;
      state.own.clear();
      state.found.clear();
      state.screenAsks.clear();
      state.deferred.clear();
      state.documents.clear();
      state.givenName = "";
      state.inUse = false;
      state.scripts.clear();
      state.scriptEnds.clear();
      state.certificates.clear();
      state.touchedAt = 0;
      state.lidClosed = false;
      state.inHours = false;
      state.offByHours = false;
      state.written.clear();
      state.endedProcesses.clear();
      state.opened = "";
      state.factsChanged = true;
    }
    unsubscribe();
    joiner.set(State.Stage.NEW, "", "");
  }

  private void unsubscribe() {
    if (vendors != null && !state.pushToken.isEmpty()) {
      vendors.of(device.model().platform()).unsubscribe(state.pushToken);
    }
    state.pushToken = "";
    state.pushEndpoint = "";
  }

  private void subscribe() {
    if (vendors == null) {
      return;
    }
    Vendor vendor = vendors.of(device.model().platform());
    synchronized (device) {
      if (state.pushToken.isEmpty()) {
        state.pushToken = vendor.subscribe(state.serial);
        state.pushEndpoint =
            vendors.address(device.model().platform()) + "/push/" + state.pushToken;
        state.factsChanged = true;
      }
    }
    vendor.listen(state.pushToken, this::notified);
  }

  // ---- being managed ---------------------------------------------------------------------------

  /** Whether it is managed and on the network. */
  private boolean isUp() {
    return state.stage == State.Stage.JOINED && !state.offline && !closed;
  }

  /** Opens the wake socket, when the device has joined and is online. */
  public void connect() {
    JoinMessages.Offer offer = state.offer;
    if (offer == null || !isUp()) {
      return;
    }
    disconnect();
    subscribe();
    if (state.pushOnly) {
      checkIn(false);
      return;
    }
    WakeLine line =
        new WakeLine(
            network, identity(), URI.create(offer.wake()), () -> checkIn(false), this::notified);
    wake = line;
    line.open();
  }

  private void disconnect() {
    mirror.end();
    WakeLine w = wake;
    wake = null;
    if (w != null) {
      w.close();
    }
  }

  /** Its holder switches it on again. */
  public void switchOn() {
    synchronized (device) {
      state.off = false;
      state.offByHours = false;
    }
    offline(false);
    scripts.on("start");
  }

  /** It has told what it had to, and goes off where it was to. */
  private boolean goesOff() {
    synchronized (device) {
      if (!state.goingOff) {
        return false;
      }
      state.goingOff = false;
      state.off = true;
    }
    offline(true);
    return true;
  }

  /** Takes the device off the network, or puts it back. */
  public void offline(boolean offline) {
    synchronized (device) {
      state.offline = offline;
    }
    changed.accept(device);
    if (offline) {
      if (vendors != null && !state.pushToken.isEmpty()) {
        vendors.of(device.model().platform()).silence(state.pushToken);
      }
      disconnect();
    } else {
      connect();
    }
  }

  private void notified(byte[] bytes) {
    try {
      Notification.decode(bytes, String.valueOf(state.commonName));
      checkIn(true);
    } catch (IllegalArgumentException e) {
      LOG.warn("{}: {}", state.serial, e.getMessage());
    }
  }

  /** A way to a server of the organisation's or its maker's, while it is online and managed. */
  private Optional<HttpLine> line(URI server) {
    if (!isUp()) {
      return Optional.empty();
    }
    return joiner.ofMaker(server)
        ? joiner.toMaker()
        : Optional.of(new HttpLine(network, identity(), server));
  }

  /** Time passes: what waited for it is installed. */
  void live() {
    device.live();
    switch (device.powerDue()) {
      case SWITCH_OFF -> checkIn(false);
      case SWITCH_ON -> switchOn();
      case NOTHING, RESTART -> {}
    }
    if (device.started()) {
      scripts.on("start");
    }
    installer.go();
    device.updateDue().ifPresent(this::update);
  }

  /** Begins a session, or lets another follow the one that is going on. */
  public void checkIn(boolean woken) {
    checkIns.begin(woken);
  }

  /** The lid of a laptop is closed, or opened. */
  public void lid(boolean closed) {
    device.lid(closed);
    checkIn(false);
  }

  /** Signs somebody in to a laptop; why not, when they may not. */
  public Optional<String> signIn(String login) {
    Optional<String> objection = device.signIn(login);
    if (objection.isEmpty()) {
      scripts.on("sign-in");
    }
    return objection;
  }

  /** Signs out whoever is signed in to a laptop. */
  public void signOut() {
    device.signOut();
    scripts.on("sign-out");
  }

  /** Has a file fetched that a cable puts on it; false when it is not what it should be. */
  public CompletableFuture<Boolean> fetch(HttpLine line, String id) {
    return files.fetch(line, id, network.thinking());
  }

  /** Its holder ends that somebody sees its screen. */
  public void endWatching() {
    mirror.end();
  }

  /** Its holder has the version installed that is offered; false where none is. */
  public boolean installUpdate() {
    Optional<String> offered = device.updateOffered();
    offered.ifPresent(this::update);
    return offered.isPresent();
  }

  private void update(String version) {
    // where a person holds the device, an update takes long enough to be seen
    long takes = state.automaticHolder ? UPDATE_MILLIS : WATCHED_UPDATE_MILLIS;
    synchronized (device) {
      if (device.handover().updating()) {
        return;
      }
      state.updatingUntil = System.currentTimeMillis() + takes;
    }
    changed.accept(device);
    network
        .thinking()
        .schedule(
            () -> {
              device.updateOs(version);
              checkIn(false);
            },
            takes,
            TimeUnit.MILLISECONDS);
  }

  private void letTheHolderAct() {
    device.updateDue().ifPresent(this::update);
    if (state.automaticHolder && device.asksForPasscode()) {
      network
          .thinking()
          .schedule(
              () -> {
                if (device.choosePasscode(goodPasscode()).isEmpty()) {
                  checkIn(false);
                }
              },
              state.holderDelayMillis,
              TimeUnit.MILLISECONDS);
    }
  }

  /** A passcode that satisfies whatever is asked: grows until nobody objects. */
  private String goodPasscode() {
    String pool = "27Kd!59Wq#38Rt%61Zp&";
    StringBuilder sb = new StringBuilder();
    for (int i = 0; i < 40; i++) {
      sb.append(pool.charAt(i % pool.length()));
      if (device.passcode().policy().objections(sb.toString()).isEmpty()) {
        break;
      }
    }
    return sb.toString();
  }

  /** What its sessions come to. */
  private final class Managed implements CheckIns.Party {
    @Override
    public boolean isUp() {
      return Agent.this.isUp();
    }

    @Override
    public SslContext identity() {
      return Agent.this.identity();
    }

    @Override
    public void refused(Reply reply) {
      disconnect();
      joiner.refused(reply);
      if (state.problem.equals("device-retired")) {
        unsubscribe();
        device.forget();
      }
      joiner.set(State.Stage.REMOVED, state.problem, state.reason);
    }

    @Override
    public boolean endedBy(Outbox told) {
      if (!told.leaving()) {
        return erasesItself(told.reports());
      }
      String why =
          state.releasedBy.isEmpty()
              ? "You ended management of this device."
              : "Your organisation no longer manages this device.";
      disconnect();
      unsubscribe();
      device.forget();
      joiner.set(State.Stage.REMOVED, "", why);
      return true;
    }

    @Override
    public void settle(boolean follows) {
      changed.accept(device);
      if (device.meddled() || follows) {
        checkIn(false);
      } else if (!goesOff()) {
        letTheHolderAct();
      }
      installer.go();
      mirror.go();
      scripts.go();
    }
  }

  @Override
  public void close() {
    closed = true;
    disconnect();
  }
}
