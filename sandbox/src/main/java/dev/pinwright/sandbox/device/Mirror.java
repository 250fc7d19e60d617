package dev.pinwright.sandbox.device;

import dev.pinwright.core.Sha256;
import dev.pinwright.protocol.dm.Dm;
import dev.pinwright.protocol.rfb.MalformedRfb;
import dev.pinwright.protocol.rfb.RfbServer;
import dev.pinwright.sandbox.link.HttpLine;
import dev.pinwright.sandbox.link.Network;
import dev.pinwright.sandbox.link.ScreenLine;
import io.netty.handler.ssl.SslContext;
import java.net.URI;
import java.util.Map;
import java.util.concurrent.ScheduledFuture;
import java.util.concurrent.TimeUnit;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * Shows a device's screen to whoever asked and was allowed to see it: a picture that is handed in,
 * or live (RFC 6143) until either side ends it. One looks at a time.
 */
final class Mirror {
  private static final long EACH_MILLIS = 200;
  private static final int CREATED = 201;
  private static final int BACKSPACE_KEY = 0xff08;
  private static final int ESCAPE_KEY = 0xff1b;

  private final Network network;
  private final SimulatedDevice device;
  private final Supplier<Screen> screen;
  private final Supplier<SslContext> identity;
  private final Runnable checkIn;
  private @Nullable Live live;

  Mirror(
      Network network,
      SimulatedDevice device,
      Supplier<Screen> screen,
      Supplier<SslContext> identity,
      Runnable checkIn) {
    this.network = network;
    this.device = device;
    this.screen = screen;
    this.identity = identity;
    this.checkIn = checkIn;
  }

  /** Shows it to those who may see it now. */
  void go() {
    for (State.ScreenAsk ask : device.screensToShow()) {
      if (ask.live()) {
        begin(ask);
      } else {
        handIn(ask);
      }
    }
  }

  /** Its holder ends what is seen. */
  void end() {
    Live seen = live();
    if (seen != null) {
      seen.line.close();
    }
  }

  private synchronized @Nullable Live live() {
    return live;
  }

  private void handIn(State.ScreenAsk ask) {
    byte[] png = new Drawing(screen.get(), ask.whole()).png();
    URI to = URI.create(ask.to() + Sha256.hex(png));
    HttpLine line = new HttpLine(network, identity.get(), to);
    Map<String, String> headers =
        Map.of("Content-Type", "image/png", "Authorization", "Bearer " + ask.right());
    line.send("PUT", to.getPath(), headers, png)
        .whenCompleteAsync(
            (reply, failure) -> {
              line.close();
              boolean taken = failure == null && reply.status() == CREATED;
              device.report(
                  taken
                      ? new State.Report(Dm.TYPE_SCREENSHOT, ask.correlator(), to.getPath())
                      : new State.Report(
                          Dm.TYPE_OPERATION, ask.correlator(), "500 The picture was not taken in"));
              checkIn.run();
            },
            network.thinking());
  }

  private synchronized void begin(State.ScreenAsk ask) {
    if (live != null) {
      device.report(
          new State.Report(
              Dm.TYPE_OPERATION, ask.correlator(), "500 Somebody is looking at it already"));
      return;
    }
    live = new Live(ask);
    live.open();
  }

  /** A screen that is seen. */
  private final class Live implements RfbServer.Hands {
    private final State.ScreenAsk ask;
    private final ScreenLine line;
    private final RfbServer server;
    private volatile Drawing drawn;
    private volatile @Nullable ScheduledFuture<?> drawing;
    private boolean came;
    private boolean down;

    Live(State.ScreenAsk ask) {
      this.ask = ask;
      drawn = new Drawing(screen.get(), ask.whole());
      line =
          new ScreenLine(
              network,
              identity.get(),
              URI.create(ask.to()),
              this::opened,
              this::heard,
              () -> network.thinking().execute(this::over));
      server = new RfbServer(screen.get().serial(), drawn.picture(), this, line::send);
    }

    /** Opens it, once all of it is there. */
    void open() {
      line.open();
    }

    private void opened() {
      came = true;
      server.open();
      device.watched(ask);
      drawing =
          network
              .thinking()
              .scheduleWithFixedDelay(this::draw, 0, EACH_MILLIS, TimeUnit.MILLISECONDS);
    }

    private void draw() {
      drawn = new Drawing(screen.get(), ask.whole());
      server.show(drawn.picture());
    }

    private void heard(byte[] bytes) {
      try {
        server.receive(bytes);
      } catch (MalformedRfb e) {
        line.close();
      }
    }

    private void over() {
      synchronized (Mirror.this) {
        if (live != this) {
          return;
        }
        live = null;
      }
      ScheduledFuture<?> repeated = drawing;
      if (repeated != null) {
        repeated.cancel(false);
      }
      server.close();
      device.watched(null);
      device.report(
          came
              ? State.Report.of(ask.correlator(), Dm.OK)
              : new State.Report(
                  Dm.TYPE_OPERATION, ask.correlator(), "500 Nobody was there to look"));
      checkIn.run();
    }

    @Override
    public void pointer(int x, int y, boolean pressed) {
      boolean tap = down && !pressed;
      down = pressed;
      if (tap && ask.taps()) {
        drawn.at(x, y).ifPresent(does -> network.thinking().execute(() -> act(does)));
      }
    }

    @Override
    public void key(int keysym, boolean pressed) {
      if (!pressed || !ask.taps()) {
        return;
      }
      if (keysym == ESCAPE_KEY) {
        network.thinking().execute(() -> act("home"));
      } else if (!drawn.takesText()) {
        return; // there is nothing to type into
      } else if (keysym == BACKSPACE_KEY) {
        device.type(Drawing.BACKSPACE);
      } else if (keysym >= ' ' && keysym <= '~' || keysym >= 0xa0 && keysym <= 0xff) {
        device.type(keysym); // of Latin-1 the keysym is the character
      }
    }

    private void act(String does) {
      switch (does) {
        case "home" -> device.openApp("");
        case "stop" -> device.stopRinging();
        case "read" -> device.readMessages();
        default -> device.openApp(does.replaceFirst("^app:", ""));
      }
    }
  }
}
