package dev.pinwright.service.access;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatCode;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.service.MovingClock;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.TestDatabase;
import java.time.Duration;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** Guessing is slowed down, on whichever node the guesses arrive. */
class ThrottleTest {
  private static Database database;
  private final MovingClock clock = new MovingClock();

  @BeforeAll
  static void open() {
    database = TestDatabase.open();
  }

  @AfterAll
  static void close() {
    database.close();
  }

  private Throttle node(String scope) {
    return new Throttle(database, clock, scope, 3, Duration.ofMinutes(1));
  }

  private static void refused(Throttle throttle, String key, long seconds) {
    assertThatThrownBy(() -> throttle.check(key))
        .isInstanceOfSatisfying(
            Problem.class,
            p -> {
              assertThat(p.status()).isEqualTo(429);
              assertThat(p.getMessage()).contains("wait " + seconds + " seconds");
            });
  }

  private static void open(Throttle throttle, String key) {
    assertThatCode(() -> throttle.check(key)).doesNotThrowAnyException();
  }

  @Test
  void someFailuresAreForgivenAndThenEveryTryIsRefused() {
    Throttle throttle = node("forgiven");
    for (int i = 0; i < 3; i++) {
      open(throttle, "a");
      throttle.failed("a");
    }
    refused(throttle, "a", 60);
    open(throttle, "b");
  }

  @Test
  void theWindowEndsAndCountingBeginsAnew() {
    Throttle throttle = node("window");
    for (int i = 0; i < 3; i++) {
      throttle.failed("a");
    }
    clock.pass(Duration.ofSeconds(45));
    refused(throttle, "a", 15);
    clock.pass(Duration.ofSeconds(16));
    open(throttle, "a");
    throttle.failed("a");
    open(throttle, "a");
  }

  @Test
  void failuresAreCountedOverAllNodes() {
    Throttle one = node("nodes");
    Throttle two = node("nodes");
    for (int i = 0; i < 3; i++) {
      one.failed("a");
    }
    open(two, "a");
    two.failed("a");
    refused(two, "a", 60);
  }

  @Test
  void whatIsGuessedAtElsewhereIsCountedApart() {
    Throttle codes = node("codes");
    for (int i = 0; i < 3; i++) {
      codes.failed("10.0.0.7");
    }
    Throttle logins = node("logins");
    logins.failed("10.0.0.7");
    open(logins, "10.0.0.7");
    refused(codes, "10.0.0.7", 60);
  }
}
