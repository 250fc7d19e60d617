package dev.pinwright.core.sheet;

import dev.pinwright.core.organisation.Attribute;
import dev.pinwright.core.organisation.AttributeType;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/**
 * One row of a sheet.
 *
 * @param line the line it is on, counted from 1, the heading included
 * @param cells by the name of their column, whose capitals do not count; a column the sheet has and
 *     the row has not is an empty cell
 */
public record Row(int line, Map<String, String> cells) {
  public Row {
    Map<String, String> byName = new TreeMap<>(String.CASE_INSENSITIVE_ORDER);
    byName.putAll(cells);
    cells = byName;
  }

  /** A row that cannot be taken. */
  public record Fault(int line, String fault) {}

  /** Whether the sheet has this column. */
  public boolean has(String column) {
    return cells.containsKey(column);
  }

  /** A cell without the blanks around it; empty where the sheet has no such column. */
  public String cell(String column) {
    return active(cells.getOrDefault(column, "").strip());
  }

  /**
   * A name.
   *
   * @throws IllegalArgumentException when there is none or it is too long
   */
  public String name(int most) {
    String name = cell("name");
    if (name.isEmpty() || name.length() > most) {
      throw new IllegalArgumentException("a name has 1 to " + most + " characters");
    }
    return name;
  }

  /**
   * A latitude or longitude (WGS 84); empty for an empty cell.
   *
   * @param most degrees from zero, either way
   * @throws IllegalArgumentException when it is no number or beyond
   */
  public Optional<Double> degrees(String column, double most) {
    String text = cell(column);
    if (text.isEmpty()) {
      return Optional.empty();
    }
    try {
      double d = Double.parseDouble(text);
      if (Math.abs(d) <= most) {
        return Optional.of(d);
      }
    } catch (NumberFormatException e) {
      // said below
    }
    throw new IllegalArgumentException(column + " is in degrees, from -" + most + " to " + most);
  }

  /**
   * The id of what a cell names; empty for an empty cell.
   *
   * @param ids by names in small letters
   * @param what it is, for the message
   * @throws IllegalArgumentException when there is no such thing
   */
  public Optional<String> id(String column, Map<String, String> ids, String what) {
    String name = cell(column);
    if (name.isEmpty()) {
      return Optional.empty();
    }
    String id = ids.get(name.toLowerCase(Locale.ROOT));
    if (id == null) {
      throw new IllegalArgumentException("there is no " + what + " '" + name + "'");
    }
    return Optional.of(id);
  }

  /**
   * The values of the attributes the sheet has columns of, as they are kept; empty for an empty
   * cell.
   *
   * @throws IllegalArgumentException when an attribute cannot have what a cell says
   */
  public Map<Attribute, String> values(Collection<Attribute> attributes) {
    Map<Attribute, String> values = new LinkedHashMap<>();
    for (Attribute a : attributes) {
      if (has(a.name())) {
        String typed = cell(a.name());
        values.put(a, typed.isEmpty() ? "" : a.read(typed));
      }
    }
    return values;
  }

  /** A value of an attribute as a cell; numbers begin with a sign and are no formulas. */
  public static String written(Attribute attribute, String value) {
    return attribute.type() == AttributeType.NUMBER ? value : inert(value);
  }

  /** Text that a spreadsheet program takes for a formula, kept from being one by an apostrophe. */
  public static String inert(String text) {
    return isFormula(text) ? "'" + text : text;
  }

  /** The text of a cell that {@link #inert} may have written. */
  public static String active(String cell) {
    return cell.startsWith("'") && isFormula(cell.substring(1)) ? cell.substring(1) : cell;
  }

  private static boolean isFormula(String text) {
    // full-width forms of the signs are formulas to some programs too
    return !text.isEmpty() && "=+@-\t\r\uff1d\uff0b\uff20\uff0d".indexOf(text.charAt(0)) >= 0;
  }
}
