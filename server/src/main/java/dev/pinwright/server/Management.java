package dev.pinwright.server;

import dev.pinwright.protocol.syncml.SyncMl;
import dev.pinwright.service.session.DeviceSessions;
import dev.pinwright.service.work.Problem;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.security.cert.X509Certificate;
import java.util.concurrent.CompletableFuture;
import org.eclipse.jetty.http.HttpHeader;
import org.eclipse.jetty.http.HttpMethod;
import org.eclipse.jetty.http.HttpStatus;
import org.eclipse.jetty.server.Handler;
import org.eclipse.jetty.server.Request;
import org.eclipse.jetty.server.Response;
import org.eclipse.jetty.util.Callback;

/**
 * Messages of management sessions, {@code POST /dm}. Most of what devices send is a check-in with
 * nothing to do, so these do not pass through what other calls need: a message is read where it
 * arrives, and its answer written where it is found, without a thread that waits for either.
 */
final class Management extends Handler.Wrapper {
  static final String PATH = "/dm";

  private static final String LISTENER = "device";
  private static final String TYPE = SyncMl.MEDIA_TYPE + "; charset=utf-8";

  private final DeviceSessions sessions;
  private final Metrics metrics;

  Management(DeviceSessions sessions, Metrics metrics) {
    this.sessions = sessions;
    this.metrics = metrics;
  }

  @Override
  public boolean handle(Request request, Response response, Callback callback) throws Exception {
    if (!Request.getPathInContext(request).equals(PATH)) {
      return super.handle(request, response, callback);
    }
    Callback counted =
        Callback.from(
            callback,
            () ->
                metrics.request(
                    LISTENER,
                    PATH,
                    response.getStatus(),
                    System.nanoTime() - request.getBeginNanoTime()));
    try {
      answer(request)
          .whenComplete(
              (answer, fault) -> {
                if (fault == null) {
                  write(response, answer, counted);
                } else {
                  refuse(request, response, fault, counted);
                }
              });
    } catch (IOException | RuntimeException e) {
      refuse(request, response, e, counted);
    }
    return true;
  }

  private CompletableFuture<byte[]> answer(Request request) throws IOException {
    if (!HttpMethod.POST.is(request.getMethod())) {
      throw new Problem(
          405, "method-not-allowed", "Not possible", "Messages of a session are sent by POST.");
    }
    X509Certificate[] chain = Contents.chain(request);
    String address = Request.getRemoteAddr(request);
    byte[] body =
        Bodies.whole(request, SyncMl.MAX_BYTES)
            .orElseThrow(() -> sessions.tooLarge(chain, address));
    String type = request.getHeaders().get(HttpHeader.CONTENT_TYPE);
    if (type == null || !type.startsWith(SyncMl.MEDIA_TYPE)) {
      sessions.recognise(chain, address);
      throw new Problem(415, "wrong-media-type", "Wrong media type", "Send " + TYPE + ".");
    }
    return sessions.answer(chain, body, address);
  }

  private static void write(Response response, byte[] answer, Callback callback) {
    response.setStatus(HttpStatus.OK_200);
    response.getHeaders().put(HttpHeader.CONTENT_TYPE, TYPE);
    response.getHeaders().put(HttpHeader.CONTENT_LENGTH, answer.length);
    response.write(true, ByteBuffer.wrap(answer), callback);
  }

  private static void refuse(
      Request request, Response response, Throwable fault, Callback callback) {
    String what = request.getMethod() + " " + PATH;
    Problem problem = Problems.of(fault, what);
    if (problem.status() == HttpStatus.METHOD_NOT_ALLOWED_405) {
      response.getHeaders().put(HttpHeader.ALLOW, HttpMethod.POST.asString());
    }
    Problems.answer(problem, what, response, callback);
  }
}
