package dev.pinwright.sandbox.device;

import dev.pinwright.protocol.dm.Processes.Process;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** What runs on a laptop, and what a script does there: as much as is needed to see it. */
final class Laptop {
  private static final List<String> SYSTEM =
      List.of("init", "network", "audio", "window-manager", "updates", "indexer", "backup");
  private static final long FIRST = 400;
  private static final long STEP = 37;
  private static final Pattern LINE = Pattern.compile("(?s)\\s*(\\S+)\\s*(.*?)\\s*");

  private Laptop() {}

  /** How a script ends: after how long, its exit code, and what it wrote. */
  record Run(long seconds, int exit, String output) {}

  /** What runs on it. */
  static List<Process> processes(State state) {
    List<Process> out = new ArrayList<>();
    int h = Math.floorMod(state.serial.hashCode(), 97);
    long number = FIRST;
    for (String name : SYSTEM) {
      out.add(
          new Process(number, name, "system", (h + number) % 7 / 10.0, 12 + (h + number * 3) % 61));
      number += STEP;
    }
    String owner = state.signedIn == null ? "holder" : state.signedIn;
    for (State.App app : state.apps.values()) {
      boolean open = state.opened.equals(app.id());
      out.add(new Process(number, app.name(), owner, open ? 14.5 : 0.8, 180 + h));
      number += STEP;
    }
    out.removeIf(p -> state.endedProcesses.contains(p.number()));
    return out;
  }

  /** Ends a process; false when there is none of this number. */
  static boolean end(State state, String number) {
    boolean there =
        processes(state).stream().anyMatch(p -> String.valueOf(p.number()).equals(number));
    if (there) {
      state.endedProcesses.add(Long.parseLong(number));
    }
    return there;
  }

  /**
   * Runs a script: {@code echo}, {@code mount-drive}, {@code sleep} with seconds and {@code exit}
   * are understood, {@code #} begins a remark, and of anything else it is written that it is not
   * found.
   */
  static Run run(String script) {
    StringBuilder out = new StringBuilder();
    long seconds = 0;
    int last = 0;
    for (String line : script.lines().toList()) {
      Matcher m = LINE.matcher(line);
      if (!m.matches() || line.strip().startsWith("#")) {
        continue;
      }
      String rest = m.group(2).replaceAll("^[\"']|[\"']$", "");
      switch (m.group(1)) {
        case "echo" -> out.append(rest).append('\n');
        case "mount-drive" -> out.append("mounted ").append(rest.replace("\"", "")).append('\n');
        case "sleep" -> seconds += rest.matches("\\d{1,6}") ? Long.parseLong(rest) : 0;
        case "exit" -> {
          return new Run(
              seconds, rest.matches("\\d{1,3}") ? Integer.parseInt(rest) : 0, out.toString());
        }
        default -> {
          out.append(m.group(1)).append(": not found\n");
          last = 127;
        }
      }
    }
    return new Run(seconds, last, out.toString());
  }
}
