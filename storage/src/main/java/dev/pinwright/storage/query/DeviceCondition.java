package dev.pinwright.storage.query;

import dev.pinwright.core.Words;
import dev.pinwright.core.app.AppVersion;
import dev.pinwright.core.passcode.PasscodeStanding;
import dev.pinwright.core.query.DeviceQuery;
import dev.pinwright.storage.Planning;
import dev.pinwright.storage.Tx;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * A {@link DeviceQuery} as a condition on {@code device d join device_state st}; parameters are
 * named {@code q0}, {@code q1} …
 */
public final class DeviceCondition {
  /** What the condition is on. */
  public static final String FROM = "device d join device_state st on st.device_id = d.id";

  /** The latest version of the terms a device's holders accepted; 0 for none of those asked for. */
  static final String TERMS =
      "coalesce((select max(x.version) from terms_acceptance x where x.device_id = d.id),"
          + " (select 0 from enrollment_profile x where x.id = d.enrollment_profile_id"
          + " and x.terms_version is not null))";

  /** Of a version with a group in it {@code substring} would give the group alone. */
  private static final String NUMBERS = AppVersion.NUMBERS.replace("(", "(?:");

  private final Map<String, Object> parameters = new HashMap<>();
  private final String id;
  private final String managed;
  private final String sql;

  private DeviceCondition(DeviceQuery query, String id, String managed) {
    this.id = id;
    this.managed = managed;
    sql = compile(query);
  }

  /** Compiles a query. */
  public static DeviceCondition of(DeviceQuery query) {
    return new DeviceCondition(query, "d.id", "d.retired_at is null");
  }

  /** Compiles a query, on {@code device_state st} as far as that says enough. */
  public static DeviceCondition byState(DeviceQuery query) {
    return new DeviceCondition(query, "st.device_id", "st.standing <> 'retired'");
  }

  /** Whether it is on {@code device d}. */
  public boolean ofDevice() {
    return sql.contains("d.");
  }

  /** Whether it looks for parts of words, of which statistics say little. */
  public boolean ofWords() {
    return sql.contains("d.sought");
  }

  /**
   * Compiles a query for counting, where not both tables are needed: on {@code device_state st}
   * alone, on {@code device d} alone, or on both.
   */
  static Counted counted(DeviceQuery query) {
    DeviceCondition byState = byState(query);
    if (!byState.ofDevice()) {
      return new Counted("device_state st", byState);
    }
    DeviceCondition plain = of(query);
    return new Counted(plain.from(), plain);
  }

  /** The least tables the condition is on: {@code device d}, with its state where that is asked. */
  public String from() {
    return sql.contains("st.") ? FROM : "device d";
  }

  /** A condition and the least tables it is on. */
  record Counted(String from, DeviceCondition condition) {}

  /** How many devices a query names. */
  public static long count(Tx tx, DeviceQuery query) {
    tx.plan(Planning.EACH_TIME);
    Counted c = counted(query);
    return tx.value(
        "select count(*) from " + c.from() + " where " + c.condition().sql(),
        Long.class,
        c.condition().parameters());
  }

  /** The condition, in one piece. */
  public String sql() {
    return sql;
  }

  /** Values by name; the caller may add its own. */
  public Map<String, Object> parameters() {
    return new HashMap<>(parameters);
  }

  private String compile(DeviceQuery query) {
    if (query instanceof DeviceQuery.And and) {
      return joined(and.parts(), " and ", "true");
    } else if (query instanceof DeviceQuery.Or or) {
      return joined(or.parts(), " or ", "false");
    } else if (query instanceof DeviceQuery.Not not) {
      return "not coalesce(" + compile(not.part()) + ", false)";
    } else if (query instanceof DeviceQuery.Managed) {
      return managed;
    } else if (query instanceof DeviceQuery.Among among) {
      return id + " = any(cast(" + bind(texts(among.ids())) + " as text[]))";
    } else if (query instanceof DeviceQuery.Words words) {
      return words(words.words());
    } else if (query instanceof DeviceQuery.Is is) {
      return is.values().size() == 1
          ? column(is.field()) + " = " + bind(is.values().iterator().next())
          : column(is.field()) + " = any(cast(" + bind(texts(is.values())) + " as text[]))";
    } else if (query instanceof DeviceQuery.Has has) {
      return column(has.field()) + " is not null";
    } else if (query instanceof DeviceQuery.Stands stands) {
      return "st.standing = " + bind(Words.of(stands.standing()));
    } else if (query instanceof DeviceQuery.InMode mode) {
      return "d.mode = " + bind(Words.of(mode.mode()));
    } else if (query instanceof DeviceQuery.Owned owned) {
      return "d.ownership = " + bind(Words.of(owned.ownership()));
    } else if (query instanceof DeviceQuery.Os os) {
      return "cast(string_to_array(d.os_version, '.') as int[]) %s cast(string_to_array(%s, '.') as int[])"
          .formatted(os.relation().sign(), bind(os.version().toString()));
    } else if (query instanceof DeviceQuery.Before before) {
      return before(before);
    }
    return belonging(query);
  }

