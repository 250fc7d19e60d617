package dev.pinwright.core.device;

/**
 * What decides which settings a device can take: its platform, mode and OS version.
 *
 * @param platform catalogue key, such as {@code tarn}
 * @param mode management mode
 * @param os version, or for a shape the level (see {@code Catalog.osLevel}) it stands for
 */
public record DeviceTraits(String platform, Mode mode, OsVersion os) {}
