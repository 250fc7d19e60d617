package dev.pinwright.server;

import java.time.Duration;
import java.util.concurrent.TimeUnit;
import org.eclipse.jetty.io.EndPoint;
import org.eclipse.jetty.server.Handler;
import org.eclipse.jetty.server.HttpConfiguration;
import org.eclipse.jetty.server.Request;
import org.eclipse.jetty.server.Response;
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

  private static final int AROUND_EACH_CHUNK = 64;
  private static final String DEADLINE = "pinwright.body.deadline";

  private Bodies() {}

  /**
   * What gathers bodies, to be set before all else.
   *
   * @param most bytes gathered of one; what is larger is passed on as far as it came, to be refused
   */
  static Handler.Singleton gathered(long most) {
    Deadline deadline = new Deadline();
    EagerContentHandler gather =
        new EagerContentHandler(new RetainedContentLoaderFactory(most, AROUND_EACH_CHUNK, false));
    gather.setHandler(new Arrived());
    deadline.setHandler(gather);
    return deadline;
  }

  /** Bounds how slowly a body may come. */
  static void bound(HttpConfiguration http) {
    http.setMinRequestDataRate(LEAST_RATE);
  }

  /** Closes the connection of a body that is not there in time. */
  private static final class Deadline extends Handler.Wrapper {
    @Override
    public boolean handle(Request request, Response response, Callback callback) throws Exception {
      if (request.getLength() != 0) {
        EndPoint connection = request.getConnectionMetaData().getConnection().getEndPoint();
        Scheduler.Task close =
            request
                .getComponents()
                .getScheduler()
                .schedule(connection::close, LONGEST.toMillis(), TimeUnit.MILLISECONDS);
        request.setAttribute(DEADLINE, close);
      }
      return super.handle(request, response, callback);
    }
  }

  /** The body is there, or as much of it as is taken. */
  private static final class Arrived extends Handler.Wrapper {
    @Override
    public boolean handle(Request request, Response response, Callback callback) throws Exception {
      if (request.getAttribute(DEADLINE) instanceof Scheduler.Task close) {
        close.cancel();
      }
      return super.handle(request, response, callback);
    }
  }
}
