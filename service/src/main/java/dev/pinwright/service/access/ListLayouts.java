package dev.pinwright.service.access;

import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.access.LayoutStore;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;

/**
 * How each account likes its lists, so that they look the same from any browser. A matter of taste
 * and of one account alone: it is not journaled.
 */
public final class ListLayouts {
  private static final int MAX_LISTS = 60;
  private static final int MAX_VIEWS = 60;
  private static final int MAX_COLUMNS = 100;
  private final UseCases useCases;

  public ListLayouts(UseCases useCases) {
    this.useCases = useCases;
  }

  /** The filters of a list under a name; {@code search} as in the page's address. */
  public record SavedView(String name, String search) {}

  /**
   * One list.
   *
   * @param hidden columns left out
   * @param widths of columns, in pixels
   * @param order of columns, by id; empty for the usual
   */
  public record Layout(
      List<String> hidden, Map<String, Integer> widths, List<String> order, List<SavedView> views) {

    private void check() {
      if (hidden == null || widths == null || order == null || views == null) {
        throw Problem.malformed("", "Give hidden, widths, order and views.");
      }
      if (views.size() > MAX_VIEWS
          || views.stream()
              .anyMatch(v -> v.name() == null || !v.name().matches("\\P{Cntrl}{1,60}"))) {
        throw Problem.malformed(
            "/views", "A list has at most 60 views with names of 1 to 60 characters.");
      }
      if (views.stream().anyMatch(v -> v.search() == null || v.search().length() > 1000)) {
        throw Problem.malformed("/views", "A view's filters have at most 1000 characters.");
      }
      if (hidden.size() > MAX_COLUMNS
          || widths.size() > MAX_COLUMNS
          || order.size() > MAX_COLUMNS) {
        throw Problem.malformed("", "A list has at most 100 columns.");
      }
    }
  }

  /** Every list of the caller that is not as usual. */
  public Map<String, Layout> all(Caller caller) {
    Map<String, Layout> out = new TreeMap<>();
    useCases
        .read(tx -> new LayoutStore(tx).of(caller.accountId()))
        .forEach((list, content) -> out.put(list, Json.read(content, Layout.class)));
    return out;
  }

  /**
   * Keeps one list's layout.
   *
   * @throws Problem 400 when something is out of bounds
   */
  public Layout keep(Caller caller, String list, Layout layout) {
    if (!list.matches("[a-z-]{1,40}")) {
      throw Problem.malformed("/id", "A list's name has 1 to 40 small letters and hyphens.");
    }
    layout.check();
    useCases.run(
        caller,
        act -> {
          LayoutStore store = new LayoutStore(act.tx());
          Set<String> kept = store.of(caller.accountId()).keySet();
          if (!kept.contains(list) && kept.size() >= MAX_LISTS) {
            throw Problem.malformed("/id", "At most 60 lists are kept.");
          }
          store.keep(caller.accountId(), list, Json.write(layout));
        });
    return layout;
  }
}
