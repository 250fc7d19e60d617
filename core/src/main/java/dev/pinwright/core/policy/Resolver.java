package dev.pinwright.core.policy;

import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.Setting;
import dev.pinwright.core.catalog.SettingValue;
import dev.pinwright.core.catalog.SettingValue.Flag;
import dev.pinwright.core.catalog.SettingValue.Items;
import dev.pinwright.core.catalog.SettingValue.Text;
import dev.pinwright.core.catalog.SettingValue.Whole;
import dev.pinwright.core.catalog.ValueType.ChoiceType;
import dev.pinwright.core.device.DeviceTraits;
import dev.pinwright.core.policy.Effective.Contribution;
import dev.pinwright.core.policy.Effective.Loser;
import dev.pinwright.core.policy.Effective.Resolved;
import dev.pinwright.core.policy.Effective.Unsupported;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.Function;
import java.util.stream.Collectors;

/** Turns the layers that reach a device into one value per setting. */
public final class Resolver {
  /** Nearest first, then latest; the profile id makes the order total. */
  private static final Comparator<Contribution> NEAREST_FIRST =
      Comparator.comparingInt(Contribution::nearness)
          .thenComparingLong(Contribution::publication)
          .thenComparing(c -> c.source().profileId())
          .reversed();

  private final Catalog catalog;

  public Resolver(Catalog catalog) {
    this.catalog = catalog;
  }

  /**
   * Resolves. The result does not depend on the order of the layers. Keys the catalogue does not
   * know are passed over: a setting taken out of the catalogue stops travelling.
   */
  public Effective resolve(Collection<Layer> layers, DeviceTraits traits) {
    Map<String, List<Contribution>> byKey = new TreeMap<>();
    List<Unsupported> unsupported = new ArrayList<>();
    for (Layer layer : layers) {
      Map<String, String> without = new TreeMap<>();
      layer
          .values()
          .keySet()
          .forEach(
              key ->
                  catalog
                      .setting(key)
                      .ifPresent(
                          s ->
                              s.objection(traits)
                                  .ifPresent(o -> without.put(s.entry().orElse(key), o))));
      layer
          .values()
          .forEach(
              (key, value) ->
                  catalog
                      .setting(key)
                      .ifPresent(
                          setting -> {
                            // an entry that cannot be taken whole is not taken at all
                            String objection = without.get(setting.entry().orElse(key));
                            if (objection != null) {
                              unsupported.add(new Unsupported(setting, layer.source(), objection));
                            } else {
                              byKey
                                  .computeIfAbsent(key, k -> new ArrayList<>())
                                  .add(
                                      new Contribution(
                                          layer.source(),
                                          layer.nearness(),
                                          layer.publication(),
                                          value));
                            }
                          }));
    }
    unsupported.sort(
        Comparator.comparing((Unsupported u) -> u.setting().key())
            .thenComparing(u -> u.source().profileId()));
    Map<String, Contribution> nearestOf = new TreeMap<>();
    Map<String, Map<Layer.Source, Long>> deciding = new TreeMap<>();
    byKey.forEach(
        (key, said) ->
            catalog
                .decides(key)
                .ifPresent(
                    setting -> {
                      Map<Layer.Source, Long> ranks = new HashMap<>();
                      said.forEach(c -> ranks.put(c.source(), rank(setting, c.value())));
                      deciding.put(setting.entry().orElseThrow(), ranks);
                    }));
    byKey.forEach(
        (key, said) ->
            catalog
                .setting(key)
                .flatMap(Setting::entry)
                .ifPresent(
                    entry -> {
                      Comparator<Contribution> first =
                          first(deciding.getOrDefault(entry, Map.of()));
                      said.forEach(
                          c ->
                              nearestOf.merge(
                                  entry, c, (a, b) -> first.compare(a, b) <= 0 ? a : b));
                    }));
    List<Resolved> resolved = new ArrayList<>();
    byKey.forEach(
        (key, said) -> {
          Setting setting = catalog.setting(key).orElseThrow();
          if (setting.entry().isEmpty()) {
            resolved.add(merge(setting, said));
          } else {
            String entry = setting.entry().get();
            entry(setting, said, nearestOf.get(entry), deciding.getOrDefault(entry, Map.of()))
                .ifPresent(resolved::add);
          }
        });
    Map<Boolean, List<Resolved>> apart =
        resolved.stream().collect(Collectors.partitioningBy(r -> catalog.apart(r.setting().key())));
    return new Effective(apart.get(false), apart.get(true), unsupported);
  }

