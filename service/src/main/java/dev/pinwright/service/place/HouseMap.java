package dev.pinwright.service.place;

import com.fasterxml.jackson.databind.JsonNode;
import com.github.benmanes.caffeine.cache.Caffeine;
import com.github.benmanes.caffeine.cache.LoadingCache;
import dev.pinwright.core.Versioned;
import dev.pinwright.core.Words;
import dev.pinwright.core.place.MapSource;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.place.PlaceStore;
import java.time.Duration;
import java.util.List;
import java.util.Optional;

/** The map of the house, and where the organisation's devices are on it. */
public final class HouseMap {
  private static final int MOST_AWAY = 200;
  private static final int MOST = 2_000;
  private static final int FINEST_ZOOM = 20;

  /** Across so many pixels devices are taken together; at zoom z, 256 · 2^z of them are 360°. */
  private static final double TOGETHER = 48;

  private static final double WORLD = 256;

  private static final Duration TOLD_AGAIN = Duration.ofHours(1);

  private static final Duration KEPT = Duration.ofSeconds(5);

  private final UseCases useCases;
  private final LoadingCache<String, String> origin =
      Caffeine.newBuilder().expireAfterWrite(KEPT).build(key -> originNow());

  public HouseMap(UseCases useCases) {
    this.useCases = useCases;
  }

  /** The map, and the box around what is on it; {@code drawing} is GeoJSON. */
  public record Shown(
      int version,
      MapSource.Kind kind,
      String address,
      String layers,
      String attribution,
      Optional<JsonNode> drawing,
      PlaceStore.Extent extent)
      implements Versioned {}

  /** A map as chosen; {@code drawing} is GeoJSON (RFC 7946). */
  public record Draft(
      Optional<String> kind,
      Optional<String> address,
      Optional<String> layers,
      Optional<String> attribution,
      Optional<JsonNode> drawing) {}

  /** What is seen of a part of the map. */
  public record Seen(long devices, List<PlaceStore.Cluster> items) {}

  /** The map. */
  public Shown get(Caller caller) {
    return useCases.read(
        tx -> {
          PlaceStore store = new PlaceStore(tx);
          PlaceStore.Set set = store.map();
          MapSource m = set.source();
          return new Shown(
              set.version(),
              m.kind(),
              m.address(),
              m.layers(),
              m.attribution(),
              m.drawing().map(Json::tree),
              store.extent(useCases.now()));
        });
  }

  /**
   * Where the pictures of the map come from, with a space before it, as a browser has to know it to
   * show them; known for some seconds. Empty where they come from nowhere else, and while the
   * database is away.
   */
  public String origin() {
    try {
      return origin.get("");
    } catch (RuntimeException away) {
      return "";
    }
  }

  private String originNow() {
    return useCases
        .read(tx -> new PlaceStore(tx).map().source().origin())
        .map(o -> " " + o)
        .orElse("");
  }

  /**
   * Chooses the map.
   *
   * @throws Problem 400 for what is no map, 412
   */
  public Shown choose(Caller caller, int version, Draft draft) {
    MapSource wanted =
        Problem.reading(
            "",
            () ->
                new MapSource(
                    Words.parse(MapSource.Kind.class, draft.kind().orElse("none")),
                    draft.address().orElse("").strip(),
                    draft.layers().orElse("").strip(),
                    draft.attribution().orElse("").strip(),
                    draft.drawing().map(Json::write)));
    useCases.run(
        caller,
        act -> {
          PlaceStore store = new PlaceStore(act.tx());
          if (!store.choose(version, wanted)) {
            throw Problem.changedMeanwhile("map", store.map().version());
          }
          act.done(Noun.SITE, "map-chosen", "map", "The map is " + Words.of(wanted.kind()));
        });
    return get(caller);
  }

  /**
   * The devices within a box, those near each other taken together; that somebody looked is told in
   * the journal once an hour. Personal devices are never on it.
   *
   * @param zoom of the map, 0 for the whole world, 20 at most
   * @throws Problem 400 for what is no box
   */
  public Seen look(Caller caller, double south, double west, double north, double east, int zoom) {
    if (!(south <= north && west <= east && Math.abs(south) <= 90 && Math.abs(north) <= 90)
        || zoom < 0
        || zoom > FINEST_ZOOM) {
      throw Problem.malformed(
          "", "Give south, west, north and east in degrees, and a zoom from 0 to 20.");
    }
    double cell = 360 / (WORLD * (1 << zoom)) * TOGETHER;
    return useCases.act(
        caller,
        act -> {
          PlaceStore store = looking(act);
          return new Seen(
              store.within(south, west, north, east, act.now()),
              store.clusters(south, west, north, east, cell, act.now(), MOST));
        });
  }

  private static PlaceStore looking(UseCases.Act act) {
    PlaceStore store = new PlaceStore(act.tx());
    if (store.looked(act.caller().accountId(), act.now(), act.now().minus(TOLD_AGAIN))) {
      act.done(Noun.SITE, "map-seen", "map", "Looked at where devices are");
    }
    return store;
  }

  /** Devices that are not where they belong. */
  public record Elsewhere(List<PlaceStore.Away> items) {}

  /**
   * Devices that are not at the site they belong to, those for longest first, at most two hundred;
   * that somebody looked is told in the journal once an hour.
   */
  public Elsewhere away(Caller caller) {
    return useCases.act(caller, act -> new Elsewhere(looking(act).away(act.now(), MOST_AWAY)));
  }
}
