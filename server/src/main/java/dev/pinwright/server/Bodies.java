package dev.pinwright.server;

import dev.pinwright.service.work.Problem;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.time.Duration;
import java.util.Locale;
import java.util.Optional;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import org.eclipse.jetty.http.HttpHeader;
import org.eclipse.jetty.io.Content;
import org.eclipse.jetty.io.EndPoint;
import org.eclipse.jetty.server.Handler;
import org.eclipse.jetty.server.Request;
import org.eclipse.jetty.server.Response;
import org.eclipse.jetty.server.Server;
import org.eclipse.jetty.server.handler.EagerContentHandler;
import org.eclipse.jetty.server.handler.EagerContentHandler.RetainedContentLoaderFactory;
import org.eclipse.jetty.util.Callback;
import org.eclipse.jetty.util.thread.Scheduler;

/**
 * Bodies of requests are there before anybody works on them: a request whose body is on its way
 * holds memory and no thread, so that whoever sends slowly stops nobody else.
 */
final class Bodies {
  /** Bytes a second a body has to come in at; the connection of a slower one is closed. */
  private static final long LEAST_RATE = 500;

  /** How long is waited for a body before its rate counts. */
  private static final Duration GRACE = Duration.ofSeconds(5);

  private static final Duration EACH_LOOK = Duration.ofSeconds(1);

  /** How long is waited for all of a body; then the connection is closed. */
  static final Duration LONGEST = Duration.ofSeconds(20);

  /** How long is waited for a sheet or a file, which are read while they come in. */
  private static final Duration LONGEST_STREAM = Duration.ofMinutes(10);

  /** Sheets and files read at once: each holds a worker. */
  private static final int MOST_STREAMS = 6;

  private static final int AROUND_EACH_CHUNK = 64;

  /** Bytes read of a body that was refused; the connection of a longer one is closed. */
  private static final long MOST_HEARD_OUT = 64L << 20;

  private Bodies() {}

  /**
   * What gathers bodies, to be set before all else.
   *
   * @param most bytes gathered of one; what is larger is passed on as far as it came, to be refused
   * @param streams whether sheets and files are passed on as they come in
   */
  static Handler.Singleton gathered(long most, boolean streams) {
    EagerContentHandler gather =
        new EagerContentHandler(new RetainedContentLoaderFactory(most, AROUND_EACH_CHUNK, false));
    return new Paced(streams, streams ? new Streamed(gather) : gather);
  }

  /**
   * The body of a request that was {@link #gathered}; empty where it has more than so many bytes.
   * What is left of it then is read once the request is answered.
   *
   * @param most no more than half of what is gathered, so that a body within it is there whole
   */
  static Optional<byte[]> whole(Request request, int most) throws IOException {
    ByteArrayOutputStream body = new ByteArrayOutputStream();
    for (Content.Chunk chunk = request.read(); chunk != null; chunk = request.read()) {
      if (Content.Chunk.isFailure(chunk)) {
        throw new IOException("the body cannot be read", chunk.getFailure());
      }
      byte[] bytes = new byte[chunk.remaining()];
      chunk.getByteBuffer().get(bytes);
      chunk.release();
      if (body.size() + bytes.length > most) {
        return Optional.empty();
      }
      body.writeBytes(bytes);
      if (chunk.isLast()) {
        return Optional.of(body.toByteArray());
      }
    }
    return Optional.empty(); // there is more than was gathered
  }

  /** Lets nobody be waited for too long. */
  private static final class Paced extends Handler.Wrapper {
    private final boolean streams;

    private Paced(boolean streams, Handler.Singleton next) {
      super(next);
      this.streams = streams;
    }

    @Override
    public boolean handle(Request request, Response response, Callback callback) throws Exception {
      boolean bodiless =
          request.getLength() <= 0 && !request.getHeaders().contains(HttpHeader.TRANSFER_ENCODING);
      if (bodiless) {
        return super.handle(request, response, callback);
      }
      Waited waited = new Waited(request, streams && isStream(request) ? LONGEST_STREAM : LONGEST);
      return super.handle(waited, response, new HeardOut(waited, callback));
    }
  }

  /**
   * Reads what was left of a body once its request is answered. Were the connection let go with
   * some of it unread, whoever still sends would hear of that alone, and not why they were refused.
   */
  private static final class HeardOut extends Callback.Nested {
    private final Waited request;
    private long left = MOST_HEARD_OUT;

