package dev.pinwright.sandbox.device;

import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.Section;
import dev.pinwright.core.catalog.Setting;
import dev.pinwright.core.own.OwnDetails;
import dev.pinwright.core.own.Placeholders;
import dev.pinwright.core.passcode.PasscodePolicy;
import dev.pinwright.core.signin.SignInWindow;
import dev.pinwright.core.tree.Leaf;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/** What is seen on a device. Guarded by the device it belongs to. */
record Display(
    Catalog catalog,
    Model model,
    State state,
    Handover handover,
    Obedience obedience,
    KioskBox kiosk,
    Passcode passcode,
    AppBox apps,
    Updates updates,
    Power power) {

  /**
   * The screen as it is now.
   *
   * @param online whether the device can be woken
   * @param removable whether the holder may end management
   * @param fetched percent of each package that has come, by app
   * @param watched who sees the screen; nobody where it is null
   */
  Screen screen(
      boolean online,
      boolean removable,
      Map<String, Integer> fetched,
      State.@Nullable ScreenAsk watched) {
    PasscodePolicy policy = passcode.policy();
    PasscodePolicy.Demand demand = passcode.demand();
    boolean managed = state.stage == State.Stage.JOINED;
    String screen;
    if (!managed) {
      screen = Words.of(state.stage);
    } else if (state.off) {
      screen = "off";
    } else if (System.currentTimeMillis() < state.restartedUntil) {
      screen = "restarting";
    } else if (!state.firstRun.isEmpty()) {
      screen = "first-run";
    } else if (handover.atGate()) {
      screen = "gate";
    } else if (power.asleep(System.currentTimeMillis())) {
      screen = "asleep";
    } else if (state.locked) {
      screen = "locked";
    } else if (demand == PasscodePolicy.Demand.NOW) {
      screen = "passcode";
    } else if (obedience.resting(state.clock())) {
      screen = "resting";
    } else if (kiosk.inside(Instant.now()).isPresent()) {
      screen = "kiosk";
    } else {
      screen = state.signedIn == null && signIn().isPresent() ? "sign-in" : "home";
    }
    List<Screen.Told> told = new ArrayList<>();
    state.policy.forEach(
        (path, leaf) -> catalog.settingAt(path).ifPresent(s -> told.add(told(s, leaf[1]))));
    Map<String, String> noticed = noticed();
    if (!state.wallpaper.isEmpty()) {
      noticed.putIfAbsent("wallpaper", state.wallpaper);
    }
    return new Screen(
        state.id,
        model.maker(),
        model.name(),
        model.platform(),
        model.kind(),
        state.osVersion,
        state.serial,
        Optional.ofNullable(state.imei),
        screen,
        state.reason,
        state.problem,
        Optional.ofNullable(state.offer),
        online,
        managed,
        state.battery,
        state.charging,
        state.lockText.isEmpty() ? noticed.getOrDefault("lock-text", "") : state.lockText,
        state.lockPhone.isEmpty() ? noticed.getOrDefault("lock-phone", "") : state.lockPhone,
        state.passcode != null,
        policy.demand(),
        state.ringing,
        state.ringText,
        state.notes.stream().map(n -> new Screen.Message(n.text(), n.at(), n.read())).toList(),
        noticed,
        told,
        state.sessions,
        Map.copyOf(state.runs),
        handover.screen(),
        handover.steps(),
        handover.updating(),
        removable,
        state.pushOnly,
        state.handsFree,
        state.offline,
        state.questions.stream().map(State.Question::text).findFirst(),
        state.questions.stream().map(State.Question::choices).findFirst().orElse(List.of()),
        demand == PasscodePolicy.Demand.GRACE
            ? passcode.until().map(Instant::toString)
            : Optional.empty(),
        signIn().map(w -> new Screen.SignIn(w.banner(), w.names(), w.guests())),
        Optional.ofNullable(state.signedIn),
        obedience.shortcuts(),
        documents(),
        turnedOff(),
        kiosk.view(this::filled, Instant.now()),
        kiosk.backAt(Instant.now()).map(Instant::toString),
        Optional.of(state.recoveryKey).filter(k -> !k.isEmpty()),
        List.copyOf(state.faults),
        order(),
        catalog.platform(model.platform()).orElseThrow().apps().stream()
            .map(a -> new Screen.App(a.id(), a.name(), apps.usable().contains(a.id()), ""))
            .toList(),
        state.apps.values().stream()
            .map(
                a ->
                    new Screen.Tile(
                        a.id(),
                        a.name(),
                        a.version(),
                        a.managed(),
                        !state.blockedApps.contains(a.id()),
                        filled(a.config()),
                        a.opens()))
            .toList(),
        state.jobs.values().stream()
            .map(
                j ->
                    new Screen.Coming(
                        j.id(), j.name(), fetched.getOrDefault(j.id(), 0), apps.waitsFor(j)))
            .toList(),
        Map.copyOf(state.shelf),
        List.copyOf(state.wishes),
        state.biometricsOff,
        state.simLocked,
        Optional.of(state.opened).filter(o -> !o.isEmpty()),
        state.written.getOrDefault(state.opened, ""),
        Optional.ofNullable(watched).map(w -> new Screen.Watched(w.by(), w.whole(), w.taps())),
        state.inUse,
        state.language,
        state.givenName,
        handover.updating()
            ? Optional.empty()
            : updates
                .offered(state.clock().toLocalDate())
                .map(v -> new Screen.Update(v.toString(), updates.words(v))),
        new Screen.Provided(
            obedience.mailboxes(this::filled),
            obedience.certificates(),
            Map.copyOf(state.scriptEnds),
            state.lidClosed));
  }

  private Optional<Screen.Order> order() {
    return state.order.isEmpty()
        ? Optional.empty()
        : Optional.of(
            new Screen.Order(
                state.order, state.orderReasons.lines().filter(l -> !l.isBlank()).toList()));
  }

  /** What shows on the device of the settings it has, by where it shows; of entries the first. */
  Map<String, String> noticed() {
    Map<String, String> out = new TreeMap<>();
    new TreeMap<>(state.policy)
        .forEach(
            (path, leaf) ->
                catalog
                    .settingAt(path)
                    .flatMap(Setting::notice)
                    .ifPresent(place -> out.putIfAbsent(place, filled(leaf[1]))));
    return out;
  }

  /** A text with what is the device's own in its placeholders. */
  private String filled(String text) {
    return Placeholders.fill(
        text, name -> Optional.ofNullable(state.own.get(OwnDetails.path(name))).map(l -> l[1]));
  }

  /** The window people sign in at; laptops alone have one. */
  Optional<SignInWindow> signIn() {
    return model.kind().equals("laptop") ? obedience.signIn() : Optional.empty();
  }

  private Screen.Told told(Setting s, String value) {
    String section =
        catalog.sections().stream()
            .filter(x -> x.key().equals(s.section()))
            .map(Section::title)
            .findFirst()
            .orElse("");
    String words =
        s.sensitive()
            ? "••••••••"
            : s.type()
                .read(new Leaf(s.type().format(), value))
                .map(v -> filled(s.type().words(v)))
                .orElse(value);
    return new Screen.Told(section, s.title(), words);
  }

  private List<Screen.Document> documents() {
    List<Screen.Document> out = new ArrayList<>(obedience.documents());
    state.documents.forEach((title, file) -> out.add(new Screen.Document(title, file)));
    return out;
  }

  /** Titles of what was turned off and the holder would miss. */
  private List<String> turnedOff() {
    List<String> out = new ArrayList<>();
    noticed()
        .forEach(
            (place, value) -> {
              if (place.endsWith("-gone") && value.equals("true")) {
                catalog.noticed(place).ifPresent(s -> out.add(s.title()));
              }
            });
    return out;
  }
}
