package dev.pinwright.core.change;

/** What is to be done about a publication that spreads. */
public enum WaveVerb {
  /** Begin the next wave now. */
  NEXT,
  STOP,
  /** Go on after it stopped, with the wave it is at. */
  GO_ON
}
