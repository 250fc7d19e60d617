package dev.pinwright.service.configuration;

import dev.pinwright.core.Words;
import dev.pinwright.core.configuration.Part;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Problem;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * What everybody who writes needs.
 *
 * @param act in which it is written
 * @param present what is there; ids of what is made are added
 * @param wanted what is in files
 * @param load what was asked for
 * @param leftOut what cannot be taken over is told here, in words
 */
record Desk(
    UseCases.Act act,
    Writing.Nouns nouns,
    Present present,
    Arrangement wanted,
    Configurations.Load load,
    List<String> leftOut) {

  /** Ids by key. */
  Map<String, String> ids(Part part) {
    return present.ids(part);
  }

  /** The id of a thing that is there. */
  Optional<String> id(Thing thing, Part part) {
    return Optional.ofNullable(ids(part).get(thing.key()));
  }

  /** A thing as it is now. */
  Optional<Thing> now(Part part, String key) {
    return present.arrangement().one(part, key);
  }

  /**
   * The id of what a file names.
   *
   * @throws Problem 400 when it is neither there nor in a file
   */
  String id(Part part, String name, String pointer) {
    String id = ids(part).get(name);
    if (id == null) {
      throw Problem.malformed(
          pointer, "There is no " + Words.of(part).replace('-', ' ') + " " + name + ".");
    }
    return id;
  }

  /** {@link #id(Part, String, String)}, of what is named. */
  @Nullable String id(Part part, Optional<String> name, String pointer) {
    return name.map(n -> id(part, n, pointer)).orElse(null);
  }

  /** A row, held: whoever wants to change it meanwhile waits. */
  <R> R one(Class<R> row, String id) {
    return act.tx()
        .lock(row, id)
        .orElseThrow(
            () ->
                Problem.conflict(
                    "gone-meanwhile", "Someone deleted it at the same moment; rehearse again."));
  }
}
