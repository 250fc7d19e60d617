package dev.pinwright.core.wipe;

import dev.pinwright.core.Words;
import java.util.Optional;
import java.util.stream.Stream;

/** What a wipe takes. */
public enum WipeKind {
  /** Everything: a factory reset. */
  DEVICE("wipe"),
  /** What is the organisation's. */
  WORK("wipe-work");

  private final String command;

  WipeKind(String command) {
    this.command = command;
  }

  /** The command of the catalogue that orders it. */
  public String command() {
    return command;
  }

  /** The kind a command orders; none for a command that wipes nothing. */
  public static Optional<WipeKind> of(String command) {
    return Stream.of(values()).filter(k -> k.command.equals(command)).findFirst();
  }

  @Override
  public String toString() {
    return Words.of(this);
  }
}
