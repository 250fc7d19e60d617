package dev.pinwright.server;

import static dev.pinwright.server.Calls.*;

import dev.pinwright.service.Pinwright;
import io.javalin.http.sse.SseClient;

/** The journal and live events. */
final class RecordCalls {
  private final Pinwright pinwright;

  RecordCalls(Pinwright pinwright) {
    this.pinwright = pinwright;
  }

  void install(Routes r) {
    r.get(
        ROOT + "/journal",
        ctx ->
            json(
                ctx,
                pinwright
                    .journal()
                    .page(caller(ctx), query(ctx, "subject"), query(ctx, "q"), page(ctx))));
    r.get(
        ROOT + "/journal/verification", ctx -> json(ctx, pinwright.journal().verify(caller(ctx))));
    r.sse(ROOT + "/events", this::events);
  }

  private void events(SseClient client) {
    known(client.ctx());
    String token = text(client.ctx().attribute(TOKEN));
    client.keepAlive();
    Runnable stop =
        pinwright
            .events()
            .listen(
                topics -> {
                  // a sign-in ends by signing out, or with its account; so does its stream
                  boolean ended = topics.contains("accounts") || topics.contains("everything");
                  if (ended && pinwright.accounts().known(token).isEmpty()) {
                    client.close();
                  } else {
                    client.sendEvent("changed", String.join(",", topics));
                  }
                });
    client.onClose(stop);
    client.sendEvent("changed", "everything");
  }
}
