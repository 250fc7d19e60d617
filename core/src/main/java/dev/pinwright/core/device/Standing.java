package dev.pinwright.core.device;

import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** How a device stands to its desired tree. */
public enum Standing {
  /** The reported tree is the desired tree and nothing is asked of the holder. */
  SETTLED,
  /** A change is on its way, or the holder has to do something first. */
  CATCHING_UP,
  /** It was settled and its tree changed without us. It is put right at the next session. */
  DRIFTED,
  /** It refused part of what it was told; the rest is in effect. */
  BLOCKED,
  /** Not heard of for longer than the silence limit. */
  SILENT,
  /** No longer managed; kept on file. */
  RETIRED;

  /**
   * What the judgement of a standing rests on.
   *
   * @param unheard how long it was not heard of, when that is over the limit
   * @param matches whether it holds what it should
   * @param agreed whether it held what it should when it was heard before, and should still
   * @param stuck whether it turned down its settings without saying which
   * @param holderMust what its holder has to do first, in words that follow "the holder has to"
   * @param refused how many settings it refused
   * @param coming how many apps are coming or going
   * @param failing what cannot be done about its apps, each as a sentence
   */
  public record Evidence(
      Optional<Duration> unheard,
      boolean matches,
      boolean agreed,
      boolean stuck,
      Optional<String> holderMust,
      int refused,
      int coming,
      List<String> failing) {

    /** A device that was not heard of for so long. */
    public static Evidence ofSilence(Duration unheard) {
      return new Evidence(
          Optional.of(unheard), false, false, false, Optional.empty(), 0, 0, List.of());
    }

    /** What a device says at the beginning of a session of a tree it should hold. */
    public static Evidence ofDigest(boolean matches, boolean agreed) {
      return new Evidence(
          Optional.empty(), matches, agreed, false, Optional.empty(), 0, 0, List.of());
    }
  }

  /** A standing and, unless settled, the reason in plain words. */
  public record Judgement(Standing standing, String reason) {}

  /** Judges a device. */
  public static Judgement judge(Evidence e) {
    if (e.unheard().isPresent()) {
      long days = e.unheard().get().toDays();
      return new Judgement(SILENT, "not heard of for " + days + (days == 1 ? " day" : " days"));
    }
    if (!e.matches()) {
      if (e.agreed()) {
        return new Judgement(DRIFTED, "its settings were changed on the device");
      }
      return new Judgement(
          CATCHING_UP,
          e.stuck()
              ? "the device could not apply its settings and gave no reason"
              : "a change is on its way");
    }
    if (e.holderMust().isPresent()) {
      return new Judgement(CATCHING_UP, "the holder has to " + e.holderMust().get());
    }
    if (e.coming() > 0) {
      return new Judgement(
          CATCHING_UP,
          e.coming() == 1 ? "an app is on its way" : e.coming() + " apps are on their way");
    }
    if (e.refused() > 0 || !e.failing().isEmpty()) {
      List<String> reasons = new ArrayList<>();
      if (e.refused() > 0) {
        String settings = e.refused() == 1 ? "1 setting" : e.refused() + " settings";
        reasons.add("the device refused " + settings);
      }
      reasons.addAll(e.failing().stream().limit(1).toList());
      int more = e.failing().size() - 1;
      if (more > 0) {
        reasons.add(more == 1 ? "1 more app fails" : more + " more apps fail");
      }
      return new Judgement(BLOCKED, String.join("; ", reasons));
    }
    return new Judgement(SETTLED, "");
  }
}
