package dev.pinwright.service.device;

import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.device.DeviceKind;
import dev.pinwright.core.query.DeviceQuery;
import dev.pinwright.core.query.RuleFault;
import dev.pinwright.core.query.RuleLanguage;
import dev.pinwright.core.query.RuleLanguage.Completion;
import dev.pinwright.core.query.RuleLanguage.Part;
import dev.pinwright.core.query.RuleLanguage.Value;
import dev.pinwright.core.query.RuleNames;
import dev.pinwright.core.query.RuleText;
import dev.pinwright.service.group.RuleNamesHere;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.ManyLines;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.device.DeviceLists;
import dev.pinwright.storage.query.RuleValues;
import dev.pinwright.storage.query.RuleValues.Found;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** Help in writing a rule: what it finds, what is wrong with it, and what could come next. */
public final class RuleHelp {
  private static final int EXAMPLES = 5;
  private static final int CHOICES = 12;

  private final UseCases useCases;
  private final Catalog catalog;

  public RuleHelp(UseCases useCases, Catalog catalog) {
    this.useCases = useCases;
    this.catalog = catalog;
  }

  /**
   * A rule as far as it is typed.
   *
   * @param caret where somebody is typing, in characters from 0; absent where no help is asked for
   */
  public record Typed(@Nullable @ManyLines String rule, Optional<Integer> caret) {}

  /**
   * Something that could stand where somebody is typing.
   *
   * @param text as it would stand there
   * @param note what else it is called; often nothing
   */
  public record Choice(String text, String note) {}

  /**
   * What is wrong with a rule.
   *
   * @param column where it stops being one, in characters from 1
   */
  public record Fault(int column, String message) {}

  /**
   * A rule, read.
   *
   * @param devices how many managed devices it finds; absent where it is none
   * @param examples names of some of them
   * @param any whether one part is enough, rather than all
   * @param parts the conditions it is joined of
   * @param from the first character a choice takes the place of, from 0
   * @param to the one after the last
   * @param choices what could stand there
   */
  public record Reading(
      Optional<Fault> fault,
      Optional<Long> devices,
      List<String> examples,
      boolean any,
      List<Part> parts,
      int from,
      int to,
      List<Choice> choices) {}

  /** Reads a rule that is being written. */
  public Reading read(Caller caller, Typed typed) {
    String rule = typed.rule() == null ? "" : typed.rule();
    return useCases.read(
        tx -> {
          RuleNames names = new RuleNamesHere(tx);
          Completion place = completion(rule, typed.caret(), names);
          List<Choice> choices = typed.caret().isPresent() ? choices(tx, place) : List.of();
          try {
            DeviceQuery query =
                DeviceQuery.allOf(DeviceQuery.MANAGED, RuleText.read(rule, names, useCases.now()));
            RuleLanguage.Outline outline = RuleLanguage.outline(rule, names);
            DeviceLists lists = new DeviceLists(tx);
            return new Reading(
                Optional.empty(),
                Optional.of(lists.count(query)),
                lists.page(query, DeviceLists.Order.NAME, Optional.empty(), EXAMPLES).stream()
                    .map(l -> l.device().name())
                    .toList(),
                outline.any(),
                outline.parts(),
                place.from(),
                place.to(),
                choices);
          } catch (RuleFault e) {
            return new Reading(
                Optional.of(new Fault(e.column(), String.valueOf(e.getMessage()))),
                Optional.empty(),
                List.of(),
                false,
                List.of(),
                place.from(),
                place.to(),
                choices);
          }
        });
  }

  private static Completion completion(String rule, Optional<Integer> caret, RuleNames names) {
    if (caret.isEmpty() || rule.length() > RuleText.MAX_LENGTH) {
      return new Completion(0, 0, "", List.of(), List.of());
    }
    return RuleLanguage.complete(rule, caret.get(), names);
  }

  private List<Choice> choices(Tx tx, Completion place) {
    String typed = place.typed().toLowerCase(Locale.ROOT);
    List<Choice> out = new ArrayList<>();
    place.values().stream()
        .flatMap(v -> found(tx, v, place.typed()))
        .map(f -> new Choice(RuleText.plain(f.value()), f.note()))
        .forEach(out::add);
    place.words().stream()
        .filter(w -> w.startsWith(typed))
        .map(w -> new Choice(w.contains(" ") ? RuleText.plain(w) : w, title(w)))
        .forEach(out::add);
    return out.stream().distinct().limit(2 * CHOICES).toList();
  }

  private static String title(String word) {
    return RuleLanguage.SUBJECTS.stream()
        .filter(s -> s.word().equals(word))
        .map(RuleLanguage.Subject::title)
        .findFirst()
        .orElse("");
  }

  private Stream<Found> found(Tx tx, Value sort, String typed) {
    String letters = typed.toLowerCase(Locale.ROOT);
    Stream<Found> known =
        switch (sort) {
          case PLATFORM -> catalog.platforms().stream().map(p -> new Found(p.key(), ""));
          case KIND -> Arrays.stream(DeviceKind.values()).map(k -> new Found(Words.of(k), ""));
          case FACT -> catalog.facts().stream().map(f -> new Found(f.key(), f.title()));
          case SECTION -> catalog.sections().stream().map(s -> new Found(s.key(), s.title()));
          default -> RuleValues.of(tx, sort, typed, CHOICES).stream();
        };
    return known
        .filter(
            f ->
                f.value().toLowerCase(Locale.ROOT).contains(letters)
                    || f.note().toLowerCase(Locale.ROOT).contains(letters))
        .limit(CHOICES);
  }
}
