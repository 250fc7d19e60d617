package dev.pinwright.cli;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What the command line sends and prints of kits. */
class KitCommandsTest extends ServedTest {
  private static final String KIT =
      """
      {"id":"k1","kind":"kit","version":4,"name":"Gallery kit","description":"","state":"published",
       "publishedVersion":2,"draftChanged":false,"settings":{},
       "words":{"documents[rules].file":"house-rules.pdf"},
       "parts":[{"profile":"p1","name":"Dim","publishedVersion":3,"whenInOrder":false},
                {"profile":"p2","name":"Guest Wi-Fi","whenInOrder":true}],
       "targets":[{"kind":"tag","ref":"gallery","name":"gallery"}],"exclusions":[],"kits":[],
       "window":{},"changedAt":"2026-03-01T08:00:00Z"}
      """;

  @BeforeEach
  void kit() {
    answers.put(
        "GET /search",
        "[{\"kind\":\"kit\",\"id\":\"k1\",\"name\":\"Gallery kit\",\"detail\":\"\"}]");
    answers.put("GET /profiles/k1", KIT);
    answers.put("PUT /profiles/k1", KIT);
  }

  private String sent() {
    return calls.get(calls.size() - 1);
  }

  @Test
  void aKitIsShownWithWhatGoesAlong() {
    assertThat(signedIn("kit", "show", "Gallery kit").out())
        .contains("documents[rules].file  house-rules.pdf")
        .contains("takes along            Dim\n")
        .contains("takes along            Guest Wi-Fi, never published, while in order")
        .contains("assigned to            tag gallery");
    answers.put(
        "GET /profiles",
        """
        {"items":[{"id":"k1","kind":"kit","name":"Gallery kit","description":"","state":"published",
          "publishedVersion":2,"draftChanged":true,"settings":0,"parts":2,"devices":148,
          "changedAt":"2026-03-01T08:00:00Z"}]}
        """);
    assertThat(signedIn("kit", "list").out())
        .contains("Gallery kit", "version 2, draft changed", "148");
    assertThat(queries).last().asString().contains("kind=kit");
  }

  @Test
  void profilesAreTakenAlongAndOut() {
    // whatever is looked up here is k1, in a list too
    assertThat(signedIn("kit", "take", "Gallery kit", "Quiet", "--when-in-order").code()).isZero();
    assertThat(sent())
        .contains("{\"profile\":\"p1\",\"whenInOrder\":false}")
        .contains("{\"profile\":\"p2\",\"whenInOrder\":true}")
        .contains("{\"profile\":\"k1\",\"whenInOrder\":true}");
    assertThat(queries).anySatisfy(q -> assertThat(q).contains("kind=profile").contains("Quiet"));
    answers.put("GET /profiles/k1", KIT.replace("\"p2\"", "\"k1\""));
    signedIn("kit", "take", "Gallery kit", "Guest Wi-Fi");
    assertThat(sent()).as("said anew").contains("{\"profile\":\"k1\",\"whenInOrder\":false}");
    signedIn("kit", "leave", "Gallery kit", "Guest Wi-Fi");
    assertThat(sent()).contains("\"p1\"").doesNotContain("\"k1\"");
  }

  @Test
  void aKitIsMadeAndPublishedLikeAProfile() {
    answers.put("POST /profiles", KIT);
    assertThat(signedIn("kit", "add", "Gallery kit").out()).contains("Kit Gallery kit made");
    assertThat(sent()).contains("\"kind\":\"kit\"");
    answers.put(
        "POST /profiles/k1/publication",
        """
        {"version":3,"change":{"id":"c1","title":"Publish Gallery kit, version 3","at":
          "2026-03-01T08:00:00Z","actor":"owner","total":148,"done":0,"waiting":148,"failed":0,
          "overtaken":0,"devices":148,"undoable":true}}
        """);
    assertThat(signedIn("kit", "publish", "Gallery kit", "--confirm", "148").out())
        .contains("Version 3 published; it changes 148 devices.");
  }
}
