package dev.pinwright.core.roster;

/** How far a sheet is that is read into the roster. */
public enum SheetState {
  /** Its rows are on their way. */
  RECEIVING,
  /** No column names a device; somebody has to say which does. */
  UNMATCHED,
  /** Its rows are read, and held against each other and against what is on file. */
  CHECKING,
  /** Somebody may take it over. */
  CHECKED,
  SAVED,
  FAILED
}
