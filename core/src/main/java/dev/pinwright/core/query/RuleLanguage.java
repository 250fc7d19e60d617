package dev.pinwright.core.query;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/** What conditions there are, for putting a rule together without knowing its words. */
public final class RuleLanguage {
  private RuleLanguage() {}

  /** Sorts of values; where there is a list of them, they can be chosen. */
  public enum Value {
    NONE,
    TEXT,
    NUMBER,
    SPAN,
    DAY,
    VERSION,
    PLATFORM,
    KIND,
    MAKER,
    MODEL,
    STANDING,
    ORDER,
    PASSCODE,
    MODE,
    OWNERSHIP,
    UNIT,
    SITE,
    PERSON,
    PROFILE,
    GROUP,
    TAG,
    ATTRIBUTE,
    FACT,
    SECTION,
    APP,
    APP_VERSION,
    FIELD
  }

  /**
   * How a subject is asked for.
   *
   * @param word as it stands in the rule; empty where nothing stands between subject and value
   * @param title for people
   * @param value what comes after it
   * @param several whether several values may be named
   */
  public record Relation(String word, String title, Value value, boolean several) {}

  /**
   * What is asked for.
   *
   * @param word as it begins a condition
   * @param of what has to be named before the relation, such as which attribute; none mostly
   */
  public record Subject(String word, String title, Value of, List<Relation> relations) {
    public Subject {
      relations = List.copyOf(relations);
    }
  }

  private static Relation one(String word, String title, Value value) {
    return new Relation(word, title, value, false);
  }

  private static Relation any(Value value) {
    return new Relation("is", "is one of", value, true);
  }

  private static Subject subject(String word, String title, Relation... relations) {
    return new Subject(word, title, Value.NONE, Arrays.asList(relations));
  }

  private static List<Relation> compared(Value version) {
    return List.of(
        one("<", "is below", version),
        one(">=", "is at least", version),
        one("is", "is", version),
        one(">", "is above", version),
        one("<=", "is at most", version));
  }

  private static final Relation[] TIMES = {
    one("within", "within", Value.SPAN),
    one("before", "before", Value.DAY),
    one("after", "on or after", Value.DAY)
  };

  /** Every subject, in the order in which people look for them. */
  public static final List<Subject> SUBJECTS =
      List.of(
          subject("platform", "Platform", any(Value.PLATFORM)),
          new Subject("os", "OS version", Value.NONE, compared(Value.VERSION)),
          subject(
              "unit",
              "Unit",
              one("in", "is in or below", Value.UNIT),
              new Relation("is", "is exactly", Value.UNIT, true)),
          subject("site", "Site", any(Value.SITE)),
          subject("person", "Holder", any(Value.PERSON)),
          subject("tag", "Tag", one("has", "has", Value.TAG)),
          subject("group", "Group", one("has", "is in", Value.GROUP)),
          subject("seen", "Last seen", TIMES),
          subject("joined", "Enrolled", TIMES),
          subject("standing", "Standing", one("is", "is", Value.STANDING)),
          subject("order", "In order", one("is", "is", Value.ORDER)),
          subject("passcode", "Passcode", one("is", "is", Value.PASSCODE)),
          subject("kind", "Kind", any(Value.KIND)),
          subject("maker", "Maker", any(Value.MAKER)),
          subject("model", "Model", any(Value.MODEL)),
          subject("mode", "Management mode", one("is", "is", Value.MODE)),
          subject("ownership", "Ownership", one("is", "is", Value.OWNERSHIP)),
          subject("profile", "Enrollment profile", any(Value.PROFILE)),
          new Subject(
              "attribute",
              "Attribute",
              Value.ATTRIBUTE,
              List.of(
                  one("is", "is", Value.TEXT),
                  one("<", "is below", Value.TEXT),
                  one(">", "is above", Value.TEXT),
                  one("before", "is before", Value.DAY),
                  one("after", "is after", Value.DAY))),
          new Subject("fact", "Fact", Value.FACT, List.of(one("is", "is", Value.TEXT))),
          subject("app", "App", one("has", "has", Value.APP)),
          new Subject("version", "Version of an app", Value.APP, compared(Value.APP_VERSION)),
          subject("refuses", "Turned down", one("", "a setting of", Value.SECTION)),
          subject("terms", "Accepted terms", one("below", "older than version", Value.NUMBER)),
          subject("has", "Something is there", one("", "namely", Value.FIELD)),
          subject("find", "Words", one("", "found in name, number or model", Value.TEXT)),
          subject("name", "Name", any(Value.TEXT)),
          subject("serial", "Serial number", any(Value.TEXT)),
          subject("imei", "IMEI", any(Value.TEXT)),
          subject("asset", "Asset number", any(Value.TEXT)));

  /**
   * A condition in its pieces.
   *
   * @param of which attribute or fact; empty for other subjects
   * @param relation as in {@link Relation#word}
   */
  public record Condition(String subject, String of, String relation, List<String> values) {
    public Condition {
      values = List.copyOf(values);
    }
  }

  /**
   * One of the conditions a rule is joined of.
   *
   * @param not whether it is turned round
   * @param text as it stands in the rule, without {@code not}
   * @param condition its pieces; absent for what stands in parentheses
   */
  public record Part(boolean not, String text, Optional<Condition> condition) {}

  /**
   * A rule taken apart at its outermost joints.
   *
   * @param any whether one part is enough, rather than all
   */
  public record Outline(boolean any, List<Part> parts) {
    public Outline {
      parts = List.copyOf(parts);
    }
  }

  /**
   * What may stand at a place in a rule.
   *
   * @param from the first character it would take the place of, from 0
   * @param to the one after the last
   * @param typed what stands there so far, without quotes
   * @param words words of the language
   * @param values sorts of values
   */
  public record Completion(int from, int to, String typed, List<String> words, List<Value> values) {
    public Completion {
      words = List.copyOf(words);
      values = List.copyOf(values);
    }
  }

  /**
   * Takes a rule apart.
   *
   * @throws RuleFault when it is none
   */
  public static Outline outline(String rule, RuleNames names) {
    return new RuleOutline(rule, names).outline();
  }

  /** What may stand where somebody is typing; nothing where what comes before is no rule. */
  public static Completion complete(String rule, int caret, RuleNames names) {
    return RuleReader.complete(rule, Math.max(0, Math.min(caret, rule.length())), names);
  }
}
