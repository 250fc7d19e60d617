package dev.pinwright.service.gateway;

import dev.pinwright.protocol.notification.Notification;
import dev.pinwright.protocol.pki.Chains;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.service.live.PushRelay;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.device.ActivityStore;
import dev.pinwright.storage.gateway.PushStore;
import dev.pinwright.storage.row.GatewayRow;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Semaphore;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Wakes devices through the push services of their platforms (RFC 8030): a message a device, kept a
 * day, each later one taking the place of the one before it.
 */
public final class PushServices implements PushRelay {
  private static final Logger LOG = LoggerFactory.getLogger(PushServices.class);
  private static final long TTL_SECONDS = Duration.ofDays(1).toSeconds();
  private static final int IN_FLIGHT = 64;
  private static final int AT_ONCE = 1_000;
  private final Database database;
  private final Vault vault;
  private final Clock clock;
  private final Semaphore inFlight = new Semaphore(IN_FLIGHT);
  private final Map<String, VendorLine> lines = new ConcurrentHashMap<>();

  public PushServices(Database database, Vault vault, Clock clock) {
    this.database = database;
    this.vault = vault;
    this.clock = clock;
  }

  @Override
  public void wake(Collection<String> deviceIds) {
    List<String> ids = new ArrayList<>(deviceIds);
    for (int i = 0; i < ids.size(); i += AT_ONCE) {
      List<String> part = ids.subList(i, Math.min(ids.size(), i + AT_ONCE));
      database.call(tx -> new PushStore(tx).claim(part, clock.instant())).forEach(this::push);
    }
  }

  private void push(PushStore.Due due) {
    byte[] body =
        new Notification(1 + Vault.randomBelow(0xfffe), "pinwright").encode(due.deviceId());
    VendorLine line =
        lines.computeIfAbsent(due.platform() + " " + due.version(), k -> line(due.platform()));
    inFlight.acquireUninterruptibly();
    line.push(
            due.endpoint(),
            Map.of("TTL", Long.toString(TTL_SECONDS), "Urgency", "high", "Topic", "pinwright-wake"),
            body)
        .whenComplete(
            (status, failure) -> {
              inFlight.release();
              try {
                answered(due.deviceId(), due.platform(), status, failure);
              } catch (RuntimeException e) {
                LOG.warn("a push could not be put on file: {}", e.getMessage());
              }
            });
  }

  private VendorLine line(String platform) {
    lines.keySet().removeIf(k -> k.startsWith(platform + " "));
    GatewayRow row = database.call(tx -> tx.find(GatewayRow.class, platform)).orElseThrow();
    return new VendorLine(
        row.services,
        Chains.certificates(row.roots),
        Pki.privateKey(vault.open(row.pushKey)),
        Pki.certificate(row.pushCertificate));
  }

  private void answered(
      String deviceId,
      String platform,
      @org.jspecify.annotations.Nullable Integer status,
      @org.jspecify.annotations.Nullable Throwable failure) {
    if (failure == null && status != null && status == 201) {
      fault(platform, "");
    } else if (status != null && (status == 404 || status == 410)) {
      database.run(
          tx -> {
            if (new PushStore(tx).unsubscribe(deviceId)) {
              new ActivityStore(tx)
                  .add(deviceId, clock.instant(), "push", "It can no longer be woken by push");
            }
          });
    } else {
      fault(
          platform,
          failure != null
              ? "The push service cannot be reached: " + failure.getMessage()
              : "The push service answered " + status);
    }
  }

  private void fault(String platform, String text) {
    database.run(tx -> new PushStore(tx).fault(platform, text));
  }
}
