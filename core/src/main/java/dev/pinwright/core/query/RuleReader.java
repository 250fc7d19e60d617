package dev.pinwright.core.query;

import dev.pinwright.core.Words;
import dev.pinwright.core.app.AppId;
import dev.pinwright.core.app.AppVersion;
import dev.pinwright.core.compliance.Order;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.device.Ownership;
import dev.pinwright.core.device.Standing;
import dev.pinwright.core.organisation.Attribute;
import dev.pinwright.core.organisation.AttributeCondition;
import dev.pinwright.core.organisation.AttributeCondition.Relation;
import dev.pinwright.core.passcode.PasscodeStanding;
import dev.pinwright.core.query.DeviceQuery.Field;
import dev.pinwright.core.query.DeviceQuery.Time;
import dev.pinwright.core.query.RuleLanguage.Completion;
import dev.pinwright.core.query.RuleLanguage.Value;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;

/** Reads one rule, from left to right; see {@link RuleText} for the grammar. */
final class RuleReader {
  private static final int MOST_CONDITIONS = 200;
  private static final int MOST_NESTED = 20;
  private static final Duration LONGEST = Duration.ofDays(36_525);
  private static final Map<String, Field> PLAIN =
      Map.of(
          "name", Field.NAME,
          "platform", Field.PLATFORM,
          "kind", Field.KIND,
          "maker", Field.MAKER,
          "model", Field.MODEL,
          "serial", Field.SERIAL,
          "imei", Field.IMEI,
          "asset", Field.ASSET);
  private static final Map<String, Field> NAMED =
      Map.of(
          "unit", Field.UNIT,
          "site", Field.SITE,
          "person", Field.PERSON,
          "profile", Field.ENROLLMENT_PROFILE);
  private static final Map<String, Duration> SPANS =
      Map.of(
          "minute", Duration.ofMinutes(1),
          "hour", Duration.ofHours(1),
          "day", Duration.ofDays(1),
          "week", Duration.ofDays(7));
  private static final String BEGINNINGS =
      "a condition, such as platform is tarn, unit in VM-GLA, tag has spare or seen within 7 days";

  /** Where a rule names something: characters from {@code begin} up to {@code end}, from 0. */
  record Place(Rule.Mention mention, int begin, int end) {}

  final List<Place> places = new ArrayList<>();
  private final Set<String> expected = new LinkedHashSet<>();
  private final Set<Value> sorts = new LinkedHashSet<>();
  boolean followsTime;

  private final List<RuleToken> tokens;
  private final RuleNames names;
  private final Instant now;
  private int at;
  private int conditions;
  private int nested;

  RuleReader(String rule, RuleNames names, Instant now) {
    tokens = RuleToken.of(rule);
    this.names = names;
    this.now = now;
  }

  /** See {@link RuleLanguage#complete}. */
  static Completion complete(String rule, int caret, RuleNames names) {
    int from = caret;
    String typed = "";
    try {
      List<RuleToken> before = RuleToken.of(rule.substring(0, caret));
      RuleToken last = before.get(Math.max(0, before.size() - 2));
      if (last.end() == caret && (last.kind() == RuleToken.Kind.WORD)) {
        from = last.column() - 1;
        typed = last.text();
      }
    } catch (RuleFault unclosed) {
      from = unclosed.column() - 1;
      typed = rule.substring(from + 1, caret).replace("\"\"", "\"");
    }
    RuleReader reader = new RuleReader(rule.substring(0, from), names, Instant.EPOCH);
    try {
      reader.read();
    } catch (RuleFault untilHere) {
      // what was expected at the end is what is asked for
    }
    return new Completion(
        from, caret, typed, List.copyOf(reader.expected), List.copyOf(reader.sorts));
  }

  DeviceQuery read() {
    DeviceQuery query = or();
    if (peek().kind() != RuleToken.Kind.END) {
      throw fault(peek(), "expected and, or, or the end, not " + peek().said());
    }
    return query;
  }

  private DeviceQuery or() {
    List<DeviceQuery> parts = new ArrayList<>(List.of(and()));
    while (taken("or")) {
      parts.add(and());
    }
    return parts.size() == 1 ? parts.get(0) : new DeviceQuery.Or(parts);
  }

  private DeviceQuery and() {
    List<DeviceQuery> parts = new ArrayList<>(List.of(not()));
    while (taken("and")) {
      parts.add(not());
    }
    return parts.size() == 1 ? parts.get(0) : new DeviceQuery.And(parts);
  }

