package dev.pinwright.core.change;

/** How far a proposed change is. */
public enum ProposalState {
  /** For somebody else's word. */
  WAITING,
  /** Agreed to, and being done. */
  AGREED,
  DONE,
  REFUSED,
  /** By whoever proposed it. */
  WITHDRAWN,
  /** Nobody decided in time. */
  LAPSED
}
