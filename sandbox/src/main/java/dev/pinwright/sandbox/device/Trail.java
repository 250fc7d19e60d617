package dev.pinwright.sandbox.device;

import dev.pinwright.core.catalog.Catalog;
import java.util.List;
import java.util.concurrent.TimeUnit;
import org.jspecify.annotations.Nullable;

/**
 * Where a device was, kept while its policy says so and told when it is heard. Guarded by the
 * device it belongs to.
 */
record Trail(State state) {
  /** Points told in one session; the next ones go with the next. */
  static final int TOLD_AT_ONCE = 100;

  private static final int MOST = 5_000;
  private static final String SECTION = Catalog.POLICY_ROOT + "/location/";
  private static final int USUAL_MINUTES = 60;

  private @Nullable String value(String name) {
    String @Nullable [] leaf = state.policy.get(SECTION + name);
    return leaf == null ? null : leaf[1];
  }

  private boolean wanted() {
    return state.stage == State.Stage.JOINED && "true".equals(value("trail"));
  }

  /** Notes where it is, where it is time to; forgets all where no trail is wanted any more. */
  void live(long now) {
    if (!wanted()) {
      state.trail.clear();
      return;
    }
    State.Place here = state.here;
    String every = value("every");
    long pause = TimeUnit.MINUTES.toMillis(every == null ? USUAL_MINUTES : Integer.parseInt(every));
    if (here != null && now - last(state.trail) >= pause) {
      note(here.at(now));
    }
  }

  private long last(List<State.Place> places) {
    return Math.max(state.trailTold, places.stream().mapToLong(State.Place::at).max().orElse(0));
  }

  /** Notes that it was somewhere, where a trail is wanted. */
  void note(State.Place place) {
    if (wanted()) {
      state.trail.add(place);
      if (state.trail.size() > MOST) {
        state.trail.remove(0);
      }
    }
  }

  /** What is told next. */
  List<State.Place> next() {
    return List.copyOf(state.trail.subList(0, Math.min(TOLD_AT_ONCE, state.trail.size())));
  }

  /** These were told. */
  void told(List<State.Place> places) {
    state.trailTold = last(places);
    state.trail.removeAll(places);
  }
}
