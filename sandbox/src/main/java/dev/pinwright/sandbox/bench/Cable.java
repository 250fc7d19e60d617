package dev.pinwright.sandbox.bench;

import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.json.JsonMapper;
import dev.pinwright.protocol.join.BenchMessages;
import dev.pinwright.protocol.join.JoinLink;
import dev.pinwright.sandbox.device.Agent;
import dev.pinwright.sandbox.device.Fleet;
import dev.pinwright.sandbox.device.Screen;
import dev.pinwright.sandbox.link.HttpLine;
import dev.pinwright.sandbox.link.Network;
import java.io.IOException;
import java.net.URI;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.TimeUnit;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * The cable of a bench. It tells the server what is plugged in where, erases devices if asked,
 * gives them Wi-Fi, and hands them the link they join by.
 */
public final class Cable {
  /** Slots of a rack. */
  public static final int SLOTS = 16;

  private static final ObjectMapper JSON =
      JsonMapper.builder().disable(DeserializationFeature.FAIL_ON_UNKNOWN_PROPERTIES).build();
  private static final long ERASE_MILLIS = 800;
  private static final int TRIES = 8;
  private static final long AGAIN_MILLIS = 1_000;
  private static final long ASK_MILLIS = 2_000;
  private final Fleet fleet;
  private final Network network;
  private final Map<Integer, String> slots = new TreeMap<>();
  private volatile @Nullable JoinLink link;
  private volatile String told = "";
  private final Map<String, Object> backups = new ConcurrentHashMap<>();

  public Cable(Fleet fleet) {
    this.fleet = fleet;
    this.network = fleet.network();
  }

  /** What is in a slot. {@code at}: rack and slot in one, counted from 1. */
  public record Slot(int rack, int slot, String device, String serial, String screen) {}

  /** The cable as it is. {@code told}: what the server said last that was no plain yes. */
  public record Shown(String link, String told, List<Slot> slots) {}

  /**
   * Takes the link of a bench session.
   *
   * @throws IllegalArgumentException saying what is missing in it
   */
  public synchronized void connect(String text) {
    link = JoinLink.parse(text);
    told = "";
    slots.clear();
  }

  /** The cable as it is. */
  public synchronized Shown shown() {
    List<Slot> out = new ArrayList<>();
    slots.forEach(
        (at, id) ->
            fleet
                .find(id)
                .map(Agent::screen)
                .ifPresent(s -> out.add(new Slot(rack(at), slot(at), id, s.serial(), s.screen()))));
    JoinLink l = link;
    return new Shown(l == null ? "" : l.toString(), told, out);
  }

  private static int rack(int at) {
    return (at - 1) / SLOTS + 1;
  }

  private static int slot(int at) {
    return (at - 1) % SLOTS + 1;
  }

  /**
   * Plugs a device into a slot; done when it has asked to be let in.
   *
   * @param rack counted from 1
   * @param slot 1 to 16
   * @throws IllegalStateException without a session, or when the slot is taken
   */
  public CompletableFuture<Void> plug(int rack, int slot, Agent agent) {
    int at = (rack - 1) * SLOTS + slot;
    synchronized (this) {
      if (link == null) {
        throw new IllegalStateException("the cable has no bench session; give it a link");
      }
      if (rack < 1 || slot < 1 || slot > SLOTS) {
        throw new IllegalArgumentException("a rack has slots 1 to " + SLOTS);
      }
      if (slots.putIfAbsent(at, agent.device().id()) != null) {
        throw new IllegalStateException("slot " + slot + " of rack " + rack + " is taken");
      }
    }
    Screen screen = agent.screen();
    return trying(
            () ->
                say(at, screen.serial(), "plugged").thenCompose(order -> prepare(at, agent, order)),
            TRIES)
        .whenComplete((x, e) -> work(at, agent, Optional.empty()))
        .exceptionally(
            e -> {
              told =
                  String.valueOf(e.getCause() == null ? e.getMessage() : e.getCause().getMessage());
              return null;
            });
  }

