package dev.pinwright.core.query;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.core.organisation.Attribute;
import dev.pinwright.core.organisation.AttributeType;
import dev.pinwright.core.query.RuleLanguage.Completion;
import dev.pinwright.core.query.RuleLanguage.Condition;
import dev.pinwright.core.query.RuleLanguage.Outline;
import dev.pinwright.core.query.RuleLanguage.Part;
import dev.pinwright.core.query.RuleLanguage.Relation;
import dev.pinwright.core.query.RuleLanguage.Subject;
import dev.pinwright.core.query.RuleLanguage.Value;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** What helps in writing a rule: its conditions as a list, its pieces, and what may come next. */
class RuleLanguageTest {
  private static final RuleNames NAMES =
      new RuleNames() {
        @Override
        public Optional<String> id(Kind kind, String name) {
          return Optional.of(name);
        }

        @Override
        public Optional<String> name(Kind kind, String id) {
          return Optional.of(id);
        }

        @Override
        public Optional<Attribute> attribute(String id) {
          return Optional.of(
              new Attribute(id, id, Attribute.Kind.DEVICE, AttributeType.DATE, List.of(), 0, 0));
        }
      };

  static Stream<String> everyCondition() {
    return RuleLanguage.SUBJECTS.stream()
        .flatMap(s -> s.relations().stream().map(r -> sentence(s, r)));
  }

  private static String sentence(Subject s, Relation r) {
    String of =
        switch (s.of()) {
          case ATTRIBUTE -> "Lease";
          case FACT -> "battery/level";
          case APP -> "vellmar.rota";
          default -> "";
        };
    String value =
        switch (r.value()) {
          case SPAN -> "7 days";
          case VERSION -> "7.1";
          case NUMBER -> "2";
          case STANDING -> "blocked";
          case ORDER -> "out-of-order";
          case SECTION -> "certificates";
          case APP -> "vellmar.rota";
          case APP_VERSION -> "4.2";
          case PASSCODE -> "overdue";
          case MODE -> "supervised";
          case OWNERSHIP -> "personal";
          case FIELD -> "serial";
          default -> "2026-03-01";
        };
    return (s.word() + " " + of + " " + r.word() + " " + value + (r.several() ? ", other" : ""))
        .replaceAll(" +", " ");
  }

  @ParameterizedTest
  @MethodSource("everyCondition")
  void everyConditionOfTheListIsARule(String rule) {
    RuleText.read(rule, NAMES, Instant.EPOCH);
    Outline outline = RuleLanguage.outline("not " + rule, NAMES);
    Part part = outline.parts().get(0);
    assertThat(part.not()).isTrue();
    assertThat(part.text()).isEqualTo(rule);
    Condition c = part.condition().orElseThrow();
    Subject subject =
        RuleLanguage.SUBJECTS.stream().filter(s -> s.word().equals(c.subject())).findFirst().get();
    assertThat(subject.relations()).extracting(Relation::word).contains(c.relation());
    assertThat(c.values()).isNotEmpty();
    assertThat(c.of().isEmpty()).isEqualTo(subject.of() == Value.NONE);
  }

  @Test
  void aRuleComesApartAtItsOutermostJoints() {
    Outline all =
        RuleLanguage.outline(
            "platform is tarn, fjell and not (os < 7 or tag has old) and attribute \"Lease ends\""
                + " before 2027-03-01",
            NAMES);
    assertThat(all.any()).isFalse();
    assertThat(all.parts())
        .containsExactly(
            new Part(
                false,
                "platform is tarn, fjell",
                Optional.of(new Condition("platform", "", "is", List.of("tarn", "fjell")))),
            new Part(true, "(os < 7 or tag has old)", Optional.empty()),
            new Part(
                false,
                "attribute \"Lease ends\" before 2027-03-01",
                Optional.of(
                    new Condition("attribute", "Lease ends", "before", List.of("2027-03-01")))));
    Outline any = RuleLanguage.outline("managed and os < 7 or retired", NAMES);
    assertThat(any.any()).isTrue();
    assertThat(any.parts())
        .containsExactly(
            new Part(false, "managed and os < 7", Optional.empty()),
            new Part(false, "retired", Optional.of(new Condition("retired", "", "", List.of()))));
  }

  private static Completion at(String rule) {
    int caret = rule.indexOf('|');
    return RuleLanguage.complete(rule.replace("|", ""), caret, NAMES);
  }

  @Test
  void whatMayComeNextIsKnownAtEveryPlace() {
    assertThat(at("|").words()).contains("not", "(", "platform", "attribute", "managed");
    Completion plat = at("pla| and managed");
    assertThat(plat.typed()).isEqualTo("pla");
    assertThat(List.of(plat.from(), plat.to())).containsExactly(0, 3);
    assertThat(at("platform |").words()).containsExactly("is");
    assertThat(at("platform is |").values()).containsExactly(Value.PLATFORM);
    assertThat(at("platform is tarn |").words()).containsExactly(",", "and", "or");
    assertThat(at("os < 7 and (unit in VM-|)").values()).containsExactly(Value.UNIT);
    assertThat(at("unit |").words()).containsExactly("in", "is");
    assertThat(at("standing is |").words()).contains("blocked", "silent");
    assertThat(at("seen |").words()).containsExactly("within", "before", "after");
    assertThat(at("seen within 7 |").words()).contains("days");
    assertThat(at("tag has \"old qu|").typed()).isEqualTo("old qu");
    assertThat(at("tag has \"old qu|").values()).containsExactly(Value.TAG);
    assertThat(at("attribute |").values()).containsExactly(Value.ATTRIBUTE);
    assertThat(at("nonsense here |").words()).isEmpty();
  }
}
