package dev.pinwright.service.bench;

import dev.pinwright.core.device.Identifier;
import dev.pinwright.core.enrollment.InvitationCode;
import dev.pinwright.protocol.join.BenchMessages;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.bench.BenchStore;
import dev.pinwright.storage.invitation.InvitationStore;
import java.time.Instant;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** What the cable of a bench says: which device is plugged in where, and how far it is. */
public final class BenchCable {
  private final UseCases useCases;
  private final Vault vault;
  private final BenchWork work;

  public BenchCable(UseCases useCases, Vault vault, BenchWork work) {
    this.work = work;
    this.useCases = useCases;
    this.vault = vault;
  }

  /**
   * Takes word of the cable, and says what is to be done with the device.
   *
   * @param code of the session's invitation
   * @throws Problem 404 for a code that is no bench's, 409 when the session is closed, 400
   */
  public BenchMessages.Order heard(String code, BenchMessages.Word word) {
    return useCases
        .act(
            Caller.SERVICE,
            act -> {
              BenchStore store = new BenchStore(act.tx());
              BenchStore.Session s = session(act.tx(), store, code);
              Optional<String> unknown = unknownPlace(s, word);
              store.fault(s.id(), unknown.orElse(""));
              act.touch(Noun.BENCH);
              if (unknown.isPresent()) {
                return Heard.not(Problem.malformed("/rack", unknown.get()));
              }
              String serial =
                  Problem.reading(
                      "/serial",
                      () -> Identifier.of(Identifier.Kind.SERIAL, plain(word.serial())).value());
              BenchStore.Slot at = new BenchStore.Slot(s.id(), word.rack(), word.slot());
              String stage = plain(word.stage());
              switch (stage) {
                case "plugged" -> store.plugged(at, serial, act.now());
                case "erasing", "erased" -> {
                  if (store.heldAs(s.id(), serial).isPresent()) {
                    throw Problem.conflict("held", serial + " is managed and is not to be erased.");
                  }
                  store.stage(s.id(), serial, stage, act.now());
                }
                case "there" -> {
                  // it goes on
                }
                case "unplugged" -> store.unplugged(at, serial, act.now());
                default ->
                    throw Problem.malformed(
                        "/stage",
                        "stage has to be one of plugged, erasing, erased, there, unplugged.");
              }
              work.heard(act, s.id(), serial, word);
              Optional<BenchMessages.Work> next =
                  stage.equals("there") ? work.next(act, s.id(), serial) : Optional.empty();
              return new Heard(order(store, s, serial, stage, next, act.now()), null);
            })
        .order();
  }

  /** What the cable is told; a refusal of a place it names is kept with the session as well. */
  private record Heard(BenchMessages.@Nullable Order answer, @Nullable Problem refused) {
    static Heard not(Problem why) {
      return new Heard(null, why);
    }

    BenchMessages.Order order() {
      if (refused != null || answer == null) {
        throw refused == null ? new IllegalStateException() : refused;
      }
      return answer;
    }
  }

  private BenchMessages.Order order(
      BenchStore store,
      BenchStore.Session s,
      String serial,
      String stage,
      Optional<BenchMessages.Work> next,
      Instant now) {
    if (stage.equals("there")) {
      boolean left = store.heldAs(s.id(), serial).isPresent();
      return new BenchMessages.Order(s.name(), false, null, left, next.orElse(null));
    }
    if (stage.equals("plugged")) {
      Optional<String> managed = store.heldAs(s.id(), serial);
      if (managed.isPresent()) {
        store.hold(
            s.id(),
            serial,
            "is managed as " + managed.get() + "; it is erased when somebody says so",
            now);
      }
      if (managed.isPresent() || store.prepared(s.id(), serial)) {
        return new BenchMessages.Order(s.name(), false, null, true, null);
      }
    }
    return new BenchMessages.Order(
        s.name(),
        s.erase(),
        s.wifiName().isEmpty()
            ? null
            : new BenchMessages.Wifi(s.wifiName(), s.wifiSecret().map(vault::open).orElse("")),
        false,
        null);
  }

  /** Says what is wrong about the place a cable names; empty when nothing is. */
  private static Optional<String> unknownPlace(BenchStore.Session s, BenchMessages.Word word) {
    if (word.rack() == null || word.rack() < 1 || word.rack() > s.racks()) {
      return Optional.of(
          "The cable spoke of rack "
              + word.rack()
              + "; this session has "
              + (s.racks() == 1 ? "1 rack." : s.racks() + " racks."));
    }
    if (word.slot() == null || word.slot() < 1 || word.slot() > Bench.SLOTS) {
      return Optional.of(
          "The cable spoke of slot "
              + word.slot()
              + "; a rack has slots 1 to "
              + Bench.SLOTS
              + ".");
    }
    return Optional.empty();
  }

  private static BenchStore.Session session(Tx tx, BenchStore store, String typed) {
    BenchStore.Session s =
        InvitationCode.read(typed)
            .flatMap(code -> new InvitationStore(tx).byCode(Vault.hash(code.value())))
            .flatMap(i -> store.ofInvitation(i.id))
            .orElseThrow(
                () ->
                    new Problem(
                        404, "unknown-code", "Not known", "No bench session has this code."));
    if (!s.open()) {
      throw Problem.conflict("bench-closed", "The bench session " + s.name() + " is closed.");
    }
    return s;
  }

  private static String plain(@Nullable String s) {
    return s == null ? "" : s.strip();
  }
}