  private static String[] texts(Set<String> values) {
    return values.toArray(String[]::new);
  }

  private String belonging(DeviceQuery query) {
    if (query instanceof DeviceQuery.Within within) {
      return "d.unit_id in (select w.unit_id from unit_within w where w.ancestor_id = "
          + bind(within.unitId())
          + ")";
    } else if (query instanceof DeviceQuery.Tagged tagged) {
      return exists(
          "device_tag x where x.device_id = " + id + " and x.tag = " + bind(tagged.tag()));
    } else if (query instanceof DeviceQuery.InGroup group) {
      return exists(
          "group_member x where x.device_id = "
              + id
              + " and x.group_id = "
              + bind(group.groupId()));
    } else if (query instanceof DeviceQuery.HasProfile profile) {
      return "st.shape_key in (select s.shape_key from shape_profile s where s.profile_id = "
          + bind(profile.profileId())
          + ")";
    } else if (query instanceof DeviceQuery.TermsBelow terms) {
      return TERMS + " < " + bind(terms.version());
    } else if (query instanceof DeviceQuery.Fact fact) {
      String told = "jsonb_extract_path_text(d.facts, " + bind(fact.key()) + ")";
      return fact.value().map(v -> told + " = " + bind(v)).orElse(told + " is null");
    } else if (query instanceof DeviceQuery.HasApp has) {
      return exists("device_app x where x.device_id = " + id + " and x.app = " + bind(has.app()));
    } else if (query instanceof DeviceQuery.AppIs is) {
      return exists(
          "device_app x where x.device_id = %s and x.app = %s and %s %s %s"
              .formatted(
                  id,
                  bind(is.app()),
                  numbers("substring(x.version from '" + NUMBERS + "')"),
                  is.relation().sign(),
                  numbers("cast(" + bind(is.version().toString()) + " as text)")));
    } else if (query instanceof DeviceQuery.Refuses refuses) {
      return "strpos(st.refused, " + bind(refuses.beginning()) + ") > 0";
    } else if (query instanceof DeviceQuery.InOrder in) {
      return "st.order_state = " + bind(Words.of(in.order()));
    } else if (query instanceof DeviceQuery.PasscodeIs passcode) {
      return passcode(passcode);
    } else if (query instanceof DeviceQuery.HasAttribute attribute) {
      return AttributeCondition.on(id, attribute, parameters);
    }
    throw new IllegalArgumentException("no condition for " + query);
  }

  private String joined(List<DeviceQuery> parts, String by, String none) {
    return parts.isEmpty()
        ? none
        : parts.stream().map(this::compile).collect(Collectors.joining(by, "(", ")"));
  }

  private String words(List<String> words) {
    return words.isEmpty()
        ? "true"
        : words.stream()
            .map(w -> "d.sought like " + bind("%" + w.replaceAll("([%_\\\\])", "\\\\$1") + "%"))
            .collect(Collectors.joining(" and ", "(", ")"));
  }

  private String passcode(DeviceQuery.PasscodeIs passcode) {
    String good = "jsonb_extract_path_text(d.facts, " + bind(PasscodeStanding.COMPLIANT) + ")";
    if (passcode.standing() == PasscodeStanding.GOOD) {
      return good + " = 'true'";
    }
    return "(%s = 'false' and coalesce(jsonb_extract_path_text(d.facts, %s), '') collate \"C\" %s %s)"
        .formatted(
            good,
            bind(PasscodeStanding.DUE),
            passcode.standing() == PasscodeStanding.IN_GRACE ? ">" : "<=",
            bind(passcode.at().toString()));
  }

  /** What is compared of an app's version, see {@link AppVersion}. */
  private static String numbers(String version) {
    return "cast(string_to_array(regexp_replace(%s, '%s', ''), '.') as int[])"
        .formatted(version, AppVersion.ZEROS);
  }

  private static String exists(String rows) {
    return "exists (select 1 from " + rows + ")";
  }

  private String before(DeviceQuery.Before before) {
    String time =
        switch (before.time()) {
          case LAST_SEEN -> "coalesce(st.last_seen, '-infinity')";
          case ENROLLED -> "d.enrolled_at";
        };
    return time + " < " + bind(before.instant());
  }

  private static String column(DeviceQuery.Field field) {
    return switch (field) {
      case UNIT -> "d.unit_id";
      case SITE -> "d.site_id";
      case PERSON -> "d.person_id";
      case ENROLLMENT_PROFILE -> "d.enrollment_profile_id";
      default -> "d." + Words.of(field);
    };
  }

  private String bind(Object value) {
    String name = "q" + parameters.size();
    parameters.put(name, value);
    return ":" + name;
  }
}
