package dev.pinwright.service.gateway;

import dev.pinwright.protocol.notification.Notification;
import dev.pinwright.protocol.pki.Chains;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.service.device.Activity;
import dev.pinwright.service.live.PushRelay;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.storage.Database;
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

  /** One claims a device for ten seconds, so that of several nodes one pushes. */
  private static final String CLAIM =
      """
      update push_subscription s set pushed_at = now()
        from gateway g
       where s.device_id = any(cast(:ids as text[])) and g.platform = s.platform
         and g.push_certificate is not null and g.push_expires_at > :now
         and (s.pushed_at is null or s.pushed_at < now() - interval '10 seconds'
              or exists (select 1 from device_state d where d.device_id = s.device_id
                           and d.last_seen > s.pushed_at))
         and not exists (select 1 from open_socket o where o.device_id = s.device_id)
      returning s.device_id, s.platform, s.endpoint, g.version
      """;

  @Override
  public void wake(Collection<String> deviceIds) {
    List<String> ids = new ArrayList<>(deviceIds);
    for (int i = 0; i < ids.size(); i += AT_ONCE) {
      String[] part = ids.subList(i, Math.min(ids.size(), i + AT_ONCE)).toArray(String[]::new);
      database
          .call(tx -> tx.rows(CLAIM, Map.of("ids", part, "now", clock.instant())))
          .forEach(
              r -> push((String) r[0], (String) r[1], (String) r[2], ((Number) r[3]).intValue()));
    }
  }

  private void push(String deviceId, String platform, String endpoint, int version) {
    byte[] body = new Notification(1 + Vault.randomBelow(0xfffe), "pinwright").encode(deviceId);
    VendorLine line = lines.computeIfAbsent(platform + " " + version, k -> line(platform));
    inFlight.acquireUninterruptibly();
    line.push(
            endpoint,
            Map.of("TTL", Long.toString(TTL_SECONDS), "Urgency", "high", "Topic", "pinwright-wake"),
            body)
        .whenComplete(
            (status, failure) -> {
              inFlight.release();
              try {
                answered(deviceId, platform, status, failure);
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
            if (tx.execute(
                    "delete from push_subscription where device_id = :d", Map.of("d", deviceId))
                > 0) {
              Activity.add(
                  tx, deviceId, clock.instant(), "push", "It can no longer be woken by push");
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
    database.run(
        tx ->
            tx.execute(
                "update gateway set push_fault = :f where platform = :p and push_fault <> :f",
                Map.of("f", text, "p", platform)));
  }
}
