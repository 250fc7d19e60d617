package dev.pinwright.service.arrival;

import com.github.f4b6a3.ulid.UlidCreator;
import dev.pinwright.core.Words;
import dev.pinwright.core.intake.EnrollmentDecision.Refusal;
import dev.pinwright.core.intake.JoinAttempt;
import dev.pinwright.protocol.join.JoinMessages;
import dev.pinwright.service.bench.BenchOrder;
import dev.pinwright.service.journal.Journal;
import dev.pinwright.service.live.Events;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.ArrivalRow;
import java.time.Clock;
import java.time.Instant;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** Writes down every attempt to join, whatever becomes of it. */
final class ArrivalLog {
  private final Database database;
  private final Journal journal;
  private final Events events;
  private final Clock clock;

  ArrivalLog(Database database, Journal journal, Events events, Clock clock) {
    this.database = database;
    this.journal = journal;
    this.events = events;
    this.clock = clock;
  }

  /** What makes two attempts attempts of the same device. */
  static String key(JoinAttempt attempt) {
    return attempt.identifiers().stream()
        .map(i -> Words.of(i.kind()) + ":" + i.value())
        .sorted()
        .collect(Collectors.joining(","));
  }

  /** Whether somebody refused this device under this enrollment profile. */
  static boolean declined(Tx tx, String profileId, String key) {
    return !tx.list(
            ArrivalRow.class,
            "from ArrivalRow where profileId = :p and deviceKey = :k and step = :s",
            Map.of("p", profileId, "k", key, "s", Arrivals.DECLINED),
            1)
        .isEmpty();
  }

  /** Begins an arrival. */
  static ArrivalRow arrival(
      Tx tx,
      @Nullable WayIn way,
      @Nullable JoinAttempt attempt,
      JoinMessages.@Nullable Device device,
      Instant now) {
    ArrivalRow a = new ArrivalRow();
    a.id = UlidCreator.getMonotonicUlid().toString();
    a.invitationId = way == null ? null : way.invitation().map(i -> i.id).orElse(null);
    a.profileId = way == null ? null : way.profile().id;
    a.deviceKey = attempt == null ? "" : key(attempt);
    a.platform =
        attempt != null ? attempt.platform() : shown(device == null ? null : device.platform());
    a.model = attempt != null ? attempt.model() : shown(device == null ? null : device.model());
    a.identifier = attempt == null ? "" : attempt.identifiers().get(0).value();
    a.step = "asked";
    a.outcome = "under-way";
    a.reason = "";
    a.startedAt = now;
    a.changedAt = now;
    tx.insert(a);
    return a;
  }

  private static String shown(@Nullable String text) {
    String plain = text == null ? "" : text.replaceAll("[^\\p{L}\\p{N} ._-]", "");
    return plain.length() > 40 ? plain.substring(0, 40) : plain;
  }

  /** An attempt that ended with a refusal. */
  void refuse(
      @Nullable WayIn way,
      @Nullable JoinAttempt attempt,
      JoinMessages.@Nullable Device device,
      Refusal refusal,
      String reason) {
    Instant now = clock.instant();
    database.run(
        tx -> {
          ArrivalRow a = arrival(tx, way, attempt, device, now);
          a.outcome = "refused";
          a.step = "refused";
          a.reason = reason;
          a.refusal = Words.of(refusal);
          if (a.invitationId != null) {
            BenchOrder.fared(tx, a.invitationId, a.identifier, "refused", reason, "", now);
          }
          Set<String> words = new HashSet<>(List.of(a.model, a.identifier));
          words.remove("");
          journal.write(
              tx,
              "device:" + (a.identifier.isEmpty() ? "unknown" : a.identifier),
              "arrival.refused",
              "arrival:" + a.id,
              String.join(" ", words.stream().sorted().toList())
                  + (words.isEmpty() ? "" : ": ")
                  + Words.of(refusal)
                  + ", "
                  + reason);
        });
    events.touch("arrivals");
  }
}
