package dev.pinwright.core.wipe;

import dev.pinwright.core.command.CommandState;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * A wipe of one device. What is known of it is kept as what happened and when; how far it is
 * follows.
 *
 * @param id that of the command that ordered it
 * @param device the name of the device
 * @param kind what it takes
 * @param reason why it was ordered
 * @param actor login of whoever ordered it
 * @param agreedBy login of the second person, where one had to agree
 * @param retire whether the device is retired once it is proved blank
 * @param command how far the command is
 * @param outcome why the command ended as it did; empty where that needs no words
 * @param begunAt when the device said that it begins
 * @param provedAt when it was known to have happened
 * @param proof how that is known
 * @param deniedAt when the device spoke as if nothing had happened, although it said that it begins
 * @param revokedBy login of whoever revoked it
 * @param restoredAt when everything was back after that
 * @param before what the device said it would take, as it told it just before
 * @param after what of it was still there when it was read afterwards
 */
public record Wipe(
    String id,
    String deviceId,
    String device,
    WipeKind kind,
    String reason,
    String actor,
    Optional<String> agreedBy,
    boolean retire,
    CommandState command,
    String outcome,
    Instant askedAt,
    Optional<Instant> deliveredAt,
    Optional<Instant> begunAt,
    Optional<Instant> provedAt,
    Optional<Proof> proof,
    Optional<Instant> deniedAt,
    Optional<Instant> revokedAt,
    Optional<String> revokedBy,
    Optional<Instant> restoredAt,
    List<String> before,
    List<String> after) {

  public Wipe {
    before = List.copyOf(before);
    after = List.copyOf(after);
  }

  /** How far it is. What came last counts. */
  public WipeStage stage() {
    if (restoredAt.isPresent()) {
      return WipeStage.RESTORED;
    }
    if (revokedAt.isPresent()) {
      return WipeStage.REVOKED;
    }
    if (provedAt.isPresent()) {
      return WipeStage.PROVED;
    }
    if (deniedAt.isPresent()) {
      return WipeStage.FAILED;
    }
    if (begunAt.isPresent()) {
      return WipeStage.BEGUN;
    }
    return switch (command) {
      case PLANNED, QUEUED -> WipeStage.ASKED;
      case DELIVERED -> WipeStage.DELIVERED;
      case DONE -> WipeStage.BEGUN;
      case FAILED -> WipeStage.FAILED;
      case EXPIRED -> WipeStage.EXPIRED;
      case CANCELLED -> WipeStage.CANCELLED;
    };
  }

  /** Why it cannot be revoked; empty when it can. */
  public Optional<String> notRevocable() {
    return switch (stage()) {
      case ASKED -> Optional.of("the device does not have it yet: cancel it instead");
      case REVOKED, RESTORED -> Optional.of("it is revoked already");
      case FAILED, CANCELLED, EXPIRED -> Optional.of("nothing was wiped");
      case DELIVERED, BEGUN, PROVED ->
          kind == WipeKind.WORK
              ? Optional.empty()
              : Optional.of("what was erased with the whole device cannot be brought back");
    };
  }

  /** Whether a blank device that shows itself proves it. */
  public boolean provable() {
    WipeStage stage = stage();
    boolean out =
        stage == WipeStage.DELIVERED
            || stage == WipeStage.BEGUN
            || stage == WipeStage.EXPIRED && deliveredAt.isPresent();
    return kind == WipeKind.DEVICE && out;
  }

  /**
   * Whether a device that begins a management session shows that it was not erased.
   *
   * @param says whether it says in this very session that it begins
   */
  public boolean deniedBySession(boolean says) {
    return kind == WipeKind.DEVICE && stage() == WipeStage.BEGUN && !says;
  }

  /** Whether a device is to be left without anything of the organisation's. */
  public boolean keepsEmpty() {
    return stage() == WipeStage.BEGUN || stage() == WipeStage.PROVED;
  }
}
