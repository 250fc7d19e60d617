package dev.pinwright.service.work;

import dev.pinwright.storage.DatabaseAway;
import java.util.Optional;

/** What is said while something the service cannot do without is away. */
public final class Outage {
  private static final int AGAIN_SECONDS = 3;

  private Outage() {}

  /** A {@link Problem} 503 when that is why something failed; empty when it is not. */
  public static Optional<Problem> problem(Throwable failure) {
    return failure instanceof DatabaseAway
        ? Optional.of(
            new Problem(
                    503,
                    "database-away",
                    "Not at the moment",
                    "The service's database is away. Nothing was changed; try again in a few"
                        + " seconds.")
                .with("retryAfter", AGAIN_SECONDS))
        : Optional.empty();
  }
}
