package dev.pinwright.storage.row;

/** A row that stays on file when it is taken out, for what still tells of it. */
public interface Removable {
  /** Whether it was. */
  boolean removed();
}
