package dev.pinwright.service.acting;

import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.CommandSpec;
import dev.pinwright.core.command.CommandForm;
import dev.pinwright.core.target.Target;
import dev.pinwright.service.device.DeviceFilter;
import dev.pinwright.service.shape.ProfileContent;
import dev.pinwright.service.work.ManyLines;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.acting.DispatchStore;
import dev.pinwright.storage.query.Selection;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
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
 * @param serials devices by serial number, IMEI or asset number, besides the targets
 * @param matching every device of a list, besides the targets
 * @param again those on which this dispatch failed or expired, besides the targets
 * @param at when it is to be sent; at once without
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
    Optional<String> again,
    Optional<Instant> at,
    Optional<Long> expiresInMinutes,
    Optional<Long> confirmDevices) {
  private static final int MOST_SERIALS = 10_000;

  /** An order to one device, at once. */
  public static Order toDevice(
      String command, String deviceId, String reason, Map<String, String> fields) {
    return new Order(
        command,
        Optional.of(fields),
        Optional.of(reason),
        Optional.of(List.of(new TargetSpec("device", deviceId))),
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        Optional.empty());
  }

  /** A target as written. */
  public record TargetSpec(@Nullable String kind, @Nullable String ref) {}

  /** An order whose form is right. */
  record Checked(
      CommandForm form,
      List<Target> targets,
      List<String> serials,
      Optional<DeviceFilter.Written> matching,
      Optional<String> again) {

    /** Gathers the devices it is for. */
    void gather(Tx tx, Instant now) {
      DispatchStore store = new DispatchStore(tx);
      List<String> unknown = store.unknown(serials);
      if (!unknown.isEmpty()) {
        throw Problem.malformed(
            "/serials",
            "No device has the serial, IMEI or asset number " + String.join(", ", unknown) + ".");
      }
      Selection selected = new Selection(tx).targets(targets).identified(serials);
      again.ifPresent(selected::endedBadly);
      matching.ifPresent(m -> selected.matching(m.query(tx, now)));
    }
  }

  /**
   * Holds the order against the command's form.
   *
   * @throws Problem 400 naming the field and what would be right
   */
  Checked check(Catalog catalog) {
    return check(catalog, CommandForm::read);
  }

  /**
   * Holds what is written so far against the command's form: what is missing may still come.
   *
   * @throws Problem 400 naming the field and what would be right
   */
  Checked begun(Catalog catalog) {
    return check(catalog, CommandForm::begun);
  }

  /** How the form of a command is read. */
  private interface Reading {
    CommandForm read(
        CommandSpec spec, Map<String, String> fields, String reason, Optional<Long> minutes);
  }

  private Checked check(Catalog catalog, Reading reading) {
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
    CommandForm form =
        Problem.reading(
            "",
            () -> reading.read(spec, fields.orElse(Map.of()), reason.orElse(""), expiresInMinutes));
    List<Target> aimed =
        targets.orElse(List.of()).stream()
            .map(
                t ->
                    ProfileContent.target(
                        t.kind() == null ? "" : t.kind(),
                        t.ref() == null ? "" : t.ref(),
                        "/targets"))
            .toList();
    List<String> named =
        serials.orElse(List.of()).stream()
            .map(s -> s.strip().toUpperCase(Locale.ROOT))
            .filter(s -> !s.isEmpty())
            .distinct()
            .toList();
    if (named.size() > MOST_SERIALS) {
      throw Problem.malformed("/serials", "At most " + MOST_SERIALS + " devices can be named.");
    }
    if (aimed.isEmpty() && named.isEmpty() && matching.isEmpty() && again.isEmpty()) {
      throw Problem.malformed(
          "/targets", "Say which devices: targets, serials, matching or again.");
    }
    return new Checked(form, aimed, named, matching, again);
  }
}
