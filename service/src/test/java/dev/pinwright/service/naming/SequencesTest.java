package dev.pinwright.service.naming;

import static dev.pinwright.service.Node.FIRST;
import static dev.pinwright.service.Node.OWNER;
import static dev.pinwright.service.Node.READER;
import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.service.Node;
import dev.pinwright.service.work.Problem;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Running numbers: none doubled, none skipped without being named. */
class SequencesTest {
  private static final int DEVICES = 500;
  private Node node;

  @BeforeEach
  void start() {
    node = new Node();
  }

  @AfterEach
  void stop() {
    node.close();
  }

  private String counting(String more) {
    return node.invite(
        "{\"name\":\"Counted\",\"mode\":\"supervised\",\"namePattern\":\"Kiosk {seq:3}\""
            + more
            + "}",
        DEVICES + 10);
  }

  private String name(String device) {
    return node.pinwright.devices().get(READER, device).device().name();
  }

  private Sequences.Sequence sequence() {
    return node.pinwright.sequences().page(READER, FIRST).items().get(0);
  }

  @Test
  void devicesThatArriveOnTwoNodesAtOnceGetANumberEach() throws Exception {
    String code = counting("");
    ExecutorService threads = Executors.newFixedThreadPool(8);
    try (Node other = node.another()) {
      List<Callable<String>> work = new ArrayList<>();
      for (int i = 0; i < DEVICES; i++) {
        String serial = "AR10-%06d".formatted(i);
        Node at = i % 2 == 0 ? node : other;
        work.add(() -> at.join(code, serial));
      }
      for (Future<String> f : threads.invokeAll(work)) {
        f.get();
      }
    } finally {
      threads.shutdown();
    }
    List<String> names =
        node.sql(
            tx ->
                tx.column(String.class, "select name from device order by name", Map.of()).stream()
                    .toList());
    assertThat(names).hasSize(DEVICES).doesNotHaveDuplicates();
    assertThat(names).contains("Kiosk 001", "Kiosk 099", "Kiosk 500");
    assertThat(sequence())
        .satisfies(
            s -> {
              assertThat(s.last()).isEqualTo(DEVICES);
              assertThat(s.devices()).isEqualTo(DEVICES);
              assertThat(s.missing()).isEmpty();
              assertThat(s.doubled()).isEmpty();
            });
  }

  @Test
  void aNumberOfADeviceThatIsNotLetInAfterAllGoesToTheNext() throws Exception {
    String code = node.invite("{\"name\":\"Counted\",\"namePattern\":\"Kiosk {seq:3}\"}", 3);
    ExecutorService threads = Executors.newFixedThreadPool(8);
    List<Callable<String>> work = new ArrayList<>();
    for (int i = 0; i < 12; i++) {
      String serial = "AR10-%04d".formatted(i);
      work.add(
          () -> {
            try {
              return name(node.join(code, serial));
            } catch (Problem spent) {
              return "";
            }
          });
    }
    List<String> names = new ArrayList<>();
    for (Future<String> f : threads.invokeAll(work)) {
      names.add(f.get());
    }
    threads.shutdown();
    assertThat(names.stream().filter(n -> !n.isEmpty()))
        .containsExactlyInAnyOrder("Kiosk 001", "Kiosk 002", "Kiosk 003");
    assertThat(sequence().last()).isEqualTo(3);
  }

  @Test
  void aMissingNumberIsNamedAndCanBeFilled() {
    String code = counting(",\"fillGaps\":true");
    List<String> devices = new ArrayList<>();
    for (int i = 1; i <= 4; i++) {
      devices.add(node.join(code, "AR10-000" + i));
    }
    node.pinwright.devices().retire(OWNER, devices.get(1), "screen broken");
    assertThat(sequence().missing()).containsExactly("2");
    assertThat(name(node.join(code, "AR10-0005"))).isEqualTo("Kiosk 002");
    assertThat(sequence().missing()).isEmpty();
    assertThat(name(node.join(code, "AR10-0006"))).isEqualTo("Kiosk 005");
  }

  @Test
  void withoutFillingAGapStaysNamedAndWhoComesBackHasItsNumberAgain() {
    String code = counting("");
    node.join(code, "AR10-0001");
    String second = node.join(code, "AR10-0002");
    node.pinwright.devices().retire(OWNER, second, "lent out");
    assertThat(name(node.join(code, "AR10-0003"))).isEqualTo("Kiosk 003");
    assertThat(sequence().missing()).containsExactly("2");
    assertThat(node.join(code, "AR10-0002")).isEqualTo(second);
    assertThat(name(second)).isEqualTo("Kiosk 002");
    assertThat(sequence().missing()).isEmpty();
  }

  @Test
  void whoComesBackToANumberSomebodyElseHasNowIsToldApart() {
    String code = counting(",\"fillGaps\":true");
    String first = node.join(code, "AR10-0001");
    node.pinwright.devices().retire(OWNER, first, "lent out");
    assertThat(name(node.join(code, "AR10-0002"))).isEqualTo("Kiosk 001");
    node.join(code, "AR10-0001");
    assertThat(name(first)).isEqualTo("Kiosk 001 (2)");
  }

  @Test
  void numbersThatAreDoubledAllTheSameAreNamed() {
    String code = counting("");
    node.join(code, "AR10-0001");
    String second = node.join(code, "AR10-0002");
    node.sql("update device set name = 'Kiosk 001' where id = '" + second + "'");
    assertThat(sequence().doubled()).containsExactly(1L);
    assertThat(sequence().missing()).containsExactly("2");
  }

  @Test
  void theSameHoldersSecondDeviceIsToldApart() {
    String code = node.invite("{\"name\":\"By model\",\"namePattern\":\"{model}\"}", 5);
    assertThat(name(node.join(code, "AR10-0001"))).isEqualTo("T10");
    assertThat(name(node.join(code, "AR10-0002"))).isEqualTo("T10 (2)");
    assertThat(name(node.join(code, "AR10-0003"))).isEqualTo("T10 (3)");
  }
}
