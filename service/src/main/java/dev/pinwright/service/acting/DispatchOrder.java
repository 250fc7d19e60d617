package dev.pinwright.service.acting;

import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.CommandSpec;
import dev.pinwright.core.command.CommandForm;
import dev.pinwright.core.command.When;
import dev.pinwright.core.target.NamedDevices;
import dev.pinwright.core.target.Target;
import dev.pinwright.service.device.DeviceFilter;
import dev.pinwright.service.shape.ProfileContent;
import dev.pinwright.service.work.ManyLines;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.acting.DispatchStore;
import dev.pinwright.storage.query.Selection;
import java.time.DateTimeException;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
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
 * @param at when it is to be sent, everywhere at this moment; at once without
 * @param there when it is to be sent, as clocks show it where each device is
 * @param notInUse whether a device carries it out once nobody is using it
 * @param expiresInMinutes how long it waits for a device
 * @param confirmDevices the number of devices, when the rehearsal asks for it
 */
public record DispatchOrder(
    @Nullable String command,
    @ManyLines Optional<Map<String, String>> fields,
    @ManyLines Optional<String> reason,
    Optional<List<TargetSpec>> targets,
    Optional<List<String>> serials,
    Optional<DeviceFilter.Written> matching,
    Optional<String> again,
    Optional<Instant> at,
    Optional<There> there,
    Optional<Boolean> notInUse,
    Optional<Long> expiresInMinutes,
    Optional<Long> confirmDevices) {
  /** An order to one device, at once. */
  public static DispatchOrder toDevice(
      String command, String deviceId, String reason, Map<String, String> fields) {
    return new DispatchOrder(
        command,
        Optional.of(fields),
        Optional.of(reason),
        Optional.of(List.of(new TargetSpec("device", deviceId))),
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        Optional.empty());
  }

  /**
   * This without the number that was repeated: whoever did not hear the answer and sends it again
   * may have been told another number meanwhile, and means the same order.
   */
  DispatchOrder unconfirmed() {
    return new DispatchOrder(
        command,
        fields,
        reason,
        targets,
        serials,
        matching,
        again,
        at,
        there,
        notInUse,
        expiresInMinutes,
        Optional.empty());
  }

  /**
   * When, where each device is.
   *
   * @param local from this time on, {@code 2026-12-01T02:30}
   * @param window only at these hours
   * @param zone of devices that do not tell theirs, such as {@code UTC}; UTC without
   */
  public record There(Optional<String> local, Optional<Hours> window, Optional<String> zone) {}

  /** Hours of every day, {@code 22:00} to {@code 05:00}. */
  public record Hours(@Nullable String from, @Nullable String to) {}

  /** A target as written. */
  public record TargetSpec(@Nullable String kind, @Nullable String ref) {}

  /** An order whose form is right. */
  record Checked(
      CommandForm form,
      When when,
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

  /** When it is sent, as far as it can be read. */
  private When when(CommandSpec spec) {
    boolean idle = notInUse.orElse(false);
    if (idle && spec.delivery() != CommandSpec.Delivery.EXEC) {
      throw Problem.malformed(
          "/notInUse", spec.title() + " is for whoever is using it: it does not wait for that.");
    }
    Optional<There> t = there;
    return new When(
        at,
        t.flatMap(There::local)
            .map(l -> read("/there/local", l, LocalDateTime::parse, "2026-12-01T02:30")),
        t.flatMap(There::window)
            .map(
                w ->
                    Problem.reading(
                        "",
                        () ->
                            new When.Window(
                                time("/there/window/from", w.from()),
                                time("/there/window/to", w.to())))),
        t.flatMap(There::zone)
            .map(z -> read("/there/zone", z, ZoneId::of, "UTC"))
            .orElse(ZoneOffset.UTC),
        idle);
  }

  private static LocalTime time(String pointer, @Nullable String text) {
    return read(pointer, text == null ? "" : text, LocalTime::parse, "22:00");
  }

  private static <T> T read(String pointer, String text, Function<String, T> of, String example) {
    try {
      return of.apply(text.strip());
    } catch (DateTimeException e) {
      throw Problem.malformed(pointer, "'" + text + "' cannot be read; write " + example + ".");
    }
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
    List<String> named = List.copyOf(NamedDevices.plain(serials.orElse(List.of())));
    if (named.size() > NamedDevices.MOST) {
      throw Problem.malformed(
          "/serials", "At most " + NamedDevices.MOST + " devices can be named.");
    }
    if (aimed.isEmpty() && named.isEmpty() && matching.isEmpty() && again.isEmpty()) {
      throw Problem.malformed(
          "/targets", "Say which devices: targets, serials, matching or again.");
    }
    return new Checked(form, when(spec), aimed, named, matching, again);
  }
}
