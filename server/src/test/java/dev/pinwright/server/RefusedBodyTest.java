package dev.pinwright.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.BufferedReader;
import java.io.InputStreamReader;
import java.io.OutputStream;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** Whoever is refused hears why, however they go on with what they were sending. */
class RefusedBodyTest {
  @Test
  @Timeout(60)
  void aRefusedCallWithoutABodyIsNotWaitedFor() throws Exception {
    try (House house = new House()) {
      for (int i = 0; i < 200; i++) {
        assertThat(house.call("", "GET", "/devices", "").status()).isEqualTo(401);
      }
    }
  }

  @Test
  @Timeout(60)
  void whoeverSendsMoreThanIsTakenIsHeardOutAndAnswered() throws Exception {
    try (House house = new House()) {
      String body = "{\"name\":\"" + "x".repeat(12 * 1024 * 1024) + "\"}";
      assertThat(house.call("", "POST", "/groups", body).status()).isEqualTo(401);
      House.Answer answer = house.call("owner", "POST", "/groups", body);
      assertThat(answer.status()).isEqualTo(413);
      assertThat(answer.json().path("detail").asText()).contains("at most 1024 KiB");
    }
  }

  @Test
  @Timeout(60)
  void aDeviceThatHandsInTooMuchIsHeardOutAndAnswered() throws Exception {
    try (House house = new House()) {
      String body = "x".repeat(9 * 1024 * 1024);
      for (int i = 0; i < 8; i++) {
        assertThat(
                house.device("PUT", "/content/sha256/" + "0".repeat(64), body, Map.of()).status())
            .as("try " + i)
            .isEqualTo(401);
      }
    }
  }

  @Test
  @Timeout(60)
  void whoeverStopsSendingIsLetGo() throws Exception {
    try (House house = new House();
        Socket socket = new Socket("127.0.0.1", house.consolePort)) {
      socket.setSoTimeout(2 * (int) Bodies.LONGEST.toMillis());
      OutputStream out = socket.getOutputStream();
      out.write(
          """
          POST /api/v1/groups HTTP/1.1\r
          Host: 127.0.0.1\r
          Content-Type: application/json\r
          Content-Length: 100000\r
          \r
          {"name":\
          """
              .getBytes(StandardCharsets.US_ASCII));
      out.flush();
      BufferedReader in =
          new BufferedReader(
              new InputStreamReader(socket.getInputStream(), StandardCharsets.UTF_8));
      assertThat(in.readLine()).as("closed").isNull();
    }
  }
}
