package dev.pinwright.sandbox.device;

import dev.pinwright.core.Words;
import dev.pinwright.core.app.Installed;
import dev.pinwright.core.app.Inventory;
import dev.pinwright.core.app.Outcome;
import dev.pinwright.core.catalog.Hours;
import dev.pinwright.core.catalog.Platform;
import dev.pinwright.core.catalog.SystemApp;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.device.Ownership;
import dev.pinwright.core.own.Placeholders;
import dev.pinwright.core.session.Subtree;
import dev.pinwright.core.tree.Leaf;
import dev.pinwright.protocol.dm.Dm;
import dev.pinwright.protocol.dm.InstallOrder;
import dev.pinwright.protocol.dm.Inventories;
import dev.pinwright.protocol.join.JoinMessages;
import dev.pinwright.protocol.pack.Manifest;
import dev.pinwright.protocol.pack.PackageFile;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;

/**
 * The apps of a device: what it has, what it is told to install and remove, and what it makes of a
 * package. Guarded by the device it belongs to.
 */
final class AppBox {
  private static final String OURS = "pinwright";
  private final Platform platform;
  private final Model model;
  private final State state;

  AppBox(Platform platform, Model model, State state) {
    this.platform = platform;
    this.model = model;
    this.state = state;
  }

  // ---- what is there ---------------------------------------------------------------------------

  /** What it tells of its apps; of a personal device, of those alone that are managed. */
  Inventory inventory() {
    List<Installed> apps = new ArrayList<>();
    if (!personal()) {
      platform.apps().stream()
          .filter(a -> !state.goneApps.contains(a.id()))
          .forEach(
              a ->
                  apps.add(
                      new Installed(
                          a.id(),
                          a.name(),
                          state.osVersion,
                          !state.blockedApps.contains(a.id()),
                          false,
                          0,
                          "system",
                          "",
                          a.id())));
    }
    state.apps.values().stream()
        .filter(a -> a.managed() || !personal())
        .forEach(
            a ->
                apps.add(
                    new Installed(
                        a.id(),
                        a.name(),
                        a.version(),
                        !state.blockedApps.contains(a.id()),
                        a.managed(),
                        a.bytes(),
                        a.source(),
                        a.configDigest(),
                        a.id())));
    return Inventory.of(apps);
  }

  private boolean personal() {
    JoinMessages.Offer offer = state.offer;
    return offer != null && offer.profile().ownership().equals(Words.of(Ownership.PERSONAL));
  }

  /** Why an app that was installed cannot be opened; empty when it can, or none is named. */
  Optional<String> notOpened(String app) {
    if (app.isEmpty() || state.apps.containsKey(app) && !state.blockedApps.contains(app)) {
      return Optional.empty();
    }
    return Optional.of("This app is not on the device, or not to be opened.");
  }

  /** Ids of the apps that can be opened. */
  Set<String> usable() {
    Set<String> ids = new HashSet<>(state.apps.keySet());
    platform.apps().stream()
        .map(SystemApp::id)
        .filter(a -> !state.goneApps.contains(a))
        .forEach(ids::add);
    ids.removeAll(state.blockedApps);
    return ids;
  }

  /** What an app is called; its id where it is not there. */
  String name(String id) {
    return platform.apps().stream()
        .filter(a -> a.id().equals(id))
        .map(SystemApp::name)
        .findFirst()
        .or(() -> Optional.ofNullable(state.apps.get(id)).map(State.App::name))
        .orElse(id);
  }

  /** The page of the web an app is; empty for one that is none. */
  String opens(String id) {
    return Optional.ofNullable(state.apps.get(id)).map(State.App::opens).orElse("");
  }

  /** The leaves of its inventory and its shelf. */
  Map<String, Leaf> leaves() {
    Map<String, Leaf> leaves = new TreeMap<>(Inventories.write(inventory()));
    state.shelf.forEach((path, text) -> leaves.put(path, new Leaf("chr", text)));
    return leaves;
  }

  // ---- what it is told -------------------------------------------------------------------------

  /** Takes a leaf of a download; its status code. */
  int put(String uri, String value) {
    String[] parts = uri.substring(Dm.DOWNLOAD.length()).split("/", 2);
    if (parts.length != 2) {
      return Dm.NOT_ALLOWED;
    }
    state.downloads.computeIfAbsent(parts[0], n -> new TreeMap<>()).put(parts[1], value);
    return Dm.OK;
  }

