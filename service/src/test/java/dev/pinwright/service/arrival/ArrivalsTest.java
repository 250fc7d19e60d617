package dev.pinwright.service.arrival;

import static dev.pinwright.service.Node.FIRST;
import static dev.pinwright.service.Node.OWNER;
import static dev.pinwright.service.Node.READER;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.core.enrollment.EnrollmentDecision.Refusal;
import dev.pinwright.service.Node;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** The log of attempts to join, and what people do with it. */
class ArrivalsTest {
  private Node node;
  private Arrivals arrivals;

  @BeforeEach
  void start() {
    node = new Node();
    arrivals = node.pinwright.arrivals();
  }

  @AfterEach
  void stop() {
    node.close();
  }

  private void attempt(String code, String serial) {
    try {
      node.pinwright.joining().join(new Joining.Asking(code, "127.0.0.1"), Node.tablet(serial));
    } catch (Problem refused) {
      // on the log
    }
  }

  private List<Arrivals.Shown> listed(String outcome, String words, Instant since) {
    return arrivals.page(READER, new Arrivals.Filter(outcome, words, since), FIRST).items();
  }

  private static List<String> ids(List<Arrivals.Shown> shown) {
    return shown.stream().map(Arrivals.Shown::id).toList();
  }

  @Test
  void theFunnelTellsHowFarTheyCameAndWhyTheyStopped() {
    String open = node.kiosks(2);
    String watched = node.invite("{\"name\":\"Watched\",\"approval\":true}", 5);
    String other = node.invite("{\"name\":\"Fjell\",\"platforms\":[\"fjell\"]}", 5);
    for (int i = 0; i < 4; i++) {
      attempt(open, "AR10-000" + i);
    }
    attempt(watched, "AR10-0010");
    attempt(other, "AR10-0011");
    attempt("0000-0000-0000", "AR10-0012");
    Arrivals.Funnel f = arrivals.funnel(READER, Instant.EPOCH);
    assertThat(List.of(f.asked(), f.letIn(), f.waiting(), f.refused()))
        .containsExactly(7L, 2L, 1L, 4L);
    assertThat(f.refusals())
        .containsEntry("spent-code", 2L)
        .containsEntry("platform-refused", 1L)
        .containsEntry("unknown-code", 1L);
    node.clock.pass(Duration.ofHours(1));
    assertThat(arrivals.funnel(READER, node.clock.instant()).asked()).as("since then").isZero();
  }

  @Test
  void everyRefusalSaysWhatToDoAboutIt() {
    attempt("0000-0000-0000", "AR10-0001");
    assertThat(listed("refused", "", Instant.EPOCH).get(0).advice())
        .hasValue(Refusal.UNKNOWN_CODE.advice());
    for (Refusal r : Refusal.values()) {
      assertThat(r.advice()).as(r.name()).endsWith(".").hasSizeGreaterThan(20);
    }
  }

  @Test
  void arrivalsAreFoundByWordsAndTime() {
    String code = node.kiosks(9);
    attempt(code, "AR10-0001");
    node.clock.pass(Duration.ofDays(1));
    Instant today = node.clock.instant();
    attempt(code, "AR10-0002");
    assertThat(listed("", "0001 kiosks", Instant.EPOCH)).hasSize(1);
    assertThat(listed("", "0001 laptops", Instant.EPOCH)).isEmpty();
    assertThat(listed("", "", today))
        .extracting(Arrivals.Shown::identifier)
        .containsExactly("AR10-0002");
    assertThatThrownBy(() -> listed("lost", "", today)).hasMessageContaining("under-way, waiting");
  }

