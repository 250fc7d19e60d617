package dev.pinwright.service;

import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.storage.query.SearchStore;
import java.util.Collection;
import java.util.List;
import java.util.Locale;

/** Finds things of every kind by words, for the search that is always at hand. */
public final class Search {
  private static final int EACH = 8;
  private final UseCases useCases;

  Search(UseCases useCases) {
    this.useCases = useCases;
  }

  /**
   * At most eight of each kind that match the words by name or identifier.
   *
   * @param kind only these; empty for every kind
   * @param whole whether they have to be called or known exactly so
   */
  public List<SearchStore.Found> find(Caller caller, String words, String kind, boolean whole) {
    String plain = words.strip().toLowerCase(Locale.ROOT);
    if (plain.isEmpty()) {
      return List.of();
    }
    Collection<String> kinds = kind.isEmpty() ? SearchStore.kinds() : List.of(kind);
    return useCases.read(
        tx ->
            whole
                ? new SearchStore(tx).exactly(kinds, plain, EACH)
                : new SearchStore(tx).find(kinds, plain, EACH));
  }
}
