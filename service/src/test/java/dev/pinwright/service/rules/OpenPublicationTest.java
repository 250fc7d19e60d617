package dev.pinwright.service.rules;

import static dev.pinwright.service.Node.OWNER;
import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.core.change.Confirmation;
import dev.pinwright.service.Node;
import dev.pinwright.service.device.Devices;
import dev.pinwright.service.device.Groups;
import dev.pinwright.service.sheet.Sheet;
import dev.pinwright.service.sheet.SheetText;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import org.awaitility.Awaitility;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;

/**
 * Everybody who writes something of a device, while a publication has moved it and has not yet
 * committed: what was published is on the device afterwards, and so is what was written.
 */
@Timeout(30)
class OpenPublicationTest {
  /** The lock of the journal, which a publication writes last. */
  private static final long JOURNAL = 0x4a4f55524e414cL;

  private Node node;
  private String code;
  private String device;

  @BeforeEach
  void start() {
    node = new Node();
    code = node.kiosks(10);
    device = node.join(code, "AR10-0001");
  }

  @AfterEach
  void stop() {
    node.close();
  }

  @FunctionalInterface
  interface Writer {
    void write(Node node, String code, String device);
  }

  static Stream<Arguments> writers() {
    return Stream.of(
        writer(
            "rename", (n, c, d) -> n.pinwright.devices().rename(OWNER, d, n.version(d), "Quay 1")),
        writer(
            "place",
            (n, c, d) ->
                n.pinwright
                    .devices()
                    .place(OWNER, d, n.version(d), new Devices.Placement(null, null, null))),
        writer(
            "tag",
            (n, c, d) ->
                n.pinwright.devices().tag(OWNER, d, n.version(d), List.of("gallery", "quay"))),
        writer(
            "members",
            (n, c, d) -> {
              String group = n.pinwright.groups().add(OWNER, Groups.Draft.picked("Quay")).id();
              n.pinwright.groups().members(OWNER, group, Groups.Members.of(List.of(d), List.of()));
            }),
        writer(
            "sheet",
            (n, c, d) ->
                n.pinwright
                    .deviceSheets()
                    .read(
                        OWNER,
                        new Sheet.Draft(
                            Sheet.read(SheetText.of("identifier,tags\nAR10-0001,gallery;quay")),
                            true,
                            Confirmation.NONE))),
        writer("join again", (n, c, d) -> n.join(c, "AR10-0001")));
  }

  private static Arguments writer(String name, Writer writer) {
    return Arguments.of(name, writer);
  }

  @ParameterizedTest(name = "{0}")
  @MethodSource("writers")
  void whatIsWrittenMeanwhileDoesNotUndoThePublication(String name, Writer writer) {
    Profiles.Detail draft =
        node.draft(
            "{\"name\":\"Gallery\",\"settings\":{\"passcode.min-length\":6},"
                + "\"targets\":[{\"kind\":\"everyone\"}]}");
    CompletableFuture<?>[] going = new CompletableFuture<?>[2];
    node.database()
        .run(
            tx -> {
              tx.advisoryLock(JOURNAL);
              going[0] = CompletableFuture.runAsync(() -> node.publish(draft));
              waitingForTheJournal(1);
              going[1] = CompletableFuture.runAsync(() -> writer.write(node, code, device));
              settle(going[1]);
            });
    CompletableFuture.allOf(going).orTimeout(60, TimeUnit.SECONDS).join();
    assertThat(node.pinwright.devices().settings(OWNER, device).inEffect())
        .as("what the device should have")
        .extracting(Devices.InEffect::setting)
        .containsExactly("passcode.min-length");
  }

  private void waitingForTheJournal(int many) {
    Awaitility.await("the publication has come as far as the journal")
        .atMost(Duration.ofSeconds(60))
        .until(this::waiting, n -> n == many);
  }

  private long waiting() {
    return node.sql(
        tx ->
            tx.value(
                "select count(*) from pg_stat_activity where datname = current_database()"
                    + " and wait_event_type = 'Lock'",
                Long.class,
                Map.of()));
  }

  /** Until the writer waits for somebody, or is done; either way it has read what it reads. */
  private void settle(CompletableFuture<?> writer) {
    Awaitility.await()
        .atMost(Duration.ofSeconds(60))
        .until(() -> waiting() >= 2 || writer.isDone());
  }
}