  /** Does it again after a while, when nobody could be reached. */
  private CompletableFuture<Void> trying(Supplier<CompletableFuture<Void>> work, int tries) {
    return work.get()
        .exceptionallyCompose(
            e -> {
              Throwable cause = e instanceof CompletionException ? e.getCause() : e;
              if (tries <= 1 || !(cause instanceof IOException) || cause instanceof Refused) {
                return CompletableFuture.failedFuture(e);
              }
              return CompletableFuture.completedFuture(null)
                  .thenComposeAsync(
                      x -> trying(work, tries - 1),
                      CompletableFuture.delayedExecutor(
                          AGAIN_MILLIS, TimeUnit.MILLISECONDS, network.thinking()));
            });
  }

  /** The service was reached and said no. */
  private static final class Refused extends IOException {
    private Refused(String why) {
      super(why);
    }
  }

  private CompletableFuture<Void> prepare(int at, Agent agent, BenchMessages.Order order) {
    String serial = agent.screen().serial();
    if (order.leave()) {
      return CompletableFuture.completedFuture(null);
    }
    boolean used = !agent.screen().screen().equals("new");
    CompletableFuture<Void> erased = CompletableFuture.completedFuture(null);
    if (order.erase() || used) {
      erased =
          say(at, serial, "erasing")
              .thenComposeAsync(
                  x -> {
                    agent.erase();
                    return say(at, serial, "erased");
                  },
                  CompletableFuture.delayedExecutor(
                      ERASE_MILLIS, TimeUnit.MILLISECONDS, network.thinking()))
              .thenApply(x -> null);
    }
    JoinLink l = link;
    return erased.thenCompose(
        x -> {
          if (order.wifi() != null) {
            agent.device().joinNetwork(order.wifi().name());
          }
          return trying(() -> taken(agent, String.valueOf(l)), TRIES)
              .thenCompose(
                  y ->
                      agent.screen().screen().equals("offered")
                          ? agent.accept(null)
                          : CompletableFuture.<Void>completedFuture(null));
        });
  }

  /**
   * Asks what is to be done to a device for as long as it is plugged in, does it, and says how that
   * ended; of one that is left alone also whether that is over.
   */
  private void work(int at, Agent agent, Optional<BenchMessages.Ended> ended) {
    network
        .thinking()
        .schedule(
            () -> {
              synchronized (this) {
                if (!agent.device().id().equals(slots.get(at))) {
                  return;
                }
              }
              String serial = agent.screen().serial();
              Map<String, String> facts = agent.device().onCable().facts();
              say(
                      at,
                      new BenchMessages.Word(
                          rack(at), slot(at), serial, "there", facts, ended.orElse(null)))
                  .thenCompose(
                      order ->
                          order.leave()
                              ? say(at, serial, "plugged")
                                  .thenCompose(o -> prepare(at, agent, o))
                                  .thenApply(x -> order)
                              : CompletableFuture.completedFuture(order))
                  .thenCompose(order -> done(agent, order.work()))
                  .whenComplete(
                      (next, e) -> {
                        Throwable cause = e instanceof CompletionException ? e.getCause() : e;
                        if (cause instanceof Refused) {
                          told = String.valueOf(cause.getMessage());
                        }
                        work(at, agent, e == null ? next : ended);
                      });
            },
            ASK_MILLIS,
            TimeUnit.MILLISECONDS);
  }

  private CompletableFuture<Optional<BenchMessages.Ended>> done(
      Agent agent, BenchMessages.@Nullable Work work) {
    if (work == null) {
      return CompletableFuture.completedFuture(Optional.empty());
    }
    return hands(agent, work)
        .exceptionally(e -> Optional.of("the cable could not fetch it"))
        .thenApply(
            why ->
                Optional.of(new BenchMessages.Ended(work.id(), why.isEmpty(), why.orElse(null))));
  }

