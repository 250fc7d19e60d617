package dev.pinwright.core.catalog;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;

/** Texts in more than one language. */
class WordingsTest {
  private static final Map<String, String> FILLED =
      Map.of("text", "The quay is closed.", "text@fr", "Fermé.", "text@fr-ca", "Fermée.", "n", "3");

  private static String text(String language) {
    return Wordings.in(FILLED, language).get("text");
  }

  @Test
  void aDeviceReadsItsLanguageOrTheOneForEverybody() {
    assertThat(text("fr")).isEqualTo("Fermé.");
    assertThat(text("fr-BE")).isEqualTo("Fermé.");
    assertThat(text("fr_CA")).isEqualTo("Fermée.");
    assertThat(text("fr-CA-quebec")).isEqualTo("Fermée.");
    assertThat(text("de")).isEqualTo("The quay is closed.");
    assertThat(text("")).isEqualTo("The quay is closed.");
    assertThat(Wordings.in(FILLED, "fr")).containsOnlyKeys("text", "n").containsEntry("n", "3");
  }

  @Test
  void aKeyNamesAFieldAndPerhapsALanguage() {
    assertThat(Wordings.key("text")).isEqualTo(new Wordings.Key("text", Optional.empty()));
    assertThat(Wordings.key("text@FR-ca").written()).isEqualTo("text@fr-ca");
    assertThat(Wordings.key("text@").language()).isEmpty();
    assertThat(Wordings.key("text@f").language()).isEmpty();
  }
}
