package dev.pinwright.cli;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;

/** What the command line sends and prints for a second person's word. */
class ProposalCommandsTest extends ServedTest {
  private static final String WAITING =
      """
      {"id":"x1","version":0,"title":"Publish Gallery tablets","note":"for the new rooms",
       "state":"waiting","devices":148,"proposedAt":"2026-11-28T10:00:00Z","proposedBy":"maren"}
      """;
  private static final String DETAIL =
      """
      {"proposal":%s,"since":["It was 148, now 151 devices change."],"seen":"abc","mine":false,
       "rehearsal":{"devices":151,"changing":151,"examples":[],"reasonWanted":false,
         "secondWanted":true,"settings":{"devices":151,"changing":151,"gain":0,"change":151,"lose":0,
           "effects":[],"conflicts":[],"unsupported":[],"shortages":[],"reasonWanted":false,"secondWanted":true}}}
      """;

  @Test
  void proposalsAreListedAndShownWithWhatChangedSince() {
    answers.put("GET /proposals", "{\"items\":[" + WAITING + "]}");
    assertThat(signedIn("proposal", "list", "--state", "waiting").out())
        .contains("Publish Gallery tablets", "148", "maren", "waiting");
    assertThat(queries).last().asString().contains("state=waiting");
    answers.put("GET /proposals/x1", DETAIL.formatted(WAITING));
    assertThat(signedIn("proposal", "show", "x1").out())
        .contains("proposed by maren", "for the new rooms")
        .contains("Since it was proposed: It was 148, now 151 devices change.")
        .contains("151 of 151 devices change", "pinwright proposal agree x1 --seen abc");
  }

  @Test
  void oneAgreesToWhatWasSeenOrRefusesWithAReason() {
    String done = WAITING.replace("waiting\"", "done\",\"changeId\":\"c1\"");
    answers.put(
        "POST /proposals/x1/agreement",
        "{\"proposal\":" + done + ",\"since\":[],\"seen\":\"\",\"mine\":false}");
    assertThat(signedIn("proposal", "agree", "x1", "--seen", "abc").out())
        .contains("done. Follow with: pinwright change wait c1");
    assertThat(calls.get(calls.size() - 1)).contains("\"seen\":\"abc\"");
    assertThat(signedIn("proposal", "agree", "x1").err()).contains("--seen");
    String refused =
        WAITING.replace(
            "waiting\"", "refused\",\"decidedBy\":\"bo\",\"reason\":\"not on a Friday\"");
    answers.put(
        "POST /proposals/x1/refusal",
        "{\"proposal\":" + refused + ",\"since\":[],\"seen\":\"\",\"mine\":false}");
    assertThat(signedIn("proposal", "refuse", "x1", "--reason", "not on a Friday").out())
        .contains("refused by bo, because not on a Friday");
  }

  @Test
  void thresholdsAreShownAndSet() {
    answers.put("GET /house/thresholds", "{\"version\":3,\"number\":25,\"second\":200}");
    assertThat(signedIn("house", "thresholds").out())
        .contains("typed from 25 on", "reason given never", "agrees from 200 on");
    answers.put("PUT /house/thresholds", "{\"version\":4,\"number\":25,\"reason\":50}");
    assertThat(signedIn("house", "thresholds", "--reason", "50", "--second-person", "0").out())
        .contains("from 50 on", "agrees never");
    assertThat(calls.get(calls.size() - 1))
        .contains("\"number\":25", "\"reason\":50")
        .doesNotContain("second");
  }
}
