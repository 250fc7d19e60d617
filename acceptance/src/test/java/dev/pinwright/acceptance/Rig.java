package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.client.PinwrightClient;
import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.NewAccount;
import dev.pinwright.client.model.SignIn;
import dev.pinwright.sandbox.Outside;
import dev.pinwright.sandbox.device.Agent;
import dev.pinwright.sandbox.device.Fleet;
import dev.pinwright.sandbox.device.Screen;
import dev.pinwright.server.Server;
import dev.pinwright.service.work.Settings;
import dev.pinwright.storage.TestDatabase;
import java.io.IOException;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import java.util.function.IntFunction;
import java.util.function.Predicate;
import java.util.function.Supplier;
import java.util.stream.IntStream;
import org.awaitility.Awaitility;

/** A whole system on loopback: a database of its own, the service, the sandbox and a client. */
final class Rig implements AutoCloseable {
  static final String PASSWORD = "a long enough password";
  private static final int AT_ONCE = 40;
  private static final Duration PATIENCE = Duration.ofSeconds(90);

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
      signIn();
    } catch (Exception e) {
      throw new IllegalStateException(e);
    }
  }

  /** Signs the owner in, again where that sign-in was ended. */
  void signIn() throws ApiException {
    token =
        new PinwrightClient(consoleUrl(), "")
            .access()
            .signIn(new SignIn().login("owner").password(PASSWORD).program(true))
            .getToken();
    client = new PinwrightClient(consoleUrl(), token);
  }

  /** A client for somebody else, whose account is made. */
  PinwrightClient another(String login, String role) throws ApiException {
    String password = "first password of " + login;
    client
        .access()
        .addAccount(new NewAccount().login(login).name(login).role(role).password(password));
    String theirs =
        new PinwrightClient(consoleUrl(), "")
            .access()
            .signIn(new SignIn().login(login).password(password).program(true))
            .getToken();
    return new PinwrightClient(consoleUrl(), theirs);
  }

  Settings settings(int console, int device) {
    return new Settings(
        home,
        TestDatabase.address(databaseUrl, 12),
        "127.0.0.1",
        device,
        List.of("127.0.0.1", "localhost"),
        "",
        "127.0.0.1",
        console,
        "Vellmar Museums",
        PASSWORD,
        false,
        Duration.ofDays(7),
        List.of());
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

  /** One that looks after itself, with a version of the OS. */
  Agent unpackAutomatic(String model, String osVersion) {
    return fleet.make(new Fleet.Wish(model, osVersion, null, true, 100L));
  }

  /** Joins by a link and waits until it is managed. */
  Agent join(Agent agent, String link) {
    agent.take(link).join();
    agent.accept(null).join();
    eventually(agent::screen, Screen::managed);
    return agent;
  }

  /** Many tablets join by themselves, some dozens at a time; each by the link of its number. */
  List<Agent> joinMany(int devices, IntFunction<String> link) {
    List<Agent> all = IntStream.range(0, devices).mapToObj(i -> unpackAutomatic("T10")).toList();
    for (int from = 0; from < devices; from += AT_ONCE) {
      CompletableFuture.allOf(
              IntStream.range(from, Math.min(devices, from + AT_ONCE))
                  .mapToObj(
                      i -> all.get(i).take(link.apply(i)).thenCompose(x -> all.get(i).accept(null)))
                  .toArray(CompletableFuture[]::new))
          .join();
    }
    assertThat(all.stream().filter(a -> a.screen().managed())).hasSize(devices);
    return all;
  }

  /** The holder goes through the first-run screens. */
  static void firstRun(Agent agent) {
    while (agent.screen().screen().equals("first-run")) {
      agent.device().nextScreen();
    }
  }

  /** Waits until something is so, and returns it; fails saying what it was last otherwise. */
  static <T> T eventually(Supplier<T> what, Predicate<T> until) {
    return Awaitility.await()
        .atMost(PATIENCE)
        .pollDelay(Duration.ZERO)
        .pollInterval(Duration.ofMillis(20))
        .until(what::get, until);
  }

  @Override
  public void close() {
    handheld.close();
    server.close();
  }
}
