package dev.pinwright.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.Socket;
import java.net.SocketTimeoutException;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** Many who send a body byte by byte, and one who does not. */
class SlowBodiesTest {
  private static final int MANY = 120;
  private static final Duration SOON = Duration.ofSeconds(10);

  private static void begin(Socket socket, String path) throws IOException {
    String head =
        "POST "
            + path
            + " HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: application/json\r\n"
            + "Content-Length: 5000\r\n\r\n{";
    socket.getOutputStream().write(head.getBytes(StandardCharsets.US_ASCII));
    socket.getOutputStream().flush();
  }

  private static void more(List<Socket> slow) {
    for (Socket s : slow) {
      try {
        s.getOutputStream().write(' ');
        s.getOutputStream().flush();
      } catch (IOException ended) {
        // it was ended for being slow, which is right
      }
    }
  }

  @Test
  void theyStopNobodyElse() throws Exception {
    List<Socket> slow = new ArrayList<>();
    try (House house = new House()) {
      for (int i = 0; i < MANY; i++) {
        Socket console = new Socket("127.0.0.1", house.consolePort);
        begin(console, "/api/v1/sign-in");
        slow.add(console);
        Socket device = house.deviceSocket();
        begin(device, "/dm");
        slow.add(device);
      }
      for (int i = 0; i < 5; i++) {
        more(slow);
        long start = System.nanoTime();
        assertThat(house.call("owner", "GET", "/devices", "").status()).isEqualTo(200);
        assertThat(house.device("GET", "/join/0000-0000-0000", "", Map.of()).status())
            .isEqualTo(404);
        assertThat(Duration.ofNanos(System.nanoTime() - start)).isLessThan(SOON);
      }
    } finally {
      for (Socket s : slow) {
        s.close();
      }
    }
  }

  @Test
  void whoPausesShortlyIsHeardOut() throws Exception {
    try (House house = new House();
        Socket socket = new Socket("127.0.0.1", house.consolePort)) {
      String head =
          "POST /api/v1/organisation/people.csv HTTP/1.1\r\nHost: 127.0.0.1\r\n"
              + "Authorization: Bearer "
              + house.signIn("owner", House.PASSWORD)
              + "\r\nConnection: close\r\nContent-Type: text/csv\r\nContent-Length: 5\r\n\r\n";
      socket.getOutputStream().write(head.getBytes(StandardCharsets.US_ASCII));
      Thread.sleep(1_500);
      socket.getOutputStream().write("login".getBytes(StandardCharsets.US_ASCII));
      String answer = new String(socket.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
      assertThat(answer).startsWith("HTTP/1.1 400").contains("A sheet has 1 to 50000 rows");
    }
  }

  @Test
  void whoSendsOneByteASecondIsEnded() throws Exception {
    try (House house = new House();
        Socket socket = new Socket("127.0.0.1", house.consolePort)) {
      begin(socket, "/api/v1/sign-in");
      socket.setSoTimeout(1_000);
      long start = System.nanoTime();
      int heard = 0;
      while (heard >= 0 && System.nanoTime() - start < Duration.ofSeconds(15).toNanos()) {
        more(List.of(socket));
        try {
          heard = socket.getInputStream().read();
        } catch (SocketTimeoutException nothing) {
          heard = 0;
        } catch (IOException ended) {
          heard = -1;
        }
      }
      assertThat(heard).isNegative();
    }
  }
}
