package dev.pinwright.core.query;

/** A rule that cannot be read. */
public final class RuleFault extends IllegalArgumentException {
  private static final long serialVersionUID = 1L;

  private final int column;

  RuleFault(int column, String message) {
    super("column " + column + ": " + message);
    this.column = column;
  }

  /** Where it stops being a rule, counted in characters from 1. */
  public int column() {
    return column;
  }
}
