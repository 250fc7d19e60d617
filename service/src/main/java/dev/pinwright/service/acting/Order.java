package dev.pinwright.service.acting;

import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.CommandSpec;
import dev.pinwright.core.target.Target;
import dev.pinwright.service.device.DeviceFilter;
import dev.pinwright.service.shape.ProfileContent;
import dev.pinwright.service.work.ManyLines;
import dev.pinwright.service.work.Problem;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * What is ordered.
 *
 * @param command catalogue key
 * @param fields what the command's form asks for
 * @param reason why, where the command needs one
 * @param targets whom; a device that matches several gets one command
 * @param serials devices by serial number, besides the targets
 * @param matching every device of a list, besides the targets
 * @param expiresInMinutes how long it waits for a device
 * @param confirmDevices the number of devices, when the rehearsal asks for it
 */
public record Order(
    @Nullable String command,
    @ManyLines Optional<Map<String, String>> fields,
    @ManyLines Optional<String> reason,
    Optional<List<TargetSpec>> targets,
    Optional<List<String>> serials,
    Optional<DeviceFilter.Written> matching,
    Optional<Long> expiresInMinutes,
    Optional<Long> confirmDevices) {
  private static final int MAX_REASON = 300;

  /** A target as written. */
  public record TargetSpec(@Nullable String kind, @Nullable String ref) {}

  /** An order whose form is right. */
  record Checked(
      CommandSpec spec, Map<String, String> fields, String reason, List<Target> targets) {}

  /**
   * Holds the order against the command's form.
   *
   * @throws Problem 400 naming the field and what would be right
   */
  Checked check(Catalog catalog) {
    CommandSpec spec =
        catalog
            .command(command == null ? "" : command)
            .orElseThrow(
                () ->
                    Problem.malformed(
                        "/command",
                        "There is no command '"
                            + command
                            + "'; there are "
                            + String.join(
                                ", ", catalog.commands().stream().map(CommandSpec::key).toList())
                            + "."));
    Map<String, String> filled = new HashMap<>();
    fields
        .orElse(Map.of())
        .forEach(
            (k, v) -> {
              CommandSpec.Field f =
                  spec.field(k)
                      .orElseThrow(
                          () ->
                              Problem.malformed(
                                  "/fields/" + k, spec.title() + " has no field " + k + "."));
              if (v.length() > f.maxLength()) {
                throw Problem.malformed(
                    "/fields/" + k, f.title() + " has at most " + f.maxLength() + " characters.");
              }
              if (!v.isBlank()) {
                filled.put(k, v.strip());
              }
            });
    spec.fields().stream()
        .filter(f -> f.required() && !filled.containsKey(f.key()))
        .forEach(
            f -> {
              throw Problem.malformed("/fields/" + f.key(), f.title() + " has to be given.");
            });
    String why = reason.orElse("").strip();
    if (spec.reasonRequired() && why.isEmpty()) {
      throw Problem.malformed("/reason", spec.title() + " needs a reason; it is recorded.");
    }
    if (why.length() > MAX_REASON) {
      throw Problem.malformed("/reason", "A reason has at most 300 characters.");
    }
    List<Target> aimed = new ArrayList<>();
    for (TargetSpec t : targets.orElse(List.of())) {
      aimed.add(
          ProfileContent.target(
              t.kind() == null ? "" : t.kind(), t.ref() == null ? "" : t.ref(), "/targets"));
    }
    if (aimed.isEmpty() && serials.orElse(List.of()).isEmpty() && matching.isEmpty()) {
      throw Problem.malformed("/targets", "Say which devices: targets, serials or matching.");
    }
    return new Checked(spec, filled, why, aimed);
  }
}
