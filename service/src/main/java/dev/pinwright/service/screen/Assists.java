package dev.pinwright.service.screen;

import dev.pinwright.core.command.CommandState;
import dev.pinwright.core.screen.Assist;
import dev.pinwright.core.screen.Shows;
import dev.pinwright.service.acting.Commands;
import dev.pinwright.service.live.Wakes;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Notices;
import dev.pinwright.storage.device.ActivityStore;
import dev.pinwright.storage.screen.AssistStore;
import java.time.Duration;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;

/**
 * Screens that are looked at live, together with whoever holds the device. Whoever ordered one may
 * look and nobody else; the holder is asked once they are there. Who looked and how long is told in
 * the journal, what was seen is not.
 */
public final class Assists {
  private static final String TOPIC = "assist-end";
  private static final Duration UNSEEN = Duration.ofMinutes(1);
  private static final int SHOWN = 20;

  private final UseCases useCases;
  private final Notices channel;
  private final String node;

  /**
   * The assists of a node.
   *
   * @param node {@code https://HOST:PORT} at which devices reach this very node
   */
  public Assists(UseCases useCases, Notices channel, String node) {
    this.useCases = useCases;
    this.channel = channel;
    this.node = node;
  }

  /** One, and how far it is. */
  public record Shown(Assist.Stage stage, Assist assist) {
    static Shown of(Assist a) {
      return new Shown(a.stage(), a);
    }
  }

  /** Has this node told which of them are over, wherever that was decided. */
  public void onEnd(Consumer<String> listener) {
    channel.onNotice(
        (topic, id) -> {
          if (topic.equals(TOPIC)) {
            listener.accept(id);
          }
        });
  }

  /** One of them. */
  public Shown get(Caller caller, String id) {
    return Shown.of(useCases.read(tx -> found(new AssistStore(tx).find(id), id)));
  }

  private static Assist found(Optional<Assist> assist, String id) {
    return assist.orElseThrow(() -> Problem.notFound("assist", id));
  }

  /** The latest of a device, the newest first. */
  public List<Shown> ofDevice(Caller caller, String deviceId) {
    return useCases.read(
        tx -> new AssistStore(tx).ofDevice(deviceId, SHOWN).stream().map(Shown::of).toList());
  }

  /**
   * Somebody is there to look, at this node: now the holder is asked.
   *
   * @throws Problem 403 for everybody but whoever ordered it, 404, 409 when it is over
   */
  public void watch(Caller caller, String id) {
    useCases.run(
        caller,
        act -> {
          AssistStore store = new AssistStore(act.tx());
          Assist a = found(store.lock(id), id);
          if (!store.account(id).equals(Optional.of(caller.accountId()))) {
            throw new Problem(
                403,
                "not-yours",
                "Not permitted",
                "Only " + a.actor() + ", who ordered it, sees this screen.");
          }
          if (a.over() || a.stage() == Assist.Stage.ON) {
            throw Problem.conflict(
                "over", "This is over, or seen at another place; order it anew.");
          }
          store.watched(id, node, act.now());
          Wakes.device(act.tx(), a.deviceId());
          act.touch(Noun.ASSIST);
        });
  }

  /**
   * A device opens its screen.
   *
   * @throws Problem 404 when it was not asked to, 409 when that is over or nobody is there to look
   */
  public Assist begin(String deviceId, String id) {
    return useCases.act(
        Caller.ofDevice(deviceId),
        act -> {
          AssistStore store = new AssistStore(act.tx());
          Assist a = found(store.lock(id).filter(x -> x.deviceId().equals(deviceId)), id);
          boolean asked = a.stage() == Assist.Stage.ASKED || a.stage() == Assist.Stage.WAITING;
          if (!asked || store.node(id).isEmpty() || !store.begun(id, act.now())) {
            throw Problem.conflict("over", "Nobody is there to look.");
          }
          act.done(
              Noun.ASSIST,
              "begun",
              Noun.DEVICE,
              deviceId,
              a.actor() + " sees the screen of " + a.device() + ": " + sees(a));
          new ActivityStore(act.tx())
              .add(deviceId, act.now(), "screen", "Its screen is seen by " + a.actor());
          return a;
        });
  }

  private static String sees(Assist a) {
    return (a.shows() == Shows.WORK ? "the organisation's apps alone" : "the whole screen")
        + (a.taps() ? ", and may tap and type" : "");
  }

  /** Ends one, on behalf of somebody who is signed in. */
  public Shown end(Caller caller, String id) {
    ended(caller, id, caller.login());
    return get(caller, id);
  }

  /** A device hung up. */
  public void leftByDevice(String deviceId, String id) {
    ended(Caller.ofDevice(deviceId), id, "its holder");
  }

  /** It has lasted as long as one may. */
  public void tooLong(String id) {
    ended(Caller.SERVICE, id, "the longest time one lasts");
  }

  private void ended(Caller caller, String id, String by) {
    useCases.run(
        caller,
        act -> {
          AssistStore store = new AssistStore(act.tx());
          Assist a = found(store.lock(id), id);
          if (!store.ended(id, by, act.now())) {
            return;
          }
          if (a.begunAt().isPresent()) {
            step(act, a, CommandState.DONE, "");
            String lasted = words(Duration.between(a.begunAt().get(), act.now()));
            act.done(
                Noun.ASSIST,
                "ended",
                Noun.DEVICE,
                a.deviceId(),
                a.actor()
                    + " saw the screen of "
                    + a.device()
                    + " for "
                    + lasted
                    + "; ended by "
                    + by);
            new ActivityStore(act.tx())
                .add(
                    a.deviceId(),
                    act.now(),
                    "screen",
                    "Its screen was seen by " + a.actor() + " for " + lasted);
          } else {
            String why = "ended by " + by + " before the screen came";
            if (!step(act, a, CommandState.CANCELLED, why)) {
              step(act, a, CommandState.FAILED, why);
            }
          }
          act.touch(Noun.ASSIST, Noun.DISPATCH);
          act.tx().notice(TOPIC, id);
        });
  }

  private static boolean step(UseCases.Act act, Assist a, CommandState to, String reason) {
    String command = new AssistStore(act.tx()).command(a.id());
    return Commands.step(act.tx(), a.deviceId(), command, to, reason, act.now()).isPresent();
  }

  private static String words(Duration d) {
    return d.toMinutes() == 0
        ? d.toSeconds() + " s"
        : d.toMinutes() + " min " + d.toSecondsPart() + " s";
  }

  /**
   * Says that these go on at this node; which of them are over because their command is.
   *
   * @return ids of those to be closed
   */
  public List<String> goOn(Collection<String> ids) {
    Instant now = useCases.now();
    return useCases.act(
        Caller.SERVICE,
        act -> {
          AssistStore store = new AssistStore(act.tx());
          store.goOn(ids, now);
          return ids.stream().filter(id -> store.find(id).map(Assist::over).orElse(true)).toList();
        });
  }

  /** Ends those no node says anything of any more. */
  public void follow() {
    useCases
        .read(tx -> new AssistStore(tx).unseen(useCases.now().minus(UNSEEN)))
        .forEach(id -> ended(Caller.SERVICE, id, "a node that went down"));
  }
}
