package dev.pinwright.sandbox.device;

import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.Hours;
import dev.pinwright.core.file.StoredFile;
import dev.pinwright.core.signin.SignInWindow;
import dev.pinwright.core.web.WebRules;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.UnaryOperator;

/** What a device does about the settings it has. Guarded by the device it belongs to. */
record Obedience(State state) {

  /** The texts of a section by name; of a collection by entry and name. */
  Map<String, String> section(String key) {
    String root = Catalog.POLICY_ROOT + "/" + key + "/";
    Map<String, String> texts = new TreeMap<>();
    state.policy.forEach(
        (path, leaf) -> {
          if (path.startsWith(root)) {
            texts.put(path.substring(root.length()), leaf[1]);
          }
        });
    return texts;
  }

  /** The texts of the entries of a collection, by entry. */
  private Map<String, Map<String, String>> entries(String key) {
    Map<String, Map<String, String>> out = new TreeMap<>();
    section(key)
        .forEach(
            (path, text) -> {
              String[] parts = path.split("/", 2);
              if (parts.length == 2) {
                out.computeIfAbsent(parts[0], e -> new TreeMap<>()).put(parts[1], text);
              }
            });
    return out;
  }

  /** What the browser may open. */
  WebRules web() {
    return WebRules.read(section("web"));
  }

  /** The sign-in window; none where nothing is said of it. */
  Optional<SignInWindow> signIn() {
    List<String> accounts =
        entries("accounts").values().stream()
            .map(a -> a.getOrDefault("login", ""))
            .filter(l -> !l.isEmpty())
            .toList();
    return SignInWindow.read(section("signin"), accounts);
  }

  /** Whether it is outside its hours of use. */
  boolean resting(LocalDateTime now) {
    return Optional.ofNullable(section("hours").get("open"))
        .flatMap(Hours::read)
        .filter(h -> !h.hold(now.getDayOfWeek(), now.toLocalTime()))
        .isPresent();
  }

  /** Documents that can be read. */
  List<Screen.Document> documents() {
    return entries("documents").values().stream()
        .map(
            d ->
                new Screen.Document(
                    d.getOrDefault("title", ""),
                    StoredFile.referred(d.getOrDefault("file", "")).orElse("")))
        .toList();
  }

  /** Addresses on the home screen. */
  List<Screen.Shortcut> shortcuts() {
    return entries("shortcuts").values().stream()
        .map(s -> new Screen.Shortcut(s.getOrDefault("title", ""), s.getOrDefault("address", "")))
        .toList();
  }

  /** By what way its browser reaches what it opens. */
  Way way() {
    return new Way(
        List.copyOf(entries("vpn").values()),
        List.copyOf(entries("proxy").values()),
        state.wifi,
        state.faults.contains("tunnel-down"));
  }

  /** Mailboxes that are set up; whose password nobody said, its holder is asked for. */
  List<Screen.Mailbox> mailboxes(UnaryOperator<String> filled) {
    return entries("mail").values().stream()
        .map(
            m ->
                new Screen.Mailbox(
                    filled.apply(m.getOrDefault("address", "")),
                    m.getOrDefault("server-in", ""),
                    m.getOrDefault("server-out", ""),
                    m.getOrDefault("days", ""),
                    filled.apply(m.getOrDefault("signature", "")),
                    !m.containsKey("secret"),
                    Boolean.parseBoolean(m.get("attachments-off"))))
        .toList();
  }

  /** Certificates it holds: whom it trusts, and what it proves itself with. */
  List<Screen.Certificate> certificates() {
    List<Screen.Certificate> out = new ArrayList<>();
    entries("certificates")
        .forEach(
            (entry, c) ->
                out.add(
                    new Screen.Certificate(
                        StoredFile.referred(c.getOrDefault("file", ""))
                            .map(state.certificates::get)
                            .orElse(entry),
                        "identity".equals(c.get("use")),
                        Boolean.parseBoolean(c.get("kept")))));
    return out;
  }

  /** Scripts that run by themselves when something happens: their files and longest runs. */
  Map<String, State.ScriptRun> scripts(String when) {
    Map<String, State.ScriptRun> out = new TreeMap<>();
    entries("scripts")
        .forEach(
            (entry, s) -> {
              if (s.getOrDefault("when", "sign-in").equals(when)) {
                StoredFile.referred(s.getOrDefault("file", ""))
                    .ifPresent(
                        file ->
                            out.put(
                                entry,
                                new State.ScriptRun(
                                    "", file, Long.parseLong(s.getOrDefault("limit", "60")))));
              }
            });
    return out;
  }
}
