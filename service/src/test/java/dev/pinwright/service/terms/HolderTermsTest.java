package dev.pinwright.service.terms;

import static dev.pinwright.service.Node.FIRST;
import static dev.pinwright.service.Node.OWNER;
import static dev.pinwright.service.Node.READER;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.core.device.DeviceSummary;
import dev.pinwright.core.enrollment.EnrollmentForm;
import dev.pinwright.protocol.join.JoinMessages;
import dev.pinwright.service.Node;
import dev.pinwright.service.arrival.Joining;
import dev.pinwright.service.device.DeviceFilter;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Problem;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class HolderTermsTest {
  private static final String TWO =
      """
      {"title":"Using it","text":"Bring it back.",
       "translations":[{"language":"nb","title":"Bruk","text":"Lever den."}]}
      """;
  private Node node;
  private HolderTerms terms;

  @BeforeEach
  void start() {
    node = new Node();
    terms = node.pinwright.terms();
  }

  @AfterEach
  void stop() {
    node.close();
  }

  private HolderTerms.Shown add(String json) {
    return terms.add(OWNER, Json.request(json, HolderTerms.Draft.class));
  }

  private JoinMessages.Terms offered(String code, String... languages) {
    return node.pinwright
        .joining()
        .offer(new Joining.Asking(code, List.of(), "127.0.0.1", List.of(languages)))
        .terms();
  }

  @Test
  void aHolderReadsTheLanguageThatSuitsBest() {
    add(TWO);
    String code = node.invite("{\"name\":\"Staff\",\"termsVersion\":1}", 5);
    assertThat(offered(code, "nb-NO", "en").title()).isEqualTo("Bruk");
    assertThat(offered(code, "fr", "nb").language()).isEqualTo("nb");
    assertThat(offered(code, "fr").title()).as("nobody wrote it in French").isEqualTo("Using it");
    assertThat(offered(code).language()).isEqualTo("en");
  }

  @Test
  void whoAcceptedWhichWhenIsOnFileAndTheNewestCounts() {
    add(TWO);
    String code = node.invite("{\"name\":\"Staff\",\"termsVersion\":1}", 5);
    JoinMessages.Request one = Node.tablet("AR10-0001");
    JoinMessages.Request accepting = new JoinMessages.Request(one.device(), null, 1);
    Joining.Asking asking = new Joining.Asking(code, List.of(), "127.0.0.1", List.of("nb"));
    node.pinwright.joining().join(asking, accepting);
    assertThat(terms.acceptances(READER, 1, FIRST).items())
        .singleElement()
        .satisfies(
            a -> {
              assertThat(a.language()).isEqualTo("nb");
              assertThat(a.acceptedAt()).isEqualTo(node.clock.instant());
            });
    assertThat(terms.all(READER).get(0).accepted()).isEqualTo(1);

    add("{\"title\":\"Using it, anew\",\"text\":\"And charge it.\"}");
    var profile = node.pinwright.enrollmentProfiles().page(READER, FIRST).items().get(0);
    node.pinwright
        .enrollmentProfiles()
        .change(
            OWNER,
            profile.id(),
            profile.version(),
            Json.request("{\"name\":\"Staff\",\"termsVersion\":2}", EnrollmentForm.class));
    assertThatThrownBy(() -> node.pinwright.joining().join(asking, accepting))
        .as("the new version is required of who comes back")
        .isInstanceOfSatisfying(
            Problem.class, p -> assertThat(p.type()).isEqualTo("terms-required"));
    node.pinwright.joining().join(asking, new JoinMessages.Request(one.device(), null, 2));
    assertThat(terms.all(READER)).extracting(HolderTerms.Shown::accepted).containsExactly(1L, 0L);
    assertThat(terms.sheet(READER, 2).lines().toList())
        .hasSize(2)
        .first()
        .isEqualTo("device,person,version,language,accepted");
  }

  @Test
  void whoHasNotAcceptedIsFound() {
    String before = node.join(node.kiosks(1), "AR10-0001");
    add(TWO);
    assertThat(owing(1)).as("nobody asked it for terms").isEmpty();
    var kiosks = node.pinwright.enrollmentProfiles().page(READER, FIRST).items().get(0);
    node.pinwright
        .enrollmentProfiles()
        .change(
            OWNER,
            kiosks.id(),
            kiosks.version(),
            Json.request("{\"name\":\"Kiosks\",\"termsVersion\":1}", EnrollmentForm.class));
    assertThat(owing(1)).as("since the terms are asked for").containsExactly(before);
    node.sql(
        "insert into terms_acceptance (version, device_id, language, accepted_at)"
            + " select 1, id, 'en', now() from device");
    assertThat(owing(1)).isEmpty();
    add("{\"title\":\"Using it, anew\",\"text\":\"And charge it.\"}");
    assertThat(owing(2)).containsExactly(before);
    assertThatThrownBy(() -> owing(3)).hasMessageContaining("no version 3 of the terms");
  }

  private List<String> owing(int version) {
    DeviceFilter filter =
        new DeviceFilter("", "", "", "", "", "", "", "", "", "", "", List.of(), "", version, false);
    return node.pinwright.deviceList().page(READER, filter, "name", FIRST).items().stream()
        .map(DeviceSummary::id)
        .toList();
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '`',
      value = {
        "{}|need a title",
        "{\"title\":\"T\"}|need a text",
        "{\"title\":\"T\",\"text\":\"x\",\"language\":\"xx\"}|do not speak 'xx'; they speak en",
        "{\"title\":\"T\",\"text\":\"x\",\"translations\":[{\"language\":\"en\",\"title\":\"T\",\"text\":\"x\"}]}|twice",
        "{\"title\":\"T\",\"text\":\"x\",\"translations\":[{\"language\":\"nb\",\"title\":\"\",\"text\":\"x\"}]}|need a title"
      })
  void whatCannotBeIsNamed(String json, String words) {
    assertThatThrownBy(() -> add(json)).hasMessageContaining(words);
    assertThat(terms.all(READER)).isEmpty();
  }
}
