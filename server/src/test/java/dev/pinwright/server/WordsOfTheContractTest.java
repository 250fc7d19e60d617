package dev.pinwright.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.dataformat.yaml.YAMLMapper;
import dev.pinwright.catalog.Catalogue;
import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.CommandSpec;
import dev.pinwright.core.catalog.Platform;
import dev.pinwright.core.device.DeviceKind;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.Ownership;
import dev.pinwright.core.device.Standing;
import dev.pinwright.core.organisation.Attribute;
import dev.pinwright.core.target.Target;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.api.Test;

/** The enums of the contract are the words of the catalogue and the core, neither more nor less. */
class WordsOfTheContractTest {
  private final JsonNode schemas = schemas();

  private static JsonNode schemas() {
    try (InputStream in = WordsOfTheContractTest.class.getResourceAsStream("/openapi.yaml")) {
      return new YAMLMapper().readTree(in).path("components").path("schemas");
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private List<String> words(String schema) {
    List<String> out = new ArrayList<>();
    schemas.path(schema).path("enum").forEach(w -> out.add(w.asText()));
    return out;
  }

  private static List<String> words(Enum<?>... constants) {
    return Arrays.stream(constants).map(Words::of).toList();
  }

  @Test
  void platformsAndCommandsAreThoseOfTheCatalogue() {
    assertThat(words("PlatformKey"))
        .containsExactlyElementsOf(
            Catalogue.load().catalog().platforms().stream().map(Platform::key).toList());
    assertThat(words("CommandKey"))
        .containsExactlyElementsOf(Catalogue.commands().stream().map(CommandSpec::key).toList());
  }

  @Test
  void theOtherWordsAreThoseOfTheCore() {
    assertThat(words("Mode")).containsExactlyElementsOf(words(Mode.values()));
    assertThat(words("Ownership")).containsExactlyElementsOf(words(Ownership.values()));
    assertThat(words("DeviceKind")).containsExactlyElementsOf(words(DeviceKind.values()));
    assertThat(words("Standing")).containsExactlyInAnyOrderElementsOf(words(Standing.values()));
    assertThat(words("TargetKind"))
        .containsExactlyInAnyOrderElementsOf(words(Target.Kind.values()));
    assertThat(words("AttributeKind"))
        .containsExactlyInAnyOrderElementsOf(words(Attribute.Kind.values()));
  }
}
