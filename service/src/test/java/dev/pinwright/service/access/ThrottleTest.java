package dev.pinwright.service.access;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatCode;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.service.MovingClock;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.TestDatabase;
import java.time.Duration;
import java.util.Collections;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.IntFunction;
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
    assertThatThrownBy(() -> throttle.trying(key))
        .isInstanceOfSatisfying(
            Problem.class,
            p -> {
              assertThat(p.status()).isEqualTo(429);
              assertThat(p.getMessage()).contains("wait " + seconds + " seconds");
            });
  }

  private static void tries(Throttle throttle, String key, int times) {
    for (int i = 0; i < times; i++) {
      assertThatCode(() -> throttle.trying(key)).doesNotThrowAnyException();
    }
  }

  @Test
  void someTriesAreTakenAndThenEveryOneIsRefused() {
    Throttle throttle = node("taken");
    tries(throttle, "a", 3);
    refused(throttle, "a", 60);
    tries(throttle, "b", 1);
  }

  @Test
  void theWindowEndsAndCountingBeginsAnew() {
    Throttle throttle = node("window");
    tries(throttle, "a", 3);
    refused(throttle, "a", 60);
    clock.pass(Duration.ofSeconds(45));
    refused(throttle, "a", 15);
    clock.pass(Duration.ofSeconds(16));
    tries(throttle, "a", 3);
  }

  @Test
  void triesAreCountedOverAllNodes() {
    tries(node("nodes"), "a", 3);
    refused(node("nodes"), "a", 60);
  }

  @Test
  void whoIsRightIsForgiven() {
    Throttle throttle = node("right");
    tries(throttle, "a", 3);
    throttle.right("a");
    tries(throttle, "a", 3);
  }

  @Test
  void ofManyAtTheSameTimeAsManyAreTakenAsAreAllowed() throws Exception {
    Throttle throttle = node("parallel");
    ExecutorService threads = Executors.newFixedThreadPool(6);
    try {
      AtomicInteger taken = new AtomicInteger();
      List<Callable<Boolean>> work =
          Collections.nCopies(
              100,
              () -> {
                throttle.trying("a");
                taken.incrementAndGet();
                return true;
              });
      threads.invokeAll(work);
      assertThat(taken).hasValue(3);
    } finally {
      threads.shutdown();
    }
  }

  @Test
  void whatIsGuessedAtElsewhereIsCountedApart() {
    Throttle codes = node("codes");
    tries(codes, "10.0.0.7", 3);
    tries(node("logins"), "10.0.0.7", 1);
    refused(codes, "10.0.0.7", 60);
  }

  private static int taken(Guessing door, IntFunction<String> login, IntFunction<String> address) {
    for (int i = 0; i < 1_000; i++) {
      try {
        door.trying(login.apply(i), address.apply(i));
      } catch (Problem p) {
        assertThat(p.status()).isEqualTo(429);
        return i;
      }
    }
    return 1_000;
  }

  @Test
  void whoeverTriesManyLoginsOrComesFromManyAddressesIsSlowedDownToo() {
    Guessing door = new Guessing(database, clock, "door");
    assertThat(taken(door, i -> "anna", i -> "10.0.0.1")).isEqualTo(8);
    assertThat(taken(door, i -> "person" + i, i -> "10.0.0.2")).isEqualTo(200);
    assertThat(taken(door, i -> "Jory", i -> "10.0.1." + i)).isEqualTo(60);
    assertThat(taken(door, i -> "lena", i -> "10.0.0.3")).as("somebody else").isEqualTo(8);
  }
}