  /** Puts something on the shelf. */
  int offer(String uri, String value) {
    state.shelf.put(uri, value);
    return Dm.OK;
  }

  /** Whether an operation is about apps. */
  static boolean operates(String uri) {
    return uri.startsWith(Dm.DOWNLOAD) || uri.startsWith(Subtree.INVENTORY.root() + "/");
  }

  /** Starts an installation or removes an app; the status code. */
  int start(String uri, String correlator) {
    String run =
        uri.startsWith(Dm.DOWNLOAD) ? "install" : uri.endsWith(Dm.ACTIVATE) ? "activate" : "remove";
    state.runs.merge(run, 1, Integer::sum);
    if (uri.startsWith(Dm.DOWNLOAD) && uri.endsWith(Dm.DOWNLOAD_INSTALL)) {
      String node =
          uri.substring(Dm.DOWNLOAD.length(), uri.length() - Dm.DOWNLOAD_INSTALL.length());
      Map<String, String> told = state.downloads.remove(node);
      if (told == null || !told.keySet().containsAll(List.of("PkgID", "PkgURL", "InstallOpts"))) {
        return Dm.NOT_FOUND;
      }
      try {
        InstallOrder.read(told.get("InstallOpts"));
      } catch (IllegalArgumentException e) {
        return 400;
      }
      // what was ordered before for the same app is overtaken
      state.jobs.values().removeIf(j -> j.id().equals(told.get("PkgID")));
      state.jobs.put(
          correlator,
          new State.Job(
              correlator,
              told.get("PkgID"),
              told.getOrDefault("Name", told.get("PkgID")),
              told.get("PkgURL"),
              told.get("InstallOpts"),
              asks(told.get("InstallOpts"))));
      state.jobs.values().stream()
          .filter(j -> j.correlator().equals(correlator) && j.asked())
          .forEach(
              j ->
                  state.questions.add(new State.Question("Install " + j.name() + "?", correlator)));
      return Dm.ACCEPTED;
    }
    if (uri.endsWith(Dm.ACTIVATE)) {
      String root = Subtree.INVENTORY.root() + "/";
      String id = uri.substring(root.length(), uri.length() - Dm.ACTIVATE.length());
      return state.blockedApps.remove(id) ? Dm.OK : Dm.NOT_FOUND;
    }
    if (uri.endsWith(Dm.REMOVE)) {
      String root = Subtree.INVENTORY.root() + "/";
      return remove(uri.substring(root.length(), uri.length() - Dm.REMOVE.length()));
    }
    return Dm.NOT_SUPPORTED;
  }

  /** Whether the holder is asked: on what the organisation does not supervise, where one looks. */
  private boolean asks(String opts) {
    JoinMessages.Offer offer = state.offer;
    boolean supervised = offer != null && offer.profile().mode().equals(Words.of(Mode.SUPERVISED));
    return !supervised && !state.automaticHolder && InstallOrder.read(opts).required();
  }

  private int remove(String id) {
    if (state.faults.contains("no-removal")) {
      return Dm.NOT_ALLOWED;
    }
    if (state.apps.remove(id) != null) {
      state.blockedApps.remove(id);
      if (state.opened.equals(id)) {
        state.opened = "";
      }
      return Dm.OK;
    }
    if (platform.apps().stream().anyMatch(a -> a.id().equals(id))) {
      state.blockedApps.add(id);
      return Dm.OK;
    }
    return Dm.NOT_FOUND;
  }

  // ---- installing ------------------------------------------------------------------------------

  /** What is to be installed next, where nothing stands in the way. */
  Optional<State.Job> next() {
    return state.jobs.values().stream().filter(j -> waitsFor(j).isEmpty()).findFirst();
  }

  /** What an installation waits for. */
  Optional<String> waitsFor(State.Job job) {
    InstallOrder order = InstallOrder.read(job.opts());
    if (job.asked()) {
      return Optional.of("waits for you");
    }
    if (order.options().wifiOnly() && state.faults.contains("cellular")) {
      return Optional.of("waits for Wi-Fi");
    }
    if (order.options().chargingOnly() && !state.charging) {
      return Optional.of("waits until it charges");
    }
    LocalDateTime now = state.clock();
    boolean resting =
        order
            .options()
            .hours()
            .flatMap(Hours::read)
            .filter(h -> !h.hold(now.getDayOfWeek(), now.toLocalTime()))
            .isPresent();
    return resting ? Optional.of("waits for " + order.options().hours().get()) : Optional.empty();
  }

