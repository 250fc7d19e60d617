package dev.pinwright.server;

import org.eclipse.jetty.server.Handler;
import org.eclipse.jetty.server.HttpConfiguration;
import org.eclipse.jetty.server.handler.EagerContentHandler;
import org.eclipse.jetty.server.handler.EagerContentHandler.RetainedContentLoaderFactory;

/**
 * Bodies of requests are there before anybody works on them: a request whose body is on its way
 * holds memory and no thread, so that whoever sends slowly stops nobody else.
 */
final class Bodies {
  /** Bytes a second a body has to come in at, from its first on; slower ones are ended (408). */
  private static final long LEAST_RATE = 500;

  private static final int AROUND_EACH_CHUNK = 64;

  private Bodies() {}

  /**
   * What gathers bodies, to be set before all else.
   *
   * @param most bytes gathered of one; what is larger is passed on as far as it came, to be refused
   */
  static Handler.Singleton gathered(long most) {
    return new EagerContentHandler(
        new RetainedContentLoaderFactory(most, AROUND_EACH_CHUNK, false));
  }

  /** Bounds how slowly a body may come. */
  static void bound(HttpConfiguration http) {
    http.setMinRequestDataRate(LEAST_RATE);
  }
}
