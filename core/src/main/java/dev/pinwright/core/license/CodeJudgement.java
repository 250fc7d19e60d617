package dev.pinwright.core.license;

/** What a store says of a redemption code. */
public enum CodeJudgement {
  /** It is worth a license. */
  GOOD,
  /** Somebody has redeemed it. */
  SPENT,
  /** The store never gave it out. */
  UNKNOWN,
  /** It is of another app. */
  OTHER_APP,
  /** It stands in the sheet before. */
  TWICE
}
