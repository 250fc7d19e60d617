package dev.pinwright.core.device;

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

  /** What the judgement of a standing rests on. All of it is known after a session. */
  public record Evidence(
      boolean treeMatches,
      boolean wasSettledOnSameTree,
      boolean holderMustChoosePasscode,
      int refusedSettings) {}

  /** A standing and, unless settled, the reason in plain words. */
  public record Judgement(Standing standing, String reason) {}

  /** What a device is that held what it should and now says otherwise. */
  public static Judgement drifted() {
    return new Judgement(DRIFTED, "its settings were changed on the device");
  }

  /** Judges a device that was just heard. */
  public static Judgement judge(Evidence e) {
    if (!e.treeMatches()) {
      return e.wasSettledOnSameTree()
          ? drifted()
          : new Judgement(CATCHING_UP, "a change is on its way");
    }
    if (e.holderMustChoosePasscode()) {
      return new Judgement(CATCHING_UP, "the holder has to choose a passcode");
    }
    if (e.refusedSettings() > 0) {
      String settings = e.refusedSettings() == 1 ? "1 setting" : e.refusedSettings() + " settings";
      return new Judgement(BLOCKED, "the device refused " + settings);
    }
    return new Judgement(SETTLED, "");
  }
}