  @Test
  void theLogIsPagedNewestFirst() {
    String code = node.kiosks(9);
    for (int i = 0; i < 7; i++) {
      attempt(code, "AR10-000" + i);
    }
    List<String> seen = new ArrayList<>();
    String after = "";
    do {
      Page<Arrivals.Shown> page =
          arrivals.page(
              READER, new Arrivals.Filter("", "", Instant.EPOCH), new Page.Request(after, 3));
      page.items().forEach(a -> seen.add(a.identifier()));
      after = page.next().orElse("");
    } while (!after.isEmpty());
    assertThat(seen).hasSize(7).startsWith("AR10-0006").endsWith("AR10-0000");
    List<String> sheet =
        arrivals.sheet(READER, new Arrivals.Filter("", "ar10", Instant.EPOCH)).lines().toList();
    assertThat(sheet).hasSize(8).first().asString().startsWith("began,changed,device,platform");
    assertThat(sheet.get(1)).contains(",tarn,T10,AR10-0006,Kiosks,");
    assertThatThrownBy(() -> arrivals.sheet(READER, new Arrivals.Filter("gone", "", Instant.EPOCH)))
        .hasMessageContaining("under-way, waiting");
  }

  @Test
  void manyAreSettledAtOnceAndOnlyThoseThatWait() {
    String watched = node.invite("{\"name\":\"Watched\",\"approval\":true}", 9);
    for (int i = 0; i < 4; i++) {
      attempt(watched, "AR10-000" + i);
    }
    List<String> all = ids(listed("waiting", "", Instant.EPOCH));
    assertThat(arrivals.settle(OWNER, all.subList(0, 2), true, "")).isEqualTo(2);
    assertThat(arrivals.settle(OWNER, all, false, "not ours"))
        .as("those approved are left")
        .isEqualTo(2);
    assertThat(listed("refused", "", Instant.EPOCH))
        .hasSize(2)
        .allMatch(a -> a.reason().equals("not ours"));
    assertThat(node.join(watched, listed("waiting", "", Instant.EPOCH).get(0).identifier()))
        .isNotEmpty();
    assertThatThrownBy(() -> arrivals.settle(OWNER, List.of(), true, ""))
        .hasMessageContaining("1 to 1000");
    assertThatThrownBy(() -> arrivals.settle(OWNER, Collections.nCopies(1001, "x"), true, ""))
        .hasMessageContaining("1 to 1000");
  }

  @Test
  void whoWasRefusedMayTryAgainWhereThatIsInOurHands() {
    String listed = node.invite("{\"name\":\"Listed\",\"rosterOnly\":true}", 5);
    attempt(listed, "AR10-0001");
    Arrivals.Shown refused = listed("refused", "", Instant.EPOCH).get(0);
    assertThat(refused.refusal()).contains(Refusal.NOT_ON_ROSTER);
    assertThat(arrivals.retry(OWNER, refused.id()).reason()).contains("it may ask again");
    assertThat(node.join(listed, "AR10-0001")).as("it is on the roster now").isNotEmpty();
    assertThatThrownBy(() -> arrivals.retry(OWNER, refused.id()))
        .hasMessageContaining("on the roster already");

    String watched = node.invite("{\"name\":\"Watched\",\"approval\":true}", 5);
    attempt(watched, "AR10-0002");
    Arrivals.Shown waiting = listed("waiting", "", Instant.EPOCH).get(0);
    assertThatThrownBy(() -> arrivals.retry(OWNER, waiting.id()))
        .hasMessageContaining("not refused");
    arrivals.refuse(OWNER, waiting.id(), "not ours");
    attempt(watched, "AR10-0002");
    assertThat(listed("waiting", "", Instant.EPOCH)).as("a refusal holds").isEmpty();
    arrivals.retry(OWNER, waiting.id());
    attempt(watched, "AR10-0002");
    assertThat(listed("waiting", "", Instant.EPOCH)).as("until it is lifted").hasSize(1);

    attempt("0000-0000-0000", "AR10-0003");
    String unknown =
        listed("refused", "0003", Instant.EPOCH).isEmpty()
            ? listed("refused", "", Instant.EPOCH).get(0).id()
            : listed("refused", "0003", Instant.EPOCH).get(0).id();
    assertThatThrownBy(() -> arrivals.retry(OWNER, unknown)).hasMessageContaining("new invitation");
  }
}
