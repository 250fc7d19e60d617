package dev.pinwright.core.query;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.core.organisation.Attribute;
import dev.pinwright.core.organisation.AttributeType;
import dev.pinwright.core.query.Rule.Mention;
import dev.pinwright.core.query.RuleNames.Kind;
import java.time.Duration;
import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** A rule that lasts means the same whatever becomes of the names in it. */
class RuleTest {
  private static final Instant NOW = Instant.parse("2026-03-01T08:00:00Z");
  private static final Attribute LEASE =
      new Attribute("a1", "Lease ends", Attribute.Kind.DEVICE, AttributeType.DATE, List.of(), 0, 0);

  private final Map<String, String> names = new HashMap<>();
  private final RuleNames house =
      new RuleNames() {
        @Override
        public Optional<String> id(Kind kind, String name) {
          return names.entrySet().stream()
              .filter(e -> e.getValue().equalsIgnoreCase(name))
              .map(Map.Entry::getKey)
              .findFirst();
        }

        @Override
        public Optional<String> name(Kind kind, String id) {
          return Optional.ofNullable(names.get(id));
        }

        @Override
        public Optional<Attribute> attribute(String id) {
          return Optional.of(LEASE).filter(a -> a.id().equals(id));
        }
      };

  RuleTest() {
    names.putAll(
        Map.of(
            "u1", "VM-GLA", "s1", "Norhaven quay", "t1", "spare", "a1", "Lease ends", "g1", "Old"));
  }

  @Test
  void namesMayChangeAndTheRuleFollows() {
    String written =
        "platform is tarn\n  AND (site is \"norhaven quay\" or not tag has spare)\n"
            + "  and attribute \"Lease ends\" before 2027-03-01";
    Rule rule = Rule.of(written, house);
    assertThat(rule.byId()).contains("site is s1", "tag has t1", "attribute a1 before");
    names.put("s1", "Harbour \"old\" quay");
    names.put("a1", "Lease");
    assertThat(rule.written(house))
        .isEqualTo(
            "platform is tarn\n  AND (site is \"Harbour \"\"old\"\" quay\" or not tag has spare)\n"
                + "  and attribute Lease before 2027-03-01");
    assertThat(Rule.of(rule.written(house), house)).isEqualTo(rule);
    assertThat(rule.at(NOW, house)).isEqualTo(RuleText.read(rule.written(house), house, NOW));
  }

  @Test
  void whatItNamesIsKnownAndWhatIsGoneStaysAnId() {
    Rule rule = Rule.of("unit in VM-GLA and group has Old and site is \"Norhaven quay\"", house);
    assertThat(rule.mentions(house))
        .containsExactlyInAnyOrder(
            new Mention(Kind.UNIT, "u1"),
            new Mention(Kind.GROUP, "g1"),
            new Mention(Kind.SITE, "s1"));
    names.remove("s1");
    assertThat(rule.written(house)).isEqualTo("unit in VM-GLA and group has Old and site is s1");
  }

  @Test
  void idsThatAreLongerThanNamesMakeItNoLongerThanItMayBe() {
    names.put("s1-with-a-very-long-id-of-its-own", "A");
    names.remove("s1");
    String written = "site is A" + " or site is A".repeat(190);
    Rule rule = Rule.of(written, house);
    assertThat(rule.byId()).hasSizeGreaterThan(RuleText.MAX_LENGTH);
    assertThat(rule.written(house)).isEqualTo(written);
    assertThat(rule.at(NOW, house)).isInstanceOf(DeviceQuery.Or.class);
    assertThat(rule.mentions(house)).hasSize(1);
  }

  @Test
  void itCountsBackFromWheneverItIsAsked() {
    Rule rule = Rule.of("seen within 7 days", house);
    assertThat(rule.at(NOW, house))
        .isEqualTo(
            DeviceQuery.not(
                new DeviceQuery.Before(DeviceQuery.Time.LAST_SEEN, NOW.minus(Duration.ofDays(7)))));
    assertThat(rule.at(NOW.plusSeconds(60), house)).isNotEqualTo(rule.at(NOW, house));
  }

  @ParameterizedTest
  @CsvSource({
    "seen within 7 days, true",
    "seen before 2026-01-01, true",
    "joined within 2 weeks, true",
    "standing is blocked, true",
    "terms below 2, true",
    "passcode is in-grace, true",
    "joined before 2026-01-01, false",
    "platform is tarn and os < 7.1, false",
    "tag has spare, false",
  })
  void itSaysWhetherDevicesComeAndGoByTheClock(String rule, boolean follows) {
    assertThat(Rule.of(rule, house).followsTime(house)).isEqualTo(follows);
  }
}
