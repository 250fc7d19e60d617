package dev.pinwright.sandbox.device;

import dev.pinwright.protocol.dm.Dm;
import dev.pinwright.sandbox.link.Network;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.concurrent.TimeUnit;

/** Runs the scripts of a laptop: those it is told to run, and those that run by themselves. */
final class Scripts {
  private final Network network;
  private final FetchedFiles files;
  private final SimulatedDevice device;
  private final Runnable told;

  /**
   * @param told what is to happen when there is something to tell of one
   */
  Scripts(Network network, FetchedFiles files, SimulatedDevice device, Runnable told) {
    this.network = network;
    this.files = files;
    this.device = device;
    this.told = told;
  }

  /** Runs what it was told to; each ends after as long as it takes. */
  void go() {
    for (State.ScriptRun run : device.scriptsToRun()) {
      Laptop.Run end = Laptop.run(text(run));
      String said =
          end.seconds() > run.mostSeconds() ? "stopped\n" : end.exit() + "\n" + end.output();
      network
          .thinking()
          .schedule(
              () -> {
                device.report(new State.Report(Dm.TYPE_SCRIPT_END, run.correlator(), said));
                told.run();
              },
              Math.min(end.seconds(), run.mostSeconds()),
              TimeUnit.SECONDS);
    }
  }

  /** Runs what is to run by itself when something happens: {@code sign-in}, for one. */
  void on(String what) {
    device
        .scripts(what)
        .forEach(
            (entry, script) -> {
              Laptop.Run end = Laptop.run(text(script));
              device.scriptEnded(
                  entry,
                  end.seconds() > script.mostSeconds()
                      ? "Stopped after " + script.mostSeconds() + " s."
                      : "Ended with " + end.exit() + ".\n" + end.output());
            });
  }

  private String text(State.ScriptRun run) {
    return files.find(run.file()).map(Scripts::read).orElse("");
  }

  private static String read(Path file) {
    try {
      return Files.readString(file);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }
}
