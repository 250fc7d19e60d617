package dev.pinwright.core.query;

import dev.pinwright.core.organisation.Attribute;
import java.util.Optional;

/** What the names in a rule stand for here, and what the things in a query are called. */
public interface RuleNames {
  /** Sorts of things a rule names: a unit by its code, a person by login or by name. */
  enum Kind {
    UNIT,
    SITE,
    PERSON,
    GROUP,
    PROFILE,
    TAG,
    ATTRIBUTE
  }

  /**
   * The id of the thing of this name; empty when there is none, or more than one. A tag is its
   * name.
   */
  Optional<String> id(Kind kind, String name);

  /** What a thing is called, so that {@link #id} finds it again. */
  Optional<String> name(Kind kind, String id);

  /** An attribute of devices. */
  Optional<Attribute> attribute(String id);

  /** Names that are ids, for rules that last; of attributes those of {@code names}. */
  static RuleNames ids(RuleNames names) {
    return new RuleNames() {
      @Override
      public Optional<String> id(Kind kind, String name) {
        return Optional.of(name);
      }

      @Override
      public Optional<String> name(Kind kind, String id) {
        return Optional.of(id);
      }

      @Override
      public Optional<Attribute> attribute(String id) {
        return names.attribute(id);
      }
    };
  }
}
