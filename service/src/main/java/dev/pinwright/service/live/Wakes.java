package dev.pinwright.service.live;

import dev.pinwright.core.session.WakeQueue;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Notices;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.device.DeviceStates;
import dev.pinwright.storage.device.DeviceStates.Waiting;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.stream.Collectors;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Wakes devices that hold a socket open to this node. What to wake is told by notice when a
 * transaction commits, and looked up again every few seconds, so that a lost wake-up only costs
 * time. Wakes are paced, and those of many devices wait for the sessions they lead to; see {@link
 * WakeQueue}.
 */
public final class Wakes implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(Wakes.class);
  private static final String TOPIC = "wake";
  private static final int PER_TICK = 20;
  private static final long TICK_MILLIS = 50;
  private static final long SWEEP_SECONDS = 15;

  private final Database database;
  private final OpenSockets open;
  private volatile PushRelay relay = ids -> {};
  private final Map<String, Socket> sockets = new ConcurrentHashMap<>();
  private final WakeQueue queue = new WakeQueue();
  private final ScheduledExecutorService timer =
      Executors.newScheduledThreadPool(2, r -> Events.daemon(r, "wakes"));

  /** An open socket to a device. */
  public interface Socket {
    /** Sends a notification (package 0). */
    void wake();

    /** Closes the socket. */
    void close();
  }

  public Wakes(Database database, Notices notices) {
    this.database = database;
    open = new OpenSockets(database);
    notices.onNotice(
        (topic, payload) -> {
          if (topic.equals(TOPIC) || topic.equals(Notices.RESUMED)) {
            timer.execute(() -> look(topic.equals(TOPIC) ? payload : "sweep"));
          } else if (topic.equals("drop")) {
            timer.execute(() -> dismiss(payload));
          }
        });
    timer.scheduleWithFixedDelay(this::send, TICK_MILLIS, TICK_MILLIS, TimeUnit.MILLISECONDS);
    timer.scheduleWithFixedDelay(
        () -> {
          try {
            open.beat(Set.copyOf(sockets.keySet()));
          } catch (RuntimeException e) {
            LOG.warn("could not say that this node is up: {}", e.getMessage());
          }
        },
        SWEEP_SECONDS,
        SWEEP_SECONDS,
        TimeUnit.SECONDS);
    timer.scheduleWithFixedDelay(
        () -> look("sweep"), SWEEP_SECONDS, SWEEP_SECONDS, TimeUnit.SECONDS);
  }

  /** Wakes one device when the transaction commits, on whichever node it is connected. */
  public static void device(Tx tx, String deviceId) {
    tx.notice(TOPIC, "device:" + deviceId);
  }

  /** {@link #device} for several. */
  public static void devices(Tx tx, Collection<String> deviceIds) {
    String kind = deviceIds.size() > WakeQueue.FEW ? "among-many:" : "device:";
    tx.notices(TOPIC, deviceIds.stream().map(id -> kind + id).toList());
  }

  /** Wakes every device a change moved. */
  public static void change(Tx tx, String changeId) {
    tx.notice(TOPIC, "change:" + changeId);
  }

  /** Wakes every device of a dispatch. */
  public static void dispatch(Tx tx, String dispatchId) {
    tx.notice(TOPIC, "dispatch:" + dispatchId);
  }

  /**
   * Wakes devices a last time and closes their sockets, wherever they are, when the transaction
   * commits.
   */
  public static void drop(Tx tx, Collection<String> deviceIds) {
    tx.notices("drop", deviceIds);
  }

  /** A device has connected; it is woken at once if something is outstanding. */
  public void connected(String deviceId, Socket socket) {
    Socket before = sockets.put(deviceId, socket);
    if (before != null) {
      before.close();
    }
    timer.execute(
        () -> {
          open.opened(deviceId);
          look("if-needed:" + deviceId);
        });
  }

  /** Hands devices without a socket to the push services from now on. */
  public void through(PushRelay relay) {
    this.relay = relay;
  }

  /** The session of a device is over. */
  public void over(String deviceId) {
    queue.over(deviceId);
  }

  /** A device has gone. */
  public void gone(String deviceId, Socket socket) {
    if (sockets.remove(deviceId, socket) && !timer.isShutdown()) {
      timer.execute(() -> open.closed(deviceId));
    }
  }

  /** Sockets open on this node. */
  public int open() {
    return sockets.size();
  }

  private void dismiss(String deviceId) {
    Socket socket = sockets.remove(deviceId);
    if (socket == null) {
      return; // those that can be woken by push are found with all others, by one statement
    }
    try {
      socket.wake();
    } catch (RuntimeException e) {
      LOG.debug("a last wake-up did not go out: {}", e.getMessage());
    }
    socket.close();
    open.closed(deviceId);
  }

  private void look(String what) {
    try {
      String ref = what.substring(what.indexOf(':') + 1);
      if (what.startsWith("device:")) {
        queue.add(reachable(List.of(ref)));
      } else if (what.startsWith("among-many:")) {
        queue.addAmongMany(reachable(List.of(ref)));
      } else if (what.startsWith("if-needed:")) {
        // when one connects, others often do as well; what was ordered for it goes before
        List<String> needed = reachable(waiting(Waiting.ITSELF, ref));
        if (needed.isEmpty() || waiting(Waiting.ORDERED, ref).isEmpty()) {
          queue.addAmongMany(needed);
        } else {
          queue.add(needed);
        }
      } else if (what.startsWith("change:")) {
        queue.add(reachable(waiting(Waiting.FOR_CHANGE, ref)));
      } else if (what.startsWith("dispatch:")) {
        queue.add(reachable(waiting(Waiting.FOR_DISPATCH, ref)));
      } else {
        queue.addAmongMany(reachable(waiting(Waiting.ANY, "")));
      }
    } catch (RuntimeException e) {
      LOG.warn("could not look whom to wake ({}): {}", what, e.getMessage());
    }
  }

  private List<String> waiting(Waiting which, String ref) {
    return database.call(tx -> new DeviceStates(tx).waiting(which, ref));
  }

  /** Those that hold a socket open to this node; the others are woken by their push service. */
  private List<String> reachable(List<String> deviceIds) {
    Map<Boolean, List<String>> here =
        deviceIds.stream().collect(Collectors.partitioningBy(sockets::containsKey));
    if (!here.get(false).isEmpty()) {
      relay.wake(here.get(false));
    }
    return here.get(true);
  }

  private void send() {
    for (String id : queue.next(PER_TICK, Instant.now())) {
      Socket socket = sockets.get(id);
      if (socket != null) {
        try {
          socket.wake();
        } catch (RuntimeException e) {
          LOG.debug("a wake-up did not go out: {}", e.getMessage());
        }
      } else {
        queue.over(id);
      }
    }
  }

  @Override
  public void close() {
    timer.shutdownNow();
    try {
      open.leave();
    } catch (RuntimeException e) {
      LOG.debug("could not say goodbye", e);
    }
  }
}
