package dev.pinwright.core.query;

import dev.pinwright.core.Words;
import dev.pinwright.core.organisation.AttributeCondition.Relation;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * A {@link DeviceQuery} as people write it:
 *
 * <pre>{@code
 * rule      = all { "or" all }
 * all       = one { "and" one }
 * one       = "not" one | "(" rule ")" | condition
 * condition = ("name" | "platform" | "kind" | "maker" | "model" | "serial" | "imei" | "asset")
 *               "is" value { "," value }
 *           | "unit" "in" code | ("unit" | "site" | "person" | "profile") "is" name { "," name }
 *           | "has" field | "tag" "has" tag | "group" "has" name
 *           | ("standing" | "order" | "mode" | "ownership" | "passcode") "is" word
 *           | "os" ("<" | "<=" | ">" | ">=" | "is") version
 *           | ("seen" | "joined") ("within" number span | ("before" | "after") day)
 *           | "attribute" name ("is" | "<" | ">" | "before" | "after") (value | "empty")
 *           | "fact" key "is" (value | "unknown") | "terms" "below" number
 *           | "app" "has" id | "version" id ("<" | "<=" | ">" | ">=" | "is") version
 *           | "refuses" section | "find" words | "id" "is" id { "," id }
 *           | "managed" | "retired" | "everything" | "nothing"
 * }</pre>
 *
 * <p>A span is minutes, hours, days or weeks; a day is as ISO 8601 has it, in UTC. What has spaces,
 * or is a word of this language, stands in double quotes; a quote in it is doubled. Words of the
 * language may be in capitals. {@code and} binds closer than {@code or}.
 */
public final class RuleText {
  /** Characters of the longest rule. */
  public static final int MAX_LENGTH = 4_000;

  private static final Set<String> OWN = Set.of("and", "or", "not", "empty", "unknown");

  private RuleText() {}

  /**
   * Reads a rule.
   *
   * @param now what {@code within} counts from
   * @throws RuleFault with the column at which it stops being one, and what was expected there
   */
  public static DeviceQuery read(String rule, RuleNames names, Instant now) {
    return new RuleReader(bounded(rule), names, now).read();
  }

  static String bounded(String rule) {
    if (rule.length() > MAX_LENGTH) {
      throw new RuleFault(MAX_LENGTH + 1, "a rule has at most " + MAX_LENGTH + " characters");
    }
    return rule;
  }

  /** Writes a query so that {@link #read} makes the same of it. */
  public static String write(DeviceQuery query, RuleNames names) {
    return new Writer(names).text(query);
  }

  private record Writer(RuleNames names) {