  /**
   * A setting of an entry: as the profile says it whose entry it is, which others do not add to.
   */
  private static Optional<Resolved> entry(
      Setting setting,
      List<Contribution> said,
      Contribution nearest,
      Map<Layer.Source, Long> deciding) {
    said.sort(NEAREST_FIRST);
    return said.stream()
        .filter(c -> c.source().equals(nearest.source()))
        .findFirst()
        .map(
            own -> {
              List<Loser> losers =
                  said.stream()
                      .filter(c -> !c.source().equals(own.source()))
                      .filter(c -> !c.value().equals(own.value()))
                      .map(
                          c ->
                              new Loser(
                                  c,
                                  decided(deciding, c, own)
                                      ? "what is stricter wins, however near, with all of the entry"
                                      : c.nearness() < own.nearness()
                                          ? "a nearer assignment wins, with all of the entry"
                                          : "equally near; the later publication wins, with all"
                                              + " of the entry"))
                      .toList();
              boolean conflict =
                  losers.stream()
                      .map(Loser::contribution)
                      .anyMatch(c -> c.nearness() == own.nearness() && !decided(deciding, c, own));
              return new Resolved(setting, own.value(), List.of(own), losers, conflict);
            });
  }

  private static boolean decided(
      Map<Layer.Source, Long> deciding, Contribution loser, Contribution winner) {
    return !Objects.equals(deciding.get(loser.source()), deciding.get(winner.source()));
  }

  /** Whose choice decides, first; then {@link #NEAREST_FIRST}. */
  private static Comparator<Contribution> first(Map<Layer.Source, Long> deciding) {
    return Comparator.comparingLong(
            (Contribution c) -> deciding.getOrDefault(c.source(), Long.MAX_VALUE))
        .thenComparing(NEAREST_FIRST);
  }

  private static Resolved merge(Setting setting, List<Contribution> said) {
    said.sort(NEAREST_FIRST);
    return switch (setting.merge()) {
      case LEAST -> strictest(setting, said, Comparator.reverseOrder(), "a lower value");
      case GREATEST -> strictest(setting, said, Comparator.naturalOrder(), "a higher value");
      case ANY -> flag(setting, said, said.stream().anyMatch(Resolver::on));
      case ALL -> flag(setting, said, said.stream().allMatch(Resolver::on));
      case UNION -> items(setting, said, false);
      case INTERSECTION -> items(setting, said, true);
      case NEAREST -> nearest(setting, said);
    };
  }

  private static Resolved strictest(
      Setting setting, List<Contribution> said, Comparator<Long> stricter, String phrase) {
    Function<Contribution, Long> rank = c -> rank(setting, c.value());
    Contribution best = said.stream().max(Comparator.comparing(rank, stricter)).orElseThrow();
    return settle(setting, said, best.value(), c -> phrase + " is stricter and wins", false);
  }

  private static long rank(Setting setting, SettingValue value) {
    if (value instanceof Whole w) {
      return w.number();
    }
    return setting.type() instanceof ChoiceType choices && value instanceof Text t
        ? choices.position(t.text())
        : 0;
  }

  private static boolean on(Contribution c) {
    return c.value() instanceof Flag f && f.on();
  }

  private static Resolved flag(Setting setting, List<Contribution> said, boolean on) {
    String word = on ? "on" : "off";
    return settle(
        setting, said, new Flag(on), c -> "another profile says " + word + ", which wins", false);
  }

  private static Resolved items(Setting setting, List<Contribution> said, boolean onlyCommon) {
    TreeSet<String> items = new TreeSet<>(list(said.get(0)));
    said.forEach(
        c -> {
          if (onlyCommon) {
            items.retainAll(list(c));
          } else {
            items.addAll(list(c));
          }
        });
    return new Resolved(
        setting, new Items(List.copyOf(items)), List.copyOf(said), List.of(), false);
  }

  private static List<String> list(Contribution c) {
    return c.value() instanceof Items i ? i.items() : List.of();
  }

  private static Resolved nearest(Setting setting, List<Contribution> said) {
    Contribution best = said.get(0);
    boolean conflict =
        said.stream()
            .anyMatch(c -> c.nearness() == best.nearness() && !c.value().equals(best.value()));
    return settle(
        setting,
        said,
        best.value(),
        c ->
            c.nearness() < best.nearness()
                ? "a nearer assignment wins"
                : "equally near; the later publication wins",
        conflict);
  }

  private static Resolved settle(
      Setting setting,
      List<Contribution> said,
      SettingValue value,
      Function<Contribution, String> reason,
      boolean conflict) {
    List<Contribution> winners = said.stream().filter(c -> c.value().equals(value)).toList();
    List<Loser> losers =
        said.stream()
            .filter(c -> !c.value().equals(value))
            .map(c -> new Loser(c, reason.apply(c)))
            .toList();
    return new Resolved(setting, value, winners, losers, conflict);
  }
}