  private DeviceQuery not() {
    RuleToken first = peek();
    if (first.kind() == RuleToken.Kind.END) {
      expected.addAll(List.of("not", "("));
    }
    if (!first.is("not") && !first.is("(")) {
      return condition();
    }
    if (++nested > MOST_NESTED) {
      throw fault(first, "not and parentheses are nested more than " + MOST_NESTED + " deep");
    }
    at++;
    DeviceQuery inner;
    if (first.is("not")) {
      inner = DeviceQuery.not(not());
    } else {
      inner = or();
      expect(")");
    }
    nested--;
    return inner;
  }

  private DeviceQuery condition() {
    expects(RuleLanguage.SUBJECTS.stream().map(RuleLanguage.Subject::word).toList());
    expects(List.of("managed", "retired", "everything", "nothing"));
    RuleToken first = next();
    if (++conditions > MOST_CONDITIONS) {
      throw fault(first, "a rule has at most " + MOST_CONDITIONS + " conditions");
    }
    String word = first.kind() == RuleToken.Kind.WORD ? first.text().toLowerCase(Locale.ROOT) : "";
    if (PLAIN.containsKey(word)) {
      expect("is");
      return new DeviceQuery.Is(PLAIN.get(word), values(sort(word)));
    }
    if (NAMED.containsKey(word)) {
      return named(word);
    }
    return switch (word) {
      case "everything" -> DeviceQuery.ALL;
      case "nothing" -> new DeviceQuery.Or(List.of());
      case "managed" -> DeviceQuery.MANAGED;
      case "retired" -> DeviceQuery.not(DeviceQuery.MANAGED);
      case "id" -> {
        expect("is");
        yield new DeviceQuery.Among(values(Value.TEXT));
      }
      case "find" -> new DeviceQuery.Words(value("words to find", Value.TEXT).text());
      case "has" -> new DeviceQuery.Has(field());
      case "standing" -> {
        expect("is");
        followsTime = true;
        yield new DeviceQuery.Stands(word(Standing.class));
      }
      case "mode" -> {
        expect("is");
        yield new DeviceQuery.InMode(word(Mode.class));
      }
      case "ownership" -> {
        expect("is");
        yield new DeviceQuery.Owned(word(Ownership.class));
      }
      case "tag" -> {
        expect("has");
        yield new DeviceQuery.Tagged(known(RuleNames.Kind.TAG));
      }
      case "group" -> {
        expect("has");
        yield new DeviceQuery.InGroup(known(RuleNames.Kind.GROUP));
      }
      case "passcode" -> {
        expect("is");
        followsTime = true;
        yield new DeviceQuery.PasscodeIs(word(PasscodeStanding.class), now);
      }
      case "order" -> {
        expect("is");
        followsTime = true;
        yield new DeviceQuery.InOrder(word(Order.class));
      }
      case "refuses" -> {
        followsTime = true;
        yield new DeviceQuery.Refuses(
            value("a section of settings, such as certificates", Value.SECTION).text());
      }
      case "app" -> {
        expect("has");
        followsTime = true;
        yield new DeviceQuery.HasApp(app());
      }
      case "version" -> {
        followsTime = true;
        yield version();
      }
      case "os" -> os();
      case "seen" -> time(Time.LAST_SEEN);
      case "joined" -> time(Time.ENROLLED);
      case "terms" -> {
        expect("below");
        followsTime = true;
        yield new DeviceQuery.TermsBelow(number("a version of the terms"));
      }
      case "fact" -> fact();
      case "attribute" -> attribute();
      default -> throw fault(first, "expected " + BEGINNINGS + ", not " + first.said());
    };
  }

  private DeviceQuery named(String word) {
    RuleNames.Kind kind = Words.parse(RuleNames.Kind.class, word);
    if (kind == RuleNames.Kind.UNIT && taken("in")) {
      return new DeviceQuery.Within(known(kind));
    }
    if (!taken("is")) {
      throw fault(
          peek(),
          "expected "
              + (kind == RuleNames.Kind.UNIT ? "in (it or below it) or is" : "is")
              + ", not "
              + peek().said());
    }
    Set<String> ids = new LinkedHashSet<>(Set.of(known(kind)));
    while (taken(",")) {
      ids.add(known(kind));
    }
    return new DeviceQuery.Is(NAMED.get(word), ids);
  }

