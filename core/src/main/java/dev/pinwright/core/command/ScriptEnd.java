package dev.pinwright.core.command;

import dev.pinwright.core.Text;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * How a script ended on a laptop.
 *
 * @param exit its exit code; empty where it was stopped because it took too long
 * @param output the end of what it wrote, at most {@link #MOST_OUTPUT} characters
 */
public record ScriptEnd(Optional<Integer> exit, String output) {
  /** Of what a script wrote, so much of its end is kept. */
  public static final int MOST_OUTPUT = 64 * 1024;

  private static final Pattern SAID = Pattern.compile("(?s)(\\d{1,9}|stopped)(?:\\r?\\n(.*))?");

  /** Reads what a device says: the exit code, or {@code stopped}, then what was written. */
  public static Optional<ScriptEnd> read(String said) {
    Matcher m = SAID.matcher(said);
    if (!m.matches()) {
      return Optional.empty();
    }
    String written = m.group(2) == null ? "" : m.group(2);
    return Optional.of(
        new ScriptEnd(
            m.group(1).equals("stopped")
                ? Optional.empty()
                : Optional.of(Integer.parseInt(m.group(1))),
            Text.cleanedLines(written, MOST_OUTPUT)));
  }

  /** What it means for the command: done where it ended well. */
  public DeviceAnswer answer() {
    if (exit.equals(Optional.of(0))) {
      return new DeviceAnswer(CommandState.DONE, "");
    }
    return new DeviceAnswer(
        CommandState.FAILED,
        exit.map(code -> "the script ended with " + code)
            .orElse("the script took too long and was stopped"));
  }
}
