package dev.pinwright.sandbox;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.json.JsonMapper;
import com.fasterxml.jackson.datatype.jdk8.Jdk8Module;
import dev.pinwright.sandbox.device.Agent;
import dev.pinwright.sandbox.device.Fleet;
import dev.pinwright.sandbox.device.Model;
import dev.pinwright.sandbox.device.SimulatedDevice;
import io.javalin.Javalin;
import io.javalin.config.RoutesConfig;
import io.javalin.http.Context;
import io.javalin.http.NotFoundResponse;
import io.javalin.http.sse.SseClient;
import io.javalin.http.staticfiles.Location;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;

/** The hand-held view and the calls it makes; for loopback only. */
public final class SandboxListener implements AutoCloseable {
  private static final ObjectMapper JSON =
      JsonMapper.builder()
          .addModule(new Jdk8Module())
          .disable(DeserializationFeature.FAIL_ON_UNKNOWN_PROPERTIES)
          .defaultPropertyInclusion(
              JsonInclude.Value.construct(
                  JsonInclude.Include.NON_ABSENT, JsonInclude.Include.ALWAYS))
          .build();

  private final Fleet fleet;
  private final Javalin javalin;
  private final Map<SseClient, String> watchers = new ConcurrentHashMap<>();
  private final Set<String> changed = ConcurrentHashMap.newKeySet();

  /** Starts with devices alone; a port of 0 takes any. */
  public SandboxListener(Fleet fleet, int port) {
    this(fleet, port, r -> {});
  }

  /**
   * Starts; a port of 0 takes any.
   *
   * @param more calls of what else there is in this sandbox
   */
  public SandboxListener(Fleet fleet, int port, Consumer<RoutesConfig> more) {
    this.fleet = fleet;
    fleet.onChange(changed::add);
    fleet.network().thinking().scheduleWithFixedDelay(this::tell, 100, 100, TimeUnit.MILLISECONDS);
    javalin =
        Javalin.create(
                config -> {
                  config.startup.showJavalinBanner = false;
                  config.jetty.host = "127.0.0.1";
                  config.jetty.port = port;
                  config.staticFiles.add("/handheld", Location.CLASSPATH);
                  config.routes.exception(
                      IllegalArgumentException.class,
                      (e, ctx) -> ctx.status(400).result(write(Map.of("detail", text(e)))));
                  config.routes.exception(
                      IllegalStateException.class,
                      (e, ctx) -> ctx.status(409).result(write(Map.of("detail", text(e)))));
                  routes(config.routes);
                  more.accept(config.routes);
                })
            .start();
  }

  private static String text(Exception e) {
    return String.valueOf(e.getMessage());
  }

  public int port() {
    return javalin.port();
  }

  private void tell() {
    for (String id : changed) {
      changed.remove(id);
      watchers.forEach(
          (client, watched) -> {
            if (watched.equals(id) || watched.isEmpty()) {
              client.sendEvent("changed", id);
            }
          });
    }
  }

  private record Link(@Nullable String link) {}

  private record Accepting(@Nullable String login, @Nullable String secret) {}

  private record Address(@Nullable String address) {}

  private record Login(@Nullable String login) {}

  private record ExitCode(@Nullable String code) {}

  private record App(@Nullable String app) {}

  private record Holders(@Nullable String id, @Nullable String name, @Nullable String version) {}

  private record Language(@Nullable String language) {}

  private record Saver(boolean on) {}

  private record Sim(String number) {}

  private record Choice(int choice) {}

  private record Fault(@Nullable String fault, boolean on) {}

  private record Board(@Nullable String serial) {}

  private record Typed(@Nullable String passcode) {}

  private record Offline(boolean offline) {}

  private record Tamper(@Nullable String path, @Nullable String value) {}

  private record Paths(@Nullable List<String> paths) {}

  private record Os(@Nullable String version) {}

