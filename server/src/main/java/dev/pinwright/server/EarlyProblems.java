package dev.pinwright.server;

import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Problem;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import org.eclipse.jetty.http.HttpField;
import org.eclipse.jetty.http.HttpFields;
import org.eclipse.jetty.http.HttpHeader;
import org.eclipse.jetty.io.Content;
import org.eclipse.jetty.server.Request;
import org.eclipse.jetty.server.Response;
import org.eclipse.jetty.server.handler.ErrorHandler;
import org.eclipse.jetty.util.Callback;
import org.jspecify.annotations.Nullable;

/** Problem details (RFC 9457) for requests that the listener refuses before any call sees them. */
final class EarlyProblems extends ErrorHandler {
  @Override
  protected void generateResponse(
      Request request,
      Response response,
      int code,
      String message,
      @Nullable Throwable cause,
      Callback callback) {
    response.getHeaders().put(HttpHeader.CONTENT_TYPE, Problems.TYPE);
    // the listener ends the connection after it, which has to be said (RFC 9112, 9.6)
    response.getHeaders().put(HttpHeader.CONNECTION, "close");
    Content.Sink.write(response, true, body(code, message), callback);
  }

  @Override
  public ByteBuffer badMessageError(int status, String reason, HttpFields.Mutable fields) {
    byte[] body = body(status, reason).getBytes(StandardCharsets.UTF_8);
    fields.put(new HttpField(HttpHeader.CONTENT_TYPE, Problems.TYPE));
    fields.put(HttpHeader.CONTENT_LENGTH, body.length);
    return ByteBuffer.wrap(body);
  }

  private static String body(int status, @Nullable String reason) {
    String why = reason == null || reason.isBlank() ? "it cannot be read" : reason;
    String detail =
        status == 400
            ? "The request is no HTTP that is taken here: " + why + "."
            : "The listener refused the request: " + why + ".";
    return Json.write(
        new Problem(status, status == 400 ? "malformed" : "http-" + status, "Not possible", detail)
            .body());
  }
}
