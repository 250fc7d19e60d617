package dev.pinwright.service.own;

import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.command.CommandState;
import dev.pinwright.core.device.Ownership;
import dev.pinwright.core.device.Position;
import dev.pinwright.core.place.Fence;
import dev.pinwright.core.tree.Leaf;
import dev.pinwright.core.tree.Tree;
import dev.pinwright.protocol.dm.Positions;
import dev.pinwright.protocol.gpx.Tracks;
import dev.pinwright.service.acting.Commands;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.acting.CommandStore;
import dev.pinwright.storage.device.ActivityStore;
import dev.pinwright.storage.device.PositionStore;
import dev.pinwright.storage.place.PlaceStore;
import dev.pinwright.storage.row.DeviceRow;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Supplier;

/**
 * Where devices of the organisation were, kept only while a profile asks for it, or because
 * somebody asked where one is, and shown to those who say so in the journal. Of a personal device
 * nothing of the kind is kept, whoever sends it.
 */
public final class Trails {
  private static final String TRAIL = Catalog.POLICY_ROOT + "/location/trail";
  private static final String KEPT = Catalog.POLICY_ROOT + "/location/days";

  /** For how many days points are kept where a profile does not say. */
  private static final int USUAL_DAYS = 30;

  private static final int PAGE = 200;

  /** Most points of a page: five weeks of a point every five minutes. */
  private static final int MOST_OF_A_PAGE = 10_000;

  /** Most points of a file: nearly twice ninety days of them, the longest they are kept. */
  private static final int MOST_OF_A_FILE = 50_000;

  /** The command that asks for a place, as the catalogue calls it. */
  private static final String LOCATE = "locate";

  /** How far the clock of a device may be ahead. */
  private static final Duration AHEAD = Duration.ofMinutes(5);

  private final UseCases useCases;

  public Trails(UseCases useCases) {
    this.useCases = useCases;
  }

  /**
   * What is kept of a device.
   *
   * @param personal whether it is its holder's own, of which nothing is ever kept
   */
  public record Known(
      boolean personal, long points, Optional<Instant> first, Optional<Instant> last) {}

  /**
   * What is wanted of a trail; all there is without.
   *
   * @param limit points of a page, 1 to 10,000; 200 without
   */
  public record Wanted(
      Optional<Instant> from,
      Optional<Instant> to,
      Optional<String> after,
      Optional<Integer> limit) {
    private Instant since() {
      return from.orElse(Instant.EPOCH);
    }

    private Instant until(Instant now) {
      return to.orElse(now.plus(AHEAD));
    }
  }

  /** What is kept of a device, besides where it was. */
  public Known of(Caller caller, String deviceId) {
    return useCases.read(
        tx -> {
          DeviceRow device = device(tx, deviceId);
          PositionStore.Extent e = new PositionStore(tx).extent(deviceId, useCases.now());
          return new Known(personal(device), e.points(), e.first(), e.last());
        });
  }

  private static DeviceRow device(Tx tx, String id) {
    return tx.find(DeviceRow.class, id).orElseThrow(() -> Problem.notFound("device", id));
  }

  private static boolean personal(DeviceRow device) {
    return device.ownership.equals(Words.of(Ownership.PERSONAL));
  }

  /**
   * Shows where a device was, the latest first; that somebody looked is told in the journal.
   *
   * @throws Problem 400, 404, 409 personal
   */
  public Page<Position> look(Caller caller, String deviceId, Wanted wanted) {
    int limit = wanted.limit().orElse(PAGE);
    if (limit < 1 || limit > MOST_OF_A_PAGE) {
      throw Problem.malformed("/limit", "limit has to be from 1 to " + MOST_OF_A_PAGE + ".");
    }
    String[] c = new Page.Request(wanted.after().orElse(""), PAGE).parts(Page.Part.LONG);
    Instant to = wanted.until(useCases.now());
    Instant before = c.length == 0 ? to.plusSeconds(1) : Instant.ofEpochMilli(Long.parseLong(c[0]));
    return useCases.act(
        caller,
        act -> {
          DeviceRow device = ofTheOrganisation(act.tx(), deviceId);
          if (c.length == 0) {
            seen(act, device, wanted);
          }
          return Page.of(
              new PositionStore(act.tx())
                  .page(deviceId, wanted.since(), to, before, act.now(), limit + 1),
              limit,
              p -> p,
              p -> Page.cursor(String.valueOf(p.at().toEpochMilli())));
        });
  }

  /** A device that may have a trail. */
  private static DeviceRow ofTheOrganisation(Tx tx, String deviceId) {
    DeviceRow device = device(tx, deviceId);
    if (personal(device)) {
      throw Problem.conflict(
          "personal",
          device.name + " is its holder's own; where such a device is is never asked for or kept.");
    }
    return device;
  }

  private static void seen(UseCases.Act act, DeviceRow device, Wanted wanted) {
    act.done(
        Noun.DEVICE,
        "trail-seen",
        device.id,
        "Trail of "
            + device.name
            + wanted.from().map(f -> " from " + f).orElse("")
            + wanted.to().map(t -> " to " + t).orElse("")
            + " looked at");
  }

  /** How a trail is written. */
  public enum Form {
    GPX,
    GEOJSON
  }

