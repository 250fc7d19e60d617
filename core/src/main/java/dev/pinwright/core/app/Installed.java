package dev.pinwright.core.app;

/**
 * An app on a device, as the device tells it.
 *
 * @param id see {@link AppId}
 * @param active whether it can be opened
 * @param managed whether the organisation put it there or took it over
 * @param bytes what it takes; 0 when the device does not say
 * @param source where it came from, in the device's word
 * @param node what the device calls its node in its tree
 * @param configuration digest of the configuration in force; empty for none
 */
public record Installed(
    String id,
    String name,
    String version,
    boolean active,
    boolean managed,
    long bytes,
    String source,
    String configuration,
    String node) {}
