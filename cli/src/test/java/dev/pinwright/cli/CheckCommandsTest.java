package dev.pinwright.cli;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What the command line sends and prints of checks. */
class CheckCommandsTest extends ServedTest {
  private static final String CHECK =
      """
      {"id":"c1","version":3,"name":"Encryption","advice":"Turn it on.",
       "ladder":{"grace":72,"holder":0,"house":72},"group":{"id":"g1","name":"Encryption (check)"},
       "ownGroup":true,"rule":"fact security/encrypted is \\"false\\"","inGrace":2,"outOfOrder":5,
       "withheld":0}
      """;

  @BeforeEach
  void check() {
    answers.put("GET /checks", "[" + CHECK + "]");
    answers.put(
        "GET /checks/templates",
        """
        [{"key":"encryption","title":"Encryption","help":"Not encrypted.","advice":"Turn it on.",
          "rule":"fact security/encrypted is \\"false\\"","grace":24}]
        """);
  }

  private String sent() {
    return calls.get(calls.size() - 1);
  }

  @Test
  void checksAreListedAndShown() {
    assertThat(signedIn("check", "list").out())
        .contains("Encryption", "out of order after 72 h; holder 0 h, house 72 h, withhold never");
    assertThat(signedIn("check", "show", "encryption").out())
        .contains("fact security/encrypted is \"false\"", "Turn it on.")
        .containsPattern("out of order +5");
    assertThat(signedIn("check", "show", "Passcode").err())
        .contains("There is no check Passcode; there is Encryption.");
  }

  @Test
  void oneIsTakenFromATemplateRehearsedFirst() {
    answers.put(
        "POST /checks/rehearsal",
        """
        {"found":7,"outOfOrder":0,"inOrder":0,"withheld":0,"confirmDevices":7,"reasonWanted":false,
         "secondWanted":false}
        """);
    assertThat(
            signedIn("check", "add", "Encryption", "--template", "encryption", "--dry-run").out())
        .contains("It finds 7 devices", "add --confirm 7");
    answers.put("POST /checks", CHECK);
    signedIn(
        "check",
        "add",
        "Encryption",
        "--template",
        "encryption",
        "--withhold",
        "96",
        "--tell-house=never",
        "--confirm",
        "7");
    assertThat(sent())
        .contains("\"grace\":24", "\"holder\":0", "\"withhold\":96", "\"confirmDevices\":7")
        .doesNotContain("house");
    assertThat(signedIn("check", "add", "X", "--template", "nothing").err())
        .contains("There is no template nothing");
    assertThat(signedIn("check", "add", "X", "--rule", "os < 7").err()).contains("--advice");
  }

  @Test
  void oneIsChangedInPartAndDeleted() {
    answers.put("PUT /checks/c1", CHECK);
    signedIn("check", "change", "Encryption", "--grace", "48");
    assertThat(sent())
        .contains("\"grace\":48", "\"house\":72", "\"advice\":\"Turn it on.\"")
        .contains("fact security/encrypted");
    assertThat(signedIn("check", "change", "Encryption", "--withhold", "soon").err())
        .contains("a number of hours, or never; not soon");
    answers.put("DELETE /checks/c1", "");
    assertThat(signedIn("check", "delete", "Encryption", "--confirm", "7").out())
        .contains("Check Encryption deleted.");
    assertThat(queries).last().asString().contains("confirmDevices=7");
  }
}
