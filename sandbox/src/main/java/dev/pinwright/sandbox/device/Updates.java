package dev.pinwright.sandbox.device;

import dev.pinwright.core.catalog.Hours;
import dev.pinwright.core.catalog.Platform;
import dev.pinwright.core.device.OsVersion;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.Comparator;
import java.util.Map;
import java.util.Optional;

/**
 * When a device brings its system up to date by itself, as its settings have it. Guarded by the
 * device it belongs to.
 */
record Updates(Platform platform, State state, Obedience obedience) {

  /** When the latest versions came out; those before are out for long. */
  private static final Map<String, LocalDate> CAME_OUT =
      Map.of(
          "tarn 7.2", LocalDate.of(2026, 6, 8),
          "tarn 7.2.1", LocalDate.of(2026, 10, 12),
          "fjell 13.0", LocalDate.of(2026, 5, 4),
          "fjell 13.1", LocalDate.of(2026, 11, 2),
          "moor 4.2", LocalDate.of(2026, 9, 21));

  private static final String WINDOW = "window";

  /** Whether a device minds what its organisation says of updates. */
  private boolean told() {
    return state.stage == State.Stage.JOINED && !settings().isEmpty();
  }

  private Map<String, String> settings() {
    return obedience.section("updates");
  }

  private long days(String setting, long otherwise) {
    String text = settings().get(setting);
    return text == null ? otherwise : Long.parseLong(text);
  }

  private boolean on(String setting) {
    return "true".equals(settings().get(setting));
  }

  /** The day from which a version is offered: it is out, and for as long as is to be waited. */
  private LocalDate offeredFrom(OsVersion version) {
    return CAME_OUT
        .getOrDefault(platform.key() + " " + version, LocalDate.EPOCH)
        .plusDays(days("deferral", 0));
  }

  /** The newest version that is offered and newer than the one on it. */
  Optional<OsVersion> offered(LocalDate today) {
    OsVersion now = OsVersion.parse(state.osVersion);
    return told()
        ? platform.versions().stream()
            .filter(v -> !now.atLeast(v) && !offeredFrom(v).isAfter(today))
            .max(Comparator.naturalOrder())
        : Optional.empty();
  }

  /** The version that is installed now, without anybody's doing. */
  Optional<OsVersion> due(LocalDateTime now) {
    return offered(now.toLocalDate()).filter(v -> installs(v, now));
  }

  private boolean installs(OsVersion version, LocalDateTime now) {
    if (on("charging-only") && !state.charging
        || on("wifi-only") && state.faults.contains("cellular")) {
      return false;
    }
    Optional<LocalDate> latest = latest(version);
    return latest.filter(day -> !day.isAfter(now.toLocalDate())).isPresent()
        || switch (settings().getOrDefault("when", "holder")) {
          case "at-once" -> true;
          case WINDOW ->
              window().filter(w -> w.hold(now.getDayOfWeek(), now.toLocalTime())).isPresent();
          default -> false;
        };
  }

  private Optional<Hours> window() {
    return Optional.ofNullable(settings().get(WINDOW)).flatMap(Hours::read);
  }

  private Optional<LocalDate> latest(OsVersion version) {
    long deadline = days("deadline", 0);
    return deadline == 0 ? Optional.empty() : Optional.of(offeredFrom(version).plusDays(deadline));
  }

  /** When it comes by itself, in words for the holder; empty where only they install it. */
  String words(OsVersion version) {
    String when =
        switch (settings().getOrDefault("when", "holder")) {
          case "at-once" -> "It is installed at once";
          case WINDOW -> window().isPresent() ? "It is installed " + settings().get(WINDOW) : "";
          default -> "";
        };
    String plugged = on("charging-only") && !when.isEmpty() ? ", while it charges" : "";
    String latest =
        latest(version)
            .map(
                day -> (when.isEmpty() ? "It is installed" : ",") + " on " + day + " at the latest")
            .orElse("");
    String said = when + plugged + latest;
    return said.isEmpty() ? "" : said + ".";
  }
}
