package dev.pinwright.core.kiosk;

import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.HomeCell;
import dev.pinwright.core.catalog.JsonTexts;
import dev.pinwright.core.tree.Tree;
import java.time.Duration;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * What a device in a kiosk shows and lets happen.
 *
 * @param one whether it shows one app only, the first
 * @param apps ids of the apps that can be opened, in their order
 * @param home where they lie
 * @param fallback the app in place of one that is not there
 * @param title words above the home screen; may hold placeholders
 * @param off what does nothing: {@code status-bar}, {@code home-button}, {@code power-button},
 *     {@code volume-buttons}, {@code touch}
 * @param changes what whoever stands before it may change
 * @param exitCode whether a code leaves it
 * @param exitFor how long it stays open after a code
 */
public record Kiosk(
    boolean one,
    List<String> apps,
    HomeScreen home,
    Optional<String> fallback,
    String title,
    Set<String> off,
    List<String> changes,
    boolean exitCode,
    Duration exitFor) {
  private static final String ROOT = Catalog.POLICY_ROOT + "/kiosk/";
  private static final String MODE = "mode";
  private static final int COLUMNS = 3;
  private static final int EXIT_MINUTES = 30;
  private static final List<String> OFF =
      List.of("status-bar", "home-button", "power-button", "volume-buttons", "touch");

  public Kiosk {
    apps = List.copyOf(apps);
    off = Set.copyOf(off);
    changes = List.copyOf(changes);
  }

  /**
   * Reads it from the texts of the kiosk settings, as they stand in a policy tree.
   *
   * @return empty when the device shows everything
   */
  public static Optional<Kiosk> read(Map<String, String> texts) {
    String mode = texts.getOrDefault(MODE, "free");
    if (mode.equals("free")) {
      return Optional.empty();
    }
    List<String> apps = items(texts.get("apps"));
    int columns = Integer.parseInt(texts.getOrDefault("columns", String.valueOf(COLUMNS)));
    List<HomeCell> cells =
        items(texts.get("layout")).stream().flatMap(t -> HomeCell.read(t).stream()).toList();
    return Optional.of(
        new Kiosk(
            mode.equals("one"),
            apps,
            HomeScreen.of(columns, apps, cells),
            Optional.ofNullable(texts.get("fallback")),
            texts.getOrDefault("title", ""),
            Set.copyOf(
                OFF.stream().filter(o -> Boolean.parseBoolean(texts.get(o + "-off"))).toList()),
            items(texts.get("holder-changes")),
            Boolean.parseBoolean(texts.getOrDefault("exit-code", "true")),
            Duration.ofMinutes(
                Long.parseLong(texts.getOrDefault("exit-minutes", String.valueOf(EXIT_MINUTES))))));
  }

  /**
   * What a device should hold of its policy tree for now: all of it, but not the kiosk as long as
   * it is in none and has nothing to show in it, while that is on its way: its one app, or all
   * those of its home screen. So nobody stands before a closed device that shows nothing.
   *
   * @param held what it holds
   * @param coming whether an app, by id, is on its way to it; asked for where it matters
   */
  public static Tree closingLast(Tree desired, Tree held, Supplier<Predicate<String>> coming) {
    return in(desired)
        .filter(k -> in(held).isEmpty())
        .filter(k -> !k.apps().isEmpty() && k.shownFirst().stream().allMatch(coming.get()))
        .map(k -> desired.without(leaf -> leaf.getKey().equals(ROOT + MODE)))
        .orElse(desired);
  }

  private List<String> shownFirst() {
    return one ? apps.subList(0, 1) : apps;
  }

  private static Optional<Kiosk> in(Tree policy) {
    Map<String, String> texts = new HashMap<>();
    policy
        .leaves()
        .forEach(
            (path, leaf) -> {
              if (path.startsWith(ROOT)) {
                texts.put(path.substring(ROOT.length()), leaf.value());
              }
            });
    return read(texts);
  }

  private static List<String> items(@Nullable String text) {
    return Optional.ofNullable(text).flatMap(JsonTexts::read).orElse(List.of());
  }

  /** What stands on the screen of a kiosk. */
  public record Shown(Optional<String> app, List<String> missing) {}

  /**
   * What is shown with the apps that are there: in a kiosk of one app that app, or what stands in
   * for it; on a home screen nothing until one is opened. What is missing is to be reported.
   */
  public Shown shown(Set<String> there) {
    List<String> wanted = one ? apps.stream().limit(1).toList() : apps;
    List<String> missing = wanted.stream().filter(a -> !there.contains(a)).toList();
    Optional<String> app =
        one
            ? wanted.stream().filter(there::contains).findFirst().or(() -> standIn(there))
            : Optional.empty();
    return new Shown(app, missing);
  }

  private Optional<String> standIn(Set<String> there) {
    return fallback.filter(there::contains);
  }
}
