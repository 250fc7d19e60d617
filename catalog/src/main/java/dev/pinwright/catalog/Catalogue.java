package dev.pinwright.catalog;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.dataformat.yaml.YAMLMapper;
import dev.pinwright.core.Words;
import dev.pinwright.core.access.Role;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.CommandSpec;
import dev.pinwright.core.catalog.FactField;
import dev.pinwright.core.catalog.FirstRunScreen;
import dev.pinwright.core.catalog.MergeRule;
import dev.pinwright.core.catalog.Platform;
import dev.pinwright.core.catalog.Section;
import dev.pinwright.core.catalog.Setting;
import dev.pinwright.core.catalog.SettingValue;
import dev.pinwright.core.catalog.SystemApp;
import dev.pinwright.core.catalog.ValueType;
import dev.pinwright.core.compliance.CheckTemplate;
import dev.pinwright.core.device.DeviceKind;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.device.Ownership;
import dev.pinwright.core.file.FileKind;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.time.Duration;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Stream;

/**
 * The catalogue as shipped, with what is said of privacy.
 *
 * @param catalog platforms, settings, facts and commands
 * @param never what is never collected on any device, for the holder
 * @param neverPersonal what is besides never collected on a personal device
 * @param askedFor what is besides collected on a device of the organisation's that is told to
 * @param firstRun the screens devices show between joining and the first use, in their order
 * @param languages BCP 47 tags a device may start in, with their names
 * @param joining how a holder joins on each platform, for the letter that invites them
 * @param baseline values by setting key for an organisation that wants nothing to design
 * @param checks checks ready to be taken
 * @param modes the management modes in people's words; so {@code ownerships} and {@code kinds}
 */
