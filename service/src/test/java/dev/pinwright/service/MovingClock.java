package dev.pinwright.service;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZoneOffset;

/** A clock that moves when a test says so. */
public final class MovingClock extends Clock {
  private Instant now = Instant.parse("2026-03-02T09:00:00Z");

  /** Lets time pass. */
  public void pass(Duration time) {
    now = now.plus(time);
  }

  @Override
  public Instant instant() {
    return now;
  }

  @Override
  public ZoneId getZone() {
    return ZoneOffset.UTC;
  }

  @Override
  public Clock withZone(ZoneId zone) {
    return this;
  }
}
