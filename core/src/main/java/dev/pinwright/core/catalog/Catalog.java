package dev.pinwright.core.catalog;

import dev.pinwright.core.Fault;
import dev.pinwright.core.Words;
import dev.pinwright.core.device.DeviceTraits;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.device.Ownership;
import dev.pinwright.core.tree.Tree;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.Function;

/** The whole catalogue, checked when built and immutable afterwards. */
public final class Catalog {
  /** Where every setting's leaf lives. */
  public static final String POLICY_ROOT = "./Vendor/Pinwright/Policy";

  private final Map<String, Platform> platforms;
  private final Map<String, Section> sections;
  private final Map<String, Setting> settings;
  private final Map<String, Setting> byPath;
  private final Map<String, FactField> facts;
  private final Map<String, CommandSpec> commands;
  private final SettingSearch search;
  private final Map<String, TreeSet<OsVersion>> thresholds = new TreeMap<>();

  /**
   * Builds a catalogue.
   *
   * @throws IllegalArgumentException listing every fault found, one a line
   */
  public Catalog(
      List<Platform> platforms,
      List<Section> sections,
      List<Setting> settings,
      List<FactField> facts,
      List<CommandSpec> commands) {
    List<String> faults = new ArrayList<>();
    this.platforms = index("platform", platforms, Platform::key, faults);
    this.sections = index("section", sections, Section::key, faults);
    this.settings = index("setting", settings, Setting::key, faults);
    this.byPath = index("path", settings, Setting::path, faults);
    this.facts = index("fact", facts, FactField::key, faults);
    this.commands = index("command", commands, CommandSpec::key, faults);
    settings.forEach(s -> check(s, faults));
    commands.forEach(c -> check(c, faults));
    for (Platform p : platforms) {
      for (String c : p.commands()) {
        if (!this.commands.containsKey(c)) {
          faults.add("platform " + p.key() + ": there is no command " + c);
        }
      }
      thresholds.put(p.key(), new TreeSet<>(Set.of(new OsVersion(0, 0, 0))));
    }
    settings.stream()
        .flatMap(s -> s.support().stream())
        .filter(s -> thresholds.containsKey(s.platform()))
        .forEach(s -> thresholds.get(s.platform()).add(s.since()));
    search = new SettingSearch(settings, this.sections);
    if (!faults.isEmpty()) {
      throw new IllegalArgumentException("catalogue: " + String.join("\n  ", faults));
    }
  }

  private static <T> Map<String, T> index(
      String what, Collection<T> items, Function<T, String> key, List<String> faults) {
    Map<String, T> out = new LinkedHashMap<>();
    for (T item : items) {
      if (out.put(key.apply(item), item) != null) {
        faults.add(what + " " + key.apply(item) + " is there twice");
      }
    }
    return out;
  }

  private void check(Setting s, List<String> faults) {
    String name = "setting " + s.key() + ": ";
    if (!sections.containsKey(s.section()) || !s.key().startsWith(s.section() + ".")) {
      faults.add(name + "its key has to start with an existing section");
    }
    if (!s.path().startsWith(POLICY_ROOT + "/") || s.path().contains("=")) {
      faults.add(name + "its path has to lie below " + POLICY_ROOT);
    }
    Optional.of(s.type())
        .filter(t -> !(t instanceof ValueType.FileType)) // a form starts with none
        .flatMap(t -> t.objection(s.fallback()))
        .ifPresent(o -> faults.add(name + "its default " + o));
    s.awaited()
        .ifPresent(
            a -> {
              s.type().objection(a.when()).ifPresent(o -> faults.add(name + "awaited when: " + o));
              if (!facts.containsKey(a.fact())) {
                faults.add(name + "there is no fact " + a.fact() + " to wait for");
              }
            });
    if (s.support().isEmpty()) {
      faults.add(name + "works nowhere");
    }
    Set<String> seen = new HashSet<>();
    for (Setting.Support sup : s.support()) {
      Platform p = platforms.get(sup.platform());
      if (p == null) {
        faults.add(name + "there is no platform " + sup.platform());
      } else if (!p.modes().containsAll(sup.modes())) {
        faults.add(name + sup.platform() + " does not know all of its modes");
      }
      if (!seen.add(sup.platform())) {
        faults.add(name + sup.platform() + " is named twice");
      }
    }
    Optional<Section.Entries> of =
        Optional.ofNullable(sections.get(s.section())).flatMap(Section::entries);
    if (of.isPresent() && s.merge() != MergeRule.NEAREST) {
      faults.add(name + "entries of a collection go together: the nearest has to win");
    }
    if (s.required() && of.isEmpty()) {
      faults.add(name + "only an entry of a collection can need it");
    }
    boolean fits =
        switch (s.merge()) {
          case LEAST, GREATEST ->
              s.type() instanceof ValueType.WholeType || s.type() instanceof ValueType.ChoiceType;
          case ANY, ALL -> s.type() instanceof ValueType.FlagType;
          case UNION, INTERSECTION -> s.type() instanceof ValueType.ItemsType;
          case NEAREST -> true;
        };
    if (!fits) {
      faults.add(name + "its merge rule does not fit its type");
    }
  }

