package dev.pinwright.storage.device;

import dev.pinwright.storage.Tx;
import java.util.Map;
import java.util.Optional;

/** What devices were answered in the session they are in, or were in last. */
public final class AnswerStore {
  /** Messages of one session whose answers are kept. */
  private static final int MOST = 64;

  private final Tx tx;

  public AnswerStore(Tx tx) {
    this.tx = tx;
  }

  /**
   * An answer.
   *
   * @param requestHash of the message that was answered
   * @param response sealed
   */
  public record Answered(String requestHash, byte[] response) {}

  /** The answer to one message of a session, if it is among the last 64. */
  public Optional<Answered> find(String deviceId, String sessionId, int msgId) {
    return tx
        .select(
            Answered.class,
            "select request_hash, response from dm_answer"
                + " where device_id = :d and session_id = :s and msg_id = :m",
            Map.of("d", deviceId, "s", sessionId, "m", msgId))
        .stream()
        .findFirst();
  }

  /** Keeps an answer; a session's first lets go of those of the session before. */
  public void keep(String deviceId, String sessionId, int msgId, Answered answered) {
    if (msgId == 1) {
      tx.execute("delete from dm_answer where device_id = :d", Map.of("d", deviceId));
    } else if (msgId > MOST) {
      tx.execute(
          "delete from dm_answer where device_id = :d and msg_id <= :m",
          Map.of("d", deviceId, "m", msgId - MOST));
    }
    tx.execute(
        "insert into dm_answer values (:d, :s, :m, :h, :r)",
        Map.of(
            "d", deviceId,
            "s", sessionId,
            "m", msgId,
            "h", answered.requestHash(),
            "r", answered.response()));
  }
}
