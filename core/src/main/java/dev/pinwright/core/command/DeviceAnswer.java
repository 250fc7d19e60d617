package dev.pinwright.core.command;

import dev.pinwright.core.Text;
import java.util.Map;

/**
 * What a device's status code means for a command.
 *
 * @param state the state it leads to
 * @param reason in plain words; empty when done
 */
public record DeviceAnswer(CommandState state, String reason) {
  private static final int MOST_SAID = 200;
  private static final Map<Integer, String> REASONS =
      Map.ofEntries(
          Map.entry(214, "the holder cancelled it"),
          Map.entry(215, "the device did not carry it out"),
          Map.entry(216, "the device rolled it back"),
          Map.entry(400, "the device could not read it"),
          Map.entry(401, "the device did not accept the server's word"),
          Map.entry(404, "the device has no such function"),
          Map.entry(405, "the device does not allow it"),
          Map.entry(406, "the device does not support it"),
          Map.entry(413, "it was too large for the device"),
          Map.entry(415, "the device does not know its format"),
          Map.entry(418, "it was there already"),
          Map.entry(420, "the device is full"),
          Map.entry(425, "the device denied permission"),
          Map.entry(500, "the device failed while carrying it out"),
          Map.entry(507, "the set it belonged to failed"),
          Map.entry(510, "the device's data store failed"),
          Map.entry(516, "the device could not roll back"));

  /** Reads a status code of the representation protocol (OMA SyncML RepPro 1.2, 10). */
  public static DeviceAnswer of(int code) {
    if (code == 202) {
      return new DeviceAnswer(CommandState.DELIVERED, "");
    }
    if (code >= 200 && code <= 212) {
      return new DeviceAnswer(CommandState.DONE, "");
    }
    return new DeviceAnswer(CommandState.FAILED, reason(code));
  }

  /** {@link #of(int)}, with what a device said besides; for a failure that is the reason. */
  public static DeviceAnswer of(int code, String words) {
    DeviceAnswer answer = of(code);
    String said = Text.cleaned(words, MOST_SAID);
    return answer.state() == CommandState.FAILED && !said.isEmpty()
        ? new DeviceAnswer(CommandState.FAILED, "the device said: " + said)
        : answer;
  }

  /** The words for a refusal. */
  public static String reason(int code) {
    return REASONS.getOrDefault(code, "the device answered " + code);
  }
}
