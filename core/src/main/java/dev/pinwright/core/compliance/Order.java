package dev.pinwright.core.compliance;

/** Whether a device is in order, from best to worst. */
public enum Order {
  /** No check finds anything. */
  IN_ORDER,
  /** A check finds something, and there is time left to put it right. */
  IN_GRACE,
  /** The time is over. */
  OUT_OF_ORDER
}
