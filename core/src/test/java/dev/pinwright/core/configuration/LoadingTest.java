package dev.pinwright.core.configuration;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.core.configuration.Loading.Entry;
import dev.pinwright.core.configuration.Step.Verb;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.junit.jupiter.api.Test;

class LoadingTest {
  @SuppressWarnings("unchecked")
  private static Map<String, Entry> things(String file, Object... namesAndTrees) {
    Map<String, Entry> things = new LinkedHashMap<>();
    for (int i = 0; i < namesAndTrees.length; i += 2) {
      things.put((String) namesAndTrees[i], new Entry((Map<String, ?>) namesAndTrees[i + 1], file));
    }
    return things;
  }

  @Test
  void whatIsOtherwiseIsAddedChangedOrDeletedInTheOrderOfTheParts() {
    Map<Part, Map<String, Entry>> now =
        Map.of(
            Part.CHECK, things("", "Old", Map.of("rule", "os < 7")),
            Part.UNIT, things("", "VM", Map.of("name", "Vellmar"), "X", Map.of()),
            Part.TERMS, things("", "1", Map.of()),
            Part.SITE, things("", "Quay", Map.of()));
    Map<Part, Map<String, Entry>> wanted =
        Map.of(
            Part.CHECK, things("c", "New", Map.of("rule", "os < 7")),
            Part.TERMS, Map.of(),
            Part.UNIT, things("u", "VM", Map.of("name", "Vellmar Museums")));
    assertThat(Loading.steps(now, wanted, true))
        .containsExactly(
            new Step(
                Part.UNIT,
                "VM",
                "u",
                Verb.CHANGE,
                List.of(
                    new Difference(
                        "name", Optional.of("Vellmar"), Optional.of("Vellmar Museums")))),
            new Step(Part.UNIT, "X", "", Verb.DELETE, List.of()),
            new Step(Part.TERMS, "1", "", Verb.STAY, List.of()),
            new Step(Part.CHECK, "New", "c", Verb.ADD, List.of()),
            new Step(Part.CHECK, "Old", "", Verb.DELETE, List.of()));
    assertThat(Loading.steps(now, wanted, false))
        .extracting(Step::verb)
        .containsExactly(Verb.CHANGE, Verb.STAY, Verb.STAY, Verb.ADD, Verb.STAY);
  }

  @Test
  void differencesAreToldByWhereTheyAre() {
    assertThat(
            Difference.between(
                Map.of("a", 1, "b", Map.of("c", "x"), "l", List.of("p", "q"), "o", List.of(1, 2)),
                Map.of("a", 2, "b", Map.of("d", true), "l", List.of("q", "r"), "o", List.of(2, 1))))
        .extracting(d -> d.where() + ": " + d.before().orElse("-") + " > " + d.after().orElse("-"))
        .containsExactly(
            "a: 1 > 2", "b c: x > -", "b d: - > true", "l: p > -", "l: - > r", "o: 1, 2 > 2, 1");
    assertThat(Difference.between(null, Map.of("a", Map.of("b", List.of(Map.of("c", 1))))))
        .containsExactly(new Difference("a b", Optional.empty(), Optional.of("c 1")));
  }

  @Property
  void nothingDiffersFromItself(@ForAll Map<String, List<Integer>> tree) {
    assertThat(Difference.between(tree, Map.copyOf(tree))).isEmpty();
    assertThat(Difference.between(tree, Map.of()))
        .as("and all of it from nothing")
        .hasSize(tree.size());
  }

  @Test
  void aFileIsFoundByItsNameAndAName() {
    assertThat(Part.PROFILE.file("Gallery Wi-Fi: Ålesund & more"))
        .isEqualTo("rules/profiles/gallery-wi-fi-alesund-more.yaml");
    assertThat(Part.KIT.file("!!!")).isEqualTo("rules/kits/unnamed.yaml");
    assertThat(Part.GROUP.file("Any")).isEqualTo("rules/groups.yaml");
    assertThat(Part.KIT.file("x".repeat(300))).hasSizeLessThan(100);
    assertThat(Part.of("rules/profiles/a/b.yaml")).isEmpty();
    assertThat(Part.of("rules/profiles/a.yml")).isEmpty();
    assertThat(Part.of("rules/checks.yaml")).contains(Part.CHECK);
    assertThat(Arrays.stream(Part.values()).map(p -> Part.of(p.file("a")).orElseThrow()))
        .containsExactly(Part.values());
  }
}