  private static void check(CommandSpec c, List<String> faults) {
    String name = "command " + c.key() + ": ";
    index(name + "field", c.fields(), CommandSpec.Field::key, faults);
    if (c.fields().stream().anyMatch(f -> f.type() instanceof ValueType.ItemsType)) {
      faults.add(name + "a field has one value");
    }
    if ((c.delivery() == CommandSpec.Delivery.EXEC) == c.path().isEmpty()) {
      faults.add(name + "one that is executed has a path, and no other");
    }
    if ((c.danger() == CommandSpec.Danger.NONE) != c.cost().isEmpty()) {
      faults.add(name + "a dangerous one says what it costs, and no other");
    }
    if (c.danger() == CommandSpec.Danger.LOSES && !c.reasonRequired()) {
      faults.add(name + "one that loses something needs a reason");
    }
    if (c.waits().isNegative() || c.waits().isZero()) {
      faults.add(name + "it has to wait for its device");
    }
  }

  public Collection<Platform> platforms() {
    return platforms.values();
  }

  public Collection<Section> sections() {
    return sections.values();
  }

  public Collection<Setting> settings() {
    return settings.values();
  }

  public Collection<FactField> facts() {
    return facts.values();
  }

  public Collection<CommandSpec> commands() {
    return commands.values();
  }

  /** Whether devices of a platform and mode have the operation at a LocURI. */
  public boolean operates(String platform, Mode mode, String path) {
    return commands.values().stream()
        .anyMatch(
            c ->
                c.path().equals(path)
                    && c.modes().contains(mode)
                    && platform(platform).filter(p -> p.commands().contains(c.key())).isPresent());
  }

  public Optional<Platform> platform(String key) {
    return Optional.ofNullable(platforms.get(key));
  }

  /**
   * The setting of a key; of an entry, where its section is a collection. There is none of a
   * collection without an entry, and none with one elsewhere.
   */
  public Optional<Setting> setting(String key) {
    return SettingKey.read(key)
        .flatMap(
            k ->
                Optional.ofNullable(settings.get(k.kind()))
                    .filter(s -> isCollection(s.section()) == k.entry().isPresent())
                    .map(s -> k.entry().map(s::in).orElse(s)));
  }

  /** Why {@link #setting} finds none, in a sentence that says what would be right. */
  public String unknown(String key) {
    Optional<SettingKey> read = SettingKey.read(key);
    Setting meant = read.map(k -> settings.get(k.kind())).orElse(null);
    if (meant == null) {
      return "There is no setting " + key + ".";
    }
    SettingKey k = read.orElseThrow();
    return sections.get(k.section()).entries().isPresent()
        ? meant.title()
            + " belongs to a "
            + sections.get(k.section()).entries().get().noun()
            + ": name it, such as "
            + meant.in("staff").key()
            + "."
        : meant.title() + " is one for the whole device: write " + k.kind() + ".";
  }

  /** Whether a setting is of a collection of files, such as documents. */
  public boolean holdsFiles(String key) {
    return setting(key)
        .map(Setting::section)
        .filter(this::isCollection)
        .filter(
            section ->
                settings.values().stream()
                    .anyMatch(
                        s -> s.section().equals(section) && s.type() instanceof ValueType.FileType))
        .isPresent();
  }

  /** The setting of a key, where its choice decides which entry wins. */
  public Optional<Setting> decides(String key) {
    return setting(key)
        .filter(
            s ->
                sections
                    .get(s.section())
                    .entries()
                    .flatMap(Section.Entries::decides)
                    .filter(name -> s.key().endsWith("]." + name))
                    .isPresent());
  }

  /** Whether a setting is no leaf of the policy. */
  public boolean apart(String key) {
    return SettingKey.read(key)
        .map(k -> sections.get(k.section()))
        .filter(Section::apart)
        .isPresent();
  }

  private boolean isCollection(String section) {
    return sections.get(section).entries().isPresent();
  }

  /** The setting that shows at a place of a device's screen, see {@link Setting#notice}. */
  public Optional<Setting> noticed(String place) {
    return settings.values().stream()
        .filter(s -> s.notice().equals(Optional.of(place)))
        .findFirst();
  }

