package dev.pinwright.core.policy;

import dev.pinwright.core.catalog.SettingValue;
import java.util.Map;

/**
 * One published profile as it reaches a device.
 *
 * @param source which profile, in which version
 * @param nearness see {@code Target.nearness}; the larger is nearer
 * @param publication rises with every publication; the larger is later
 * @param values by setting key
 */
public record Layer(
    Source source, int nearness, long publication, Map<String, SettingValue> values) {
  public Layer {
    values = Map.copyOf(values);
  }

  /** A profile version. */
  public record Source(String profileId, String profileName, int version) {}
}
