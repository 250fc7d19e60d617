package dev.pinwright.cli;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

class GroupCommandsTest extends ServedTest {
  private static final String OLD =
      "{\"id\":\"g1\",\"version\":3,\"name\":\"Old tablets\",\"rule\":\"platform is tarn\\n and os < 7.1\","
          + "\"inside\":[{\"id\":\"g2\",\"name\":\"Spares\"}],\"devices\":9,\"picked\":0}";

  @BeforeEach
  void groups() {
    answers.put(
        "GET /search",
        "[{\"kind\":\"group\",\"id\":\"g1\",\"name\":\"Old tablets\",\"detail\":\"\"}]");
    answers.put("GET /groups/g1", OLD);
    answers.put("GET /groups", "{\"items\":[" + OLD + "]}");
  }

  @Test
  void aGroupSaysWhatMakesIt() {
    assertThat(signedIn("group", "show", "Old tablets").out())
        .contains("Old tablets: 9 devices", "by the rule:", "os < 7.1", "inside: Spares");
    assertThat(signedIn("group", "list").out())
        .contains("platform is tarn and os < 7.1; inside: Spares");
  }

  @Test
  void aChangeKeepsWhatIsNotSaidAndNamesTheVersionSeen() {
    answers.put("PUT /groups/g1", OLD);
    assertThat(signedIn("group", "change", "Old tablets", "--name", "Older").out())
        .contains("has 9 devices");
    assertThat(calls)
        .anyMatch(
            b ->
                b.contains("\"name\":\"Older\"")
                    && b.contains("os < 7.1")
                    && b.contains("\"inside\":[\"g2\"]"));
    signedIn("group", "change", "Old tablets", "--picked", "--nothing-inside");
    assertThat(calls.get(calls.size() - 1)).doesNotContain("\"rule\"").contains("\"inside\":[]");
    assertThat(signedIn("group", "change", "Old tablets", "--picked", "--rule", "managed").code())
        .isEqualTo(Failure.USAGE);
  }

  @Test
  void aDryRunSaysWhoComesAndGoes() {
    answers.put(
        "POST /groups/g1/rehearsal",
        "{\"devices\":30,\"entering\":28,\"leaving\":1,\"entered\":[\"VM-GLA kiosk 001\"],"
            + "\"left\":[\"VM-HAR kiosk 002\"],\"confirmDevices\":29}");
    assertThat(signedIn("group", "change", "Old tablets", "--rule", "managed", "--dry-run").out())
        .contains(
            "Old tablets would have 30 devices.",
            "28 come in: VM-GLA kiosk 001 and others",
            "1 go out: VM-HAR kiosk 002",
            "Nothing is changed yet; it takes --confirm 29.");
    assertThat(calls).noneMatch(c -> c.startsWith("PUT"));
  }

  @Test
  void aRuleIsTriedAndItsFaultPointedAt() {
    answers.put(
        "POST /device-rules/reading",
        "{\"devices\":2,\"examples\":[\"VM-GLA kiosk 001\",\"VM-GLA kiosk 002\"],\"any\":false,"
            + "\"parts\":[],\"from\":0,\"to\":0,\"choices\":[]}");
    assertThat(signedIn("group", "find", "unit in VM-GLA").out())
        .contains("2 devices: VM-GLA kiosk 001, VM-GLA kiosk 002");
    answers.put(
        "POST /device-rules/reading",
        "{\"fault\":{\"column\":6,\"message\":\"column 6: expected in or is, not 'at'\"},"
            + "\"examples\":[],\"any\":false,\"parts\":[],\"from\":0,\"to\":0,\"choices\":[]}");
    Ran r = signedIn("group", "find", "unit at VM-GLA");
    assertThat(r.code()).isEqualTo(Failure.USAGE);
    assertThat(r.err()).contains("unit at VM-GLA\n     ^\n", "expected in or is");
  }
}