  /** The setting whose leaf is at a path. */
  public Optional<Setting> settingAt(String path) {
    Setting plain = byPath.get(path);
    if (plain != null) {
      return Optional.of(plain).filter(s -> !isCollection(s.section()));
    }
    String[] parts =
        path.startsWith(POLICY_ROOT + "/")
            ? path.substring(POLICY_ROOT.length() + 1).split("/", 3)
            : new String[0];
    return parts.length == 3
        ? setting(new SettingKey(parts[0], Optional.of(parts[1]), parts[2]).toString())
        : Optional.empty();
  }

  /**
   * What is wrong with the entries a profile has: too many of one kind, or one without what each
   * needs.
   *
   * @param keys of the settings the profile has
   */
  public List<Fault> entryFaults(Collection<String> keys) {
    Map<String, Set<String>> names = new TreeMap<>();
    Map<String, Set<String>> entries = new TreeMap<>();
    for (String key : keys) {
      SettingKey.read(key)
          .filter(k -> k.entry().isPresent())
          .ifPresent(
              k -> {
                names.computeIfAbsent(k.whole().orElseThrow(), x -> new TreeSet<>()).add(k.kind());
                entries.computeIfAbsent(k.section(), x -> new TreeSet<>()).add(k.entry().get());
              });
    }
    List<Fault> faults = new ArrayList<>();
    entries.forEach(
        (section, of) ->
            Optional.ofNullable(sections.get(section))
                .flatMap(Section::entries)
                .filter(e -> of.size() > e.most())
                .ifPresent(
                    e ->
                        faults.add(
                            new Fault(
                                "/settings",
                                "A profile has at most "
                                    + e.most()
                                    + " of "
                                    + sections.get(section).title()
                                    + "; this has "
                                    + of.size()
                                    + "."))));
    names.forEach(
        (whole, kinds) ->
            settings.values().stream()
                .filter(s -> s.required() && whole.startsWith(s.section() + "["))
                .filter(s -> !kinds.contains(s.key()))
                .forEach(
                    s ->
                        faults.add(
                            new Fault(
                                "/settings/" + whole,
                                s.title() + " is needed for " + whole + "."))));
    return faults;
  }

  public Optional<FactField> fact(String key) {
    return Optional.ofNullable(facts.get(key));
  }

  public Optional<CommandSpec> command(String key) {
    return Optional.ofNullable(commands.get(key));
  }

  /**
   * The OS level of a version: the highest version at or below it from which some setting works on
   * the platform. Two versions of one level take exactly the same settings, so devices are told
   * apart by level and not by version.
   */
  public OsVersion osLevel(String platform, OsVersion version) {
    TreeSet<OsVersion> steps = thresholds.get(platform);
    OsVersion level = steps == null ? null : steps.floor(version);
    return level == null ? new OsVersion(0, 0, 0) : level;
  }

  /**
   * Settings that match every word by key, title, help, section or search words, slips of the
   * keyboard forgiven; best first. No words match all.
   */
  public List<Setting> search(String words) {
    return search.find(words);
  }

  /**
   * What the holder of a device still has to do before the settings of a tree are in effect, in
   * words that follow "the holder has to".
   *
   * @param facts what the device last told, by key; what it never told is not waited for
   */
  public Optional<String> holderMust(Tree tree, Map<String, String> facts) {
    for (Setting s : settings.values()) {
      if (s.awaited().isPresent()) {
        Setting.Awaited a = s.awaited().get();
        boolean asked = a.when().leaf().equals(tree.leaves().get(s.path()));
        String told = facts.get(a.fact());
        if (asked && told != null && !told.equals(a.until())) {
          return Optional.of(a.words());
        }
      }
    }
    return Optional.empty();
  }

  /** Why a command cannot go to a device; empty when it can. */
  public Optional<String> objection(CommandSpec command, DeviceTraits traits, Ownership ownership) {
    return objection(command, Map.of(), traits, ownership);
  }

  /**
   * Why a command that was filled in like this cannot go to a device; empty when it can.
   *
   * @param filled by the keys of its fields
   */
  public Optional<String> objection(
      CommandSpec command, Map<String, String> filled, DeviceTraits traits, Ownership ownership) {
    boolean known =
        platform(traits.platform()).filter(p -> p.commands().contains(command.key())).isPresent();
    if (!known) {
      return Optional.of(traits.platform() + " cannot " + command.title().toLowerCase(Locale.ROOT));
    }
    boolean allowed =
        command.ownerships().contains(ownership)
            && (ownership == Ownership.CORPORATE || !command.corporateOnly(filled));
    if (!allowed) {
      return Optional.of("never done on a personal device");
    }
    return command.modes().contains(traits.mode())
        ? Optional.empty()
        : Optional.of("not possible on a " + Words.of(traits.mode()) + " device");
  }
}
