package dev.pinwright.core.query;

import dev.pinwright.core.query.RuleLanguage.Condition;
import dev.pinwright.core.query.RuleLanguage.Outline;
import dev.pinwright.core.query.RuleLanguage.Part;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;

/** Takes a rule apart at its outermost joints. */
final class RuleOutline {
  /** Subjects that nothing stands behind before their value. */
  private static final Set<String> BARE = Set.of("has", "find", "refuses");

  /** Subjects that name what they are about before their relation. */
  private static final Set<String> OF_SOMETHING = Set.of("attribute", "fact", "version");

  private final String rule;
  private final List<RuleToken> tokens;

  RuleOutline(String rule, RuleNames names) {
    RuleText.read(rule, names, Instant.EPOCH);
    this.rule = rule;
    List<RuleToken> all = RuleToken.of(rule);
    tokens = all.subList(0, all.size() - 1);
  }

  Outline outline() {
    List<List<RuleToken>> parts = split(tokens, "or");
    boolean any = parts.size() > 1;
    return new Outline(any, (any ? parts : split(tokens, "and")).stream().map(this::part).toList());
  }

  private static List<List<RuleToken>> split(List<RuleToken> tokens, String by) {
    List<List<RuleToken>> out = new ArrayList<>();
    List<RuleToken> now = new ArrayList<>();
    int depth = 0;
    for (RuleToken t : tokens) {
      depth += t.is("(") ? 1 : t.is(")") ? -1 : 0;
      if (depth == 0 && t.is(by)) {
        out.add(now);
        now = new ArrayList<>();
      } else {
        now.add(t);
      }
    }
    out.add(now);
    return out;
  }

  private Part part(List<RuleToken> all) {
    List<RuleToken> t = all;
    boolean not = false;
    boolean joined = split(all, "and").size() > 1;
    while (!joined && t.get(0).is("not")) {
      not = !not;
      t = t.subList(1, t.size());
    }
    String text = rule.substring(t.get(0).column() - 1, t.get(t.size() - 1).end());
    return new Part(
        not, text, joined || t.get(0).is("(") ? Optional.empty() : Optional.of(condition(t)));
  }

  private static Condition condition(List<RuleToken> t) {
    String subject = t.get(0).text().toLowerCase(Locale.ROOT);
    int at = 1;
    String of = "";
    if (OF_SOMETHING.contains(subject)) {
      of = t.get(at++).text();
    }
    boolean bare = BARE.contains(subject) || t.size() == 1;
    String relation = bare ? "" : t.get(at++).text().toLowerCase(Locale.ROOT);
    return new Condition(
        subject,
        of,
        relation,
        t.subList(at, t.size()).stream().filter(v -> !v.is(",")).map(RuleToken::text).toList());
  }
}
