package dev.pinwright.service.proposal;

import dev.pinwright.core.Words;
import dev.pinwright.core.change.Runaway;
import dev.pinwright.core.change.Thresholds;
import dev.pinwright.core.notice.News;
import dev.pinwright.service.access.Accounts;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.access.AccountStore;
import dev.pinwright.storage.change.ThresholdStore;
import java.util.Optional;

/** What is asked before devices are changed, as the owner sets it. */
public final class HouseThresholds {
  private final UseCases useCases;
  private final Accounts accounts;

  public HouseThresholds(UseCases useCases, Accounts accounts) {
    this.useCases = useCases;
    this.accounts = accounts;
  }

  /**
   * The thresholds and their version.
   *
   * @param wiping from how many devices on a second person has to agree to wipes
   * @param alone how many one person alone may wipe in an hour
   */
  public record Shown(
      int version,
      long number,
      Optional<Long> reason,
      Optional<Long> second,
      Optional<Long> wiping,
      long alone) {}

  /**
   * Thresholds as written; what is absent is never asked.
   *
   * @param alone as it was where it is absent
   * @param password one's own, again, to let one person alone wipe more than before
   */
  public record Draft(
      Optional<Long> number,
      Optional<Long> reason,
      Optional<Long> second,
      Optional<Long> wiping,
      Optional<Long> alone,
      Optional<String> password) {
    /** What is asked before changes, and nothing besides before wipes. */
    public Draft(Optional<Long> number, Optional<Long> reason, Optional<Long> second) {
      this(number, reason, second, Optional.empty(), Optional.empty(), Optional.empty());
    }
  }

  /** As they are. */
  public Shown get(Caller caller) {
    return useCases.read(
        tx -> {
          ThresholdStore.Set set = new ThresholdStore(tx).get();
          Thresholds t = set.thresholds();
          return new Shown(
              set.version(), t.number(), t.reason(), t.second(), t.wiping(), t.runaway().most());
        });
  }

  /**
   * Sets them.
   *
   * <p>Whoever lets one person alone wipe more gives their password again, so that a stolen sign-in
   * cannot lift the limit that stops it.
   *
   * @throws Problem 400 for what is no threshold, 403 for a wrong password, 409 when nobody else
   *     could agree or the password is asked for, 412 when somebody set them meanwhile
   */
  public Shown set(Caller caller, int version, Draft draft) {
    long number =
        draft
            .number()
            .orElseThrow(
                () -> Problem.malformed("/number", "Say from how many devices on it is typed."));
    Thresholds now = useCases.read(tx -> new ThresholdStore(tx).get().thresholds());
    Thresholds wanted =
        Problem.reading(
            "",
            () ->
                new Thresholds(
                    number,
                    draft.reason(),
                    draft.second(),
                    draft.wiping(),
                    draft.alone().map(Runaway::new).orElse(now.runaway())));
    if (now.easedBy(wanted)) {
      String password =
          draft
              .password()
              .orElseThrow(
                  () ->
                      Problem.conflict(
                          "password-wanted",
                          "This lets one person alone wipe more than before; give your password"
                              + " again."));
      accounts.prove(caller, password);
    }
    useCases.run(
        caller,
        act -> {
          boolean two =
              wanted.second().isPresent()
                  || wanted.wiping().isPresent()
                  || wanted.runaway().most() == 0;
          if (two && new AccountStore(act.tx()).deciding() < 2) {
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
                  + from(wanted.second())
                  + ", for wipes "
                  + from(wanted.wiping())
                  + "; one person alone wipes up to "
                  + Words.counted(wanted.runaway().most(), "device")
                  + " an hour";
          act.say(News.thresholds(caller.login(), store.get().version(), words));
          act.done(Noun.THRESHOLDS, "set", "house", words);
        });
    return get(caller);
  }

  private static String from(Optional<Long> devices) {
    return devices.map(d -> "from " + d).orElse("never");
  }
}
