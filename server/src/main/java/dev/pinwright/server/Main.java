package dev.pinwright.server;

import dev.pinwright.service.work.Settings;
import java.time.Clock;
import java.util.concurrent.CountDownLatch;

/** Starts one node of the service, configured by environment (see {@link Settings}). */
public final class Main {
  private Main() {}

  /** Runs until the process is told to stop; exits with 1 when it cannot start, saying why. */
  public static void main(String[] args) throws InterruptedException {
    try {
      Server server = new Server(Settings.of(System.getenv()), Clock.systemUTC());
      Runtime.getRuntime().addShutdownHook(new Thread(server::close, "stop"));
      server
          .ownerPassword()
          .ifPresent(p -> System.out.println("First sign-in: owner, password " + p));
      System.out.println("Console   http://127.0.0.1:" + server.consolePort());
      System.out.println("Devices   https://127.0.0.1:" + server.devicePort());
      new CountDownLatch(1).await();
    } catch (IllegalStateException | IllegalArgumentException e) {
      System.err.println("Pinwright cannot start. " + e.getMessage());
      System.exit(1);
    }
  }
}
