package dev.pinwright.core.device;

import dev.pinwright.core.Versioned;

/**
 * A group picked by hand.
 *
 * @param devices how many are in it
 */
public record DeviceGroup(String id, int version, String name, long devices) implements Versioned {}