public record Catalogue(
    Catalog catalog,
    List<String> never,
    List<String> neverPersonal,
    List<String> askedFor,
    List<FirstRunScreen> firstRun,
    Map<String, String> languages,
    Map<String, String> joining,
    Map<String, SettingValue> baseline,
    List<CheckTemplate> checks,
    List<Word> modes,
    List<Word> ownerships,
    List<Word> kinds) {
  private static final YAMLMapper YAML = new YAMLMapper();

  /** A word of the wire as people read it, and what it means in a sentence. */
  public record Word(String key, String title, String help) {}

  private static Optional<Catalogue> loaded = Optional.empty();

  /**
   * The catalogue of the class path; loaded and checked the first time.
   *
   * @throws IllegalArgumentException listing every fault
   */
  public static synchronized Catalogue load() {
    Catalogue there = loaded.orElseGet(Catalogue::read);
    loaded = Optional.of(there);
    return there;
  }

  private static Catalogue read() {
    JsonNode platforms = read("platforms");
    JsonNode facts = read("facts");
    JsonNode settings = read("settings");
    JsonNode firstRun = read("first-run");
    Map<String, JsonNode> sections = new LinkedHashMap<>();
    each(settings.path("sections"), JsonNode::asText)
        .forEach(s -> sections.put(s, read("settings/" + s)));
    Map<String, String> joining = new LinkedHashMap<>();
    platforms.path("platforms").forEach(p -> joining.put(need(p, "key"), need(p, "joining")));
    Map<String, String> languages = new LinkedHashMap<>();
    firstRun
        .path("languages")
        .properties()
        .forEach(e -> languages.put(e.getKey(), e.getValue().asText()));
    Catalog catalog =
        new Catalog(
            each(platforms.path("platforms"), p -> platform(p, platforms.path("apps"))),
            sections.entrySet().stream().map(s -> section(s.getKey(), s.getValue())).toList(),
            sections.entrySet().stream()
                .flatMap(s -> settings(s.getKey(), s.getValue(), settings.path("scopes")).stream())
                .toList(),
            each(facts.path("facts"), Catalogue::fact),
            commands());
    return new Catalogue(
        catalog,
        each(facts.path("never"), JsonNode::asText),
        each(facts.path("never-personal"), JsonNode::asText),
        each(facts.path("asked-for"), JsonNode::asText),
        each(firstRun.path("screens"), s -> screen(s, catalog)),
        languages,
        joining,
        baseline(settings.path("baseline"), catalog),
        each(read("checks").path("checks"), Catalogue::check),
        worded(Mode.class, platforms.path("modes")),
        worded(Ownership.class, platforms.path("ownerships")),
        worded(DeviceKind.class, platforms.path("kinds")));
  }

  private static CheckTemplate check(JsonNode c) {
    return new CheckTemplate(
        need(c, "key"),
        need(c, "title"),
        need(c, "help"),
        need(c, "rule"),
        need(c, "advice"),
        c.path("grace").asInt());
  }

  /**
   * The kinds of command alone, for who needs nothing else.
   *
   * @throws IllegalArgumentException naming the one that is wrong
   */
  public static List<CommandSpec> commands() {
    return each(read("commands").path("commands"), Catalogue::command);
  }

  private static <E extends Enum<E>> List<Word> worded(Class<E> type, JsonNode written) {
    List<Word> out =
        each(written, w -> new Word(need(w, "key"), need(w, "title"), need(w, "help")));
    if (!Words.list(type).equals(String.join(", ", out.stream().map(Word::key).toList()))) {
      throw new IllegalArgumentException("catalogue: the words wanted are " + Words.list(type));
    }
    return out;
  }

  private static Map<String, SettingValue> baseline(JsonNode written, Catalog catalog) {
    Map<String, SettingValue> out = new LinkedHashMap<>();
    written
        .properties()
        .forEach(
            e -> {
              Setting setting =
                  catalog
                      .setting(e.getKey())
                      .orElseThrow(
                          () ->
                              new IllegalArgumentException(
                                  "catalogue: baseline: there is no setting " + e.getKey()));
              SettingValue value = value(e.getValue());
              setting
                  .type()
                  .objection(value)
                  .ifPresent(
                      o -> {
                        throw new IllegalArgumentException(
                            "catalogue: baseline: " + e.getKey() + " " + o);
                      });
              out.put(e.getKey(), value);
            });
    return out;
  }

  private static FirstRunScreen screen(JsonNode n, Catalog catalog) {
    List<String> named = each(n.path("platforms"), JsonNode::asText);
    List<String> all = catalog.platforms().stream().map(Platform::key).toList();
    if (!all.containsAll(named)) {
      throw new IllegalArgumentException("there is no platform among " + named);
    }
    return new FirstRunScreen(
        need(n, "key"),
        need(n, "title"),
        need(n, "text"),
        new HashSet<>(named.isEmpty() ? all : named),
        n.path("always").asBoolean(false));
  }

  /** Titles of the facts collected on devices of an ownership, for the holder to read. */
  public List<String> visible(Ownership ownership) {
    return Stream.concat(
            catalog.facts().stream()
                .filter(f -> f.collectedOn().contains(ownership))
                .map(FactField::title),
            ownership == Ownership.CORPORATE ? askedFor.stream() : Stream.empty())
        .toList();
  }

  /**
   * What an organisation may and may not do on a device, in the words of the commands.
   *
   * @param may titles of the commands it can give
   * @param mayNot titles of those it cannot
   */
  public record Powers(List<String> may, List<String> mayNot) {}

  /** The commands that work on devices of an ownership and mode, and those that do not. */
  public Powers powers(Ownership ownership, Mode mode) {
    List<String> may = new ArrayList<>();
    List<String> mayNot = new ArrayList<>();
    for (CommandSpec c : catalog.commands()) {
      boolean works = c.ownerships().contains(ownership) && c.modes().contains(mode);
      (works ? may : mayNot).add(c.title());
    }
    return new Powers(may, mayNot);
  }

  /** What is never collected on devices of an ownership. */
  public List<String> neverSeen(Ownership ownership) {
    List<String> out = new ArrayList<>(never);
    if (ownership == Ownership.PERSONAL) {
      out.addAll(neverPersonal);
    }
    return out;
  }

  static JsonNode read(String name) {
    try (InputStream in = Catalogue.class.getResourceAsStream("/catalog/" + name + ".yaml")) {
      if (in == null) {
        throw new IllegalArgumentException("catalogue: " + name + ".yaml is missing");
      }
      return YAML.readTree(in);
    } catch (IOException e) {
      throw new UncheckedIOException("catalogue: " + name + ".yaml cannot be read", e);
    }
  }

  private static <T> List<T> each(JsonNode array, Function<JsonNode, T> read) {
    List<T> out = new ArrayList<>();
    for (JsonNode node : array) {
      try {
        out.add(read.apply(node));
      } catch (IllegalArgumentException e) {
        throw new IllegalArgumentException(
            "catalogue: "
                + node.path("key").asText(node.path("name").asText(node.toString()))
                + ": "
                + e.getMessage(),
            e);
      }
    }
    return out;
  }

  private static String need(JsonNode node, String field) {
    if (!node.hasNonNull(field)) {
      throw new IllegalArgumentException("'" + field + "' is missing");
    }
    return node.get(field).asText();
  }

  private static <E extends Enum<E>> Set<E> words(JsonNode array, Class<E> type) {
    Set<E> out = EnumSet.noneOf(type);
    array.forEach(w -> out.add(Words.parse(type, w.asText())));
    return out;
  }

  private static Platform platform(JsonNode n, JsonNode apps) {
    return new Platform(
        need(n, "key"),
        need(n, "name"),
        words(n.path("kinds"), DeviceKind.class),
        words(n.path("modes"), Mode.class),
        each(n.path("versions"), v -> OsVersion.parse(v.asText())),
        new HashSet<>(each(n.path("commands"), JsonNode::asText)),
        each(n.path("apps"), a -> new SystemApp(a.asText(), need(apps, a.asText()))));
  }

  private static Section section(String key, JsonNode n) {
    JsonNode entries = n.path("entries");
    return new Section(
        key,
        need(n, "title"),
        need(n, "help"),
        n.path("apart").asBoolean(),
        entries.isMissingNode()
            ? Optional.empty()
            : Optional.of(
                new Section.Entries(
                    need(entries, "noun"),
                    entries.path("most").asInt(),
                    Optional.ofNullable(entries.path("decides").textValue()))));
  }

  private static List<Setting> settings(String section, JsonNode of, JsonNode scopes) {
    return each(
        of.path("settings"),
        s -> setting(section, s, s.has("works") ? s.path("works") : of.path("works"), scopes));
  }

  private static Setting setting(String section, JsonNode n, JsonNode where, JsonNode scopes) {
    String key = section + "." + need(n, "name");
    ValueType type = type(n.path("type"));
    List<Setting.Support> support = new ArrayList<>();
    JsonNode works = where.isTextual() ? scopes.path(where.asText()) : where;
    works
        .properties()
        .forEach(
            e ->
                support.add(
                    new Setting.Support(
                        e.getKey(),
                        words(e.getValue().path("modes"), Mode.class),
                        OsVersion.parse(need(e.getValue(), "since")))));
    return new Setting(
        key,
        section,
        need(n, "title"),
        need(n, "help"),
        each(n.path("words"), JsonNode::asText),
        type,
        type instanceof ValueType.FileType ? new SettingValue.Text("") : value(n.path("default")),
        support,
        Words.parse(MergeRule.class, need(n, "merge")),
        Catalog.POLICY_ROOT + "/" + key.replaceFirst("\\.", "/"),
        n.path("required").asBoolean(false),
        awaited(n.path("awaits")),
        Optional.ofNullable(n.path("notice").textValue()));
  }

  private static Optional<Setting.Awaited> awaited(JsonNode n) {
    return n.isMissingNode()
        ? Optional.empty()
        : Optional.of(
            new Setting.Awaited(
                value(n.path("when")), need(n, "fact"), need(n, "until"), need(n, "holder")));
  }

  private static ValueType type(JsonNode n) {
    if (n.isTextual()) {
      return switch (n.asText()) {
        case "flag" -> new ValueType.FlagType();
        case "hours" -> new ValueType.HoursType();
        case "app" -> new ValueType.AppType();
        case "cell" -> new ValueType.CellType();
        case "place" -> new ValueType.PlaceType();
        default -> throw new IllegalArgumentException("unknown type '" + n.asText() + "'");
      };
    }
    Map.Entry<String, JsonNode> only = n.properties().iterator().next();
    JsonNode b = only.getValue();
    return switch (only.getKey()) {
      case "whole" ->
          new ValueType.WholeType(
              b.path("min").asLong(), b.path("max").asLong(), b.path("unit").asText(""));
      case "text" ->
          new ValueType.TextType(
              b.path("min").asInt(0), b.path("max").asInt(), b.path("lines").asBoolean(false));
      case "choice" ->
          new ValueType.ChoiceType(
              b.properties().stream()
                  .map(e -> new ValueType.Choice(e.getKey(), e.getValue().asText()))
                  .toList());
      case "secret" -> new ValueType.SecretType(b.path("min").asInt(), b.path("max").asInt());
      case "file" -> new ValueType.FileType(Words.parse(FileKind.class, b.path("of").asText()));
      case "address" ->
          new ValueType.AddressType(Words.parse(ValueType.AddressType.Of.class, b.asText()));
      case "items" ->
          new ValueType.ItemsType(
              b.path("max").asInt(),
              b.has("of")
                  ? type(b.path("of"))
                  : new ValueType.TextType(1, b.path("length").asInt(), false));
      default -> throw new IllegalArgumentException("unknown type '" + only.getKey() + "'");
    };
  }

  private static SettingValue value(JsonNode n) {
    if (n.isBoolean()) {
      return new SettingValue.Flag(n.asBoolean());
    }
    if (n.isIntegralNumber()) {
      return new SettingValue.Whole(n.asLong());
    }
    if (n.isArray()) {
      return new SettingValue.Items(each(n, JsonNode::asText));
    }
    return new SettingValue.Text(n.asText());
  }

  private static FactField fact(JsonNode n) {
    return new FactField(
        need(n, "key"),
        need(n, "title"),
        n.path("unit").asText(""),
        Words.parse(FactField.Kind.class, n.path("is").asText("text")),
        n.path("personal").asBoolean()
            ? EnumSet.allOf(Ownership.class)
            : EnumSet.of(Ownership.CORPORATE));
  }

  private static CommandSpec command(JsonNode n) {
    return new CommandSpec(
        need(n, "key"),
        need(n, "title"),
        need(n, "help"),
        Words.parse(CommandSpec.Delivery.class, need(n, "delivery")),
        n.path("path").asText(""),
        each(
            n.path("fields"),
            f ->
                new CommandSpec.Field(
                    need(f, "key"),
                    need(f, "title"),
                    type(f.path("type")),
                    f.path("required").asBoolean(false),
                    f.path("told").asBoolean(true),
                    f.path("secret").asBoolean(false),
                    Set.copyOf(each(f.path("corporate-only"), JsonNode::asText)),
                    f.path("spoken").asBoolean(false))),
        n.path("reason").asBoolean(false),
        Words.parse(CommandSpec.Danger.class, n.path("danger").asText("none")),
        n.path("cost").asText(""),
        n.path("holder").asText(""),
        Duration.parse(n.path("waits").asText("P7D")),
        Words.parse(Role.class, n.path("role").asText("helpdesk")),
        n.has("modes") ? words(n.path("modes"), Mode.class) : EnumSet.allOf(Mode.class),
        n.path("corporate-only").asBoolean(false)
            ? EnumSet.of(Ownership.CORPORATE)
            : EnumSet.allOf(Ownership.class),
        n.has("most") ? Optional.of(n.path("most").asInt()) : Optional.empty());
  }
}
