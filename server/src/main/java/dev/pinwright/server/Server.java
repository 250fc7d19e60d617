package dev.pinwright.server;

import dev.pinwright.protocol.pki.NativeSignatures;
import dev.pinwright.service.Pinwright;
import dev.pinwright.service.work.Settings;
import io.javalin.Javalin;
import java.net.BindException;
import java.time.Clock;
import java.util.Optional;

/** A running node: the service behind its two listeners. */
public final class Server implements AutoCloseable {
  private final Pinwright pinwright;
  private final Javalin devices;
  private final Javalin console;
  private final AssistRelay relay;

  /**
   * Starts.
   *
   * @throws IllegalStateException when the database or a port is not to be had, saying which
   */
  public Server(Settings settings, Clock clock) {
    NativeSignatures.install();
    pinwright = new Pinwright(settings, clock);
    Metrics metrics = new Metrics(pinwright);
    relay = new AssistRelay(pinwright.assists(), pinwright.accounts());
    try {
      devices = start(DeviceListener.create(pinwright, metrics, relay), settings.devicePort());
      console = start(ConsoleListener.create(pinwright, metrics, relay), settings.consolePort());
    } catch (RuntimeException e) {
      relay.close();
      pinwright.close();
      throw e;
    }
  }

  private static Javalin start(Javalin javalin, int port) {
    try {
      return javalin.start();
    } catch (RuntimeException e) {
      for (Throwable t = e; t != null; t = t.getCause()) {
        if (t instanceof BindException) {
          throw new IllegalStateException(
              "Port " + port + " is taken; stop what uses it or choose another.", e);
        }
      }
      throw e;
    }
  }

  public int devicePort() {
    return devices.port();
  }

  public int consolePort() {
    return console.port();
  }

  /** The first owner's password, when this start made the account. */
  public Optional<String> ownerPassword() {
    return pinwright.ownerPassword();
  }

  @Override
  public void close() {
    relay.close();
    console.stop();
    devices.stop();
    pinwright.close();
  }
}
