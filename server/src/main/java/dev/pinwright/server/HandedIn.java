package dev.pinwright.server;

import dev.pinwright.core.screen.Screenshot;
import dev.pinwright.service.Pinwright;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Problem;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import org.eclipse.jetty.http.HttpHeader;
import org.eclipse.jetty.http.HttpMethod;
import org.eclipse.jetty.http.HttpStatus;
import org.eclipse.jetty.io.Content;
import org.eclipse.jetty.server.Handler;
import org.eclipse.jetty.server.Request;
import org.eclipse.jetty.server.Response;
import org.eclipse.jetty.server.Server;
import org.eclipse.jetty.util.Callback;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * What devices hand in by {@code PUT /content/sha256/<hex>}: pictures of their screens, each with a
 * right that came with the command (RFC 6750, 2.1). What is handed in is not to be had at that
 * address.
 */
final class HandedIn extends Handler.Wrapper {
  private static final Logger LOG = LoggerFactory.getLogger(HandedIn.class);
  private static final String BEARER = "Bearer ";

  private final Pinwright pinwright;
  private final Handler.Singleton pictures;

  HandedIn(Pinwright pinwright, Handler.Singleton next) {
    super(next);
    this.pinwright = pinwright;
    pictures = Bodies.gathered(Screenshot.MOST_BYTES, false);
    pictures.setHandler(
        new Handler.Abstract() {
          @Override
          public boolean handle(Request request, Response response, Callback callback) {
            take(request, response, callback);
            return true;
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

  private void take(Request request, Response response, Callback callback) {
    try {
      String said = request.getHeaders().get(HttpHeader.AUTHORIZATION);
      if (said == null || !said.startsWith(BEARER)) {
        response.getHeaders().put(HttpHeader.WWW_AUTHENTICATE, "Bearer");
        throw new Problem(
            401, "no-right", "Not taken in", "Send the right that came with the command.");
      }
      String device =
          pinwright.sessions().recognise(Contents.chain(request), Request.getRemoteAddr(request));
      String digest = Request.getPathInContext(request).substring(Contents.ROOT.length());
      pinwright
          .screenshots()
          .handIn(device, digest, said.substring(BEARER.length()), body(request));
      response.setStatus(HttpStatus.CREATED_201);
      callback.succeeded();
    } catch (Problem p) {
      refuse(response, p, callback);
    } catch (IOException | RuntimeException e) {
      LOG.warn("a picture cannot be taken in", e);
      refuse(
          response,
          new Problem(503, "busy", "Busy", "The picture cannot be taken in now; send it again."),
          callback);
    }
  }

  private static byte[] body(Request request) throws IOException {
    try (InputStream in = Content.Source.asInputStream(request)) {
      byte[] body = in.readNBytes(Screenshot.MOST_BYTES + 1);
      if (body.length > Screenshot.MOST_BYTES) {
        throw new Problem(413, "too-large", "Too large", "A picture has at most 8 MiB.");
      }
      return body;
    }
  }

  private static void refuse(Response response, Problem problem, Callback callback) {
    response.setStatus(problem.status());
    response.getHeaders().put(HttpHeader.CONTENT_TYPE, "application/problem+json");
    response.write(true, StandardCharsets.UTF_8.encode(Json.write(problem.body())), callback);
  }
}
