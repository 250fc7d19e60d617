package dev.pinwright.core.query;

import dev.pinwright.core.organisation.Attribute;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * A rule that lasts. It is kept as it was written but for the names in it, in whose place are ids:
 * what it means does not change when something gets another name.
 *
 * @param byId the rule with ids for names
 */
public record Rule(String byId) {
  /** Something a rule names. */
  public record Mention(RuleNames.Kind kind, String id) {}

  /**
   * Takes a rule as people write it.
   *
   * @throws RuleFault see {@link RuleText#read}
   */
  public static Rule of(String written, RuleNames names) {
    return new Rule(restated(RuleText.bounded(written.strip()), names, RuleNames.ids(names)));
  }

  /** The rule with the names things have; what there is no more stays an id. */
  public String written(RuleNames names) {
    return restated(byId, RuleNames.ids(names), names);
  }

  /** What it means at a time. */
  public DeviceQuery at(Instant now, RuleNames names) {
    return new RuleReader(byId, RuleNames.ids(names), now).read();
  }

  /** What it names. */
  public Set<Mention> mentions(RuleNames names) {
    return reader(byId, RuleNames.ids(names)).places.stream()
        .map(RuleReader.Place::mention)
        .collect(Collectors.toSet());
  }

  /**
   * Whether devices come to match it, or cease to, with no one changing anything about them: it
   * asks when they were heard, how they stand, or counts back from now.
   */
  public boolean followsTime(RuleNames names) {
    return reader(byId, RuleNames.ids(names)).followsTime;
  }

  /** The rule with another tag in place of one. */
  public Rule retagged(String from, String to, RuleNames names) {
    RuleNames ids = RuleNames.ids(names);
    return new Rule(
        restated(
            byId,
            ids,
            new RuleNames() {
              @Override
              public Optional<String> id(RuleNames.Kind kind, String name) {
                return ids.id(kind, name);
              }

              @Override
              public Optional<String> name(RuleNames.Kind kind, String id) {
                return Optional.of(kind == RuleNames.Kind.TAG && id.equals(from) ? to : id);
              }

              @Override
              public Optional<Attribute> attribute(String id) {
                return ids.attribute(id);
              }
            }));
  }

  private static RuleReader reader(String rule, RuleNames names) {
    RuleReader reader = new RuleReader(rule, names, Instant.EPOCH);
    reader.read();
    return reader;
  }

  private static String restated(String rule, RuleNames from, RuleNames to) {
    List<RuleReader.Place> places = reader(rule, from).places;
    StringBuilder out = new StringBuilder();
    int at = 0;
    for (RuleReader.Place p : places) {
      out.append(rule, at, p.begin());
      Mention m = p.mention();
      out.append(RuleText.plain(to.name(m.kind(), m.id()).orElse(m.id())));
      at = p.end();
    }
    return out.append(rule.substring(at)).toString();
  }
}
