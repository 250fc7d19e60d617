package dev.pinwright.core.device;

/** The management mode: how far the organisation's word goes on a device. */
public enum Mode {
  SUPERVISED,
  STANDARD,
  WORK_PROFILE
}
