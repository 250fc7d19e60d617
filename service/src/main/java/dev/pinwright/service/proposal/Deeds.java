package dev.pinwright.service.proposal;

import static dev.pinwright.service.proposal.Intent.said;

import dev.pinwright.core.change.Confirmation;
import dev.pinwright.core.change.Rehearsal;
import dev.pinwright.service.acting.DispatchOrder;
import dev.pinwright.service.acting.Dispatches;
import dev.pinwright.service.change.Changes;
import dev.pinwright.service.compliance.Checks;
import dev.pinwright.service.configuration.Configurations;
import dev.pinwright.service.device.DeviceEdits;
import dev.pinwright.service.device.Groups;
import dev.pinwright.service.organisation.Units;
import dev.pinwright.service.rules.Profiles;
import dev.pinwright.service.rules.Publishing;
import dev.pinwright.service.rules.Undo;
import dev.pinwright.service.rules.Waves;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import java.util.List;
import java.util.Optional;

/** What an intent means: what it is called, what it would do, and doing it. */
public final class Deeds {
  private final Profiles profiles;
  private final Publishing publishing;
  private final Undo undo;
  private final Changes changes;
  private final DeviceEdits edits;
  private final Groups groups;
  private final Checks checks;
  private final Units units;
  private final Configurations configurations;
  private final Dispatches dispatches;

  public Deeds(
      Profiles profiles,
      Publishing publishing,
      Undo undo,
      Changes changes,
      DeviceEdits edits,
      Groups groups,
      Checks checks,
      Units units,
      Configurations configurations,
      Dispatches dispatches) {
    this.dispatches = dispatches;
    this.configurations = configurations;
    this.profiles = profiles;
    this.publishing = publishing;
    this.undo = undo;
    this.changes = changes;
    this.edits = edits;
    this.groups = groups;
    this.checks = checks;
    this.units = units;
  }

  /** One deed. */
  interface Deed {
    /** What it is called. */
    String title();

    /** What it would do now; nothing is stored. */
    DeviceEdits.Rehearsed rehearse();

    /** The version of what it changes; 0 where that has none. */
    int version();

    /** Does it; the id of the change it made, where it made one. */
    Optional<String> perform(Caller caller, Confirmation given);
  }

  private interface Rehearsing {
    DeviceEdits.Rehearsed rehearse();
  }

  private interface Performing {
    Optional<String> perform(Caller caller, Confirmation given);
  }

  private record Told(String title, int version, Rehearsing how, Performing doing) implements Deed {
    @Override
    public DeviceEdits.Rehearsed rehearse() {
      return how.rehearse();
    }

    @Override
    public Optional<String> perform(Caller caller, Confirmation given) {
      return doing.perform(caller, given);
    }
  }

  /**
   * What an intent means as things are.
   *
   * @param once under which an order is made once, however often it is performed; empty for none
   * @throws dev.pinwright.service.work.Problem 404 when what it is about is not there
   */
  Deed of(Caller caller, Intent intent, String once) {
    if (intent.publish().isPresent()) {
      Intent.OfPublication of = intent.publish().get();
      return publication(caller, said(of.id(), "publish/id"), of.waves());
    }
    if (intent.deleteProfile().isPresent()) {
      return deletion(caller, said(intent.deleteProfile().get().id(), "deleteProfile/id"));
    }
    if (intent.takeBack().isPresent()) {
      String id = said(intent.takeBack().get().id(), "takeBack/id");
      return new Told(
          "Take back: " + changes.get(caller, id).title(),
          0,
          () -> undo.rehearse(caller, id),
          (by, given) -> Optional.of(undo.undo(by, id, given).id()));
    }
    if (intent.edit().isPresent()) {
      DeviceEdits.Edit edit = intent.edit().get();
      return new Told(
          edit.title(),
          0,
          () -> edits.rehearse(caller, edit),
          (by, given) -> Optional.of(edits.edit(by, edit, given).id()));
    }
    if (intent.members().isPresent()) {
      return members(caller, intent.members().get());
    }
    if (intent.check().isPresent()) {
      return check(caller, intent.check().get());
    }
    if (intent.deleteCheck().isPresent()) {
      return deletionOfCheck(caller, said(intent.deleteCheck().get().id(), "deleteCheck/id"));
    }
    if (intent.load().isPresent()) {
      return load(caller, intent.load().get());
    }
    if (intent.order().isPresent()) {
      return order(caller, intent.order().get(), once);
    }
    return intent.group().isPresent()
        ? group(caller, intent.group().get())
        : unit(caller, intent.unit().orElseThrow());
  }

  private Deed publication(Caller caller, String id, Optional<Waves.Spec> waves) {
    Profiles.Detail p = profiles.get(caller, id);
    return new Told(
        "Publish " + p.name() + waves.map(w -> ", in waves: " + w.words()).orElse(""),
        p.version(),
        () -> DeviceEdits.Rehearsed.ofSettings(publishing.rehearse(caller, id)),
        (by, given) ->
            Optional.of(publishing.publish(by, id, p.version(), given, waves).change().id()));
  }

