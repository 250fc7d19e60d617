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
  private static final int MOST_EXPORTED = 10_000;

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

  /** What is wanted of a trail; all there is without. */
  public record Wanted(Optional<Instant> from, Optional<Instant> to, Optional<String> after) {}

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
   * @throws Problem 404, 409 personal
   */
  public Page<Position> look(Caller caller, String deviceId, Wanted wanted) {
    Page.Request page = new Page.Request(wanted.after().orElse(""), PAGE);
    String[] c = page.parts(Page.Part.LONG);
    Instant from = wanted.from().orElse(Instant.EPOCH);
    Instant to = wanted.to().orElse(useCases.now().plus(AHEAD));
    return useCases.act(
        caller,
        act -> {
          DeviceRow device = device(act.tx(), deviceId);
          if (personal(device)) {
            throw Problem.conflict(
                "personal",
                device.name
                    + " is its holder's own; where such a device is is never asked for or kept.");
          }
          if (c.length == 0) {
            act.done(
                Noun.DEVICE,
                "trail-seen",
                deviceId,
                "Trail of "
                    + device.name
                    + wanted.from().map(f -> " from " + f).orElse("")
                    + wanted.to().map(t -> " to " + t).orElse("")
                    + " looked at");
          }
          return Page.of(
              new PositionStore(act.tx())
                  .page(
                      deviceId,
                      from,
                      to,
                      c.length == 0
                          ? to.plusSeconds(1)
                          : Instant.ofEpochMilli(Long.parseLong(c[0])),
                      act.now(),
                      page.limit() + 1),
              page.limit(),
              p -> p,
              p -> Page.cursor(String.valueOf(p.at().toEpochMilli())));
        });
  }

  /** How a trail is written. */
  public enum Form {
    GPX,
    GEOJSON
  }

  /**
   * A trail as a file: GPX 1.1 or GeoJSON (RFC 7946), the earliest first; at most ten thousand
   * points, the latest. That somebody looked is told in the journal.
   *
   * @throws Problem 404, 409 personal
   */
  public String export(
      Caller caller, String deviceId, Optional<Instant> from, Optional<Instant> to, Form form) {
    List<Position> points = new ArrayList<>();
    Optional<String> after = Optional.empty();
    do {
      Page<Position> page = look(caller, deviceId, new Wanted(from, to, after));
      points.addAll(page.items());
      after = page.next();
    } while (after.isPresent() && points.size() < MOST_EXPORTED);
    Collections.reverse(points);
    String name = useCases.read(tx -> device(tx, deviceId).name);
    return form == Form.GPX ? Tracks.gpx(name, points) : Positions.write(points);
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
