package dev.pinwright.server;

import io.javalin.config.RoutesConfig;
import io.javalin.http.Handler;
import io.javalin.http.HandlerType;
import io.javalin.http.sse.SseClient;
import io.javalin.http.sse.SseHandler;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.function.Consumer;

/**
 * The calls of the API. Each is held to the least role its contract declares before it is handled:
 * this is the one place where that is done for all of them. A call the contract does not know, or
 * one of the contract that nobody handles, keeps the server from starting.
 */
final class Routes {
  private final RoutesConfig routes;
  private final Contract contract;
  private final Set<String> handled = new HashSet<>();

  Routes(RoutesConfig routes, Contract contract) {
    this.routes = routes;
    this.contract = contract;
  }

  void get(String path, Handler handler) {
    add(HandlerType.GET, path, handler);
  }

  void post(String path, Handler handler) {
    add(HandlerType.POST, path, handler);
  }

  void put(String path, Handler handler) {
    add(HandlerType.PUT, path, handler);
  }

  void patch(String path, Handler handler) {
    add(HandlerType.PATCH, path, handler);
  }

  void delete(String path, Handler handler) {
    add(HandlerType.DELETE, path, handler);
  }

  /** A stream of server-sent events. */
  void sse(String path, Consumer<SseClient> client) {
    get(path, new SseHandler(client));
  }

  private void add(HandlerType method, String path, Handler handler) {
    Contract.Operation operation = contract.at(method.name(), path.substring(Calls.ROOT.length()));
    handled.add(operation.id());
    routes.addHttpHandler(
        method,
        path,
        ctx -> {
          operation.least().ifPresent(role -> Calls.caller(ctx).needs(role));
          operation.check(ctx);
          handler.handle(ctx);
        });
  }

  /**
   * Says that all calls were added.
   *
   * @throws IllegalStateException naming calls of the contract that nobody handles
   */
  void complete() {
    List<String> missing = new ArrayList<>();
    contract.operations().forEach(o -> missing.add(o.id()));
    missing.removeAll(handled);
    if (!missing.isEmpty()) {
      throw new IllegalStateException("nobody handles " + String.join(", ", missing));
    }
  }
}
