package dev.pinwright.core.kiosk;

import dev.pinwright.core.catalog.HomeCell;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * Where the apps of a kiosk lie: rows of cells from the top, and a dock below them. Apps that were
 * given no cell, or one that is taken or beyond the edge, follow in order in those that are free.
 *
 * @param columns cells beside each other
 * @param rows apps by column, of each row down to the last that holds one
 * @param dock apps at the bottom, in the order of their columns
 */
public record HomeScreen(int columns, List<List<Optional<String>>> rows, List<String> dock) {
  /** Lays apps out. */
  public static HomeScreen of(int columns, List<String> apps, List<HomeCell> cells) {
    Map<Integer, String> placed = new LinkedHashMap<>();
    List<String> loose = new ArrayList<>();
    for (String app : apps) {
      cells.stream()
          .filter(c -> c.app().equals(app) && c.column() <= columns)
          .map(c -> c.row() * columns + c.column() - 1)
          .filter(at -> !placed.containsKey(at))
          .findFirst()
          .ifPresentOrElse(at -> placed.put(at, app), () -> loose.add(app));
    }
    int free = columns;
    for (String app : loose) {
      while (placed.containsKey(free)) {
        free++;
      }
      placed.put(free, app);
    }
    int last = placed.keySet().stream().mapToInt(at -> at / columns).max().orElse(0);
    List<List<Optional<String>>> rows = new ArrayList<>();
    for (int row = 1; row <= last; row++) {
      List<Optional<String>> line = new ArrayList<>();
      for (int column = 0; column < columns; column++) {
        line.add(Optional.ofNullable(placed.get(row * columns + column)));
      }
      rows.add(line);
    }
    List<String> dock = new ArrayList<>();
    for (int column = 0; column < columns; column++) {
      Optional.ofNullable(placed.get(column)).ifPresent(dock::add);
    }
    return new HomeScreen(columns, List.copyOf(rows), List.copyOf(dock));
  }
}
