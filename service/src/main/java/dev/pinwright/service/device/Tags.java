package dev.pinwright.service.device;

import dev.pinwright.core.Words;
import dev.pinwright.core.organisation.TagList;
import dev.pinwright.core.query.Rule;
import dev.pinwright.core.query.RuleNames;
import dev.pinwright.core.target.Target;
import dev.pinwright.service.group.Membership;
import dev.pinwright.service.group.RuleNamesHere;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.device.TagStore;
import dev.pinwright.storage.group.GroupStore;
import dev.pinwright.storage.profile.AssignmentStore;
import dev.pinwright.storage.row.GroupRow;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * Tags: free labels on devices, which enrollment profiles and rows of the roster give, and profiles
 * can be assigned by. A tag is its name; there is nothing else to one.
 */
public final class Tags {
  private final UseCases useCases;

  public Tags(UseCases useCases) {
    this.useCases = useCases;
  }

  /** Tags in use with the number of managed devices that have them, by tag; at most a thousand. */
  public Map<String, Long> counts(Caller caller) {
    return useCases.read(tx -> new TagStore(tx).counts());
  }

  /**
   * Gives a tag another name wherever it stands: on devices, in enrollment profiles, on the roster
   * and where profiles are assigned by it. Where the new name is a tag already, the two become one.
   *
   * @throws Problem 409 when the two become one and a profile is assigned by either of them, since
   *     settings of devices would change
   */
  public void rename(Caller caller, String tag, String name) {
    String to = name.strip();
    if (!TagList.isTag(to)) {
      throw Problem.malformed(
          "/name", "A tag has 1 to 40 letters, digits, spaces, dots or hyphens.");
    }
    useCases.run(
        caller,
        act -> {
          known(act.tx(), tag);
          if (to.equals(tag)) {
            return;
          }
          TagStore tags = new TagStore(act.tx());
          AssignmentStore assigned = new AssignmentStore(act.tx());
          GroupStore groups = new GroupStore(act.tx());
          List<String> ofNew = new ArrayList<>(assigned.users(target(to)));
          List<String> ofOld = new ArrayList<>(assigned.users(target(tag)));
          ofNew.addAll(groups.naming(RuleNames.Kind.TAG, to));
          ofOld.addAll(groups.naming(RuleNames.Kind.TAG, tag));
          boolean merge = !ofNew.isEmpty() || tags.inUse(to);
          if (merge && !(ofNew.isEmpty() && ofOld.isEmpty())) {
            Set<String> profiles = new LinkedHashSet<>(ofOld);
            profiles.addAll(ofNew);
            throw Problem.conflict(
                "tag-assigned",
                "There is a tag "
                    + to
                    + " already, and profiles are assigned or groups made by one of the two: "
                    + String.join(", ", profiles)
                    + ". Put the devices' tags right one by one or with a sheet, which says what"
                    + " changes on them.");
          }
          tags.rename(tag, to);
          assigned.rename(target(tag), to);
          RuleNames names = new RuleNamesHere(act.tx());
          for (GroupRow g : groups.lockNaming(RuleNames.Kind.TAG, tag)) {
            Rule rule = new Rule(g.rule).retagged(tag, to, names);
            g.rule = rule.byId();
            groups.mentions(g.id, rule.mentions(names));
          }
          act.done(Noun.TAG, "renamed", to, "Tag " + tag + " is now " + to);
          act.touch(Noun.DEVICE);
        });
  }

  /**
   * Takes a tag away from every device, enrollment profile and row of the roster.
   *
   * @throws Problem 409 naming the profiles that are assigned by it
   */
  public void remove(Caller caller, String tag) {
    useCases.run(
        caller,
        act -> {
          known(act.tx(), tag);
          Membership.refuseNamed(act.tx(), RuleNames.Kind.TAG, tag, "the tag " + tag);
          List<String> profiles = new AssignmentStore(act.tx()).users(target(tag));
          if (!profiles.isEmpty()) {
            throw Problem.conflict(
                "in-use",
                "Profiles are assigned by the tag "
                    + tag
                    + ": "
                    + String.join(", ", profiles)
                    + ". Take it out of them first.");
          }
          int devices = new TagStore(act.tx()).remove(tag);
          act.done(
              Noun.TAG,
              "removed",
              tag,
              "Tag " + tag + " taken away from " + Words.counted(devices, "device"));
          act.touch(Noun.DEVICE);
        });
  }

  private static Target target(String tag) {
    return new Target(Target.Kind.TAG, tag);
  }

  private static void known(Tx tx, String tag) {
    if (!TagList.isTag(tag)
        || !new TagStore(tx).inUse(tag) && new AssignmentStore(tx).users(target(tag)).isEmpty()) {
      throw Problem.notFound("tag", tag);
    }
  }
}
