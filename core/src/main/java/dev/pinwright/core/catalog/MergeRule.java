package dev.pinwright.core.catalog;

/** How the values several profiles give one setting become one. */
public enum MergeRule {
  /** The smaller number, or the choice listed first, is stricter and wins. */
  LEAST,
  /** The larger number, or the choice listed last, is stricter and wins. */
  GREATEST,
  /** On if any profile says on. */
  ANY,
  /** On only if all profiles say on. */
  ALL,
  /** Every item any profile lists. */
  UNION,
  /** Only items all profiles list. */
  INTERSECTION,
  /**
   * The nearest assignment wins (device, then group or tag, then everyone); then the later
   * publication.
   */
  NEAREST
}
