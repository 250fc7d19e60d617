package dev.pinwright.service.app;

import dev.pinwright.core.app.Channel;
import dev.pinwright.core.change.Confirmation;
import dev.pinwright.core.change.Rehearsal;
import dev.pinwright.service.rules.RollOuts;
import dev.pinwright.service.rules.Waves;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.app.AppStore;
import dev.pinwright.storage.change.Moves;
import dev.pinwright.storage.row.AppRow;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * Releases versions of apps: early, to those that are to have them first, and to all. Going back to
 * an earlier version is a release like any other.
 */
public final class Releases {
  private final UseCases useCases;
  private final Apps apps;
  private final RollOuts rollOuts;

  public Releases(UseCases useCases, Apps apps, RollOuts rollOuts) {
    this.useCases = useCases;
    this.apps = apps;
    this.rollOuts = rollOuts;
  }

  /**
   * What was released.
   *
   * @param changes ids of the changes it is to devices
   */
  public record Released(Apps.Detail app, List<String> changes) {}

  /** Shows what a release would do to devices. Nothing is stored and nobody has to wait. */
  public Rehearsal rehearse(Caller caller, String id, long code, Channel channel) {
    return useCases.snapshot(
        tx -> {
          AppRow row = Apps.row(tx, id);
          return rollOuts.rehearse(tx, row, channels(row, code, channel), line(tx, row, code));
        });
  }

  private static AppStore.ReleaseLine line(Tx tx, AppRow row, long code) {
    return new AppStore(tx)
        .release(row.id, code)
        .orElseThrow(
            () ->
                Problem.malformed(
                    "/code", row.name + " has no version with the code " + code + "."));
  }

  /** Those who follow early releases get what all get, unless they are further already. */
  private static Set<Channel> channels(AppRow row, long code, Channel channel) {
    if (channel == Channel.EARLY) {
      return Set.of(Channel.EARLY);
    }
    boolean further =
        row.forEarly != null
            && row.forEarly > code
            && (row.forAll == null || row.forEarly > row.forAll);
    return further ? Set.of(Channel.ALL) : Set.of(Channel.ALL, Channel.EARLY);
  }

  /**
   * Releases a version.
   *
   * @param version the version of the app's record it was seen in
   * @param waves how it spreads; to all at once without
   * @throws Problem 409 when something that is asked for is missing, or it is released so already
   */
  public Released release(
      Caller caller,
      String id,
      int version,
      long code,
      Channel channel,
      Confirmation given,
      Optional<Waves.Spec> waves) {
    return useCases.act(
        caller,
        act -> {
          Tx tx = act.tx();
          Moves.aloneWithRules(tx);
          AppRow row = Known.locked(tx, AppRow.class, "app", id, version, r -> r.version);
          AppStore.ReleaseLine line = line(tx, row, code);
          Long now = channel == Channel.ALL ? row.forAll : row.forEarly;
          if (now != null && now == code) {
            throw Problem.conflict(
                "released-already", row.name + " " + line.version() + " is released so already.");
          }
          Set<Channel> channels = channels(row, code, channel);
          List<String> changes = rollOuts.release(act, row, channels, line, given, waves);
          if (channel == Channel.ALL) {
            row.forAll = code;
          }
          if (channels.contains(Channel.EARLY)) {
            row.forEarly = code;
          }
          row.changedAt = act.now();
          tx.flush();
          act.done(
              Noun.APP,
              "released",
              id,
              row.name
                  + " "
                  + line.version()
                  + " released "
                  + (channel == Channel.ALL ? "to all" : "early")
                  + given.words());
          act.touch(Noun.CHANGE, Noun.DEVICE, Noun.PROFILE);
          return new Released(apps.detail(tx, row), changes);
        });
  }
}
