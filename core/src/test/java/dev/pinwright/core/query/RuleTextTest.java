package dev.pinwright.core.query;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatExceptionOfType;

import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.organisation.Attribute;
import dev.pinwright.core.organisation.AttributeCondition.Relation;
import dev.pinwright.core.organisation.AttributeType;
import dev.pinwright.core.query.DeviceQuery.Field;
import dev.pinwright.core.query.DeviceQuery.Time;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class RuleTextTest {
  private static final Instant NOW = Instant.parse("2026-03-09T12:00:00Z");
  private static final Attribute LEASE =
      new Attribute("a1", "Lease ends", Attribute.Kind.DEVICE, AttributeType.DATE, List.of(), 0, 0);

  /** A house in which a thing's id is its name in small letters, as far as it is known. */
  private static final RuleNames NAMES =
      new RuleNames() {
        private static final Set<String> KNOWN =
            Set.of(
                "vm-gla", "vm-har", "norhaven quay", "ines.orrin", "kiosks", "carts of the quay");

        @Override
        public Optional<String> id(Kind kind, String name) {
          return switch (kind) {
            case TAG -> Optional.of(name);
            case ATTRIBUTE -> Optional.of(LEASE).filter(a -> a.isCalled(name)).map(Attribute::id);
            default -> Optional.of(name.toLowerCase(Locale.ROOT)).filter(KNOWN::contains);
          };
        }

        @Override
        public Optional<String> name(Kind kind, String id) {
          return Optional.of(kind == Kind.ATTRIBUTE ? LEASE.name() : id);
        }

        @Override
        public Optional<Attribute> attribute(String id) {
          return Optional.of(LEASE).filter(a -> a.id().equals(id));
        }
      };

  private static DeviceQuery read(String rule) {
    return RuleText.read(rule, NAMES, NOW);
  }

  @Test
  void aRuleReadsLikeASentence() {
    assertThat(
            read(
                "platform is tarn and os < 7.1 and unit in VM-GLA and not tag has spare"
                    + " and seen within 7 days and attribute \"Lease ends\" before 2027-03-01"))
        .isEqualTo(
            DeviceQuery.allOf(
                new DeviceQuery.Is(Field.PLATFORM, "tarn"),
                new DeviceQuery.Os(Relation.BELOW, new OsVersion(7, 1, 0)),
                new DeviceQuery.Within("vm-gla"),
                DeviceQuery.not(new DeviceQuery.Tagged("spare")),
                DeviceQuery.not(
                    new DeviceQuery.Before(Time.LAST_SEEN, NOW.minus(Duration.ofDays(7)))),
                new DeviceQuery.HasAttribute(
                    "a1", AttributeType.DATE, Relation.BELOW, Optional.of("2027-03-01"))));
  }

  @Test
  void andBindsCloserThanOrAndParenthesesCloserStill() {
    DeviceQuery red = new DeviceQuery.Tagged("red");
    DeviceQuery blue = new DeviceQuery.Tagged("blue");
    DeviceQuery grey = new DeviceQuery.Tagged("grey");
    assertThat(read("tag has red or tag has blue AND tag has grey"))
        .isEqualTo(DeviceQuery.anyOf(red, DeviceQuery.allOf(blue, grey)));
    assertThat(read("(tag has red or tag has blue) and tag has grey"))
        .isEqualTo(DeviceQuery.allOf(DeviceQuery.anyOf(red, blue), grey));
    assertThat(read("not not (tag has red)")).isEqualTo(DeviceQuery.not(DeviceQuery.not(red)));
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "everything",
        "nothing",
        "managed",
        "not managed",
        "name is \"Quay \"\"5\"\"\", \"and\"",
        "model is T10, \"T8 mini\"",
        "site is \"norhaven quay\"",
        "person is ines.orrin or has person",
        "profile is \"carts of the quay\"",
        "standing is catching-up and mode is work-profile and ownership is personal",
        "os is 7.2.1 or os > 8.0",
        "seen before 2026-03-01T00:00:00Z and not joined before 2026-02-01T00:00:00Z",
        "(group has kiosks or tag has \"a b\") and not (unit in vm-har and terms below 2)",
        "fact network/name is \"Vellmar-Galleries\" or fact battery/level is unknown",
        "fact security/encrypted is \"unknown\"",
        "attribute \"Lease ends\" is empty or attribute \"Lease ends\" > \"2026-12-01\"",
        "app has vellmar.rota and not version vellmar.rota > 4.2",
        "version lumen.reader is 4.10",
        "find \"quay door\" and id is 01J8, 01J9"
      })
  void whatIsWrittenIsReadAgain(String rule) {
    assertThat(RuleText.write(read(rule), NAMES)).isEqualTo(rule);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '`',
      value = {
        "|1|expected a condition, such as platform is tarn",
        "platform tarn|10|expected is, not 'tarn'",
        "platform is|12|expected a value, not the end",
        "platform is tarn and|21|expected a condition",
        "platform is tarn unit in VM-GLA|18|expected and, or, or the end, not 'unit'",
        "colour is red|1|not 'colour'",
        "unit in VM-XYZ|9|there is no unit VM-XYZ",
        "unit below VM-GLA|6|expected in (it or below it) or is",
        "tag is spare|5|expected has, not 'is'",
        "tag has and|9|quote it to mean it",
        "os ~ 7|4|expected <, <=, >, >= or is after os",
        "os < seven|6|seven",
        "seen within some days|13|expected a number",
        "seen within 7 moons|15|expected minutes, hours, days or weeks",
        "seen since 2026-03-01|6|expected within, before or after",
        "joined after yesterday|14|is not a day such as 2026-03-01",
        "standing is blcked|13|is not one of settled",
        "(tag has red|13|expected ), not the end",
        "tag has red)|12|expected and, or, or the end, not ')'",
        "name is \"Quay|9|this quote is not closed",
        "attribute Colour is red|11|there is no attribute Colour on devices",
        "attribute \"Lease ends\" is soon|27|is not a day",
        "app has Rota|9|the id of an app is two to seven words",
        "version vellmar.rota ~ 4|22|expected <, <=, >, >= or is after version vellmar.rota",
        "version vellmar.rota < four|24|is no version such as 4.2",
        "has legs|5|expected serial, imei"
      })
  void whatIsNoRuleSaysWhereAndWhatWouldBe(String rule, int column, String words) {
    assertThatExceptionOfType(RuleFault.class)
        .isThrownBy(() -> read(rule == null ? "" : rule))
        .withMessageContaining(words)
        .satisfies(f -> assertThat(f.column()).isEqualTo(column));
  }

  @Test
  void aRuleHasBounds() {
    assertThatExceptionOfType(RuleFault.class)
        .isThrownBy(() -> read("not ".repeat(25) + "managed"))
        .withMessageContaining("more than 20 deep");
    assertThatExceptionOfType(RuleFault.class)
        .isThrownBy(() -> read("managed or ".repeat(300) + "managed"))
        .withMessageContaining("at most 200 conditions");
    assertThatExceptionOfType(RuleFault.class)
        .isThrownBy(() -> read("(" + " ".repeat(RuleText.MAX_LENGTH) + ")"))
        .withMessageContaining("at most 4000 characters");
  }
}
