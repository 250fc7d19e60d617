package dev.pinwright.service.session;

import static dev.pinwright.service.Node.READER;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowable;
import static org.awaitility.Awaitility.await;

import dev.pinwright.core.device.DeviceSummary;
import dev.pinwright.core.device.Standing;
import dev.pinwright.protocol.dm.Dm;
import dev.pinwright.protocol.join.JoinMessages.Admission;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.protocol.syncml.Element;
import dev.pinwright.protocol.syncml.Message;
import dev.pinwright.protocol.syncml.SyncMl;
import dev.pinwright.service.Node;
import dev.pinwright.service.UseCasesOn;
import dev.pinwright.service.arrival.Joining;
import dev.pinwright.service.device.Retirement;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import java.security.KeyPair;
import java.security.cert.X509Certificate;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import org.junit.jupiter.api.Test;

/** A device is retired while it is being answered. */
class RetiredMeanwhileTest {
  private static final byte[] HELLO =
      SyncMl.write(
          new Message(
              new Message.Header("1", 1, "https://x/dm", "SERIAL:X", 0),
              List.of(new Element.Alert("1", Dm.ALERT_CLIENT_INITIATED, null, List.of())),
              true));

  @Test
  void aSessionThatWaitedForItsRowDoesNotBringADeviceBack() {
    try (Node node = new Node()) {
      Admission a =
          node.pinwright
              .joining()
              .join(new Joining.Asking(node.kiosks(1), "127.0.0.1"), Node.tablet("AR10-0001"))
              .admission()
              .orElseThrow();
      KeyPair keys = Pki.newKey();
      String issued =
          node.pinwright
              .certificates()
              .enroll(
                  a.est().username(),
                  a.est().password(),
                  Pki.base64(Pki.newRequest(a.commonName(), keys)));
      X509Certificate[] chain = {Pki.readEstCertificates(issued).get(0)};
      node.pinwright.sessions().recognise(chain, "127.0.0.1");
      CompletableFuture<byte[]> answer =
          UseCasesOn.database(node.database(), node.clock)
              .act(
                  Caller.SERVICE,
                  act -> {
                    Retirement.retire(act, List.of(a.device()), "fell off its stand");
                    act.tx().flush();
                    CompletableFuture<byte[]> asked =
                        node.pinwright.sessions().answer(chain, HELLO, "127.0.0.1");
                    await().atMost(Duration.ofSeconds(20)).until(() -> somebodyWaits(node));
                    return asked;
                  });
      assertThat(catchThrowable(answer::join))
          .isInstanceOf(CompletionException.class)
          .cause()
          .isInstanceOfSatisfying(
              Problem.class, p -> assertThat(p.type()).isEqualTo("device-retired"));
      DeviceSummary now = node.pinwright.devices().get(READER, a.device()).device();
      assertThat(now.standing()).isEqualTo(Standing.RETIRED);
      assertThat(now.retired().orElseThrow().letGoAt()).as("it was told").isPresent();
    }
  }

  private static boolean somebodyWaits(Node node) {
    return node.sql(
        tx ->
            tx.any(
                "select 1 from pg_stat_activity where wait_event_type = 'Lock'"
                    + " and datname = current_database()",
                Map.of()));
  }
}
