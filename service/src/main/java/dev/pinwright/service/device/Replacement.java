package dev.pinwright.service.device;

import dev.pinwright.core.naming.NamePattern;
import dev.pinwright.service.change.Changes;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.change.Moves;
import dev.pinwright.storage.device.ActivityStore;
import dev.pinwright.storage.device.DeviceLists;
import dev.pinwright.storage.device.DeviceStore;
import dev.pinwright.storage.device.TagStore;
import dev.pinwright.storage.group.GroupStore;
import dev.pinwright.storage.row.DeviceRow;
import java.util.List;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * A device takes another one's place in one step: its name, where it belonged, who held it, its
 * groups and tags. The other one is retired.
 */
public final class Replacement {
  private static final int LONGEST_REASON = 200;
  private final UseCases useCases;
  private final Changes changes;

  public Replacement(UseCases useCases, Changes changes) {
    this.useCases = useCases;
    this.changes = changes;
  }

  /**
   * What is wanted.
   *
   * @param by id of the device that comes in its place
   * @param reason why, such as {@code broken screen}
   */
  public record Order(@Nullable String by, @Nullable String reason) {}

  /**
   * Lets a device take the place of another one.
   *
   * @param id of the one that goes
   * @return what was moved by it, to follow
   * @throws Problem 400 without a reason, 404, 409 when one of them is retired, both are the same,
   *     or one is personal and the other is not
   */
  public Changes.Change replace(Caller caller, String id, Order order) {
    String by = order.by() == null ? "" : order.by();
    String reason = order.reason() == null ? "" : order.reason().strip();
    if (reason.isEmpty() || reason.length() > LONGEST_REASON) {
      throw Problem.malformed("/reason", "Say why it is replaced, in 1 to 200 characters.");
    }
    if (by.equals(id)) {
      throw Problem.conflict("same-device", "A device cannot take its own place.");
    }
    return useCases.act(
        caller,
        act -> {
          Tx tx = act.tx();
          Moves.besideRules(tx);
          // in the order of their ids, so that two who swap do not wait for each other
          Stream.of(id, by).sorted().forEach(d -> tx.lock(DeviceRow.class, d));
          DeviceRow old = managed(tx, id);
          DeviceRow fresh = managed(tx, by);
          if (!old.ownership.equals(fresh.ownership)) {
            throw Problem.conflict(
                "other-ownership",
                "%s is %s and %s is %s; one cannot take the other's place."
                    .formatted(old.name, old.ownership, fresh.name, fresh.ownership));
          }
          String name = old.name;
          String was = fresh.name;
          DeviceStore devices = new DeviceStore(tx);
          devices.holdName(name);
          old.name = shortened(name) + " (replaced)";
          old.name = NamePattern.free(old.name, wanted -> devices.nameTaken(wanted, id));
          tx.flush();
          fresh.name = name;
          fresh.unitId = old.unitId;
          fresh.siteId = old.siteId;
          fresh.personId = old.personId;
          tx.flush();
          new TagStore(tx).add(List.of(by), new DeviceLists(tx).one(id).orElseThrow().tags());
          devices.join(by, new GroupStore(tx).pickedFor(id));
          Changes.Change change =
              Changes.follow(
                  tx, changes.ofDevices(tx, List.of(by)).apply(caller, "Replace " + name));
          String told = name + " is now " + fresh.model + " " + known(fresh) + ", which was " + was;
          ActivityStore activity = new ActivityStore(tx);
          activity.add(by, act.now(), "replaced", "Took the place of " + known(old));
          activity.add(id, act.now(), "replaced", "Its place was taken by " + known(fresh));
          Retirement.retire(act, List.of(id), "replaced by " + known(fresh) + ": " + reason);
          act.done(Noun.DEVICE, "replaced", by, told + "; reason: " + reason);
          act.touch(Noun.CHANGE, Noun.TAG, Noun.GROUP);
          return change;
        });
  }

  private static DeviceRow managed(Tx tx, String id) {
    DeviceRow row = tx.find(DeviceRow.class, id).orElseThrow(() -> Problem.notFound("device", id));
    if (row.retiredAt != null) {
      throw Problem.conflict("retired-already", row.name + " is retired.");
    }
    return row;
  }

  private static String shortened(String name) {
    return name.substring(0, Math.min(name.length(), NamePattern.MAX_NAME - 16));
  }

  private static String known(DeviceRow d) {
    return Stream.of(d.serial, d.imei, d.asset).filter(i -> i != null).findFirst().orElse(d.name);
  }
}
