package dev.pinwright.acceptance;

import dev.pinwright.client.PinwrightClient;
import dev.pinwright.client.model.SignIn;
import dev.pinwright.sandbox.Outside;
import dev.pinwright.sandbox.device.Agent;
import dev.pinwright.sandbox.device.Fleet;
import dev.pinwright.sandbox.device.Screen;
import dev.pinwright.server.Server;
import dev.pinwright.service.work.Settings;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.TestDatabase;
import java.io.IOException;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.function.Predicate;
import java.util.function.Supplier;
import org.assertj.core.api.Assertions;

/** A whole system on loopback: a database of its own, the service, the sandbox and a client. */
final class Rig implements AutoCloseable {
  static final String PASSWORD = "a long enough password";
  private static final Duration PATIENCE = Duration.ofSeconds(30);

  final String databaseUrl;
  final Path home;
  final int consolePort = freePort();
  final int devicePort = freePort();
  final Fleet fleet;
  final Outside handheld;
  Server server;
  PinwrightClient client;
  String token;

  Rig() {
    databaseUrl = TestDatabase.create();
    try {
      home = Files.createTempDirectory("pinwright-rig");
      server = new Server(settings(consolePort, devicePort), Clock.systemUTC());
      handheld = new Outside(home, 0);
      fleet = handheld.fleet();
      token =
          new PinwrightClient(consoleUrl(), "")
              .access()
              .signIn(new SignIn().login("owner").password(PASSWORD).program(true))
              .getToken();
      client = new PinwrightClient(consoleUrl(), token);
    } catch (Exception e) {
      throw new IllegalStateException(e);
    }
  }

  Settings settings(int console, int device) {
    return new Settings(
        home,
        new Database.Address(
            databaseUrl, TestDatabase.env("USER"), TestDatabase.env("PASSWORD"), 12),
        "127.0.0.1",
        device,
        List.of("127.0.0.1", "localhost"),
        "127.0.0.1",
        console,
        "Vellmar Museums",
        PASSWORD,
        false,
        Duration.ofDays(7));
  }

  static int freePort() {
    try (ServerSocket s = new ServerSocket(0)) {
      return s.getLocalPort();
    } catch (IOException e) {
      throw new IllegalStateException(e);
    }
  }

  String consoleUrl() {
    return "http://127.0.0.1:" + consolePort;
  }

  String deviceUrl() {
    return "https://127.0.0.1:" + devicePort;
  }

  String handheldUrl(Agent agent) {
    return "http://127.0.0.1:" + handheld.port() + "/device.html#" + agent.device().id();
  }

  /** A factory-new device whose holder is us. */
  Agent unpack(String model) {
    return fleet.make(new Fleet.Wish(model, null, null, false, null));
  }

  /** A factory-new device that looks after itself. */
  Agent unpackAutomatic(String model) {
    return fleet.make(new Fleet.Wish(model, null, null, true, 100L));
  }

  /** Joins by a link and waits until it is managed. */
  Agent join(Agent agent, String link) {
    agent.take(link).join();
    agent.accept(null).join();
    eventually(agent::screen, Screen::managed);
    return agent;
  }

  /** The holder goes through the first-run screens. */
  static void firstRun(Agent agent) {
    while (agent.screen().screen().equals("first-run")) {
      agent.device().nextScreen();
    }
  }

  /** Waits until something is so, and returns it; fails with the last value otherwise. */
  static <T> T eventually(Supplier<T> what, Predicate<T> until) {
    long end = System.nanoTime() + PATIENCE.toNanos();
    T last = what.get();
    while (!until.test(last)) {
      if (System.nanoTime() > end) {
        Assertions.fail("waited " + PATIENCE.toSeconds() + " s in vain; last: " + last);
      }
      try {
        Thread.sleep(20);
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt();
        throw new IllegalStateException(e);
      }
      last = what.get();
    }
    return last;
  }

  @Override
  public void close() {
    handheld.close();
    server.close();
  }
}
