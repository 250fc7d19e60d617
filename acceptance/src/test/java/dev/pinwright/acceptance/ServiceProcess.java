package dev.pinwright.acceptance;

import dev.pinwright.storage.TestDatabase;
import java.io.File;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;

/** The service as a process of its own, on a rig's database and ports, so that it can be killed. */
final class ServiceProcess implements AutoCloseable {
  /** Compiles once and not well: what starts is killed soon. */
  static final String QUICK = "-XX:TieredStopAtLevel=1";

  private final Process process;

  /** Starts one quickly and waits until it answers; the rig's own has to be closed. */
  ServiceProcess(Rig rig) {
    this(rig, QUICK);
  }

  /** Starts one with options of the JVM. */
  ServiceProcess(Rig rig, String... options) {
    List<String> command = new ArrayList<>();
    command.add(System.getProperty("java.home") + "/bin/java");
    command.addAll(List.of(options));
    command.addAll(List.of("-cp", jars(), "dev.pinwright.server.Main"));
    ProcessBuilder b = new ProcessBuilder(command);
    Map<String, String> env = b.environment();
    env.put("PINWRIGHT_HOME", rig.home.toString());
    env.put("PINWRIGHT_DB_URL", rig.databaseUrl);
    env.put("PINWRIGHT_DB_USER", TestDatabase.SERVING);
    env.put("PINWRIGHT_DB_OWNER", TestDatabase.env("USER"));
    env.put("PINWRIGHT_DB_OWNER_PASSWORD", TestDatabase.env("PASSWORD"));
    env.put("PINWRIGHT_DB_PASSWORD", TestDatabase.env("PASSWORD"));
    env.put("PINWRIGHT_CONSOLE_PORT", String.valueOf(rig.consolePort));
    env.put("PINWRIGHT_DEVICE_PORT", String.valueOf(rig.devicePort));
    try {
      process =
          b.redirectErrorStream(true)
              .redirectOutput(ProcessBuilder.Redirect.appendTo(new File("target/killed.log")))
              .start();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    Rig.eventually(
        () -> {
          try {
            rig.client.devices().getFleet();
            return true;
          } catch (Exception e) {
            return false;
          }
        },
        up -> up);
  }

  /** The class path without folders, of which a JVM shares nothing with the next. */
  private static String jars() {
    return Arrays.stream(System.getProperty("java.class.path").split(File.pathSeparator))
        .filter(entry -> entry.endsWith(".jar"))
        .collect(Collectors.joining(File.pathSeparator));
  }

  /** Bytes of memory it has had at most, and has now (proc(5), VmHWM and VmRSS). */
  long[] memory() throws IOException {
    long[] kib = new long[2];
    for (String line : Files.readAllLines(Path.of("/proc/" + process.pid() + "/status"))) {
      String number = line.replaceAll("\\D", "");
      if (line.startsWith("VmHWM")) {
        kib[0] = Long.parseLong(number);
      } else if (line.startsWith("VmRSS")) {
        kib[1] = Long.parseLong(number);
      }
    }
    return new long[] {kib[0] << 10, kib[1] << 10};
  }

  /** Ends it as its operator does. */
  void stop() throws InterruptedException {
    process.destroy();
    process.waitFor();
  }

  /** Ends it as a power cut would. */
  void kill() {
    try {
      process.destroyForcibly().waitFor();
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  @Override
  public void close() {
    kill();
  }
}
