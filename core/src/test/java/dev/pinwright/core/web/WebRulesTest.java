package dev.pinwright.core.web;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class WebRulesTest {
  private static final WebRules RULES =
      WebRules.read(
          Map.of(
              "categories", "[\"gambling\"]",
              "blocked", "[\"chatter.vellmar.example\",\"market.example\"]",
              "allowed", "[\"vellmar.example\",\"market.example\"]",
              "secure-only", "true"));

  @ParameterizedTest
  @CsvSource({
    "https://vellmar.example/opening-hours,",
    "vellmar.example,",
    "HTTPS://Tickets.Vellmar.Example:8443/a?b#c,",
    "https://chatter.vellmar.example/, blocks chatter.vellmar.example",
    "https://market.example, blocks market.example",
    "https://notvellmar.example, Only vellmar.example",
    "https://vellmar.example.elsewhere.example, Only vellmar.example",
    "http://vellmar.example, Only encrypted pages",
  })
  void aHostStandsForAllBelowItAndBlockedWins(String address, String words) {
    Optional<String> objection = RULES.objection(address, Optional.empty());
    if (words == null) {
      assertThat(objection).isEmpty();
    } else {
      assertThat(objection).hasValueSatisfying(o -> assertThat(o).contains(words));
    }
  }

  @Test
  void aKindOfPageIsBlockedWhereverItLies() {
    assertThat(RULES.objection("vellmar.example/dice", Optional.of("gambling")))
        .hasValueSatisfying(o -> assertThat(o).contains("of this kind: gambling"));
    assertThat(RULES.objection("vellmar.example/news", Optional.of("news"))).isEmpty();
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "",
        "   ",
        "ftp://vellmar.example",
        "https://",
        "two words",
        "javascript:alert(1)"
      })
  void whatIsNoAddressIsNotOpened(String address) {
    assertThat(RULES.objection(address, Optional.empty())).contains("This is no address.");
  }

  @Test
  void withoutRulesEverythingOpensAndWithoutABrowserNothing() {
    assertThat(WebRules.read(Map.of()).objection("http://anything.example", Optional.empty()))
        .isEmpty();
    assertThat(WebRules.read(Map.of("off", "true")).objection("vellmar.example", Optional.empty()))
        .contains("The browser is turned off.");
  }
}
