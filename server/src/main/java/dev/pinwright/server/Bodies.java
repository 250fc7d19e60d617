package dev.pinwright.server;

import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Problem;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.Locale;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import org.eclipse.jetty.http.HttpHeader;
import org.eclipse.jetty.http.HttpStatus;
import org.eclipse.jetty.io.EndPoint;
import org.eclipse.jetty.server.Handler;
import org.eclipse.jetty.server.HttpConfiguration;
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
  /** Bytes a second a body has to come in at, from its first on; slower ones are ended (408). */
  private static final long LEAST_RATE = 500;

  /** How long all of a body may take; then the connection is closed. */
  static final Duration LONGEST = Duration.ofSeconds(20);

  /** How long a sheet may take, which is read while it comes in. */
  private static final Duration LONGEST_SHEET = Duration.ofMinutes(10);

  /** Sheets read at once: each holds a worker. */
  private static final int MOST_SHEETS = 6;

  private static final int AROUND_EACH_CHUNK = 64;
  private static final String DEADLINE = "pinwright.body.deadline";
  private static final String STREAMED = "pinwright.body.streamed";

  private Bodies() {}

  /**
   * What gathers bodies, to be set before all else.
   *
   * @param most bytes gathered of one; what is larger is passed on as far as it came, to be refused
   * @param sheets whether sheets are passed on as they come in
   */
  static Handler.Singleton gathered(long most, boolean sheets) {
    Deadline deadline = new Deadline(sheets);
    EagerContentHandler gather =
        new EagerContentHandler(new RetainedContentLoaderFactory(most, AROUND_EACH_CHUNK, false));
    Arrived arrived = new Arrived();
    gather.setHandler(arrived);
    if (sheets) {
      Streamed streamed = new Streamed(gather);
      streamed.setHandler(arrived);
      deadline.setHandler(streamed);
    } else {
      deadline.setHandler(gather);
    }
    return deadline;
  }

  /** Bounds how slowly a body may come. */
  static void bound(HttpConfiguration http) {
    http.setMinRequestDataRate(LEAST_RATE);
  }

  /** Closes the connection of a body that is not there in time. */
  private static final class Deadline extends Handler.Wrapper {
    private final boolean sheets;

    private Deadline(boolean sheets) {
      this.sheets = sheets;
    }

    @Override
    public boolean handle(Request request, Response response, Callback callback) throws Exception {
      if (request.getLength() != 0) {
        EndPoint connection = request.getConnectionMetaData().getConnection().getEndPoint();
        Scheduler.Task close =
            request
                .getComponents()
                .getScheduler()
                .schedule(
                    connection::close,
                    (sheets && isSheet(request) ? LONGEST_SHEET : LONGEST).toMillis(),
                    TimeUnit.MILLISECONDS);
        request.setAttribute(DEADLINE, close);
      }
      return super.handle(request, response, callback);
    }
  }

  private static boolean isSheet(Request request) {
    String type = request.getHeaders().get(HttpHeader.CONTENT_TYPE);
    return type != null && type.toLowerCase(Locale.ROOT).startsWith("text/csv");
  }

  /**
   * Passes sheets on as they come in, past the gathering: they may be larger than what is gathered.
   * Only so many at once, so that however slowly they come, workers are left for all else.
   */
  private static final class Streamed extends Handler.Wrapper {
    private final Handler gather;
    private final Semaphore sheets = new Semaphore(MOST_SHEETS);

    private Streamed(Handler gather) {
      this.gather = gather;
      installBean(gather);
    }

    @Override
    public void setServer(Server server) {
      super.setServer(server);
      gather.setServer(server);
    }

    @Override
    public boolean handle(Request request, Response response, Callback callback) throws Exception {
      if (!isSheet(request)) {
        return gather.handle(request, response, callback);
      }
      if (!sheets.tryAcquire()) {
        response.setStatus(HttpStatus.SERVICE_UNAVAILABLE_503);
        response.getHeaders().put(HttpHeader.RETRY_AFTER, "10");
        response.getHeaders().put(HttpHeader.CONTENT_TYPE, "application/problem+json");
        Problem busy =
            new Problem(
                503, "busy", "Busy", "Other sheets are being read; send this one again soon.");
        response.write(true, StandardCharsets.UTF_8.encode(Json.write(busy.body())), callback);
        return true;
      }
      Request.addCompletionListener(request, x -> sheets.release());
      request.setAttribute(STREAMED, true);
      return super.handle(request, response, callback);
    }
  }

  /** The body is there, or as much of it as is taken. */
  private static final class Arrived extends Handler.Wrapper {
    @Override
    public boolean handle(Request request, Response response, Callback callback) throws Exception {
      if (request.getAttribute(DEADLINE) instanceof Scheduler.Task close) {
        if (request.getAttribute(STREAMED) != null) {
          Request.addCompletionListener(request, x -> close.cancel());
        } else {
          close.cancel();
        }
      }
      return super.handle(request, response, callback);
    }
  }
}
