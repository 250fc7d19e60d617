package dev.pinwright.service.acting;

import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.CommandSpec;
import dev.pinwright.core.catalog.ValueType;
import dev.pinwright.core.change.Confirmation;
import dev.pinwright.core.change.Thresholds;
import dev.pinwright.core.command.CommandForm;
import dev.pinwright.core.command.Reach;
import dev.pinwright.core.file.StoredFile;
import dev.pinwright.core.passcode.PasscodePolicy;
import dev.pinwright.core.wipe.AtStake;
import dev.pinwright.service.change.Changes;
import dev.pinwright.service.shape.Shapes;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.acting.DispatchStore;
import dev.pinwright.storage.acting.WipeStore;
import dev.pinwright.storage.change.ThresholdStore;
import dev.pinwright.storage.file.FileStore;
import java.time.Duration;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/** The devices an order reaches within a transaction, and what it asks for because of them. */
final class Reached {
  private static final String SET_PASSCODE = "set-passcode";
  private static final String PASSCODE = "passcode";
  private static final int NAMED = 10;
  private static final Duration HOUR = Duration.ofHours(1);

  private final UseCases.Act act;
  private final Shapes shapes;
  private final CommandForm form;
  private final CommandSpec spec;
  private final Reach reach;
  private final Thresholds thresholds;

  /**
   * Gathers the devices of an order.
   *
   * @throws Problem 409 when they are more than the command is given to at a time
   */
  Reached(UseCases.Act act, Catalog catalog, Shapes shapes, DispatchOrder.Checked checked) {
    this.act = act;
    this.shapes = shapes;
    form = checked.form();
    spec = form.spec();
    checked.gather(act.tx(), act.now());
    reach = Reach.of(catalog, form, new DispatchStore(act.tx()).gathered());
    thresholds = new ThresholdStore(act.tx()).get().thresholds();
    bounded();
  }

  Reach reach() {
    return reach;
  }

  /** Holds the order against how many devices it is given to at a time. */
  private void bounded() {
    int most = spec.most().orElse(Integer.MAX_VALUE);
    if (reach.devices() > most) {
      throw Problem.conflict(
          "too-many-devices",
          spec.title()
              + " is ordered for "
              + (most == 1 ? "one device" : most + " devices")
              + " at a time; this reaches "
              + reach.devices()
              + ".");
    }
  }

  /** What the order would do. */
  Dispatches.Preview preview() {
    Thresholds.Asked asked = asked();
    Optional<String> runaway = runaway();
    return new Dispatches.Preview(
        reach.devices(),
        reach.able(),
        reach.unable(),
        new DispatchStore(act.tx()).named(NAMED),
        atStake().losses(spec),
        demanded().map(PasscodePolicy::demand).filter(d -> !d.isEmpty()).toList(),
        asked.number(),
        asked.reason(),
        asked.second() || runaway.isPresent(),
        runaway);
  }

  /** What the owner's thresholds ask for where so many are reached. */
  Thresholds.Asked asked() {
    return reach.asked(spec, thresholds);
  }

  private AtStake atStake() {
    return wipes()
        ? new WipeStore(act.tx()).atStake(words(spec.modes()), words(spec.ownerships()), act.now())
        : AtStake.NOTHING;
  }

  private static List<String> words(Collection<? extends Enum<?>> values) {
    return values.stream().map(Words::of).toList();
  }

  boolean wipes() {
    return spec.danger() == CommandSpec.Danger.WIPES;
  }

  /** Why so many wipes are too many for one person alone; empty when they are not. */
  private Optional<String> runaway() {
    return wipes() && reach.able() > 0
        ? thresholds
            .runaway()
            .objection(new WipeStore(act.tx()).alone(act.now().minus(HOUR)), reach.able())
        : Optional.empty();
  }

  /**
   * Holds what was filled in against the devices: their policies of passcodes, the files there are,
   * the languages of their holders.
   *
   * @throws Problem 400 saying what does not fit, 409 when no device is reached
   */
  void fits() {
    if (reach.devices() == 0) {
      throw Problem.conflict("no-devices", "This reaches no device.");
    }
    goodEnough();
    filesThere(act.tx());
    Spoken.require(act.tx(), form);
  }

  /** What is asked of the passcodes of the devices, where one is to be set on them. */
  private Stream<PasscodePolicy> demanded() {
    return spec.key().equals(SET_PASSCODE)
        ? new DispatchStore(act.tx())
            .desired().stream()
                .flatMap(digest -> shapes.tree(act.tx(), digest).stream())
                .map(PasscodePolicy::of)
                .distinct()
        : Stream.empty();
  }

  private void goodEnough() {
    String passcode = form.fields().getOrDefault(PASSCODE, "");
    demanded()
        .flatMap(policy -> policy.objections(passcode).stream())
        .findFirst()
        .ifPresent(
            why -> {
              throw Problem.malformed("/fields/" + PASSCODE, why);
            });
  }

  private void filesThere(Tx tx) {
    for (CommandSpec.Field f : spec.fields()) {
      if (f.type() instanceof ValueType.FileType type) {
        StoredFile.referred(form.fields().getOrDefault(f.key(), ""))
            .flatMap(
                id ->
                    StoredFile.objection(
                        type.of(), new FileStore(tx).held(List.of(id)).stream().findFirst(), id))
            .ifPresent(
                why -> {
                  throw Problem.malformed("/fields/" + f.key(), why);
                });
      }
    }
  }

  /**
   * Holds what was given against what is asked.
   *
   * @throws Problem 409 saying what is missing
   */
  void confirmed(Confirmation given) {
    if (given.agreedBy().isEmpty()) {
      runaway()
          .ifPresent(
              why -> {
                throw Problem.conflict(
                    "second-person",
                    why
                        + " Somebody else has to agree to more: propose it, and they see what it"
                        + " would do.");
              });
    }
    long n = reach.devices();
    Changes.require(asked(), "This goes to " + Words.counted(n, "device") + "; ", given, "send it");
  }
}
