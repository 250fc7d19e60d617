package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;

/** The command line, signed in with a file of its own. */
final class Shell {
  private final Map<String, String> env;

  /** What a command printed and how it ended. */
  record Ran(int code, String out, String err) {}

  Shell(Rig rig) {
    Path file = rig.home.resolve("signin.json");
    env = Map.of("PINWRIGHT_SIGNIN", file.toString(), "PINWRIGHT_ADDRESS", rig.consoleUrl());
  }

  Ran run(String... args) {
    StringWriter out = new StringWriter();
    StringWriter err = new StringWriter();
    int code =
        dev.pinwright.cli.Main.run(
            env, new PrintWriter(out, true), new PrintWriter(err, true), args);
    return new Ran(code, out.toString(), err.toString());
  }

  Ran type(String input, String... args) {
    InputStream before = System.in;
    System.setIn(new ByteArrayInputStream(input.getBytes()));
    try {
      return run(args);
    } finally {
      System.setIn(before);
    }
  }

  /** Runs, has to succeed, and returns what was printed. */
  String ok(String... args) {
    Ran r = run(args);
    assertThat(r.code()).as(String.join(" ", args) + "\n" + r.out() + r.err()).isZero();
    return r.out();
  }

  /** The JSON of a command. */
  JsonNode json(String... args) {
    List<String> all = new ArrayList<>(List.of(args));
    all.add("--json");
    try {
      return Wire.JSON.readTree(ok(all.toArray(String[]::new)));
    } catch (IOException e) {
      throw new IllegalStateException(e);
    }
  }
}
