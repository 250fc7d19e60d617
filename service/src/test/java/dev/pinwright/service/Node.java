package dev.pinwright.service;

import dev.pinwright.core.access.Role;
import dev.pinwright.core.change.Confirmation;
import dev.pinwright.core.command.Dispatch;
import dev.pinwright.core.enrollment.EnrollmentForm;
import dev.pinwright.protocol.join.JoinMessages;
import dev.pinwright.protocol.join.JoinMessages.Ident;
import dev.pinwright.service.acting.DispatchOrder;
import dev.pinwright.service.arrival.Joining;
import dev.pinwright.service.enrollment.EnrollmentProfiles;
import dev.pinwright.service.invitation.Invitations;
import dev.pinwright.service.rules.Profiles;
import dev.pinwright.service.rules.Publishing;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Settings;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.TestDatabase;
import dev.pinwright.storage.Tx;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import java.util.stream.Stream;
import org.awaitility.Awaitility;
import org.jspecify.annotations.Nullable;

/**
 * A node of the service without listeners, on a database of its own, with a clock that is moved.
 */
public final class Node implements AutoCloseable {
  public static final Caller OWNER = new Caller("owner-id", "owner", Role.OWNER);
  public static final Caller READER = new Caller("reader-id", "reader", Role.READER);
  public static final Page.Request FIRST = new Page.Request("", 100);

  public final MovingClock clock = new MovingClock();
  public final Pinwright pinwright;
  private final Path home;
  private final String url;
  private @Nullable Database beside;

  public Node() {
    this(TestDatabase.copy(Begun.URL), copied(Begun.HOME));
  }

  /** One that never started before. */
  public static Node fresh() {
    return new Node(TestDatabase.create(), home());
  }

  /** A node that started for the first time and stopped, to be copied. */
  private static final class Begun {
    static final String URL = TestDatabase.create();
    static final Path HOME = home();

    static {
      try (Node first = new Node(URL, HOME)) {
        first.doneOnce();
      }
      // what a node does rarely is not due in the copies, where it would come between
      try (Database database = TestDatabase.open(URL)) {
        database.call(
            tx ->
                tx.execute(
                    """
                    update scheduled_tasks set execution_time = execution_time + interval '1 day'
                     where execution_time - last_success > interval '8 seconds'
                    """,
                    Map.of()));
      }
    }
  }

  private static Path copied(Path home) {
    Path copy = home();
    try (Stream<Path> files = Files.list(home)) {
      for (Path file : files.toList()) {
        Files.copy(file, copy.resolve(file.getFileName()), StandardCopyOption.COPY_ATTRIBUTES);
      }
    } catch (IOException e) {
      throw new IllegalStateException(e);
    }
    return copy;
  }

  private Node(String url, Path home) {
    this.url = url;
    this.home = home;
    pinwright =
        new Pinwright(
            new Settings(
                home,
                TestDatabase.address(url, 8),
                "127.0.0.1",
                7443,
                List.of("127.0.0.1"),
                "",
                "127.0.0.1",
                7480,
                "Vellmar Museums",
                "a long enough password",
                false,
                Duration.ofDays(7),
                List.of()),
            clock);
  }

  private static Path home() {
    try {
      return Files.createTempDirectory("pinwright-node");
    } catch (IOException e) {
      throw new IllegalStateException(e);
    }
  }

  /** Another node on the same database. */
  public Node another() {
    return new Node(url, home);
  }

  /** The database, beside the service. */
  public synchronized Database database() {
    if (beside == null) {
      beside = TestDatabase.open(url);
    }
    return beside;
  }

  /** The vault the service seals with. */
  public dev.pinwright.service.secret.Vault vault() {
    return dev.pinwright.service.secret.Vault.at(home);
  }

  /** The version of a device, to be sent back with a change. */
  public int version(String device) {
    return pinwright.devices().get(OWNER, device).version();
  }

  /** Looks behind the service. */
  public <T> T sql(Function<Tx, T> work) {
    return database().call(work);
  }

  /** Does what only a device or an intruder could do. */
  public int sql(String statement) {
    return database().call(tx -> tx.execute(statement, Map.of()));
  }

  /** Waits until everything that comes round was done for the first time. */
  private void doneOnce() {
    Awaitility.await()
        .atMost(Duration.ofSeconds(60))
        .until(
            () ->
                !sql(
                    tx ->
                        tx.any(
                            "select 1 from scheduled_tasks where last_success is null", Map.of())));
  }

  /** Writes an enrollment profile and returns the code of an invitation to it. */
  public String invite(String profile, int uses) {
    EnrollmentProfiles.Shown made =
        pinwright.enrollmentProfiles().add(OWNER, Json.request(profile, EnrollmentForm.class));
    return pinwright
        .invitations()
        .add(
            OWNER,
            Json.request(
                "{\"profileId\":\"" + made.id() + "\",\"uses\":" + uses + "}",
                Invitations.Draft.class))
        .code()
        .orElseThrow();
  }

  /** A supervised profile's invitation. */
  public String kiosks(int uses) {
    return invite("{\"name\":\"Kiosks\",\"mode\":\"supervised\",\"tags\":[\"gallery\"]}", uses);
  }

  /** What a tablet of this serial number says when it asks to be let in. */
  public static JoinMessages.Request tablet(String serial) {
    return new JoinMessages.Request(
        new JoinMessages.Device(
            "tarn", "7.2.1", "tablet", "Arbor", "T10", List.of(new Ident("serial", serial))),
        null,
        null);
  }

  /** Lets a tablet in and returns its id. */
  public String join(String code, String serial) {
    return pinwright
        .joining()
        .join(new Joining.Asking(code, "127.0.0.1"), tablet(serial))
        .admission()
        .orElseThrow()
        .device();
  }

  /** A draft of a profile, as JSON. */
  public Profiles.Detail draft(String json) {
    return pinwright.profiles().add(OWNER, Json.request(json, Profiles.Draft.class));
  }

  /** Publishes what is drafted. */
  public Publishing.Published publish(Profiles.Detail draft) {
    return pinwright.publishing().publish(OWNER, draft.id(), draft.version(), Confirmation.NONE);
  }

  /** Orders a command, as JSON. */
  public Dispatch order(String json) {
    return pinwright.dispatches().order(OWNER, Json.request(json, DispatchOrder.class), "");
  }

  @Override
  public void close() {
    if (beside != null) {
      beside.close();
    }
    pinwright.close();
  }
}