  private void routes(RoutesConfig r) {
    r.get("/api/models", ctx -> json(ctx, Model.ALL));
    r.get("/api/devices", ctx -> json(ctx, fleet.all().stream().map(Agent::screen).toList()));
    r.post(
        "/api/devices",
        ctx -> {
          ctx.status(201);
          json(ctx, fleet.make(read(ctx, Fleet.Wish.class)).screen());
        });
    r.get("/api/devices/{id}", ctx -> json(ctx, agent(ctx).screen()));
    r.get("/content/{file}", this::content);
    r.delete("/api/devices/{id}", ctx -> fleet.remove(ctx.pathParam("id")));
    r.sse(
        "/api/devices/{id}/events",
        client -> {
          client.keepAlive();
          watchers.put(client, client.ctx().pathParam("id"));
          client.onClose(() -> watchers.remove(client));
          // what changed while it connected; a page counts as loaded once something has come
          client.sendEvent("changed", "");
        });
    act(r, "link", (a, ctx) -> a.take(string(read(ctx, Link.class).link())));
    act(
        r,
        "accept",
        (a, ctx) -> {
          Accepting said = read(ctx, Accepting.class);
          if (said.login() == null) {
            a.accept(said.secret());
          } else {
            a.accept(said.login(), string(said.secret()));
          }
        });
    act(r, "say", (a, ctx) -> after(a, () -> a.device().say(read(ctx, Saver.class).on())));
    act(r, "take", (a, ctx) -> after(a, () -> a.device().take(read(ctx, Choice.class).choice())));
    act(r, "next-screen", (a, ctx) -> a.device().nextScreen());
    act(r, "board", (a, ctx) -> a.device().swapBoard(string(read(ctx, Board.class).serial())));
    act(r, "sim", (a, ctx) -> a.device().swapSim(read(ctx, Sim.class).number()));
    act(r, "garble", (a, ctx) -> a.device().garble(read(ctx, Saver.class).on()));
    act(r, "leave", (a, ctx) -> a.leave());
    act(r, "save-battery", (a, ctx) -> a.saveBattery(read(ctx, Saver.class).on()));
    act(r, "decline", (a, ctx) -> a.decline());
    act(r, "reset", (a, ctx) -> a.reset());
    act(r, "stop-ringing", (a, ctx) -> after(a, () -> a.device().stopRinging()));
    act(r, "read-messages", (a, ctx) -> a.device().readMessages());
    act(r, "switch-on", (a, ctx) -> a.switchOn());
    act(r, "offline", (a, ctx) -> a.offline(read(ctx, Offline.class).offline()));
    act(r, "check-in", (a, ctx) -> a.checkIn(false));
    act(
        r,
        "refuse",
        (a, ctx) -> {
          List<String> paths = read(ctx, Paths.class).paths();
          a.device().refuseAlways(paths == null ? List.of() : paths);
        });
    act(
        r,
        "tamper",
        (a, ctx) -> {
          Tamper t = read(ctx, Tamper.class);
          after(a, () -> a.device().tamper(string(t.path()), string(t.value())));
        });
    act(
        r,
        "meddle",
        (a, ctx) -> {
          Tamper t = read(ctx, Tamper.class);
          after(a, () -> a.device().meddle(string(t.path()), string(t.value())));
        });
    act(
        r,
        "fault",
        (a, ctx) -> {
          Fault f = read(ctx, Fault.class);
          after(a, () -> a.device().fault(string(f.fault()), f.on()));
        });
    act(
        r,
        "os",
        (a, ctx) -> after(a, () -> a.device().updateOs(string(read(ctx, Os.class).version()))));
    r.post(
        "/api/devices/{id}/passcode",
        ctx -> {
          Agent a = agent(ctx);
          List<String> objections =
              a.device().choosePasscode(string(read(ctx, Typed.class).passcode()));
          if (objections.isEmpty()) {
            a.checkIn(false);
          }
          json(ctx, Map.of("objections", objections));
        });
    r.post(
        "/api/devices/{id}/open",
        ctx -> {
          SimulatedDevice device = agent(ctx).device();
          String address = string(read(ctx, Address.class).address());
          json(
              ctx,
              Map.of("objection", device.open(address).orElse(""), "way", device.way(address)));
        });
    r.post(
        "/api/devices/{id}/sign-in",
        ctx ->
            json(
                ctx,
                Map.of(
                    "objection",
                    agent(ctx).signIn(string(read(ctx, Login.class).login())).orElse(""))));
    r.post(
        "/api/devices/{id}/exit-code",
        ctx -> {
          Agent a = agent(ctx);
          String objection =
              a.device().typeExitCode(string(read(ctx, ExitCode.class).code())).orElse("");
          a.checkIn(false);
          json(ctx, Map.of("objection", objection));
        });
    r.post(
        "/api/devices/{id}/app",
        ctx ->
            json(
                ctx,
                Map.of(
                    "objection",
                    agent(ctx).device().openApp(string(read(ctx, App.class).app())).orElse(""))));
    act(
        r,
        "take-away",
        (a, ctx) -> after(a, () -> a.device().takeAway(string(read(ctx, App.class).app()))));
    act(r, "pick", (a, ctx) -> after(a, () -> a.device().pick(string(read(ctx, App.class).app()))));
    act(
        r,
        "holders-app",
        (a, ctx) -> {
          Holders h = read(ctx, Holders.class);
          after(a, () -> a.device().holders(string(h.id()), string(h.name()), string(h.version())));
        });
    act(r, "use", (a, ctx) -> after(a, () -> a.device().use(read(ctx, Saver.class).on())));
    act(
        r,
        "language",
        (a, ctx) -> after(a, () -> a.device().speak(string(read(ctx, Language.class).language()))));
    act(r, "end-watching", (a, ctx) -> a.endWatching());
    act(r, "sign-out", (a, ctx) -> a.signOut());
    act(r, "wake", (a, ctx) -> a.device().wake());
    act(r, "lid", (a, ctx) -> a.lid(read(ctx, Saver.class).on()));
    act(r, "update", (a, ctx) -> a.installUpdate());
    r.post(
        "/api/devices/{id}/unlock",
        ctx -> {
          Agent a = agent(ctx);
          boolean right = a.device().unlock(string(read(ctx, Typed.class).passcode()));
          boolean erased = !right && a.device().erasesItself();
          if (right) {
            a.checkIn(false);
          } else if (erased) {
            a.reset();
          }
          json(ctx, Map.of("unlocked", right, "erased", erased));
        });
  }

