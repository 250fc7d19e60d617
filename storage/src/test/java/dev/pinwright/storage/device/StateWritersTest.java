package dev.pinwright.storage.device;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

/** Who writes how a device stands: one place for single devices, one for many at once. */
class StateWritersTest {
  private static final Pattern WRITE =
      Pattern.compile("(insert into|update|delete from)\\s+device_state\\b");

  @Test
  void onlyDeviceStatesAndMovesWriteThem() throws IOException {
    try (Stream<Path> sources = Files.walk(Path.of("src/main/java"))) {
      List<String> writers =
          sources
              .filter(p -> p.toString().endsWith(".java"))
              .filter(p -> WRITE.matcher(read(p)).find())
              .map(p -> p.getFileName().toString())
              .sorted()
              .toList();
      assertThat(writers).containsExactly("DeviceStates.java", "Moves.java");
    }
  }

  private static String read(Path source) {
    try {
      return Files.readString(source);
    } catch (IOException e) {
      throw new IllegalStateException(e);
    }
  }
}
