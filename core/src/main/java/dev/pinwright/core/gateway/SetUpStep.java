package dev.pinwright.core.gateway;

import java.util.List;
import java.util.Optional;

/**
 * One step of connecting the outside services.
 *
 * @param key such as {@code push tarn}
 * @param state whether it is done
 * @param detail what is so, or what is missing
 * @param blockedBy keys of the steps that come first and are not done
 * @param blocks what cannot be done as long as it is missing
 * @param link address of its page in the console
 */
public record SetUpStep(
    String key,
    String title,
    State state,
    String detail,
    List<String> blockedBy,
    String blocks,
    String link) {
  /** How far a step is. */
  public enum State {
    DONE,
    /** Works, but somebody has to look after it. */
    ATTENTION,
    MISSING,
    BLOCKED
  }

  public SetUpStep {
    blockedBy = List.copyOf(blockedBy);
  }

  /** A step that is done, needs attention, or is missing; blocked when another comes first. */
  public static SetUpStep of(
      String key,
      String title,
      boolean done,
      Optional<String> attention,
      String detail,
      List<String> first,
      String blocks,
      String link) {
    State state =
        done
            ? attention.isPresent() ? State.ATTENTION : State.DONE
            : first.isEmpty() ? State.MISSING : State.BLOCKED;
    return new SetUpStep(
        key, title, state, attention.orElse(detail), done ? List.of() : first, blocks, link);
  }
}
