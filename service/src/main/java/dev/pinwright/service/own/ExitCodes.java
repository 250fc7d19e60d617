package dev.pinwright.service.own;

import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.kiosk.ExitCode;
import dev.pinwright.core.kiosk.Kiosk;
import dev.pinwright.core.own.OwnDetails;
import dev.pinwright.core.tree.Tree;
import dev.pinwright.service.shape.Shapes;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.device.DeviceStates;
import dev.pinwright.storage.row.DeviceRow;
import java.time.Instant;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/** The codes that leave a kiosk on a device that no longer talks to us. */
public final class ExitCodes {
  private final UseCases useCases;
  private final Shapes shapes;
  private final Selves selves;

  public ExitCodes(UseCases useCases, Shapes shapes, Selves selves) {
    this.useCases = useCases;
    this.shapes = shapes;
    this.selves = selves;
  }

  /**
   * A code.
   *
   * @param code six digits
   * @param until when the next one takes its place; it is taken for half a minute longer
   * @param minutes how long the kiosk stays open
   */
  public record Shown(String code, Instant until, long minutes) {}

  /**
   * Shows the code a device's kiosk is left by at this moment; that it was shown is told in the
   * journal.
   *
   * @throws Problem 404; 409 no-kiosk, no-exit-code, secret-not-heard
   */
  public Shown show(Caller caller, String deviceId) {
    return useCases.act(
        caller,
        act -> {
          DeviceRow device =
              act.tx()
                  .find(DeviceRow.class, deviceId)
                  .filter(d -> d.retiredAt == null)
                  .orElseThrow(() -> Problem.notFound("device", deviceId));
          Kiosk kiosk =
              new DeviceStates(act.tx())
                  .find(deviceId)
                  .flatMap(state -> kiosk(shapes.desired(act.tx(), state)))
                  .orElseThrow(
                      () -> Problem.conflict("no-kiosk", device.name + " is told to be no kiosk."));
          if (!kiosk.exitCode()) {
            throw Problem.conflict(
                "no-exit-code", "The kiosk of " + device.name + " is told not to take codes.");
          }
          String secret =
              selves
                  .wanted(act.tx(), deviceId)
                  .held(OwnDetails.EXIT_SECRET)
                  .orElseThrow(
                      () ->
                          Problem.conflict(
                              "secret-not-heard",
                              device.name
                                  + " does not hold what its codes are made from: it has not"
                                  + " heard it yet, or did not take it. No code would open it."));
          act.done(
              Noun.DEVICE,
              "exit-code-shown",
              deviceId,
              "Code that leaves the kiosk of " + device.name + " shown");
          return new Shown(
              ExitCode.at(secret, act.now()),
              ExitCode.until(act.now()),
              kiosk.exitFor().toMinutes());
        });
  }

  /** The kiosk a policy tree asks for. */
  static Optional<Kiosk> kiosk(Tree tree) {
    String root = Catalog.POLICY_ROOT + "/kiosk/";
    Map<String, String> texts = new TreeMap<>();
    tree.leaves()
        .tailMap(root)
        .forEach(
            (path, leaf) -> {
              if (path.startsWith(root)) {
                texts.put(path.substring(root.length()), leaf.value());
              }
            });
    return Kiosk.read(texts);
  }
}
