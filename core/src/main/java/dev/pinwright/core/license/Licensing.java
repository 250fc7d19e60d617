package dev.pinwright.core.license;

/** In whose name licenses of an app are held. */
public enum Licensing {
  /** Nobody needs one. */
  FREE,
  /** Each device, by its serial number. */
  BY_DEVICE,
  /** Each holder, by their mail address, for all the devices they hold. */
  BY_HOLDER
}
