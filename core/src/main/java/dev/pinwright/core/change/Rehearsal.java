package dev.pinwright.core.change;

import dev.pinwright.core.Sha256;
import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.Setting;
import dev.pinwright.core.catalog.SettingValue;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.license.Demand;
import dev.pinwright.core.license.Licensing;
import dev.pinwright.core.license.Pool;
import dev.pinwright.core.policy.Effective;
import dev.pinwright.core.tree.Edit;
import dev.pinwright.core.tree.Leaf;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Stream;

/**
 * What a change would do, before it is done.
 *
 * @param devices devices it reaches, now or then
 * @param changing devices that get another desired tree
 * @param gain devices that only get settings they did not have
 * @param change devices for which some setting changes
 * @param lose devices that only lose settings
 * @param effects one entry per kind of device that changes, most devices first
 * @param conflicts settings on which equally near profiles disagree
 * @param unsupported settings some devices cannot take
 * @param confirmDevices when present, the number of devices has to be repeated
 * @param reasonWanted whether a reason has to be given
 * @param secondWanted whether a second person has to agree
 * @param begins when all this happens; empty for at once
 * @param shortages apps of which there are fewer licenses than devices or holders that would need
 *     one
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
    Optional<Long> confirmDevices,
    boolean reasonWanted,
    boolean secondWanted,
    Optional<Instant> begins,
    List<Shortage> shortages) {

  /** Most devices an effect names. */
  public static final int EXAMPLES = 5;

  /**
   * What happens to devices of one kind.
   *
   * @param id names this effect for as long as what is proposed and the devices stay as they are
   * @param examples some of the devices, by name
   */
  public record Effect(
      String id,
      String platform,
      Mode mode,
      OsVersion osLevel,
      long devices,
      List<Step> steps,
      List<Named> examples) {

    private Effect and(Effect more) {
      List<Named> named = new ArrayList<>(examples);
      more.examples().stream().limit(EXAMPLES - named.size()).forEach(named::add);
      return new Effect(id, platform, mode, osLevel, devices + more.devices(), steps, named);
    }
  }

  /** One setting that changes; {@code from} and {@code to} are absent when it comes or goes. */
  public record Step(
      String setting, String title, Optional<SettingValue> from, Optional<SettingValue> to) {}

  /** A device by id and name. */
  public record Named(String id, String name) {}

  /** Equally near profiles that disagree; the later publication wins. */
  public record Conflict(
      String setting, String title, String wins, List<String> loses, long devices) {}

  /**
   * That licenses of an app would be short.
   *
   * @param wanting devices, or holders, that would need one and have none
   * @param free licenses that are free now
   * @param lacking how many of them would go without
   */
  public record Shortage(String app, Licensing licensing, long wanting, long free, long lacking) {

    /** What it comes to; empty when nobody goes without. */
    public static Optional<Shortage> of(
        String app, Licensing licensing, Collection<Demand> demand, Collection<Pool> pools) {
      long lacking = Demand.lacking(demand, pools);
      return lacking == 0
          ? Optional.empty()
          : Optional.of(
              new Shortage(
                  app,
                  licensing,
                  demand.stream().mapToLong(Demand::wanting).sum(),
                  pools.stream().mapToLong(Pool::free).sum(),
                  lacking));
    }
  }

  /** A setting that cannot take effect on some devices. */
  public record Unsupported(
      String setting, String title, String profile, String reason, long devices) {}

  /**
   * Sums moves up.
   *
   * @param about the profiles whose change this is, so that what others cannot do is not told
   *     again; empty when it is not that of one profile or kit
   * @param names of the devices the moves give as examples, by id
   * @param thresholds what is to be asked before so many are changed
   */
  public static Rehearsal of(
      Catalog catalog,
      Set<String> about,
      List<Move> moves,
      Map<String, String> names,
      Thresholds thresholds) {
    long devices = 0;
    long[] byDirection = new long[3];
    Map<String, Effect> effects = new LinkedHashMap<>();
    Map<String, Conflict> conflicts = new TreeMap<>();
    Map<String, Unsupported> unsupported = new TreeMap<>();
    for (Move m : moves) {
      devices += m.devices();
      conflicts(m, about, conflicts);
      unsupported(m, about, unsupported);
      List<Edit> edits = m.edits();
      if (!edits.isEmpty()) {
        byDirection[direction(edits)] += m.devices();
        Effect effect = effect(catalog, m, edits, names);
        effects.merge(effect.id(), effect, Effect::and);
      }
    }
    long changing = byDirection[0] + byDirection[1] + byDirection[2];
    Thresholds.Asked asked = thresholds.asked(changing);
    return new Rehearsal(
        devices,
        changing,
        byDirection[0],
        byDirection[1],
        byDirection[2],
        effects.values().stream()
            .sorted(Comparator.comparingLong(Effect::devices).reversed())
            .toList(),
        List.copyOf(conflicts.values()),
        List.copyOf(unsupported.values()),
        asked.number(),
        asked.reason(),
        asked.second(),
        Optional.empty(),
        List.of());
  }

  /** This, with what licenses would be short of. */
  public Rehearsal lacking(List<Shortage> shortages) {
    return new Rehearsal(
        devices,
        changing,
        gain,
        change,
        lose,
        effects,
        conflicts,
        unsupported,
        confirmDevices,
        reasonWanted,
        secondWanted,
        begins,
        List.copyOf(shortages));
  }

  /** The moves behind one effect; none when there is no such effect, or no longer. */
  public static List<Move> behind(Catalog catalog, List<Move> moves, String effect) {
    return moves.stream()
        .filter(
            m -> {
              List<Edit> edits = m.edits();
              return !edits.isEmpty() && effectId(m, steps(catalog, m, edits)).equals(effect);
            })
        .toList();
  }

  /** This and another, of other devices. */
  public Rehearsal and(Rehearsal other) {
    return new Rehearsal(
        devices + other.devices,
        changing + other.changing,
        gain + other.gain,
        change + other.change,
        lose + other.lose,
        both(effects, other.effects),
        both(conflicts, other.conflicts),
        both(unsupported, other.unsupported),
        confirmDevices.isPresent() || other.confirmDevices.isPresent()
            ? Optional.of(changing + other.changing)
            : Optional.empty(),
        reasonWanted || other.reasonWanted,
        secondWanted || other.secondWanted,
        begins,
        both(shortages, other.shortages));
  }

  private static <T> List<T> both(List<T> a, List<T> b) {
    return Stream.concat(a.stream(), b.stream()).toList();
  }

  /** This, which happens later. */
  public Rehearsal beginning(Instant at) {
    return new Rehearsal(
        devices,
        changing,
        gain,
        change,
        lose,
        effects,
        conflicts,
        unsupported,
        confirmDevices,
        reasonWanted,
        secondWanted,
        Optional.of(at),
        shortages);
  }

  /** What is asked before this may be done. */
  public Thresholds.Asked asked() {
    return new Thresholds.Asked(confirmDevices, reasonWanted, secondWanted);
  }

  private static void conflicts(Move m, Set<String> about, Map<String, Conflict> conflicts) {
    for (Effective.Resolved r : m.effective().all()) {
      if (r.conflict() && (about.isEmpty() || concerns(r, about))) {
        Conflict c =
            new Conflict(
                r.setting().key(),
                r.setting().title(),
                r.winners().get(0).source().profileName(),
                r.losers().stream()
                    .map(l -> l.contribution().source().profileName())
                    .distinct()
                    .toList(),
                m.devices());
        conflicts.merge(
            c.setting(),
            c,
            (a, b) ->
                new Conflict(
                    a.setting(), a.title(), a.wins(), a.loses(), a.devices() + b.devices()));
      }
    }
  }

  private static void unsupported(Move m, Set<String> about, Map<String, Unsupported> unsupported) {
    for (Effective.Unsupported u : m.effective().unsupported()) {
      if (about.isEmpty() || about.contains(u.source().profileId())) {
        unsupported.merge(
            String.join("|", u.setting().key(), u.source().profileId(), u.reason()),
            new Unsupported(
                u.setting().key(),
                u.setting().title(),
                u.source().profileName(),
                u.reason(),
                m.devices()),
            (a, b) ->
                new Unsupported(
                    a.setting(), a.title(), a.profile(), a.reason(), a.devices() + b.devices()));
      }
    }
  }

  private static boolean concerns(Effective.Resolved r, Set<String> about) {
    return r.winners().stream().anyMatch(w -> about.contains(w.source().profileId()))
        || r.losers().stream().anyMatch(l -> about.contains(l.contribution().source().profileId()));
  }

  private static int direction(List<Edit> edits) {
    if (edits.stream().allMatch(e -> e instanceof Edit.Add)) {
      return 0;
    }
    return edits.stream().allMatch(e -> e instanceof Edit.Delete) ? 2 : 1;
  }

  private static Effect effect(
      Catalog catalog, Move m, List<Edit> edits, Map<String, String> names) {
    List<Step> steps = steps(catalog, m, edits);
    return new Effect(
        effectId(m, steps),
        m.to().platform(),
        m.to().mode(),
        m.to().osLevel(),
        m.devices(),
        steps,
        m.examples().stream()
            .map(id -> new Named(id, names.getOrDefault(id, id)))
            .sorted(Comparator.comparing(Named::name))
            .toList());
  }

  /** Devices that differ only in what they refused read as one effect. */
  private static String effectId(Move m, List<Step> steps) {
    return Sha256.hex(
            String.join("|", m.to().platform(), Words.of(m.to().mode()), m.to().osLevel() + "")
                + steps)
        .substring(0, 16);
  }

  private static List<Step> steps(Catalog catalog, Move m, List<Edit> edits) {
    return edits.stream()
        .map(
            e -> {
              Optional<Setting> setting = catalog.settingAt(e.path());
              return new Step(
                  setting.map(Setting::key).orElse(e.path()),
                  setting.map(Setting::title).orElse(e.path()),
                  value(setting, m.leafBefore(e.path())),
                  value(setting, m.leafAfter(e.path())));
            })
        .toList();
  }

  /** A leaf as people see it; one of a setting the catalogue no longer has as its text. */
  private static Optional<SettingValue> value(Optional<Setting> setting, Optional<Leaf> leaf) {
    return leaf.map(
        l ->
            setting
                .flatMap(s -> s.type().read(l).map(s::shown))
                .orElseGet(() -> new SettingValue.Text(l.value())));
  }
}
