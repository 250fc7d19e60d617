package dev.pinwright.acceptance;

import dev.pinwright.client.model.TrailWanted;
import dev.pinwright.sandbox.device.Agent;
import java.util.ArrayList;
import java.util.List;

/**
 * How long it takes from asking for the trail of thirty days until it is drawn in the browser,
 * beside the call that fetches it.
 */
public final class TrailBenchmark {
  private static final int POINTS = 30 * 24 * 60 / 5;
  private static final int ROUNDS = 10;

  /** Presses the button and calls back once the way is drawn and its points are told. */
  private static final String DRAWN =
      """
      const done = arguments[arguments.length - 1];
      const began = performance.now();
      [...document.querySelectorAll('button')].find(b => b.textContent === 'Look at the trail').click();
      const look = () => {
        const way = document.querySelector('[role=region][aria-label^="Way of"] path');
        const days = document.querySelectorAll('[aria-label=Points] > li').length;
        if (way && days >= 30) {
          requestAnimationFrame(() => setTimeout(() => done(performance.now() - began)));
        } else {
          setTimeout(look, 5);
        }
      };
      look();
      """;

  private TrailBenchmark() {}

  /** Prints the times, of as many rounds as are run. */
  public static void main(String[] args) throws Exception {
    try (Rig rig = new Rig();
        Browser b = new Browser()) {
      Desk desk = new Desk(rig);
      Agent tablet = rig.join(rig.unpackAutomatic("T10"), desk.kiosks("Kiosks", 1).getLink());
      String id = desk.devices(tablet.screen().serial(), 1).get(0).getId();
      Sql.run(rig, TrailTest.points(id, 1, POINTS));
      b.open(rig.consoleUrl());
      b.type("Login", "owner");
      b.type("Password", Rig.PASSWORD);
      b.press("Sign in");
      b.read("Today");
      List<Double> drawn = new ArrayList<>();
      List<Double> fetched = new ArrayList<>();
      for (int i = 0; i < ROUNDS; i++) {
        long start = System.nanoTime();
        rig.client.devices().lookAtTrail(id, new TrailWanted().limit(10_000));
        fetched.add((System.nanoTime() - start) / 1e6);
        b.open(rig.consoleUrl() + "/devices/" + id);
        b.read("Look at the trail");
        drawn.add(((Number) b.later(DRAWN)).doubleValue());
      }
      System.out.printf(
          "a trail of %d points: fetched in %s; asked for and drawn in %s%n",
          POINTS, told(fetched), told(drawn));
    }
    System.exit(0);
  }

  private static String told(List<Double> millis) {
    List<Double> sorted = millis.stream().sorted().toList();
    return "%.0f ms, %.0f at most"
        .formatted(sorted.get(sorted.size() / 2), sorted.get(sorted.size() - 1));
  }
}
