package dev.pinwright.core.roster;

import dev.pinwright.core.Words;
import dev.pinwright.core.device.Identifier;
import dev.pinwright.core.enrollment.Identifiers;
import dev.pinwright.core.naming.NamePattern;
import dev.pinwright.core.organisation.TagList;
import dev.pinwright.core.sheet.Row;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/**
 * One line of a roster sheet, read as well as it can be.
 *
 * @param identifiers by kind, normalised; a kind that could not be read is left out
 * @param texts the other columns, trimmed; empty ones are left out
 * @param notes what was put right, for the person who imports
 * @param faults what keeps the line from being taken over; empty when it can be
 */
public record RosterLine(
    Map<Identifier.Kind, String> identifiers,
    Map<Column, String> texts,
    List<String> tags,
    List<String> notes,
    List<String> faults) {
  private static final int MAX_TEXT = 120;

  public RosterLine {
    identifiers = Map.copyOf(identifiers);
    texts = Map.copyOf(texts);
    tags = List.copyOf(tags);
    notes = List.copyOf(notes);
    faults = List.copyOf(faults);
  }

  /** The identifier of a kind, if the line has one that is right. */
  public Optional<String> identifier(Identifier.Kind kind) {
    return Optional.ofNullable(identifiers.get(kind));
  }

  /** What the line says its device is known by. */
  public Identifiers known() {
    return new Identifiers(
        identifier(Identifier.Kind.SERIAL),
        identifier(Identifier.Kind.IMEI),
        identifier(Identifier.Kind.ASSET));
  }

  /** A text column, empty when the line has none. */
  public String text(Column column) {
    return texts.getOrDefault(column, "");
  }

  /** Reads the cells of one line. */
  public static RosterLine read(Map<Column, String> cells) {
    Map<Identifier.Kind, String> identifiers = new LinkedHashMap<>();
    List<String> notes = new ArrayList<>();
    List<String> faults = new ArrayList<>();
    identifier(Identifier.Kind.SERIAL, cells.get(Column.SERIAL), identifiers, notes, faults);
    identifier(Identifier.Kind.IMEI, cells.get(Column.IMEI), identifiers, notes, faults);
    identifier(Identifier.Kind.ASSET, cells.get(Column.ASSET), identifiers, notes, faults);
    if (identifiers.isEmpty() && faults.isEmpty()) {
      faults.add("it has no serial number, IMEI or asset number");
    }
    Map<Column, String> texts = new LinkedHashMap<>();
    for (Column c : List.of(Column.NAME, Column.PERSON, Column.UNIT, Column.SITE, Column.PROFILE)) {
      String text = plain(cells.get(c));
      int most = c == Column.NAME ? NamePattern.MAX_NAME : MAX_TEXT;
      if (text.length() > most) {
        faults.add(c.name().toLowerCase() + " has more than " + most + " characters");
      } else if (!text.isEmpty()) {
        texts.put(c, text);
      }
    }
    List<String> tags = List.of();
    try {
      tags = TagList.ofCell(plain(cells.get(Column.TAGS)));
    } catch (IllegalArgumentException e) {
      faults.add(String.valueOf(e.getMessage()));
    }
    String state = plain(cells.get(Column.STATE)).toLowerCase(Locale.ROOT);
    if (!state.isEmpty()) {
      try {
        texts.put(Column.STATE, Words.of(Words.parse(RosterEntry.State.class, state)));
      } catch (IllegalArgumentException e) {
        faults.add("state '" + state + "' is not one of " + Words.list(RosterEntry.State.class));
      }
    }
    return new RosterLine(identifiers, texts, tags, notes, faults);
  }

  private static String plain(@org.jspecify.annotations.Nullable String cell) {
    return cell == null ? "" : Row.active(cell.replace('\u00a0', ' ').strip());
  }

  private static void identifier(
      Identifier.Kind kind,
      @org.jspecify.annotations.Nullable String cell,
      Map<Identifier.Kind, String> out,
      List<String> notes,
      List<String> faults) {
    if (plain(cell).isEmpty() || cell == null) {
      return;
    }
    try {
      String value = Identifier.of(kind, cell).value();
      out.put(kind, value);
      if (!value.equals(cell)) {
        notes.add("'" + cell + "' was read as " + value);
      }
    } catch (IllegalArgumentException e) {
      faults.add(e.getMessage());
    }
  }
}
