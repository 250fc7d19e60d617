package dev.pinwright.sandbox.device;

import java.util.List;

/** A made-up model of device. Capacity in bytes. */
public record Model(
    String maker, String name, String platform, String kind, boolean cellular, long capacity) {
  private static final long GB = 1_000_000_000L;

  /** Every model the sandbox can make. */
  public static final List<Model> ALL =
      List.of(
          new Model("Arbor", "T10", "tarn", "tablet", false, 64 * GB),
          new Model("Arbor", "T8 mini", "tarn", "tablet", true, 32 * GB),
          new Model("Lundin", "Fold", "tarn", "phone", true, 128 * GB),
          new Model("Kestre", "P5", "fjell", "phone", true, 128 * GB),
          new Model("Kestre", "P5 rugged", "fjell", "tablet", true, 64 * GB),
          new Model("Moor", "Note 14", "moor", "laptop", false, 512 * GB));

  /**
   * A model by name.
   *
   * @throws IllegalArgumentException naming the ones there are
   */
  public static Model named(String name) {
    return ALL.stream()
        .filter(m -> m.name().equals(name))
        .findFirst()
        .orElseThrow(
            () ->
                new IllegalArgumentException(
                    "there is no model '"
                        + name
                        + "'; there are "
                        + String.join(", ", ALL.stream().map(Model::name).toList())));
  }
}