  private Deed deletion(Caller caller, String id) {
    Profiles.Detail p = profiles.get(caller, id);
    return new Told(
        "Delete " + p.name(),
        p.version(),
        () -> DeviceEdits.Rehearsed.ofSettings(publishing.rehearseDeletion(caller, id)),
        (by, given) -> {
          publishing.delete(by, id, p.version(), given);
          return Optional.empty();
        });
  }

  private Deed group(Caller caller, Intent.OfGroup of) {
    String id = said(of.id(), "group/id");
    Groups.Draft draft = said(of.draft(), "group/draft");
    var now = groups.get(caller, id);
    return new Told(
        "Change the group " + now.name(),
        now.version(),
        () -> {
          Groups.Rehearsed r = groups.rehearse(caller, Optional.of(id), draft);
          return new DeviceEdits.Rehearsed(
              r.settings().map(s -> s.devices()).orElse(r.entering() + r.leaving()),
              r.settings().map(s -> s.changing()).orElse(0L),
              List.of(),
              r.settings(),
              r.confirmDevices(),
              r.reasonWanted(),
              r.secondWanted());
        },
        (by, given) -> {
          groups.change(by, id, now.version(), draft, given);
          return Optional.empty();
        });
  }

  private Deed check(Caller caller, Intent.OfCheck of) {
    Checks.Draft draft = said(of.draft(), "check/draft");
    Optional<Checks.Shown> now = of.id().map(id -> checks.get(caller, id));
    return new Told(
        now.map(c -> "Change the check " + c.name()).orElse("Make the check " + draft.name()),
        now.map(Checks.Shown::version).orElse(0),
        () -> rehearsed(checks.rehearse(caller, of.id(), draft)),
        (by, given) -> {
          if (now.isPresent()) {
            checks.change(by, now.get().id(), now.get().version(), draft, given);
          } else {
            checks.add(by, draft, given);
          }
          return Optional.empty();
        });
  }

  private Deed deletionOfCheck(Caller caller, String id) {
    Checks.Shown now = checks.get(caller, id);
    return new Told(
        "Delete the check " + now.name(),
        now.version(),
        () -> rehearsed(checks.rehearseDeletion(caller, id)),
        (by, given) -> {
          checks.delete(by, id, now.version(), given);
          return Optional.empty();
        });
  }

  private static DeviceEdits.Rehearsed rehearsed(Checks.Rehearsed r) {
    return new DeviceEdits.Rehearsed(
        r.found(),
        r.found(),
        List.of(),
        r.settings(),
        r.confirmDevices(),
        r.reasonWanted(),
        r.secondWanted());
  }

  private Deed load(Caller caller, Configurations.Load load) {
    if (!load.secrets().isEmpty()) {
      throw Problem.malformed(
          "/intent/load/secrets",
          "A proposal holds no secrets; write them into the drafts first, and propose the rest.");
    }
    return new Told(
        "Load a configuration",
        0,
        () -> {
          Configurations.Rehearsed r = configurations.rehearse(caller, load);
          return new DeviceEdits.Rehearsed(
              r.settings().map(Rehearsal::devices).orElse(0L),
              r.settings().map(Rehearsal::changing).orElse(0L),
              List.of(),
              r.settings(),
              r.confirmDevices(),
              r.reasonWanted(),
              r.secondWanted());
        },
        (by, given) -> configurations.load(by, load, given).change().map(Changes.Change::id));
  }

  private Deed order(Caller caller, DispatchOrder order, String once) {
    if (dispatches.secret(order)) {
      throw Problem.malformed(
          "/intent/order/command", "A proposal holds no secrets; this has one in it.");
    }
    return new Told(
        dispatches.title(order) + order.reason().map(r -> ": " + r).orElse(""),
        0,
        () -> {
          Dispatches.Preview p = dispatches.rehearse(caller, order);
          return new DeviceEdits.Rehearsed(
              p.devices(),
              p.able(),
              List.of(),
              Optional.empty(),
              p.confirmDevices(),
              p.reasonWanted(),
              p.secondWanted(),
              p.told());
        },
        (by, given) -> {
          dispatches.order(by, order, once, given);
          return Optional.empty();
        });
  }

  private Deed members(Caller caller, Intent.OfMembers of) {
    String id = said(of.id(), "members/id");
    Groups.Members members = said(of.members(), "members/members");
    return new Told(
        "Members of " + groups.get(caller, id).name(),
        0,
        () -> DeviceEdits.Rehearsed.ofSettings(groups.rehearseMembers(caller, id, members)),
        (by, given) -> {
          groups.members(by, id, members, given);
          return Optional.empty();
        });
  }

  private Deed unit(Caller caller, Intent.OfUnit of) {
    String id = said(of.id(), "unit/id");
    var now = units.get(caller, id);
    Units.Move move = new Units.Move(of.parentId(), Optional.empty(), Optional.empty());
    return new Told(
        "Move " + now.code() + " " + now.name(),
        now.version(),
        () -> DeviceEdits.Rehearsed.ofSettings(units.rehearseMove(caller, id, move)),
        (by, given) -> {
          units.move(by, id, now.version(), move, given);
          return Optional.empty();
        });
  }
}
