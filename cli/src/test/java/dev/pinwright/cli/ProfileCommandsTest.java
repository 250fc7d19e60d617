package dev.pinwright.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

class ProfileCommandsTest extends ServedTest {
  private static final String PROFILE =
      "{\"id\":\"p1\",\"version\":4,\"name\":\"Galleries\",\"description\":\"\",\"state\":\"published\","
          + "\"publishedVersion\":2,\"draftChanged\":false,\"settings\":{},"
          + "\"parts\":[],\"kits\":[],\"kind\":\"profile\",\"words\":{\"passcode.min-length\":\"8 characters\"},\"targets\":[],\"exclusions\":[],"
          + "\"changedAt\":\"2026-03-01T08:00:00Z\"}";

  @BeforeEach
  void profile() {
    answers.put(
        "GET /search",
        "[{\"kind\":\"profile\",\"id\":\"p1\",\"name\":\"Galleries\",\"detail\":\"\"}]");
    answers.put("GET /profiles/p1", PROFILE);
    answers.put(
        "GET /profiles/p1/versions",
        "{\"items\":[{\"number\":1,\"name\":\"Galleries\",\"publishedAt\":\"2026-03-01T08:00:00Z\","
            + "\"publishedBy\":\"owner\",\"parts\":[],\"settings\":{},\"targets\":[],\"exclusions\":[],"
            + "\"words\":{\"passcode.min-length\":\"6 characters\",\"passcode.no-runs\":\"on\"}}]}");
  }

  @Test
  void versionsAreComparedInWordsAndPutBack() {
    assertThat(signedIn("profile", "compare", "Galleries", "1").out())
        .contains("VERSION 1", "DRAFT", "passcode.min-length  6 characters  8 characters")
        .contains("passcode.no-runs     on            (none)");
    assertThat(signedIn("profile", "compare", "Galleries", "1", "1").out())
        .contains("They say the same.");
    assertThat(signedIn("profile", "compare", "Galleries", "7").err())
        .contains("Galleries has no published version 7.");
    answers.put("POST /profiles/p1/versions/1/restoration", PROFILE);
    assertThat(signedIn("profile", "restore", "Galleries", "1").out())
        .contains("says what version 1 said");
  }

  @Test
  void aProfileIsWrittenToAFileAndReadFromOne() throws IOException {
    Path file = home.resolve("galleries.json");
    answers.put(
        "GET /profiles/p1/file",
        "{\"format\":\"pinwright-profile/1\",\"name\":\"Galleries\","
            + "\"settings\":{\"passcode.min-length\":6},\"secretsLeftOut\":[\"wifi[staff].passphrase\"]}");
    assertThat(signedIn("profile", "export", "Galleries", file.toString()).out())
        .contains("without its secrets: wifi[staff].passphrase");
    assertThat(file).content().contains("\"pinwright-profile/1\"");
    answers.put("POST /profile-files", PROFILE);
    assertThat(signedIn("profile", "import", file.toString(), "--name", "Elsewhere").out())
        .contains("its secrets have to be set: wifi[staff].passphrase");
    assertThat(calls.get(calls.size() - 1)).contains("\"name\":\"Elsewhere\"");
    Files.writeString(file, "no profile");
    assertThat(signedIn("profile", "import", file.toString()).err())
        .contains("is not what is wanted");
  }
}