    private String text(DeviceQuery query) {
      if (query instanceof DeviceQuery.And and) {
        return joined(and.parts(), " and ", "everything");
      } else if (query instanceof DeviceQuery.Or or) {
        return joined(or.parts(), " or ", "nothing");
      } else if (query instanceof DeviceQuery.Not not) {
        return "not " + inner(not.part());
      } else if (query instanceof DeviceQuery.Managed) {
        return "managed";
      } else if (query instanceof DeviceQuery.Among among) {
        return among.ids().isEmpty() ? "nothing" : "id is " + list(among.ids());
      } else if (query instanceof DeviceQuery.Words words) {
        return "find " + quoted(words.typed());
      } else if (query instanceof DeviceQuery.Is is) {
        return is.values().isEmpty()
            ? "nothing"
            : word(is.field()) + " is " + list(called(is.field(), is.values()));
      } else if (query instanceof DeviceQuery.Has has) {
        return "has " + word(has.field());
      } else if (query instanceof DeviceQuery.Stands stands) {
        return "standing is " + Words.of(stands.standing());
      } else if (query instanceof DeviceQuery.InOrder in) {
        return "order is " + Words.of(in.order());
      } else if (query instanceof DeviceQuery.PasscodeIs passcode) {
        return "passcode is " + Words.of(passcode.standing());
      } else if (query instanceof DeviceQuery.InMode mode) {
        return "mode is " + Words.of(mode.mode());
      } else if (query instanceof DeviceQuery.Owned owned) {
        return "ownership is " + Words.of(owned.ownership());
      } else if (query instanceof DeviceQuery.Os os) {
        return "os " + sign(os.relation()) + " " + os.version();
      } else if (query instanceof DeviceQuery.Before before) {
        return (before.time() == DeviceQuery.Time.LAST_SEEN ? "seen" : "joined")
            + " before "
            + before.instant();
      } else if (query instanceof DeviceQuery.Within within) {
        return "unit in " + called(RuleNames.Kind.UNIT, within.unitId());
      } else if (query instanceof DeviceQuery.Tagged tagged) {
        return "tag has " + called(RuleNames.Kind.TAG, tagged.tag());
      } else if (query instanceof DeviceQuery.InGroup group) {
        return "group has " + called(RuleNames.Kind.GROUP, group.groupId());
      } else if (query instanceof DeviceQuery.TermsBelow terms) {
        return "terms below " + terms.version();
      } else if (query instanceof DeviceQuery.Fact fact) {
        return "fact "
            + plain(fact.key())
            + " is "
            + fact.value().map(RuleText::quoted).orElse("unknown");
      } else if (query instanceof DeviceQuery.HasApp has) {
        return "app has " + plain(has.app());
      } else if (query instanceof DeviceQuery.AppIs is) {
        return "version " + plain(is.app()) + " " + sign(is.relation()) + " " + is.version();
      } else if (query instanceof DeviceQuery.Refuses refuses) {
        return "refuses " + plain(refuses.section());
      } else if (query instanceof DeviceQuery.HasAttribute attribute) {
        return "attribute "
            + called(RuleNames.Kind.ATTRIBUTE, attribute.id())
            + " "
            + sign(attribute.relation())
            + " "
            + attribute.value().map(RuleText::quoted).orElse("empty");
      }
      throw new IllegalArgumentException("no text for " + query);
    }

    private String joined(List<DeviceQuery> parts, String by, String none) {
      return parts.isEmpty()
          ? none
          : parts.size() == 1
              ? text(parts.get(0))
              : parts.stream().map(this::inner).collect(Collectors.joining(by));
    }

    /** Whatever joins others stands in parentheses within others. */
    private String inner(DeviceQuery part) {
      List<DeviceQuery> joined =
          part instanceof DeviceQuery.And and
              ? and.parts()
              : part instanceof DeviceQuery.Or or ? or.parts() : List.of();
      return switch (joined.size()) {
        case 0 -> text(part);
        case 1 -> inner(joined.get(0));
        default -> "(" + text(part) + ")";
      };
    }

    private String called(RuleNames.Kind kind, String id) {
      return plain(names.name(kind, id).orElse(id));
    }

    private Collection<String> called(DeviceQuery.Field field, Set<String> values) {
      return switch (field) {
        case UNIT, SITE, PERSON, ENROLLMENT_PROFILE ->
            values.stream()
                .map(v -> names.name(Words.parse(RuleNames.Kind.class, word(field)), v).orElse(v))
                .toList();
        default -> values;
      };
    }
  }

  private static String word(DeviceQuery.Field field) {
    return field == DeviceQuery.Field.ENROLLMENT_PROFILE ? "profile" : Words.of(field);
  }

  private static String sign(Relation relation) {
    return relation == Relation.IS ? "is" : relation.sign();
  }

  private static String list(Collection<String> values) {
    return values.stream().sorted().map(RuleText::plain).collect(Collectors.joining(", "));
  }

  /** A value as it stands in a rule: in quotes where it would not be read as one without. */
  public static String plain(String value) {
    boolean simple =
        value.matches("[\\p{L}\\p{N}._/:+@-]+") && !OWN.contains(value.toLowerCase(Locale.ROOT));
    return simple ? value : quoted(value);
  }

  private static String quoted(String value) {
    return '"' + value.replace("\"", "\"\"") + '"';
  }
}
