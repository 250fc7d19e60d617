package dev.pinwright.server;

import dev.pinwright.service.work.Settings;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Clock;
import java.util.concurrent.CountDownLatch;

/** Starts one node of the service, configured by environment (see {@link Settings}). */
public final class Main {
  private Main() {}

  /**
   * Tells the password that was made up for the first owner: on a terminal, where it is seen once,
   * or else in a file. What is printed elsewhere ends in logs, and they are read by many.
   */
  private static void tell(Settings settings, String password) {
    if (System.console() != null) {
      System.console().printf("First sign-in: owner, password %s%n", password);
      return;
    }
    Path file = settings.home().resolve("owner.password");
    try {
      Files.deleteIfExists(file);
      Files.createFile(
          file, PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
      Files.writeString(file, password + "\n");
    } catch (IOException e) {
      throw new IllegalStateException(
          "The first owner's password cannot be written to " + file + ".", e);
    }
    System.out.println(
        "First sign-in: owner; the password is in " + file + ". Change it and delete the file.");
  }

  /** Runs until the process is told to stop; exits with 1 when it cannot start, saying why. */
  public static void main(String[] args) throws InterruptedException {
    try {
      Settings settings = Settings.of(System.getenv());
      Server server = new Server(settings, Clock.systemUTC());
      Runtime.getRuntime().addShutdownHook(new Thread(server::close, "stop"));
      if (settings.ownerPassword().isEmpty()) {
        server.ownerPassword().ifPresent(p -> tell(settings, p));
      }
      System.out.println("Console   http://127.0.0.1:" + server.consolePort());
      System.out.println("Devices   https://127.0.0.1:" + server.devicePort());
      new CountDownLatch(1).await();
    } catch (IllegalStateException | IllegalArgumentException e) {
      System.err.println("Pinwright cannot start. " + e.getMessage());
      System.exit(1);
    }
  }
}
