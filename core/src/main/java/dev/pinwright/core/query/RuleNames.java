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
    PROFILE
  }

  /** The id of the thing of this name; empty when there is none, or more than one. */
  Optional<String> id(Kind kind, String name);

  /** What a thing is called, so that {@link #id} finds it again. */
  Optional<String> name(Kind kind, String id);

  /** The attribute of devices of this name. */
  Optional<Attribute> attribute(String name);

  /** What an attribute of devices is called. */
  Optional<String> attributeName(String id);
}
