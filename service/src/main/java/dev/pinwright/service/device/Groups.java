package dev.pinwright.service.device;

import dev.pinwright.core.device.DeviceGroup;
import dev.pinwright.core.target.Target;
import dev.pinwright.service.change.Changes;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.device.GroupStore;
import dev.pinwright.storage.profile.AssignmentStore;
import dev.pinwright.storage.row.GroupRow;
import java.util.List;
import java.util.TreeSet;
import java.util.stream.Stream;

/** Groups picked by hand. */
public final class Groups {
  private final UseCases useCases;
  private final Changes changes;

  public Groups(UseCases useCases, Changes changes) {
    this.useCases = useCases;
    this.changes = changes;
  }

  /** Groups by name. */
  public Page<DeviceGroup> page(Caller caller, String words, Page.Request page) {
    return useCases.read(
        tx ->
            Page.byName(
                (after, limit) -> new GroupStore(tx).page(words, after, limit),
                page,
                DeviceGroup::name,
                DeviceGroup::id));
  }

  /** One group. */
  public DeviceGroup get(Caller caller, String id) {
    return useCases.read(tx -> one(tx, id));
  }

  private static DeviceGroup one(Tx tx, String id) {
    return new GroupStore(tx).find(id).orElseThrow(() -> Problem.notFound("group", id));
  }

  private static GroupRow row(Tx tx, String id) {
    return tx.find(GroupRow.class, id).orElseThrow(() -> Problem.notFound("group", id));
  }

  /** Makes a group, empty. */
  public DeviceGroup add(Caller caller, String wanted) {
    String name = wanted.strip();
    if (name.isEmpty() || name.length() > 80) {
      throw Problem.malformed("/name", "A name has 1 to 80 characters.");
    }
    return useCases.act(
        caller,
        act -> {
          if (new GroupStore(act.tx()).byName(name).isPresent()) {
            throw Problem.conflict("name-taken", "There is a group called " + name + ".");
          }
          GroupRow row = new GroupRow();
          row.id = act.newId();
          row.name = name;
          row.createdAt = act.now();
          act.tx().insert(row);
          act.done(Noun.GROUP, "made", row.id, "Group " + name + " made");
          return one(act.tx(), row.id);
        });
  }

  /** Puts devices in and takes devices out; profiles assigned to the group follow at once. */
  public DeviceGroup members(Caller caller, String id, List<String> add, List<String> remove) {
    return useCases.act(
        caller,
        act -> {
          GroupRow row = row(act.tx(), id);
          GroupStore groups = new GroupStore(act.tx());
          List<String> unknown = groups.unknown(add);
          if (!unknown.isEmpty()) {
            throw Problem.malformed("/add", "There is no device " + unknown.get(0) + ".");
          }
          int in = groups.put(id, add);
          int out = groups.takeOut(id, remove);
          TreeSet<String> all = new TreeSet<>(add);
          all.addAll(remove);
          changes.ofDevices(act.tx(), all).applyIfAny(caller, "Members of " + row.name);
          act.done(
              Noun.GROUP,
              "changed",
              id,
              row.name + ": " + in + " devices put in, " + out + " taken out");
          act.touch(Noun.CHANGE, Noun.DEVICE);
          return one(act.tx(), id);
        });
  }

  /**
   * Deletes a group nothing is assigned to.
   *
   * @throws Problem 409 while a published profile or an enrollment profile names it
   */
  public void delete(Caller caller, String id) {
    useCases.run(
        caller,
        act -> {
          GroupRow row = row(act.tx(), id);
          List<String> users =
              Stream.concat(
                      new AssignmentStore(act.tx())
                          .users(new Target(Target.Kind.GROUP, id)).stream(),
                      new GroupStore(act.tx()).enrollmentProfiles(id).stream())
                  .toList();
          if (!users.isEmpty()) {
            throw Problem.conflict(
                "in-use", row.name + " is used by " + String.join(", ", users) + ".");
          }
          act.tx().delete(row);
          act.done(Noun.GROUP, "deleted", id, "Group " + row.name + " deleted");
        });
  }
}
