package dev.pinwright.core.wipe;

import dev.pinwright.core.catalog.CommandSpec;
import java.util.ArrayList;
import java.util.List;

/**
 * What devices have to lose, counted.
 *
 * @param devices all of them
 * @param personal those that are their holders' own
 * @param apps those with apps of the organisation
 * @param unsaved those not known to be backed up in the last week
 * @param keyless laptops whose disk no escrowed key opens
 * @param unseen those not heard of for a week
 */
public record AtStake(
    long devices, long personal, long apps, long unsaved, long keyless, long unseen) {

  /** Nothing. */
  public static final AtStake NOTHING = new AtStake(0, 0, 0, 0, 0, 0);

  /** What ordering a command loses on them, each a sentence; none where it loses nothing. */
  public List<String> losses(CommandSpec spec) {
    List<String> out = new ArrayList<>();
    if (spec.danger() != CommandSpec.Danger.WIPES) {
      return out;
    }
    boolean all = spec.key().equals(WipeKind.DEVICE.command());
    boolean work = spec.key().equals(WipeKind.WORK.command()) || spec.key().equals("release");
    if ((all || work) && apps > 0) {
      out.add(
          some(apps, "has", "have") + " apps of the organisation, which go with what is in them.");
    }
    if (all && unsaved > 0) {
      out.add(some(unsaved, "has", "have") + " told of no backup in the last seven days.");
    }
    if (all && keyless > 0) {
      out.add(some(keyless, "has", "have") + " a disk that no key on file opens.");
    }
    if (work && personal > 0) {
      out.add(
          some(personal, "is", "are") + " the holder’s own: what is theirs on it stays as it is.");
    }
    if (unseen > 0) {
      out.add(
          some(unseen, "was", "were")
              + " not heard of for a week: it happens once they are, or not at all.");
    }
    return out;
  }

  private String some(long n, String one, String many) {
    if (n == devices) {
      return devices == 1 ? "It " + one : "All of them " + many;
    }
    return n + " of " + devices + " " + (n == 1 ? one : many);
  }
}
