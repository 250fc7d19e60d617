package dev.pinwright.cli;

import dev.pinwright.client.model.WaveStepSpec;
import dev.pinwright.client.model.WavesSpec;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Option;

/** How a publication spreads. */
final class WaveOptions {
  private static final String GROUP = "group:";

  @Option(
      names = "--waves",
      paramLabel = "STEPS",
      description =
          "Publish wave by wave, such as 5,5%%,25%% or \"group:To look at,25%%\"; the last wave, to"
              + " everybody, is not said.")
  @Nullable String steps;

  @Option(
      names = "--hold",
      paramLabel = "MINUTES",
      description = "From one wave to the next, at least; 60 without it.")
  @Nullable Integer hold;

  @Option(
      names = "--bound",
      paramLabel = "PERCENT",
      description = "So many may fail before it stops by itself; 5 without it.")
  @Nullable Integer bound;

  /** As it is sent; null for all at once. */
  @Nullable WavesSpec spec(Context context) {
    if (steps == null) {
      if (hold != null || bound != null) {
        throw new Failure(Failure.USAGE, "--hold and --bound are for --waves.");
      }
      return null;
    }
    return new WavesSpec()
        .hold(hold)
        .bound(bound)
        .steps(
            Stream.of(steps.split("\\s*,\\s*")).map(step -> step(context, step.strip())).toList());
  }

  private static WaveStepSpec step(Context context, String written) {
    if (written.startsWith(GROUP)) {
      return new WaveStepSpec().group(context.group(written.substring(GROUP.length())).getId());
    }
    if (written.matches("\\d{1,2}%")) {
      return new WaveStepSpec().share(Integer.valueOf(written.replace("%", "")));
    }
    if (written.matches("\\d{1,6}")) {
      return new WaveStepSpec().devices(Integer.valueOf(written));
    }
    throw new Failure(
        Failure.USAGE,
        "A wave is a number of devices, a share such as 5%, or group:NAME; not " + written + ".");
  }
}
