package dev.pinwright.service.compliance;

import dev.pinwright.core.compliance.Ladder;
import dev.pinwright.core.compliance.Order;
import dev.pinwright.service.change.Changes;
import dev.pinwright.service.live.Wakes;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.change.Moves;
import dev.pinwright.storage.compliance.CheckStore;
import dev.pinwright.storage.compliance.OrderStore;
import dev.pinwright.storage.compliance.OrderStore.Judged;
import dev.pinwright.storage.device.DeviceStates;
import dev.pinwright.storage.row.CheckRow;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;

/** Whether devices are in order, followed as groups and time move; and what follows from it. */
public final class Orders {
  /** Devices that are judged anew in one transaction. */
  private static final int AT_ONCE = 1_000;

  private final UseCases useCases;
  private final Changes changes;

  public Orders(UseCases useCases, Changes changes) {
    this.useCases = useCases;
    this.changes = changes;
  }

  /**
   * What a check finds on a device.
   *
   * @param since when it was found
   * @param due until when the device still counts as in order
   * @param withheld whether something is withheld because of it
   */
  public record Finding(
      String checkId,
      String name,
      String advice,
      Instant since,
      Instant due,
      Order order,
      boolean withheld) {}

  /**
   * How a device is with the checks.
   *
   * @param toldAt when the device was told last, where it was
   * @param findings the worst first
   */
  public record OfDevice(
      Order order, boolean withheld, Optional<Instant> toldAt, List<Finding> findings) {}

  /**
   * How a device is with the checks, now.
   *
   * @throws Problem 404 when there is no such device
   */
  public OfDevice of(Caller caller, String deviceId) {
    return useCases.read(
        tx -> {
          new DeviceStates(tx)
              .find(deviceId)
              .orElseThrow(() -> Problem.notFound("device", deviceId));
          Map<String, CheckRow> checks =
              new CheckStore(tx)
                  .all().stream().collect(Collectors.toMap(c -> c.id, Function.identity()));
          List<Finding> findings =
              new OrderStore(tx)
                  .of(deviceId).stream()
                      .map(f -> finding(checks.get(f.checkId()), f.since()))
                      .sorted(
                          Comparator.comparing(Finding::order)
                              .reversed()
                              .thenComparing(Finding::due))
                      .toList();
          return new OfDevice(
              findings.stream().map(Finding::order).findFirst().orElse(Order.IN_ORDER),
              findings.stream().anyMatch(Finding::withheld),
              new OrderStore(tx).toldAt(deviceId),
              findings);
        });
  }

  private Finding finding(CheckRow check, Instant since) {
    Ladder ladder = check.ladder();
    return new Finding(
        check.id,
        check.name,
        check.advice,
        since,
        ladder.due(since),
        ladder.order(since, useCases.now()),
        Ladder.reached(ladder.withhold(), since, useCases.now()));
  }

  /** Judges anew what is otherwise than it was judged last; run as often as one likes. */
  public void follow() {
    int judged = AT_ONCE;
    while (judged == AT_ONCE) {
      List<String> ids = useCases.read(tx -> new OrderStore(tx).different(useCases.now(), AT_ONCE));
      if (ids.isEmpty()) {
        return;
      }
      judged =
          useCases.act(
              Caller.SERVICE,
              act -> {
                List<Judged> done = judge(act.tx(), ids, act.now());
                moved(act.tx(), done)
                    .forEach(
                        (withheld, devices) ->
                            devices.applyIfAny(
                                Caller.SERVICE,
                                withheld
                                    ? "Withheld from devices that are out of order"
                                    : "Given back to devices that are in order again"));
                act.touch(Noun.DEVICE, Noun.CHANGE, Noun.CHECK);
                return done.size();
              });
    }
  }

  /** Judges devices anew, whose word is then sent to them. */
  static List<Judged> judge(Tx tx, List<String> ids, Instant now) {
    Moves.hold(tx, ids);
    List<Judged> judged = new OrderStore(tx).judge(ids, now);
    judged.forEach(j -> Wakes.device(tx, j.deviceId()));
    return judged;
  }

  /** What becomes of the settings of those from whom something is withheld now, or no longer. */
  Map<Boolean, Changes.Proposal> moved(Tx tx, List<Judged> judged) {
    return judged.stream()
        .filter(j -> j.withheld() != j.withheldBefore())
        .collect(
            Collectors.groupingBy(
                Judged::withheld,
                Collectors.collectingAndThen(
                    Collectors.mapping(Judged::deviceId, Collectors.toList()),
                    devices -> changes.ofDevices(tx, devices))));
  }
}
