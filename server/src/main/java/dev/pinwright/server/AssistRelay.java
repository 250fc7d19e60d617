package dev.pinwright.server;

import dev.pinwright.core.access.Role;
import dev.pinwright.core.screen.Assist;
import dev.pinwright.service.access.Accounts;
import dev.pinwright.service.screen.Assists;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import io.javalin.http.Context;
import io.javalin.websocket.WsBinaryMessageContext;
import io.javalin.websocket.WsConfig;
import io.javalin.websocket.WsContext;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import org.eclipse.jetty.websocket.api.Callback;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Passes the screens of devices on to those who look at them (RFC 6143 over WebSocket), frame by
 * frame and without reading them. Whoever looks is there first; the device comes to the node they
 * are at. When either side goes it is over. A side that does not take what it is sent is waited for
 * ten seconds.
 */
final class AssistRelay implements AutoCloseable {
  /** Bytes of the largest frame that is passed on. */
  static final int MOST_FRAME = 1024 * 1024;

  private static final Logger LOG = LoggerFactory.getLogger(AssistRelay.class);
  private static final String PAIR = "pinwright.pair";
  private static final int MOST_AT_ONCE = 40;
  private static final long SEND_SECONDS = 10;
  private static final long PING_SECONDS = 30;
  private static final long BEAT_SECONDS = 10;
  private static final long COMES_BACK_SECONDS = 10;
  private static final Duration COMES = Duration.ofSeconds(30);

  private final Assists assists;
  private final Accounts accounts;
  private final Map<String, Pair> pairs = new ConcurrentHashMap<>();
  private final ScheduledExecutorService timer =
      Executors.newScheduledThreadPool(
          1,
          r -> {
            Thread t = new Thread(r, "assists");
            t.setDaemon(true);
            return t;
          });

  AssistRelay(Assists assists, Accounts accounts) {
    this.assists = assists;
    this.accounts = accounts;
    assists.onEnd(id -> timer.execute(() -> close(id)));
    timer.scheduleWithFixedDelay(this::beat, BEAT_SECONDS, BEAT_SECONDS, TimeUnit.SECONDS);
  }

  /** Both ends of one; the device's is missing until it comes. */
  private static final class Pair {
    private final String id;
    private final Caller caller;
    private final String token;
    private volatile @Nullable WsContext watcher;
    private final CompletableFuture<WsContext> device = new CompletableFuture<>();
    private volatile String deviceId = "";
    private volatile @Nullable Instant begun;

    private Pair(String id, Caller caller, String token) {
      this.id = id;
      this.caller = caller;
      this.token = token;
    }
  }

  // ---- whoever looks ---------------------------------------------------------------------------

  /**
   * Somebody who is signed in wants to look.
   *
   * @throws Problem 403 for another's page or assist, 404, 409 when it is over or there are too
   *     many
   */
  void asks(Context ctx) {
    ownPage(ctx);
    Caller caller = Calls.caller(ctx);
    caller.needs(Role.HELPDESK);
    if (pairs.size() >= MOST_AT_ONCE) {
      throw Problem.conflict(
          "too-many", "So many screens are being looked at that another one has to wait.");
    }
    String id = Calls.id(ctx);
    assists.watch(caller, id);
    ctx.attribute(PAIR, new Pair(id, caller, String.valueOf(ctx.<String>attribute(Calls.TOKEN))));
  }

  /** A socket is opened by any page that likes to; what it says of itself is all there is. */
  private static void ownPage(Context ctx) {
    String origin = ctx.header("Origin");
    if (origin != null && !origin.replaceFirst("^https?://", "").equals(ctx.header("Host"))) {
      throw new Problem(
          403, "foreign-page", "Not accepted", "This comes from a page of another address.");
    }
  }

  /** What happens on the socket of whoever looks. */
  void watcher(WsConfig ws) {
    ws.onConnect(
        ctx -> {
          Pair asked = ctx.attribute(PAIR);
          if (asked == null) {
            ctx.closeSession(1008, "not asked for");
            return;
          }
          Pair pair = pairs.computeIfAbsent(asked.id, id -> asked);
          ctx.attribute(PAIR, pair);
          pair.watcher = ctx;
          ctx.enableAutomaticPings(PING_SECONDS, TimeUnit.SECONDS);
        });
    ws.onBinaryMessage(ctx -> passOn(ctx, true));
    ws.onClose(ctx -> left(ctx.attribute(PAIR), ctx));
    ws.onError(ctx -> left(ctx.attribute(PAIR), ctx));
  }

