package dev.pinwright.service.device;

import dev.pinwright.core.Words;
import dev.pinwright.core.change.Rehearsal;
import dev.pinwright.core.device.DeviceSummary;
import dev.pinwright.core.organisation.Fate;
import dev.pinwright.core.organisation.Person;
import dev.pinwright.service.change.Changes;
import dev.pinwright.service.organisation.People;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.change.EditStore;
import dev.pinwright.storage.change.Moves;
import dev.pinwright.storage.device.DeviceLists;
import dev.pinwright.storage.organisation.PersonStore;
import dev.pinwright.storage.query.Selection;
import dev.pinwright.storage.row.ChangeRow;
import dev.pinwright.storage.row.PersonRow;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * Somebody leaves: what becomes of each of their devices, and of what was open to them, at once.
 */
public final class Leaving {
  private final UseCases useCases;
  private final Changes changes;

  public Leaving(UseCases useCases, Changes changes) {
    this.useCases = useCases;
    this.changes = changes;
  }

  /**
   * What becomes of one device.
   *
   * @param personId who holds it then, when it is handed over
   */
  public record Becomes(String deviceId, Fate fate, Optional<String> personId) {}

  /**
   * What is to be done.
   *
   * @param devices one for each device they hold
   * @param takeOut whether they are taken out as well
   */
  public record Plan(List<Becomes> devices, boolean takeOut) {}

  /**
   * What somebody leaves behind.
   *
   * @param devices managed devices they hold; at most a thousand
   * @param invitations open ones, which end
   */
  public record Left(Person person, List<DeviceSummary> devices, long invitations) {}

  /**
   * What was done.
   *
   * @param change what became of their devices; absent when they held none
   * @param invitations those that ended
   */
  public record Done(
      int handedOver,
      int kept,
      int retired,
      int invitations,
      Optional<Changes.Change> change,
      Optional<Rehearsal> settings) {}

  /** What somebody would leave behind. */
  public Left look(Caller caller, String personId) {
    return useCases.read(
        tx -> {
          PersonStore people = new PersonStore(tx);
          Person person =
              people.find(personId).orElseThrow(() -> Problem.notFound("person", personId));
          return new Left(
              person,
              new DeviceLists(tx).these(people.holds(personId)),
              people.openInvitations(personId, useCases.now()));
        });
  }

  /** Says what a plan would do; nothing is stored. */
  public Done rehearse(Caller caller, String personId, Plan plan) {
    return useCases.rehearse(caller, act -> work(act, personId, plan));
  }

  /**
   * Does it, in one step: all of it or nothing.
   *
   * @throws Problem 400 for a device that goes to nobody, 404, 409 naming a device of theirs the
   *     plan says nothing of, or one they do not hold
   */
  public Done leave(Caller caller, String personId, Plan plan) {
    return useCases.act(caller, act -> work(act, personId, plan));
  }

  private Done work(UseCases.Act act, String personId, Plan plan) {
    Tx tx = act.tx();
    Moves.besideRules(tx);
    PersonRow person =
        tx.lock(PersonRow.class, personId)
            .filter(p -> !p.removed())
            .orElseThrow(() -> Problem.notFound("person", personId));
    PersonStore people = new PersonStore(tx);
    Map<String, Becomes> fates = fates(tx, personId, people.holds(personId), plan);
    Map<String, String> holders = new LinkedHashMap<>();
    List<String> retired = new ArrayList<>();
    fates.forEach(
        (device, becomes) -> {
          if (becomes.fate() == Fate.RETIRED) {
            retired.add(device);
          } else {
            holders.put(device, becomes.personId().orElse(""));
          }
        });
    String what = person.name + " leaves";
    Optional<Changes.Proposal> moved = Optional.empty();
    Optional<Changes.Change> change = Optional.empty();
    if (!holders.isEmpty()) {
      new Selection(tx).ids(holders.keySet()).hold();
      EditStore store = new EditStore(tx);
      store.remember();
      people.handOver(holders);
      moved = Optional.of(changes.ofDevices(tx, holders.keySet()));
      store.changed();
      ChangeRow row = moved.get().apply(act.caller(), what);
      row.devices = holders.size();
      tx.flush();
      store.keep(row.id);
      store.tell(act.now(), "handed-over", what);
      change = Optional.of(Changes.follow(tx, row));
    }
    if (!retired.isEmpty()) {
      Retirement.retire(act, retired, what);
    }
    int ended = people.endInvitations(personId, act.now());
    int handed = (int) fates.values().stream().filter(b -> b.fate() == Fate.HANDED_OVER).count();
    int kept = holders.size() - handed;
    act.done(
        Noun.PERSON,
        "left",
        personId,
        "%s: %d handed over, %d kept, %d retired, %d invitations ended"
            .formatted(what, handed, kept, retired.size(), ended));
    act.touch(Noun.DEVICE, Noun.INVITATION, Noun.CHANGE, Noun.DISPATCH);
    if (plan.takeOut()) {
      People.takeOut(act, person);
    }
    return new Done(
        handed,
        kept,
        retired.size(),
        ended,
        change,
        moved.map(Changes.Proposal::rehearsal).filter(r -> r.changing() > 0));
  }

  /** What becomes of each device they hold, held against the plan. */
  private static Map<String, Becomes> fates(Tx tx, String leaver, List<String> holds, Plan plan) {
    Map<String, Becomes> fates = new LinkedHashMap<>();
    for (Becomes b : plan.devices()) {
      if (!holds.contains(b.deviceId())) {
        throw Problem.conflict(
            "not-held", "They do not hold device " + b.deviceId() + " any more; look again.");
      }
      if ((b.fate() == Fate.HANDED_OVER) != b.personId().filter(p -> !p.isEmpty()).isPresent()) {
        throw Problem.malformed(
            "/devices", "Say who a device is handed to, and only of one that is handed over.");
      }
      if (b.personId().filter(leaver::equals).isPresent()) {
        throw Problem.malformed("/devices", "Who leaves cannot be handed a device.");
      }
      b.personId().ifPresent(id -> Known.id(tx, PersonRow.class, "person", id));
      fates.put(b.deviceId(), b);
    }
    List<String> open = holds.stream().filter(id -> !fates.containsKey(id)).toList();
    if (!open.isEmpty()) {
      throw Problem.conflict(
              "devices-left",
              Words.counted(open.size(), "device")
                  + " of theirs the plan says nothing of; say what becomes of each.")
          .with("devices", open);
    }
    return fates;
  }
}
