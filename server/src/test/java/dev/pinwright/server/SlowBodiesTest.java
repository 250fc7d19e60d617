package dev.pinwright.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.Socket;
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
}
