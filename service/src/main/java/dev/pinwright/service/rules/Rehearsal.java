package dev.pinwright.service.rules;

import com.fasterxml.jackson.databind.JsonNode;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.Setting;
import dev.pinwright.core.policy.Effective;
import dev.pinwright.core.tree.Edit;
import dev.pinwright.core.tree.Leaf;
import dev.pinwright.core.tree.Tree;
import dev.pinwright.service.Json;
import dev.pinwright.service.Problem;
import dev.pinwright.service.rules.Shapes.Outcome;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.storage.ShapeMoves;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.BiFunction;

/**
 * What a publication would do, before it is done.
 *
 * @param devices devices it reaches, now or then
 * @param changing devices that get another desired tree
 * @param gain devices that only get settings they did not have
 * @param change devices for which some setting changes
 * @param lose devices that only lose settings
 * @param effects one entry per kind of device that changes, most devices first
 * @param conflicts settings on which equally near profiles disagree
 * @param unsupported settings some devices cannot take
 * @param confirmDevices when present, the number of devices has to be repeated to publish
 */
public record Rehearsal(
    long devices,
    long changing,
    long gain,
    long change,
    long lose,
    List<Effect> effects,
    List<Conflict> conflicts,
    List<Unsupported> unsupported,
    Optional<Long> confirmDevices) {

  /** From this many devices on, the number has to be typed. */
  public static final long CONFIRM_FROM = 25;

  /** Stands for every profile, where a change is not that of one. */
  public static final String ANY_PROFILE = "";

  private static final int EXAMPLES = 5;

  /**
   * What happens to devices of one kind.
   *
   * @param id names this effect for as long as the draft and the devices stay as they are
   */
  public record Effect(
      String id,
      String platform,
      String mode,
      String osLevel,
      long devices,
      List<Step> steps,
      List<Named> examples) {

    private Effect with(Effect more) {
      List<Named> named = new ArrayList<>(examples);
      more.examples().stream().limit(EXAMPLES - named.size()).forEach(named::add);
      return new Effect(
          id, platform, mode, osLevel, devices + more.devices(), steps, List.copyOf(named));
    }
  }

  /** One setting that changes; {@code from} and {@code to} are absent when it comes or goes. */
  public record Step(
      String setting, String title, Optional<JsonNode> from, Optional<JsonNode> to) {}

  /** A device by id and name. */
  public record Named(String id, String name) {}

  /** Equally near profiles that disagree; the later publication wins. */
  public record Conflict(
      String setting, String title, String wins, List<String> loses, long devices) {}

  /** A setting that cannot take effect on some devices. */
  public record Unsupported(
      String setting, String title, String profile, String reason, long devices) {}

  /**
   * Summarises outcomes of a profile's change; what other profiles cannot do is not its concern.
   *
   * @param examples names some devices of a kind
   */
  public static Rehearsal of(
      Catalog catalog,
      String profileId,
      List<Outcome> outcomes,
      BiFunction<Outcome, Integer, List<Named>> examples) {
    long devices = 0;
    long[] byDirection = new long[3];
    Map<String, Effect> effects = new LinkedHashMap<>();
    Map<String, Conflict> conflicts = new TreeMap<>();
    Map<String, Unsupported> unsupported = new LinkedHashMap<>();
    for (Outcome o : outcomes) {
      long n = o.kind().devices();
      devices += n;
      for (Effective.Resolved r : o.effective().settings()) {
        if (r.conflict() && concerns(r, profileId)) {
          conflicts.merge(
              r.setting().key(),
              new Conflict(
                  r.setting().key(),
                  r.setting().title(),
                  r.winners().get(0).source().profileName(),
                  r.losers().stream()
                      .map(l -> l.contribution().source().profileName())
                      .distinct()
                      .toList(),
                  n),
              (a, b) ->
                  new Conflict(
                      a.setting(), a.title(), a.wins(), a.loses(), a.devices() + b.devices()));
        }
      }
      for (Effective.Unsupported u : o.effective().unsupported()) {
        if (!u.source().profileId().equals(profileId) && !profileId.equals(ANY_PROFILE)) {
          continue;
        }
        unsupported.merge(
            u.setting().key() + "|" + u.source().profileId() + "|" + u.reason(),
            new Unsupported(
                u.setting().key(), u.setting().title(), u.source().profileName(), u.reason(), n),
            (a, b) ->
                new Unsupported(
                    a.setting(), a.title(), a.profile(), a.reason(), a.devices() + b.devices()));
      }
      List<Edit> edits = Edit.between(o.from(), o.to());
      if (!edits.isEmpty()) {
        byDirection[direction(edits)] += n;
        List<Step> steps = steps(catalog, o, edits);
        String id = effectId(o, steps);
        effects.merge(
            id,
            new Effect(
                id,
                o.kind().platform(),
                o.kind().mode(),
                o.kind().osLevel(),
                n,
                steps,
                examples.apply(o, EXAMPLES)),
            Effect::with);
      }
    }
    long changing = byDirection[0] + byDirection[1] + byDirection[2];
    return new Rehearsal(
        devices,
        changing,
        byDirection[0],
        byDirection[1],
        byDirection[2],
        List.copyOf(effects.values()),
        List.copyOf(conflicts.values()),
        List.copyOf(unsupported.values()),
        changing >= CONFIRM_FROM ? Optional.of(changing) : Optional.empty());
  }

  /**
   * Goes on only when the number of devices was repeated, where it is asked for.
   *
   * @param doing what it is repeated for, such as {@code move it}
   * @throws Problem 409 with the number
   */
  public void confirmed(Optional<Long> repeated, String doing) {
    if (confirmDevices.isPresent() && !confirmDevices.equals(repeated)) {
      long n = confirmDevices.get();
      throw Problem.conflict(
              "confirm-devices",
              "This changes " + n + " devices; repeat that number to " + doing + ".")
          .with("confirmDevices", n);
    }
  }

  private static List<Step> steps(Catalog catalog, Outcome o, List<Edit> edits) {
    return edits.stream().map(e -> step(catalog, e, o.from(), o.to())).toList();
  }

  /** Kinds that differ only in what their devices refused read as one effect. */
  private static String effectId(Outcome o, List<Step> steps) {
    return Vault.hash(
            String.join("|", o.kind().platform(), o.kind().mode(), o.kind().osLevel()) + steps)
        .substring(0, 16);
  }

  /** The kinds of devices an effect is about; empty when there is no such effect. */
  static List<ShapeMoves.Kind> kinds(Catalog catalog, List<Outcome> outcomes, String effect) {
    List<ShapeMoves.Kind> kinds = new ArrayList<>();
    for (Outcome o : outcomes) {
      List<Edit> edits = Edit.between(o.from(), o.to());
      if (!edits.isEmpty() && effectId(o, steps(catalog, o, edits)).equals(effect)) {
        kinds.add(o.kind());
      }
    }
    return kinds;
  }

  /** Names some devices of a kind, out of a move that was worked out. */
  public static BiFunction<Outcome, Integer, List<Named>> examples(ShapeMoves moves) {
    return (o, n) ->
        moves.devices(List.of(o.kind()), "", "", n).stream()
            .map(r -> new Named((String) r[0], (String) r[1]))
            .toList();
  }

  private static boolean concerns(Effective.Resolved r, String profileId) {
    return profileId.equals(ANY_PROFILE)
        || r.winners().stream().anyMatch(w -> w.source().profileId().equals(profileId))
        || r.losers().stream()
            .anyMatch(l -> l.contribution().source().profileId().equals(profileId));
  }

  private static int direction(List<Edit> edits) {
    if (edits.stream().allMatch(e -> e instanceof Edit.Add)) {
      return 0;
    }
    return edits.stream().allMatch(e -> e instanceof Edit.Delete) ? 2 : 1;
  }

  private static Step step(Catalog catalog, Edit edit, Tree from, Tree to) {
    Optional<Setting> setting = catalog.settingAt(edit.path());
    return new Step(
        setting.map(Setting::key).orElse(edit.path()),
        setting.map(Setting::title).orElse(edit.path()),
        shown(setting, from.leaves().get(edit.path())),
        shown(setting, to.leaves().get(edit.path())));
  }

  /** A leaf as a JSON value; sensitive ones masked. */
  static Optional<JsonNode> shown(
      Optional<Setting> setting, @org.jspecify.annotations.Nullable Leaf leaf) {
    if (leaf == null) {
      return Optional.empty();
    }
    var f = Json.MAPPER.getNodeFactory();
    if (setting.map(Setting::sensitive).orElse(false)) {
      return Optional.of(f.textNode(ProfileContent.MASK));
    }
    return Optional.of(
        switch (leaf.format()) {
          case "bool" -> f.booleanNode(Boolean.parseBoolean(leaf.value()));
          case "int" -> f.numberNode(Long.parseLong(leaf.value()));
          default ->
              setting
                      .map(
                          s ->
                              s.fallback() instanceof dev.pinwright.core.catalog.SettingValue.Items)
                      .orElse(false)
                  ? Json.tree(leaf.value())
                  : f.textNode(leaf.value());
        });
  }
}
