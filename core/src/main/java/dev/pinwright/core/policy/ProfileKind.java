package dev.pinwright.core.policy;

/** What a profile is. */
public enum ProfileKind {
  /** Settings, handed out by themselves. */
  PROFILE,
  /** Files of its own, and profiles that go with it wherever it goes. */
  KIT,
  /** One app, assigned. */
  APP
}
