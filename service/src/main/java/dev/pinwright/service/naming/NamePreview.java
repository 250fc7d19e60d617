package dev.pinwright.service.naming;

import dev.pinwright.core.device.Identifier;
import dev.pinwright.core.naming.NamePattern;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.naming.SequenceStore;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.OptionalLong;
import java.util.function.ToLongFunction;
import org.jspecify.annotations.Nullable;

/** What a name pattern would make of devices that are really there, or on their way. */
public final class NamePreview {
  private static final int ROWS = 6;
  private final UseCases useCases;

  public NamePreview(UseCases useCases) {
    this.useCases = useCases;
  }

  /** A pattern, and where devices land of which nothing nearer is known. */
  public record Draft(
      @Nullable String namePattern, @Nullable String unitId, @Nullable String siteId) {}

  /** A device, by identifier and model, and the name it would get. */
  public record Named(String device, String name) {}

  /**
   * Names for rows of the roster that are expected, then for the newest devices; at most six. No
   * number is reserved.
   *
   * @throws Problem 400 when the pattern is not one
   */
  public List<Named> show(Caller caller, Draft draft) {
    NamePattern pattern =
        Problem.reading(
            "/namePattern",
            () -> new NamePattern(draft.namePattern() == null ? "" : draft.namePattern()));
    return useCases.read(
        tx -> {
          SequenceStore store = new SequenceStore(tx);
          Map<String, Long> next = new HashMap<>();
          return store
              .examples(
                  draft.unitId() == null ? "" : draft.unitId(),
                  draft.siteId() == null ? "" : draft.siteId(),
                  ROWS)
              .stream()
              .map(e -> named(pattern, e, key -> number(store, next, key)))
              .toList();
        });
  }

  private static long number(SequenceStore store, Map<String, Long> next, String key) {
    long number =
        next.computeIfAbsent(key, k -> store.find(k).map(SequenceStore.Sequence::last).orElse(0L))
            + 1;
    next.put(key, number);
    return number;
  }

  private static Named named(
      NamePattern pattern, SequenceStore.Example e, ToLongFunction<String> next) {
    List<Identifier> identifiers = new ArrayList<>();
    e.serial().ifPresent(v -> identifiers.add(new Identifier(Identifier.Kind.SERIAL, v)));
    e.imei().ifPresent(v -> identifiers.add(new Identifier(Identifier.Kind.IMEI, v)));
    e.asset().ifPresent(v -> identifiers.add(new Identifier(Identifier.Kind.ASSET, v)));
    NamePattern.Facts facts =
        new NamePattern.Facts(
            identifiers,
            e.model().isEmpty() ? "device" : e.model(),
            e.platform(),
            e.person(),
            e.unit(),
            e.site(),
            e.sheet());
    OptionalLong number =
        pattern.counts()
            ? OptionalLong.of(next.applyAsLong(pattern.sequence(facts)))
            : OptionalLong.empty();
    String name =
        !e.sheet().isEmpty() && !pattern.text().contains("{sheet}")
            ? e.sheet()
            : pattern.name(facts, number);
    return new Named(
        (identifiers.isEmpty() ? "" : identifiers.get(0).value() + " ") + e.model(), name);
  }
}
