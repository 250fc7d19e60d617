package dev.pinwright.core.device;

import java.time.Instant;

/** One thing that happened to a device, as a line for people. */
public record ActivityLine(long id, Instant at, String kind, String text) {}
