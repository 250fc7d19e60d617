package dev.pinwright.core.policy;

import dev.pinwright.core.catalog.Setting;
import dev.pinwright.core.catalog.SettingValue;
import dev.pinwright.core.tree.Leaf;
import dev.pinwright.core.tree.Tree;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Stream;

/**
 * What devices of one shape should have, and why.
 *
 * @param settings resolved settings of the policy, in order of key
 * @param apart resolved settings that are no leaves of the policy, in order of key: which apps
 *     there are to be
 * @param unsupported what profiles say but these devices cannot take
 */
public record Effective(
    List<Resolved> settings, List<Resolved> apart, List<Unsupported> unsupported) {
  public Effective {
    apart = List.copyOf(apart);
    settings = List.copyOf(settings);
    unsupported = List.copyOf(unsupported);
  }

  /**
   * One setting resolved.
   *
   * @param value the value in effect
   * @param winners contributions that the value rests on
   * @param losers contributions that were overruled, each with the reason
   * @param conflict whether equally near profiles disagreed and only the later publication decided
   */
  public record Resolved(
      Setting setting,
      SettingValue value,
      List<Contribution> winners,
      List<Loser> losers,
      boolean conflict) {}

  /** What one profile says of one setting. */
  public record Contribution(
      Layer.Source source, int nearness, long publication, SettingValue value) {}

  /** An overruled contribution and the reason. */
  public record Loser(Contribution contribution, String reason) {}

  /** A setting these devices cannot take and the reason. */
  public record Unsupported(Setting setting, Layer.Source source, String reason) {}

  /** All that is resolved, whether of the policy or apart. */
  public List<Resolved> all() {
    return Stream.concat(settings.stream(), apart.stream()).toList();
  }

  /** The desired tree: one leaf per setting of the policy. */
  public Tree compile() {
    return tree(settings);
  }

  /** What is wanted besides the policy: one leaf per setting that is apart. */
  public Tree wanted() {
    return tree(apart);
  }

  private static Tree tree(List<Resolved> resolved) {
    Map<String, Leaf> leaves = new TreeMap<>();
    resolved.forEach(
        r -> leaves.put(r.setting().path(), new Leaf(r.value().format(), r.value().text())));
    return new Tree(leaves);
  }
}
