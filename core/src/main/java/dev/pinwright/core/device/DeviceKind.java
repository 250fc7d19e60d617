package dev.pinwright.core.device;

/** The kind of device. */
public enum DeviceKind {
  PHONE,
  TABLET,
  LAPTOP
}
