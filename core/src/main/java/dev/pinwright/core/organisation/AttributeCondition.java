package dev.pinwright.core.organisation;

import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A condition on an attribute, written as its name, a sign and a value: {@code Room=Tower}, {@code
 * Lease ends<2027-01-01}. Without a value, {@code Room=} asks for those that have none.
 *
 * @param value in the form values are kept in once {@link #on} has checked it; empty for none
 */
public record AttributeCondition(String name, Relation relation, String value) {
  private static final Pattern WRITTEN = Pattern.compile("([^=<>]+)([=<>])(.*)", Pattern.DOTALL);

  /** How a value has to lie to the one of the condition. */
  public enum Relation {
    IS("="),
    BELOW("<"),
    ABOVE(">");

    private final String sign;

    Relation(String sign) {
      this.sign = sign;
    }

    /** The sign it is written with, which is the one of SQL too. */
    public String sign() {
      return sign;
    }

    private static Relation of(String sign) {
      for (Relation r : values()) {
        if (r.sign.equals(sign)) {
          return r;
        }
      }
      throw new IllegalArgumentException(sign);
    }
  }

  /**
   * Reads a condition.
   *
   * @throws IllegalArgumentException when it has no name or no sign
   */
  public static AttributeCondition parse(String text) {
    Matcher m = WRITTEN.matcher(text);
    if (!m.matches() || m.group(1).isBlank()) {
      throw new IllegalArgumentException(
          "'" + text + "' is no condition such as Room=Tower or Lease ends<2027-01-01");
    }
    return new AttributeCondition(m.group(1).strip(), Relation.of(m.group(2)), m.group(3).strip());
  }

  /**
   * The same condition with its value as an attribute of this type keeps it.
   *
   * @param choices the words of a choice
   * @throws IllegalArgumentException when the attribute cannot have the value, or has no order
   */
  public AttributeCondition on(AttributeType type, List<String> choices) {
    boolean ordered = type == AttributeType.NUMBER || type == AttributeType.DATE;
    if (relation != Relation.IS && !ordered) {
      throw new IllegalArgumentException(
          name + " is no number and no day; ask for it with '=' only");
    }
    if (relation != Relation.IS && value.isEmpty()) {
      throw new IllegalArgumentException("'" + relation.sign + "' needs a value");
    }
    return value.isEmpty()
        ? this
        : new AttributeCondition(name, relation, type.read(value, choices));
  }
}
