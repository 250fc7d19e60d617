package dev.pinwright.server;

import dev.pinwright.core.screen.Screenshot;
import dev.pinwright.service.Pinwright;
import dev.pinwright.service.work.Problem;
import java.io.IOException;
import org.eclipse.jetty.http.HttpHeader;
import org.eclipse.jetty.http.HttpMethod;
import org.eclipse.jetty.http.HttpStatus;
import org.eclipse.jetty.server.Handler;
import org.eclipse.jetty.server.Request;
import org.eclipse.jetty.server.Response;
import org.eclipse.jetty.server.Server;
import org.eclipse.jetty.util.Callback;

/**
 * What devices hand in by {@code PUT /content/sha256/<hex>}: pictures of their screens, each with a
 * right that came with the command (RFC 6750, 2.1). What is handed in is not to be had at that
 * address.
 */
final class HandedIn extends Handler.Wrapper {
  private static final String DEVICE = HandedIn.class.getName() + ".device";
  private static final String BEARER = "Bearer ";

  private final Pinwright pinwright;
  private final Handler.Singleton pictures;

  HandedIn(Pinwright pinwright, Handler.Singleton next) {
    super(next);
    this.pinwright = pinwright;
    pictures = Bodies.gathered(2L * Screenshot.MOST_BYTES, false);
    pictures
        .getTail()
        .setHandler(
            new Handler.Abstract() {
              @Override
              public boolean handle(Request request, Response response, Callback callback) {
                take(request, response, callback);
                return true;
              }
            });
    pictures.insertHandler(
        new Handler.Wrapper() {
          @Override
          public boolean handle(Request request, Response response, Callback callback)
              throws Exception {
            return !known(request, response, callback) || super.handle(request, response, callback);
          }
        });
    addBean(pictures);
  }

  @Override
  public void setServer(Server server) {
    super.setServer(server);
    pictures.setServer(server);
  }

  @Override
  public boolean handle(Request request, Response response, Callback callback) throws Exception {
    boolean handedIn =
        HttpMethod.PUT.is(request.getMethod())
            && Request.getPathInContext(request).startsWith(Contents.ROOT);
    return handedIn
        ? pictures.handle(request, response, callback)
        : super.handle(request, response, callback);
  }

  /** Whether a device we know sends it; memory is held for pictures of these alone. */
  private boolean known(Request request, Response response, Callback callback) {
    try {
      right(request);
      request.setAttribute(
          DEVICE,
          pinwright.sessions().recognise(Contents.chain(request), Request.getRemoteAddr(request)));
      return true;
    } catch (RuntimeException e) {
      refuse(request, response, e, callback);
      return false;
    }
  }

  private static String right(Request request) {
    String said = request.getHeaders().get(HttpHeader.AUTHORIZATION);
    if (said == null || !said.startsWith(BEARER)) {
      throw new Problem(
          401, "no-right", "Not taken in", "Send the right that came with the command.");
    }
    return said.substring(BEARER.length());
  }

  private void take(Request request, Response response, Callback callback) {
    try {
      String digest = Request.getPathInContext(request).substring(Contents.ROOT.length());
      pinwright
          .screenshots()
          .handIn(
              String.valueOf(request.getAttribute(DEVICE)), digest, right(request), body(request));
      response.setStatus(HttpStatus.CREATED_201);
      callback.succeeded();
    } catch (IOException | RuntimeException e) {
      refuse(request, response, e, callback);
    }
  }

  private static byte[] body(Request request) throws IOException {
    return Bodies.whole(request, Screenshot.MOST_BYTES)
        .orElseThrow(
            () -> new Problem(413, "too-large", "Too large", "A picture has at most 8 MiB."));
  }

  private static void refuse(
      Request request, Response response, Throwable fault, Callback callback) {
    String what = request.getMethod() + " " + Contents.ROOT;
    Problem problem = Problems.of(fault, what);
    if (problem.status() == HttpStatus.UNAUTHORIZED_401) {
      response.getHeaders().put(HttpHeader.WWW_AUTHENTICATE, "Bearer");
    }
    Problems.answer(problem, what, response, callback);
  }
}