  private Field field() {
    expects(List.of("serial", "imei", "asset", "unit", "site", "person", "profile"));
    RuleToken t = next();
    String word = t.text().toLowerCase(Locale.ROOT);
    Field field = PLAIN.getOrDefault(word, NAMED.get(word));
    if (field == null) {
      throw fault(t, "expected serial, imei, asset, unit, site, person or profile after has");
    }
    return field;
  }

  private DeviceQuery os() {
    Sign sign = sign("os");
    RuleToken written = value("an OS version, such as 7.1", Value.VERSION);
    OsVersion version = reading(written, () -> OsVersion.parse(written.text()));
    return sign.of(relation -> new DeviceQuery.Os(relation, version));
  }

  private DeviceQuery version() {
    String app = app();
    Sign sign = sign("version " + app);
    RuleToken written = value("a version, such as 4.2", Value.APP_VERSION);
    AppVersion version = reading(written, () -> AppVersion.parse(written.text()));
    return sign.of(relation -> new DeviceQuery.AppIs(app, relation, version));
  }

  private String app() {
    RuleToken t = value("the id of an app, such as vellmar.gallery-guide", Value.APP);
    return reading(t, () -> AppId.read(t.text().toLowerCase(Locale.ROOT)));
  }

  /** How a version lies to another. */
  private record Sign(Relation relation, boolean turned) {
    DeviceQuery of(Function<Relation, DeviceQuery> compared) {
      DeviceQuery query = compared.apply(relation);
      return turned ? DeviceQuery.not(query) : query;
    }
  }

  private Sign sign(String after) {
    expects(List.of("<", ">=", "is", ">", "<="));
    RuleToken sign = next();
    return switch (sign.text()) {
      case "<" -> new Sign(Relation.BELOW, false);
      case ">" -> new Sign(Relation.ABOVE, false);
      case ">=" -> new Sign(Relation.BELOW, true);
      case "<=" -> new Sign(Relation.ABOVE, true);
      case "is" -> new Sign(Relation.IS, false);
      default ->
          throw fault(sign, "expected <, <=, >, >= or is after " + after + ", not " + sign.said());
    };
  }

  private DeviceQuery time(Time time) {
    expects(List.of("within", "before", "after"));
    RuleToken how = next();
    followsTime |= time == Time.LAST_SEEN || how.is("within");
    if (how.is("within")) {
      RuleToken n = peek();
      long many = number("a number, such as within 7 days");
      expects(List.of("days", "hours", "weeks", "minutes"));
      RuleToken unit = next();
      Duration span = SPANS.get(unit.text().toLowerCase(Locale.ROOT).replaceAll("s$", ""));
      if (span == null) {
        throw fault(unit, "expected minutes, hours, days or weeks, not " + unit.said());
      }
      if (span.multipliedBy(many).compareTo(LONGEST) > 0) {
        throw fault(n, "that is too long ago; a rule looks back a hundred years at most");
      }
      Instant since = now.minus(span.multipliedBy(many));
      return DeviceQuery.not(new DeviceQuery.Before(time, since));
    }
    if (!how.is("before") && !how.is("after")) {
      throw fault(how, "expected within, before or after, not " + how.said());
    }
    RuleToken written = value("a day, such as 2026-03-01", Value.DAY);
    DeviceQuery before = new DeviceQuery.Before(time, instant(written));
    return how.is("before") ? before : DeviceQuery.not(before);
  }

  private static Instant instant(RuleToken written) {
    try {
      return written.text().contains("T")
          ? Instant.parse(written.text())
          : LocalDate.parse(written.text()).atStartOfDay(ZoneOffset.UTC).toInstant();
    } catch (DateTimeParseException e) {
      throw fault(written, written.said() + " is not a day such as 2026-03-01");
    }
  }

  private DeviceQuery fact() {
    String key = value("the key of a fact, such as battery/level", Value.FACT).text();
    expect("is");
    expects(List.of("unknown"));
    RuleToken v = value("a value, or unknown", Value.TEXT);
    return new DeviceQuery.Fact(
        key,
        v.kind() == RuleToken.Kind.WORD && v.is("unknown")
            ? Optional.empty()
            : Optional.of(v.text()));
  }

