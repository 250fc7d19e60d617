package dev.pinwright.service.proposal;

import dev.pinwright.core.change.Thresholds;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.access.AccountStore;
import dev.pinwright.storage.change.ThresholdStore;
import dev.pinwright.storage.house.NoticeStore;
import java.util.Optional;

/** What is asked before devices are changed, as the owner sets it. */
public final class HouseThresholds {
  private final UseCases useCases;

  public HouseThresholds(UseCases useCases) {
    this.useCases = useCases;
  }

  /** The thresholds and their version. */
  public record Shown(int version, long number, Optional<Long> reason, Optional<Long> second) {}

  /** Thresholds as written; what is absent is never asked. */
  public record Draft(Optional<Long> number, Optional<Long> reason, Optional<Long> second) {}

  /** As they are. */
  public Shown get(Caller caller) {
    return useCases.read(
        tx -> {
          ThresholdStore.Set set = new ThresholdStore(tx).get();
          Thresholds t = set.thresholds();
          return new Shown(set.version(), t.number(), t.reason(), t.second());
        });
  }

  /**
   * Sets them.
   *
   * @throws Problem 400 for what is no threshold, 409 when nobody else could agree, 412 when
   *     somebody set them meanwhile
   */
  public Shown set(Caller caller, int version, Draft draft) {
    long number =
        draft
            .number()
            .orElseThrow(
                () -> Problem.malformed("/number", "Say from how many devices on it is typed."));
    Thresholds wanted =
        Problem.reading("", () -> new Thresholds(number, draft.reason(), draft.second()));
    useCases.run(
        caller,
        act -> {
          if (wanted.second().isPresent() && new AccountStore(act.tx()).deciding() < 2) {
            throw Problem.conflict(
                "nobody-else",
                "There is nobody else who could agree: make another account that may change"
                    + " things first.");
          }
          ThresholdStore store = new ThresholdStore(act.tx());
          if (!store.set(version, wanted)) {
            throw Problem.changedMeanwhile("page", store.get().version());
          }
          String words =
              "Asked before devices change: the number from "
                  + wanted.number()
                  + ", a reason "
                  + from(wanted.reason())
                  + ", a second person "
                  + from(wanted.second());
          // one owner alone could lift it, do something and set it again: others see that it was
          // set
          NoticeStore notices = new NoticeStore(act.tx());
          notices.over("thresholds ", "", act.now());
          notices.give(
              "thresholds " + store.get().version(),
              new NoticeStore.Notice(
                  act.newId(),
                  caller.login() + " set what is asked before changes",
                  words + ".",
                  "/house/thresholds",
                  false,
                  act.now()));
          act.touch(Noun.NOTICE);
          act.done(Noun.THRESHOLDS, "set", "house", words);
        });
    return get(caller);
  }

  private static String from(Optional<Long> devices) {
    return devices.map(d -> "from " + d).orElse("never");
  }
}