    private HeardOut(Waited request, Callback callback) {
      super(callback);
      this.request = request;
    }

    @Override
    public void succeeded() {
      if (request.whole()) {
        super.succeeded();
        return;
      }
      for (Content.Chunk chunk = request.read(); ; chunk = request.read()) {
        if (chunk == null) {
          request.demand(this::succeeded);
          return;
        }
        left -= chunk.remaining();
        chunk.release();
        if (chunk.isLast() || Content.Chunk.isFailure(chunk) || left < 0) {
          super.succeeded();
          return;
        }
      }
    }
  }

  /**
   * A request whose body is waited for: only the time spent waiting counts, so that a service that
   * is busy itself blames nobody.
   */
  private static final class Waited extends Request.Wrapper {
    private final EndPoint connection;
    private final Scheduler clock;
    private final Duration longest;
    private Scheduler.Task look;
    private long bytes;
    private long waited;
    private long waitingSince;
    private boolean waiting;
    private boolean over;
    private boolean whole;

    private Waited(Request request, Duration longest) {
      super(request);
      connection = request.getConnectionMetaData().getConnection().getEndPoint();
      clock = request.getComponents().getScheduler();
      this.longest = longest;
      look(GRACE);
      Request.addCompletionListener(request, x -> over());
    }

    private synchronized void look(Duration after) {
      look = clock.schedule(this::judge, after.toMillis(), TimeUnit.MILLISECONDS);
    }

    private synchronized void over() {
      over = true;
      look.cancel();
    }

    private synchronized void judge() {
      if (over) {
        return;
      }
      long nanos = waited + (waiting ? System.nanoTime() - waitingSince : 0);
      long counted = nanos - GRACE.toNanos();
      if (nanos > longest.toNanos()
          || counted > 0 && bytes < counted * LEAST_RATE / Duration.ofSeconds(1).toNanos()) {
        connection.close();
      } else {
        look(EACH_LOOK);
      }
    }

    private synchronized void awaited() {
      if (waiting) {
        waiting = false;
        waited += System.nanoTime() - waitingSince;
      }
    }

    @Override
    public Content.Chunk read() {
      Content.Chunk chunk = super.read();
      if (chunk != null) {
        arrived(chunk);
      }
      return chunk;
    }

    private synchronized void arrived(Content.Chunk chunk) {
      awaited();
      bytes += chunk.remaining();
      if (chunk.isLast()) {
        whole = true;
        over();
      }
    }

    /** Whether all of it came. */
    private synchronized boolean whole() {
      return whole;
    }

    @Override
    public void demand(Runnable then) {
      synchronized (this) {
        waiting = true;
        waitingSince = System.nanoTime();
      }
      super.demand(
          () -> {
            awaited();
            then.run();
          });
    }
  }

  private static boolean isStream(Request request) {
    String type = request.getHeaders().get(HttpHeader.CONTENT_TYPE);
    String plain = type == null ? "" : type.toLowerCase(Locale.ROOT);
    return plain.startsWith("text/csv")
        || plain.startsWith("application/octet-stream")
        || plain.startsWith(AppCalls.PACKAGE)
        || plain.startsWith(ConfigurationCalls.TYPE);
  }

  /**
   * Passes sheets and files on as they come in, past the gathering: they may be larger than what is
   * gathered. Only so many at once, so that however slowly they come, workers are left for all
   * else.
   */
  private static final class Streamed extends Handler.Wrapper {
    private final Handler.Singleton gather;
    private final Semaphore streams = new Semaphore(MOST_STREAMS);

    private Streamed(Handler.Singleton gather) {
      this.gather = gather;
      installBean(gather);
    }

    @Override
    public void setServer(Server server) {
      super.setServer(server);
      gather.setServer(server);
    }

    @Override
    public void setHandler(Handler handler) {
      super.setHandler(handler);
      gather.setHandler(handler);
    }

    @Override
    public boolean handle(Request request, Response response, Callback callback) throws Exception {
      if (!isStream(request)) {
        return gather.handle(request, response, callback);
      }
      if (!streams.tryAcquire()) {
        Problems.answer(
            new Problem(503, "busy", "Busy", "Others are being read; send this one again soon.")
                .with("retryAfter", 10),
            request.getMethod() + " (a sheet or file)",
            response,
            callback);
        return true;
      }
      Request.addCompletionListener(request, x -> streams.release());
      return super.handle(request, response, callback);
    }
  }
}
