package dev.pinwright.core.command;

import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.CommandSpec;
import dev.pinwright.core.change.Thresholds;
import dev.pinwright.core.device.DeviceTraits;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.device.Ownership;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/**
 * Whom an order reaches: devices that are alike, with why those cannot carry it out that cannot.
 */
public record Reach(List<Part> parts) {

  /** How many devices of one kind there are. */
  public record Alike(String platform, Mode mode, Ownership ownership, long devices) {}

  /**
   * Devices of one kind.
   *
   * @param objection why they cannot; empty when they can
   */
  public record Part(Alike alike, Optional<String> objection) {}

  /** Devices that cannot carry it out and why. */
  public record Unable(String reason, long devices) {}

  public Reach {
    parts = List.copyOf(parts);
  }

  /** Holds devices against what the catalogue says of a command as it was filled in. */
  public static Reach of(Catalog catalog, CommandForm form, List<Alike> devices) {
    return new Reach(
        devices.stream()
            .map(
                d ->
                    new Part(
                        d,
                        catalog.objection(
                            form.spec(),
                            form.fields(),
                            new DeviceTraits(d.platform(), d.mode(), new OsVersion(0, 0, 0)),
                            d.ownership())))
            .toList());
  }

  /** All of them. */
  public long devices() {
    return parts.stream().mapToLong(p -> p.alike().devices()).sum();
  }

  /** Those that cannot, by reason. */
  public List<Unable> unable() {
    Map<String, Long> reasons = new TreeMap<>();
    for (Part p : parts) {
      p.objection().ifPresent(o -> reasons.merge(o, p.alike().devices(), Long::sum));
    }
    return reasons.entrySet().stream().map(r -> new Unable(r.getKey(), r.getValue())).toList();
  }

  /** How many can. */
  public long able() {
    return devices() - unable().stream().mapToLong(Unable::devices).sum();
  }

  /**
   * What is asked before so many devices get a command: of one that does no harm the number alone,
   * where they are many.
   */
  public Thresholds.Asked asked(CommandSpec spec, Thresholds thresholds) {
    Thresholds.Asked usual = thresholds.asked(devices());
    return switch (spec.danger()) {
      case NONE -> new Thresholds.Asked(usual.number(), false, false);
      case DISTURBS, LOSES -> usual;
      case WIPES -> thresholds.askedOfWipes(devices());
    };
  }
}
