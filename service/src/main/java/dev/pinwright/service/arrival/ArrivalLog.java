package dev.pinwright.service.arrival;

import com.github.f4b6a3.ulid.UlidCreator;
import dev.pinwright.core.Words;
import dev.pinwright.core.device.Identifier;
import dev.pinwright.core.enrollment.EnrollmentDecision.Refusal;
import dev.pinwright.core.enrollment.Identifiers;
import dev.pinwright.core.enrollment.JoinAttempt;
import dev.pinwright.protocol.join.JoinMessages;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.bench.BenchStore;
import dev.pinwright.storage.row.ArrivalRow;
import java.time.Instant;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** Writes down every attempt to join, whatever becomes of it. */
final class ArrivalLog {
  private final UseCases useCases;

  ArrivalLog(UseCases useCases) {
    this.useCases = useCases;
  }

  /** What makes two attempts attempts of the same device. */
  static String key(JoinAttempt attempt) {
    return attempt.identifiers().stream()
        .map(i -> Words.of(i.kind()) + ":" + i.value())
        .sorted()
        .collect(Collectors.joining(","));
  }

  /** The identifiers a {@link #key} was made of. */
  static Identifiers identifiers(String key) {
    return Identifiers.of(
        Stream.of(key.split(","))
            .filter(part -> part.indexOf(':') > 0)
            .map(part -> part.split(":", 2))
            .map(part -> new Identifier(Words.parse(Identifier.Kind.class, part[0]), part[1]))
            .toList());
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
    String told = attempt == null ? "" : attempt.identifiers().get(0).value();
    useCases.run(
        Caller.ofDevice(told.isEmpty() ? "unknown" : told),
        act -> {
          ArrivalRow a = arrival(act.tx(), way, attempt, device, act.now());
          a.outcome = "refused";
          a.step = "refused";
          a.reason = reason;
          a.refusal = Words.of(refusal);
          if (a.invitationId != null) {
            new BenchStore(act.tx())
                .fared(a.invitationId, a.identifier, "refused", reason, null, act.now());
          }
          Set<String> words = new HashSet<>(List.of(a.model, a.identifier));
          words.remove("");
          act.done(
              Noun.ARRIVAL,
              "refused",
              a.id,
              String.join(" ", words.stream().sorted().toList())
                  + (words.isEmpty() ? "" : ": ")
                  + Words.of(refusal)
                  + ", "
                  + reason);
        });
  }
}
