package dev.pinwright.service.enrollment;

import static dev.pinwright.service.Node.FIRST;
import static dev.pinwright.service.Node.OWNER;
import static dev.pinwright.service.Node.READER;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.core.device.Standing;
import dev.pinwright.core.enrollment.EnrollmentForm;
import dev.pinwright.core.organisation.Unit;
import dev.pinwright.service.Node;
import dev.pinwright.service.naming.NamePreview;
import dev.pinwright.service.organisation.Units;
import dev.pinwright.service.roster.Roster;
import dev.pinwright.service.rules.Baseline;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Problem;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** How devices join, as it is written; and the names it would give. */
class EnrollmentProfilesTest {
  private Node node;
  private EnrollmentProfiles profiles;

  @BeforeEach
  void start() {
    node = new Node();
    profiles = node.pinwright.enrollmentProfiles();
  }

  @AfterEach
  void stop() {
    node.close();
  }

  private EnrollmentProfiles.Shown add(String json) {
    return profiles.add(OWNER, Json.request(json, EnrollmentForm.class));
  }

  private List<String> names(String pattern) {
    return node
        .pinwright
        .namePreview()
        .show(READER, new NamePreview.Draft(pattern, null, null))
        .stream()
        .map(NamePreview.Named::name)
        .toList();
  }

