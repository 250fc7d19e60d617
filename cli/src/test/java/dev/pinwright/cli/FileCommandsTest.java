package dev.pinwright.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;

/** What the command line sends and prints for files. */
class FileCommandsTest extends ServedTest {
  private static final String ID = "a".repeat(64);
  private static final String QUAY =
      """
      {"id":"%s","version":0,"name":"Quay.png","kind":"picture","mediaType":"image/png",
       "bytes":24576,"about":"PNG, 960 × 1280 pixels","profiles":1,
       "storedAt":"2026-11-28T10:00:00Z","storedBy":"owner"}
      """
          .formatted(ID);
  private static final String UNUSED =
      QUAY.replace("Quay.png", "Old.png")
          .replace("\"profiles\":1", "\"profiles\":0,\"clearedAt\":\"2026-12-28T10:00:00Z\"");

  @Test
  void filesAreListedWithWhatTheyAreAndWhenTheyGo() {
    answers.put("GET /files", "{\"items\":[" + QUAY + "," + UNUSED + "]}");
    assertThat(signedIn("file", "list").out())
        .contains("Quay.png", "picture", "24 KiB", "PNG, 960 × 1280 pixels", "1 profile")
        .contains("nothing; goes 2026-12-28");
    assertThat(signedIn("file", "list", "--kind", "movie").err()).contains("picture, certificate");
  }

  @Test
  void aFileIsSentAsItIsAndSaidWhatSettingsCallIt() throws IOException {
    answers.put("POST /files?name=Quay.png", QUAY);
    Path file = Files.writeString(home.resolve("Quay.png"), "what is in it");
    assertThat(signedIn("file", "add", file.toString()).out())
        .contains("Quay.png is on file: PNG", "sha256:" + ID);
    assertThat(calls.get(calls.size() - 1)).contains("what is in it");
    answers.put("POST /files?name=Harbour.png", QUAY);
    assertThat(signedIn("file", "add", file.toString(), "--name", "Harbour.png").out())
        .contains("on file already, as Quay.png");
    assertThat(signedIn("file", "add", "nowhere.png").code()).isEqualTo(Failure.USAGE);
  }

  @Test
  void aFileIsShownWithWhatNamesItAndRenamed() {
    String detail =
        """
        {"file":%s,"uses":[{"profileId":"p1","profileName":"Gallery tablets","draft":true,
          "latest":3,"published":3}]}
        """
            .formatted(QUAY);
    known("file", "/files/" + ID, "Quay.png", detail);
    assertThat(signedIn("file", "show", "Quay.png").out())
        .contains("Quay.png: PNG", "Gallery tablets: version 3 and draft");
    answers.put("PUT /files/" + ID, detail.replace("Quay.png", "Dusk.png"));
    assertThat(signedIn("file", "rename", "Quay.png", "Dusk.png").out())
        .contains("Quay.png is called Dusk.png now");
    answers.put("DELETE /files/" + ID, "");
    assertThat(signedIn("file", "delete", "Quay.png").out()).contains("Quay.png deleted");
  }
}