  /** Does a piece of work; why not, when it cannot be done. */
  private CompletableFuture<Optional<String>> hands(Agent agent, BenchMessages.Work work) {
    Map<String, String> f = work.fields();
    String name = f.getOrDefault("name", "");
    Optional<String> why = Optional.empty();
    switch (work.what()) {
      case "erase" -> agent.erase();
      case "clear-passcode" -> agent.device().onCable().clearPasscode();
      case "rename" -> agent.device().onCable().name(name);
      case "update-os" -> why = agent.device().onCable().putOs(f.getOrDefault("version", ""));
      case "back-up" -> backups.put(name, agent.device().onCable().backUp());
      case "restore" -> {
        Object backup = backups.get(name);
        if (backup == null) {
          why = Optional.of("this cable keeps no " + name);
        } else {
          agent.device().onCable().restoreFrom(backup);
        }
      }
      case "app", "document" -> {
        return putOn(agent, work);
      }
      default -> why = Optional.of("this cable does not know how");
    }
    return CompletableFuture.completedFuture(why);
  }

  private CompletableFuture<Optional<String>> putOn(Agent agent, BenchMessages.Work work) {
    Map<String, String> f = work.fields();
    JoinLink l = link;
    String sha256 = f.getOrDefault("sha256", "");
    if (l == null || sha256.isEmpty()) {
      return CompletableFuture.completedFuture(Optional.of("there is nothing to put on it"));
    }
    HttpLine line =
        new HttpLine(network, network.anonymous(l.fingerprint()), URI.create(f.get("address")));
    return agent
        .fetch(line, sha256)
        .whenComplete((right, e) -> line.close())
        .thenApply(
            right -> {
              if (!right) {
                return Optional.of("what came is not what it should be");
              }
              if (work.what().equals("app")) {
                agent.device().holders(f.get("id"), f.get("name"), f.get("version"));
              } else {
                agent.device().onCable().putDocument(f.getOrDefault("name", "Document"), sha256);
              }
              return Optional.empty();
            });
  }

  private static CompletableFuture<Void> taken(Agent agent, String link) {
    return agent
        .take(link)
        .thenAccept(
            x -> {
              if (agent.screen().problem().equals("unreachable")) {
                throw new CompletionException(new IOException(agent.screen().reason()));
              }
            });
  }

  /** Pulls a device out. */
  public CompletableFuture<Void> unplug(int rack, int slot) {
    int at = (rack - 1) * SLOTS + slot;
    String id;
    synchronized (this) {
      id = slots.remove(at);
    }
    return id == null
        ? CompletableFuture.completedFuture(null)
        : fleet
            .find(id)
            .map(a -> say(at, a.screen().serial(), "unplugged").<Void>thenApply(x -> null))
            .orElseGet(() -> CompletableFuture.completedFuture(null));
  }

  private CompletableFuture<BenchMessages.Order> say(int at, String serial, String stage) {
    return say(at, new BenchMessages.Word(rack(at), slot(at), serial, stage));
  }

  private CompletableFuture<BenchMessages.Order> say(int at, BenchMessages.Word word) {
    JoinLink l = link;
    if (l == null) {
      throw new IllegalStateException("the cable has no bench session; give it a link");
    }
    byte[] body;
    try {
      body = JSON.writeValueAsBytes(word);
    } catch (IOException e) {
      throw new IllegalStateException(e);
    }
    HttpLine line = new HttpLine(network, network.anonymous(l.fingerprint()), URI.create(l.base()));
    return line.send(
            "POST",
            "/join/" + l.code().value() + "/bench",
            Map.of("Content-Type", "application/json"),
            body)
        .whenComplete((r, e) -> line.close())
        .thenApply(
            reply -> {
              try {
                if (reply.status() != 200) {
                  throw new Refused(JSON.readTree(reply.body()).path("detail").asText());
                }
                return JSON.readValue(reply.body(), BenchMessages.Order.class);
              } catch (IOException e) {
                throw new CompletionException(e);
              }
            });
  }
}