  /**
   * A trail as a file: GPX 1.1 or GeoJSON (RFC 7946), the earliest first. That somebody looked is
   * told in the journal.
   *
   * @throws Problem 404, 409 personal, 409 too-many-points for more than a file holds
   */
  public String export(Caller caller, String deviceId, Wanted wanted, Form form) {
    Instant to = wanted.until(useCases.now());
    return useCases.act(
        caller,
        act -> {
          DeviceRow device = ofTheOrganisation(act.tx(), deviceId);
          List<Position> points =
              new ArrayList<>(
                  new PositionStore(act.tx())
                      .page(
                          deviceId,
                          wanted.since(),
                          to,
                          to.plusSeconds(1),
                          act.now(),
                          MOST_OF_A_FILE + 1));
          if (points.size() > MOST_OF_A_FILE) {
            throw Problem.conflict(
                "too-many-points",
                "There are more than %d points in that time, and a file holds no more. Ask for it from %s on, and for what is before by itself."
                    .formatted(MOST_OF_A_FILE, points.get(MOST_OF_A_FILE - 1).at()));
          }
          seen(act, device, wanted);
          Collections.reverse(points);
          return form == Form.GPX ? Tracks.gpx(device.name, points) : Positions.write(points);
        });
  }

  /**
   * Keeps where a device says it was, as long as it is told to keep a trail.
   *
   * @param desired the policy it is to hold
   */
  public void heard(UseCases.Act act, DeviceRow device, List<String> told, Supplier<Tree> desired) {
    if (told.isEmpty() || personal(device)) {
      return;
    }
    Tree policy = desired.get();
    if (value(policy, TRAIL).filter("true"::equals).isEmpty()) {
      return;
    }
    int days = value(policy, KEPT).map(Integer::parseInt).orElse(USUAL_DAYS);
    Instant oldest = act.now().minus(Duration.ofDays(days));
    List<Position> positions =
        told.stream()
            .flatMap(t -> Positions.read(t).stream())
            .limit(Positions.MOST)
            .filter(p -> p.at().isAfter(oldest) && p.at().isBefore(act.now().plus(AHEAD)))
            .map(Trails::toTheMillisecond)
            .toList();
    PositionStore store = new PositionStore(act.tx());
    if (!positions.isEmpty()) {
      store.keep(device.id, positions, days);
      lastOf(positions).ifPresent(p -> stands(act, device, p, days));
      store.forget(device.id, oldest);
    }
  }

  /** Told and listed to the millisecond. */
  private static Position toTheMillisecond(Position p) {
    return new Position(
        Instant.ofEpochMilli(p.at().toEpochMilli()),
        p.latitude(),
        p.longitude(),
        p.accuracy(),
        p.source());
  }

  /**
   * Takes in where a device is because it was asked: the command ends with that. What nobody asked
   * for, and what a personal device tells, is not looked at.
   *
   * @param told by the id of the command
   */
  public void located(UseCases.Act act, DeviceRow device, Map<String, String> told) {
    if (personal(device)) {
      return;
    }
    CommandStore commands = new CommandStore(act.tx());
    told.forEach(
        (command, text) -> {
          if (commands.fields(command, LOCATE).isEmpty()) {
            return;
          }
          Optional<Position> found =
              Positions.read(text).stream()
                  .filter(p -> !p.at().isAfter(act.now().plus(AHEAD)))
                  .findFirst()
                  .map(Trails::toTheMillisecond);
          boolean ended =
              Commands.step(
                      act.tx(),
                      device.id,
                      command,
                      found.isPresent() ? CommandState.DONE : CommandState.FAILED,
                      found.map(Trails::words).orElse("what it told is no place"),
                      act.now())
                  .isPresent();
          if (ended) {
            found.ifPresent(
                p -> {
                  new PositionStore(act.tx()).keep(device.id, List.of(p), USUAL_DAYS);
                  stands(act, device, p, USUAL_DAYS);
                });
          }
        });
  }

  private static Optional<Position> lastOf(List<Position> positions) {
    return positions.stream().max(Comparator.comparing(Position::at));
  }

  /** Notes where a device is now, and tells when it came to a site or left one. */
  private static void stands(UseCases.Act act, DeviceRow device, Position p, int days) {
    PlaceStore places = new PlaceStore(act.tx());
    Optional<String> before = places.at(device.id).map(PlaceStore.At::name);
    List<Fence> fences = places.near(p.latitude(), p.longitude());
    Optional<Fence> now = Fence.around(fences, p.latitude(), p.longitude());
    if (places.put(
        device.id, p, days, now.map(Fence::siteId), Optional.ofNullable(device.siteId))) {
      Fence.told(before, now.map(Fence::name))
          .forEach(words -> new ActivityStore(act.tx()).add(device.id, act.now(), "place", words));
    }
  }

  private static String words(Position p) {
    String by =
        switch (p.source()) {
          case SATELLITE -> "by satellite";
          case WIFI -> "by the networks around it";
          case NETWORK -> "by its network address";
        };
    return p.accuracy().map(a -> "within " + Math.round(a) + " m, ").orElse("") + by;
  }

  private static Optional<String> value(Tree policy, String path) {
    return Optional.ofNullable(policy.leaves().get(path)).map(Leaf::value);
  }

  /** Forgets what was to be kept until now, whether or not its device is heard again. */
  public void forget() {
    boolean more = true;
    while (more) {
      more = useCases.act(Caller.SERVICE, act -> new PositionStore(act.tx()).forget(act.now()));
    }
  }
}
