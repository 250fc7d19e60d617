package dev.pinwright.service;

import dev.pinwright.service.journal.Journal;
import dev.pinwright.service.live.Events;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Notices;
import java.time.Clock;

/** The frame of use cases on a database, without the rest of a node. */
public final class UseCasesOn {
  private UseCasesOn() {}

  /** On this one, by this clock. */
  public static UseCases database(Database database, Clock clock) {
    Events events = new Events(database, new Notices(database));
    return new UseCases(database, new Journal(database, clock, events), events, clock);
  }
}
