package dev.pinwright.sandbox.device;

import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.protocol.dm.Dm;
import java.time.Duration;
import java.time.Instant;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** What a device can be told to do at once. Guarded by the device it belongs to. */
final class Operations {
  private static final String OPERATIONS = "./Vendor/Pinwright/Operations/";
  private static final int REMEMBERED = 500;
  private static final long RESTART_MILLIS = 3_000;
  private final Catalog catalog;
  private final Model model;
  private final State state;
  private final KioskBox kiosk;

  Operations(Catalog catalog, Model model, State state, KioskBox kiosk) {
    this.kiosk = kiosk;
    this.catalog = catalog;
    this.model = model;
    this.state = state;
  }

  /** Remembers what was answered, so that it is answered again and nothing runs twice. */
  void remember(@Nullable String correlator, int code) {
    if (correlator != null) {
      state.carriedOut.put(correlator, code);
      if (state.carriedOut.size() > REMEMBERED) {
        state.carriedOut.remove(state.carriedOut.keySet().iterator().next());
      }
    }
  }

  /** Starts an operation; its status code. */
  int start(String uri, Map<String, String> fields, String correlator) {
    String key =
        catalog.commands().stream()
            .filter(c -> c.path().equals(uri))
            .map(c -> c.key())
            .findFirst()
            .orElse("");
    if (!catalog.platform(model.platform()).orElseThrow().commands().contains(key)) {
      return Dm.NOT_SUPPORTED;
    }
    state.runs.merge(key, 1, Integer::sum);
    switch (key) {
      case "lock" -> {
        state.locked = true;
        state.lockText = fields.getOrDefault("text", "");
        state.lockPhone = fields.getOrDefault("phone", "");
        return Dm.OK;
      }
      case "unlock" -> {
        clearLock();
        return Dm.OK;
      }
      case "ring" -> {
        state.ringing = true;
        state.ringText = fields.getOrDefault("text", "");
        state.ringCorrelator = correlator;
        return Dm.ACCEPTED;
      }
      case "clear-passcode" -> {
        state.passcode = null;
        return Dm.OK;
      }
      case "leave-kiosk" -> {
        if (kiosk.asked().isEmpty()) {
          return Dm.NOT_ALLOWED;
        }
        Optional<Duration> time =
            Optional.ofNullable(fields.get("back-after"))
                .map(m -> Duration.ofMinutes(Long.parseLong(m)));
        kiosk.leave(time, Instant.now());
        return Dm.OK;
      }
      case "enter-kiosk" -> {
        if (kiosk.asked().isEmpty()) {
          return Dm.NOT_ALLOWED;
        }
        kiosk.enter();
        return Dm.OK;
      }
      case "restart" -> {
        state.opened = "";
        state.signedIn = null;
        state.restartedUntil = System.currentTimeMillis() + RESTART_MILLIS;
        state.reports.add(new State.Report(correlator, Dm.OK));
        return Dm.ACCEPTED;
      }
      default -> {
        return uri.startsWith(OPERATIONS) ? Dm.NOT_SUPPORTED : Dm.NOT_FOUND;
      }
    }
  }

  /** Takes the lock screen and its text away. */
  void clearLock() {
    state.locked = false;
    state.lockText = "";
    state.lockPhone = "";
  }
}