  @Test
  void whatIsLeftOpenHasASaneDefault() {
    EnrollmentProfiles.Shown p = add("{\"name\":\"Plain\"}");
    assertThat(p.ownership()).isEqualTo("corporate");
    assertThat(p.mode()).isEqualTo("standard");
    assertThat(p.kinds()).containsExactlyInAnyOrder("phone", "tablet", "laptop");
    assertThat(p.rosterOnly()).isFalse();
    assertThat(add("{\"name\":\"Own\",\"ownership\":\"personal\"}").mode())
        .isEqualTo("work-profile");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '`',
      value = {
        "{}|1 to 80 characters",
        "{\"name\":\"X\",\"mode\":\"royal\"}|royal",
        "{\"name\":\"X\",\"ownership\":\"personal\",\"mode\":\"supervised\"}|work-profile and no other",
        "{\"name\":\"X\",\"platforms\":[\"zeppelin\"]}|no platform zeppelin",
        "{\"name\":\"X\",\"signIn\":\"passphrase\"}|needs a passphrase",
        "{\"name\":\"X\",\"signIn\":\"passphrase\",\"passphrase\":\"short\"}|at least 8",
        "{\"name\":\"X\",\"termsVersion\":7}|no version 7",
        "{\"name\":\"X\",\"minimumOs\":{\"tarn\":\"new\"}}|new",
        "{\"name\":\"X\",\"minimumOs\":{\"tarn\":\"8.0\"}}|Tarn has no version 8.0; it has 6.0, 6.3",
        "{\"name\":\"X\",\"mode\":\"work-profile\",\"platforms\":[\"moor\"]}|moor has no mode work-profile",
        "{\"name\":\"X\",\"namePattern\":\"HAR {serial\"}|closed braces",
        "{\"name\":\"X\",\"namePattern\":\"HAR }seq{\"}|closed braces",
        "{\"name\":\"X\",\"groups\":[\"g\"]}|no group g",
        "{\"name\":\"X\",\"unitId\":\"u\"}|no unit u",
        "{\"name\":\"X\",\"siteId\":\"s\"}|no site s",
        "{\"name\":\"X\",\"namePattern\":\"{colour}\"}|not {colour}",
        "{\"name\":\"X\",\"tags\":[\"<b>\"]}|1 to 40 letters",
        "{\"name\":\"X\",\"directoryGroup\":\"office\"}|needs the sign-in 'directory'",
        "{\"name\":\"X\",\"firstRun\":{\"skipped\":[\"dance\"]}}|no first-run screen dance",
        "{\"name\":\"X\",\"firstRun\":{\"skipped\":[\"network\"]}}|cannot be skipped",
        "{\"name\":\"X\",\"firstRun\":{\"language\":\"xx\"}}|do not speak 'xx'",
        "{\"name\":\"X\",\"firstRun\":{\"region\":\"here\"}}|two capital letters",
        "{\"name\":\"X\",\"firstRun\":{\"wallpaper\":\"moon\"}}|no wallpaper 'moon'",
        "{\"name\":\"X\",\"readyGate\":{\"osVersions\":{\"tarn\":\"7.9\"}}}|Tarn has no version 7.9; it has 6.0, 6.3",
        "{\"name\":\"X\",\"ownership\":\"personal\",\"removable\":false}|may always end management"
      })
  void whatCannotBeIsNamed(String json, String words) {
    assertThatThrownBy(() -> add(json))
        .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.status()).isEqualTo(400))
        .hasMessageContaining(words);
  }

  @Test
  void aNameInUseIsNotGivenTwice() {
    add("{\"name\":\"Kiosks twice\"}");
    assertThatThrownBy(() -> add("{\"name\":\" kiosks TWICE \"}"))
        .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.type()).isEqualTo("name-taken"))
        .hasMessageContaining("already");
  }

  @Test
  void aNameIsGivenOnceAndAStaleChangeIsRefused() {
    EnrollmentProfiles.Shown p = add("{\"name\":\"Kiosks\"}");
    assertThatThrownBy(() -> add("{\"name\":\"Kiosks\"}")).hasMessageContaining("already");
    EnrollmentForm other =
        Json.request("{\"name\":\"Kiosks\",\"rosterOnly\":true}", EnrollmentForm.class);
    assertThat(profiles.change(OWNER, p.id(), p.version(), other).rosterOnly()).isTrue();
    assertThatThrownBy(() -> profiles.change(OWNER, p.id(), p.version(), other))
        .isInstanceOfSatisfying(Problem.class, x -> assertThat(x.status()).isEqualTo(412));
  }

  @Test
  void oneThatIsUsedStaysAndSaysByWhat() {
    node.join(node.kiosks(3), "AR10-0001");
    String id = profiles.page(READER, FIRST).items().get(0).id();
    assertThatThrownBy(() -> profiles.delete(OWNER, id, profiles.get(OWNER, id).version()))
        .hasMessageContaining(
            "needed by 1 open invitation and 0 identifiers: invitation Invitation");
    EnrollmentProfiles.Shown unused = add("{\"name\":\"Unused\"}");
    profiles.delete(OWNER, unused.id(), profiles.get(OWNER, unused.id()).version());
    assertThat(profiles.page(READER, FIRST).items()).hasSize(1);
  }

  @Test
  void aPatternIsShownOnRowsThatAreExpectedThenOnDevices() {
    node.join(node.kiosks(3), "AR10-0001");
    Unit unit = node.pinwright.units().add(OWNER, new Units.Draft("VM", "Trust", null));
    for (String name : new String[] {"Quay door", ""}) {
      node.pinwright
          .roster()
          .add(
              OWNER,
              new Roster.Draft(
                  name.isEmpty() ? "AR10-0002" : "AR10-0003",
                  null,
                  null,
                  name,
                  null,
                  unit.id(),
                  null,
                  null,
                  null,
                  null));
    }
    assertThat(names("{unit} {seq:3}"))
        .as("the name on the sheet, then the pattern")
        .containsExactly("VM 001", "Quay door", "001");
    assertThat(names("{sheet} {serial}"))
        .containsExactly("AR10-0002", "Quay door AR10-0003", "AR10-0001");
    assertThat(node.pinwright.sequences().page(READER, FIRST).items())
        .as("a preview reserves nothing")
        .isEmpty();
    assertThatThrownBy(() -> names("{colour}")).hasMessageContaining("not {colour}");
  }

  @Test
  void theBaselineIsExplainedAndWrittenOnce() {
    Baseline baseline = node.pinwright.baseline();
    Baseline.Shown shown = baseline.show(READER);
    assertThat(shown.profileId()).isEmpty();
    assertThat(shown.settings())
        .extracting(Baseline.Part::setting)
        .contains("passcode.required", "restrictions.encryption-required")
        .hasSize(7);
    assertThat(shown.settings()).allMatch(p -> !p.help().isBlank());
    assertThat(baseline.write(OWNER).targets()).hasSize(1);
    assertThat(baseline.show(READER).profileId()).isPresent();
    assertThatThrownBy(() -> baseline.write(OWNER)).hasMessageContaining("already");
  }

  @Test
  void aCopyHasEverythingButTheNameAndEveryWritingIsKept() {
    EnrollmentProfiles.Shown p =
        add("{\"name\":\"Kiosks\",\"signIn\":\"passphrase\",\"passphrase\":\"by the quay\"}");
    EnrollmentProfiles.Shown copy = profiles.copy(OWNER, p.id(), "Carts");
    assertThat(copy.signIn()).isEqualTo("passphrase");
    assertThat(copy.id()).isNotEqualTo(p.id());
    assertThatThrownBy(() -> profiles.copy(OWNER, p.id(), "Carts")).hasMessageContaining("already");
    profiles.change(
        OWNER,
        copy.id(),
        copy.version(),
        Json.request("{\"name\":\"Carts of the quay\"}", EnrollmentForm.class));
    assertThat(profiles.versions(READER, copy.id(), FIRST).items())
        .extracting(v -> v.content().path("name").asText())
        .containsExactly("Carts of the quay", "Carts");
  }

  @Test
  void aDeletedOneGivesItsNameFreeAndItsDevicesStay() {
    String id = node.join(node.kiosks(1), "AR10-0001");
    EnrollmentProfiles.Shown used = profiles.page(READER, FIRST).items().get(0);
    profiles.delete(OWNER, used.id(), profiles.get(OWNER, used.id()).version());
    assertThat(profiles.page(READER, FIRST).items()).isEmpty();
    assertThatThrownBy(() -> profiles.get(READER, used.id())).hasMessageContaining("no enrollment");
    assertThat(node.pinwright.devices().get(READER, id).device().standing())
        .isEqualTo(Standing.CATCHING_UP);
    assertThat(add("{\"name\":\"Kiosks\"}").id()).isNotEqualTo(used.id());
  }
}
