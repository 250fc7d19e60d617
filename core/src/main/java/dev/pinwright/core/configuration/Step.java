package dev.pinwright.core.configuration;

import java.util.List;

/**
 * What loading does to one thing.
 *
 * @param part what sort of thing
 * @param name what it is called
 * @param file where it is in the files; empty when it is in none
 * @param verb what is done to it
 * @param differences between what is there and what is in the file, where it is changed
 */
public record Step(Part part, String name, String file, Verb verb, List<Difference> differences) {
  public Step {
    differences = List.copyOf(differences);
  }

  /** What is done to something. */
  public enum Verb {
    ADD,
    CHANGE,
    DELETE,
    /** It is in no file and stays, because deleting was not asked for. */
    STAY
  }
}