  private DeviceQuery attribute() {
    RuleToken name = peek();
    String id = known(RuleNames.Kind.ATTRIBUTE);
    Attribute attribute =
        names
            .attribute(id)
            .orElseThrow(() -> fault(name, "there is no attribute " + name.text() + " on devices"));
    expects(List.of("is", "<", ">", "before", "after"));
    RuleToken how = next();
    Relation relation =
        switch (how.text().toLowerCase(Locale.ROOT)) {
          case "is" -> Relation.IS;
          case "<", "before" -> Relation.BELOW;
          case ">", "after" -> Relation.ABOVE;
          default -> throw fault(how, "expected is, <, >, before or after, not " + how.said());
        };
    expects(attribute.choices());
    expects(List.of("empty"));
    RuleToken v = value("a value, or empty", Value.TEXT);
    boolean empty = v.kind() == RuleToken.Kind.WORD && v.is("empty");
    AttributeCondition sound =
        reading(
            v,
            () ->
                new AttributeCondition(attribute.name(), relation, empty ? "" : v.text())
                    .on(attribute.type(), attribute.choices()));
    return new DeviceQuery.HasAttribute(
        attribute.id(),
        attribute.type(),
        relation,
        Optional.of(sound.value()).filter(x -> !x.isEmpty()));
  }

  // ---- pieces ----------------------------------------------------------------------------------

  private RuleToken peek() {
    return tokens.get(at);
  }

  private RuleToken next() {
    RuleToken t = peek();
    if (t.kind() != RuleToken.Kind.END) {
      at++;
    }
    return t;
  }

  /** Notes what could stand at the end, when it is there. */
  private void expects(List<String> words) {
    if (peek().kind() == RuleToken.Kind.END) {
      expected.addAll(words);
    }
  }

  private boolean taken(String word) {
    expects(List.of(word));
    boolean there = peek().is(word);
    at += there ? 1 : 0;
    return there;
  }

  private void expect(String word) {
    if (!taken(word)) {
      throw fault(peek(), "expected " + word + ", not " + peek().said());
    }
  }

  private RuleToken value(String what, Value sort) {
    if (peek().kind() == RuleToken.Kind.END) {
      sorts.add(sort);
    }
    RuleToken t = next();
    boolean reserved = t.is("and") || t.is("or") || t.is("not");
    if (t.kind() == RuleToken.Kind.SIGN || t.kind() == RuleToken.Kind.END || reserved) {
      throw fault(
          t, "expected " + what + ", not " + t.said() + (reserved ? "; quote it to mean it" : ""));
    }
    return t;
  }

  private static Value sort(String word) {
    return Arrays.stream(Value.values())
        .filter(v -> Words.of(v).equals(word))
        .findFirst()
        .orElse(Value.TEXT);
  }

  private Set<String> values(Value sort) {
    Set<String> out = new LinkedHashSet<>(Set.of(value("a value", sort).text()));
    while (taken(",")) {
      out.add(value("another value", sort).text());
    }
    return out;
  }

  private <E extends Enum<E>> E word(Class<E> type) {
    expects(Arrays.stream(type.getEnumConstants()).map(Words::of).toList());
    RuleToken t = value("one of " + Words.list(type), Value.NONE);
    return reading(t, () -> Words.parse(type, t.text().toLowerCase(Locale.ROOT)));
  }

  private int number(String what) {
    RuleToken t = value(what, Value.NUMBER);
    if (!t.text().matches("\\d{1,6}")) {
      throw fault(t, "expected " + what + ", not " + t.said());
    }
    return Integer.parseInt(t.text());
  }

  private String known(RuleNames.Kind kind) {
    RuleToken t =
        value(
            switch (kind) {
              case TAG -> "a tag";
              case ATTRIBUTE -> "the name of an attribute";
              default -> "the name of a " + Words.of(kind);
            },
            sort(Words.of(kind)));
    String id =
        names
            .id(kind, t.text())
            .orElseThrow(
                () ->
                    fault(
                        t,
                        "there is no "
                            + Words.of(kind)
                            + " "
                            + t.text()
                            + switch (kind) {
                              case PERSON -> ", or more than one; name them by their login";
                              case ATTRIBUTE -> " on devices";
                              default -> "";
                            }));
    places.add(new Place(new Rule.Mention(kind, id), t.column() - 1, t.end()));
    return id;
  }

  private interface Reading<T> {
    T read();
  }

  private static <T> T reading(RuleToken at, Reading<T> reading) {
    try {
      return reading.read();
    } catch (IllegalArgumentException e) {
      throw fault(at, String.valueOf(e.getMessage()));
    }
  }

  private static RuleFault fault(RuleToken at, String message) {
    return new RuleFault(at.column(), message);
  }
}