  /** The holder says whether an installation may go on; false when none was asked about. */
  boolean say(String correlator, boolean yes) {
    State.Job job = state.jobs.get(correlator);
    if (job == null || !job.asked()) {
      return false;
    }
    if (yes) {
      state.jobs.put(correlator, job.allowed());
    } else {
      done(job, Outcome.CANCELLED, "");
    }
    return true;
  }

  /** Whether the package of an app is there already, and only its configuration changes. */
  boolean has(State.Job job) {
    State.App there = state.apps.get(job.id());
    return there != null && there.sha256().equals(InstallOrder.read(job.opts()).sha256());
  }

  /** Why there is no room for a package; empty where there is. */
  Optional<String> noRoom(State.Job job) {
    long free = model.capacity() - state.storageUsed;
    long size = InstallOrder.read(job.opts()).size();
    return state.faults.contains("full") || size > free
        ? Optional.of("it needs " + size + " bytes")
        : Optional.empty();
  }

  /** Installs what was fetched and found to be whole. */
  void install(State.Job job, PackageFile read) {
    Manifest m = read.manifest();
    InstallOrder order = InstallOrder.read(job.opts());
    State.App there = state.apps.get(job.id());
    OsVersion lowest = m.lowest().get(model.platform());
    if (!m.id().equals(job.id())) {
      done(job, Outcome.NOT_WHOLE, "the package is of " + m.id());
    } else if (lowest == null || !OsVersion.parse(state.osVersion).atLeast(lowest)) {
      done(job, Outcome.NOT_FOR_THIS, "");
    } else if (there != null && !there.signer().equals(read.signer().key())) {
      done(job, Outcome.STANDS_AGAINST, "it is of another signer");
    } else if (there != null && !there.managed() && !order.options().takeOver()) {
      done(job, Outcome.STANDS_AGAINST, "the holder's own is there");
    } else if (state.faults.contains("no-install")) {
      done(job, Outcome.INSTALL_FAILED, "it ended while it was unpacked");
    } else {
      configured(
          job,
          order,
          new State.App(
              m.id(),
              m.name(),
              m.version(),
              m.versionCode(),
              true,
              m.bytes() == 0 ? order.size() : m.bytes(),
              OURS,
              order.sha256(),
              read.signer().key(),
              "",
              "",
              order.options().removeWithManagement(),
              m.opens().orElse("")));
    }
  }

  /** Gives an app that is there what it is told. */
  void configure(State.Job job) {
    configured(job, InstallOrder.read(job.opts()), state.apps.get(job.id()));
  }

  private void configured(State.Job job, InstallOrder order, State.App app) {
    String config = order.config().orElse("");
    if (!Placeholders.allKnown(config)) {
      done(job, Outcome.INSTALL_FAILED, "the configuration holds a placeholder it does not know");
      return;
    }
    state.apps.put(
        app.id(),
        app.configured(
            config, InstallOrder.digest(order.config()), order.options().removeWithManagement()));
    state.blockedApps.remove(app.id());
    done(job, Outcome.DONE, "");
  }

  /** An installation ended. */
  void done(State.Job job, int code, String words) {
    state.jobs.remove(job.correlator());
    state.appReports.add(
        new State.AppReport(job.correlator(), words.isEmpty() ? "" + code : code + " " + words));
  }

  /** An app the holder installed from elsewhere. */
  void holders(String id, String name, String version) {
    state.apps.put(
        id,
        new State.App(id, name, version, 0, false, 30_000_000, "store", "", "", "", "", false, ""));
  }

  /** What is the organisation's. */
  void wipe() {
    state.apps.values().removeIf(State.App::managed);
    forget();
  }

  /** What goes with management. */
  void forget() {
    state.apps.values().removeIf(a -> a.managed() && a.goesWithManagement());
    state.jobs.clear();
    state.downloads.clear();
    state.shelf.clear();
    state.wishes.clear();
    state.appReports.clear();
    state.blockedApps.clear();
  }
}