  /** A file as the screen of a device shows it. */
  private void content(Context ctx) throws IOException {
    Path file =
        fleet
            .file(ctx.pathParam("file"))
            .orElseThrow(() -> new NotFoundResponse("no device here has fetched this file"));
    byte[] begins;
    try (InputStream in = Files.newInputStream(file)) {
      begins = in.readNBytes(5);
    }
    boolean pdf = new String(begins, StandardCharsets.US_ASCII).equals("%PDF-");
    boolean picture = begins[0] == (byte) 0x89 || begins[0] == (byte) 0xff;
    ctx.contentType(pdf ? "application/pdf" : picture ? "image/*" : "text/plain; charset=utf-8");
    ctx.result(Files.newInputStream(file));
  }

  private interface Act {
    void on(Agent agent, Context ctx);
  }

  private void act(RoutesConfig r, String name, Act act) {
    r.post(
        "/api/devices/{id}/" + name,
        ctx -> {
          Agent a = agent(ctx);
          act.on(a, ctx);
          json(ctx, a.screen());
        });
  }

  private static void after(Agent agent, Runnable change) {
    change.run();
    agent.checkIn(false);
  }

  private Agent agent(Context ctx) {
    return fleet
        .find(ctx.pathParam("id"))
        .orElseThrow(() -> new NotFoundResponse("there is no such device here"));
  }

  private static String string(@Nullable String s) {
    return s == null ? "" : s;
  }

  static <T> T read(Context ctx, Class<T> type) {
    try {
      return JSON.readValue(ctx.body().isBlank() ? "{}" : ctx.body(), type);
    } catch (JsonProcessingException e) {
      throw new IllegalArgumentException("the body is not the JSON expected", e);
    }
  }

  private static String write(Object value) {
    try {
      return JSON.writeValueAsString(value);
    } catch (JsonProcessingException e) {
      throw new IllegalStateException(e);
    }
  }

  static void json(Context ctx, Object value) {
    ctx.result(write(value));
    ctx.contentType("application/json");
  }

  @Override
  public void close() {
    javalin.stop();
  }
}