  /** Whoever looked went. Before the screen is there a page may have been loaded anew. */
  private void left(@Nullable Pair pair, WsContext ctx) {
    if (pair == null || !isSame(pair.watcher, ctx)) {
      return;
    }
    pair.watcher = null;
    if (pair.begun != null) {
      over(pair);
    } else {
      timer.schedule(
          () -> {
            if (pair.watcher == null) {
              over(pair);
            }
          },
          COMES_BACK_SECONDS,
          TimeUnit.SECONDS);
    }
  }

  private static boolean isSame(@Nullable WsContext one, WsContext other) {
    return one != null && one.session == other.session;
  }

  private void over(Pair pair) {
    quietly(() -> assists.end(pair.caller, pair.id));
    close(pair.id);
  }

  // ---- the device ------------------------------------------------------------------------------

  /**
   * A device comes with its screen.
   *
   * @throws Problem 404 when it was not asked to, 409 when nobody is here to look
   */
  void comes(Context ctx, String deviceId) {
    String id = Calls.id(ctx);
    Pair pair = pairs.get(id);
    if (pair == null || pair.watcher == null) {
      throw Problem.conflict("over", "Nobody is there to look.");
    }
    assists.begin(deviceId, id);
    pair.deviceId = deviceId;
    pair.begun = Instant.now();
    ctx.attribute(PAIR, pair);
  }

  /** What happens on the socket of a device. */
  void device(WsConfig ws) {
    ws.onConnect(
        ctx -> {
          Pair pair = ctx.attribute(PAIR);
          if (pair == null) {
            ctx.closeSession(1008, "not asked for");
            return;
          }
          pair.device.complete(ctx);
          ctx.enableAutomaticPings(PING_SECONDS, TimeUnit.SECONDS);
        });
    ws.onBinaryMessage(ctx -> passOn(ctx, false));
    ws.onClose(ctx -> gone(ctx.attribute(PAIR)));
    ws.onError(ctx -> gone(ctx.attribute(PAIR)));
  }

  private void gone(@Nullable Pair pair) {
    if (pair != null && pairs.containsKey(pair.id)) {
      quietly(() -> assists.leftByDevice(pair.deviceId, pair.id));
      close(pair.id);
    }
  }

  // ---- both ------------------------------------------------------------------------------------

  private void passOn(WsBinaryMessageContext ctx, boolean toDevice) {
    Pair pair = ctx.attribute(PAIR);
    if (pair == null || pair.begun == null) {
      return; // nothing is said before the screen is there
    }
    WsContext other = null;
    try {
      // the first word of one side may come before the other's socket is known to be open
      other = toDevice ? pair.device.get(SEND_SECONDS, TimeUnit.SECONDS) : pair.watcher;
      if (other != null) {
        Callback.Completable sent = new Callback.Completable();
        other.session.sendBinary(ctx.data(), sent);
        sent.get(SEND_SECONDS, TimeUnit.SECONDS);
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      hangUp(other);
    } catch (ExecutionException | TimeoutException e) {
      hangUp(other);
    }
  }

  private void close(String id) {
    Pair pair = pairs.remove(id);
    if (pair != null) {
      hangUp(pair.device.getNow(null));
      hangUp(pair.watcher);
    }
  }

  private static void hangUp(@Nullable WsContext end) {
    if (end != null) {
      quietly(() -> end.closeSession(1000, "over"));
    }
  }

  /** Says that what is here goes on, and ends what should not. */
  private void beat() {
    quietly(
        () -> {
          Instant now = Instant.now();
          for (Pair pair : List.copyOf(pairs.values())) {
            Instant begun = pair.begun;
            boolean neverCame =
                begun != null && !pair.device.isDone() && begun.plus(COMES).isBefore(now);
            if (begun != null && begun.plus(Assist.LONGEST).isBefore(now)) {
              assists.tooLong(pair.id);
            } else if (neverCame || accounts.known(pair.token).isEmpty()) {
              over(pair);
            }
          }
          if (!pairs.isEmpty()) {
            assists.goOn(List.copyOf(pairs.keySet())).forEach(this::close);
          }
        });
  }

  private static void quietly(Runnable work) {
    try {
      work.run();
    } catch (RuntimeException e) {
      LOG.warn("an assist could not be followed: {}", e.getMessage());
    }
  }

  @Override
  public void close() {
    timer.shutdownNow();
    List.copyOf(pairs.keySet()).forEach(this::close);
  }
}
