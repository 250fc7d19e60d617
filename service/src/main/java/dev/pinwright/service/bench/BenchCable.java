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
import org.jspecify.annotations.Nullable;

/** What the cable of a bench says: which device is plugged in where, and how far it is. */
public final class BenchCable {
  private final UseCases useCases;
  private final Vault vault;

  public BenchCable(UseCases useCases, Vault vault) {
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
    return useCases.act(
        Caller.SERVICE,
        act -> {
          BenchStore store = new BenchStore(act.tx());
          BenchStore.Session s = session(act.tx(), store, code);
          String serial =
              Problem.reading(
                  "/serial",
                  () -> Identifier.of(Identifier.Kind.SERIAL, plain(word.serial())).value());
          BenchStore.Slot at =
              new BenchStore.Slot(
                  s.id(),
                  bounded("/rack", word.rack(), s.racks()),
                  bounded("/slot", word.slot(), Bench.SLOTS));
          String stage = plain(word.stage());
          switch (stage) {
            case "plugged" -> store.plugged(at, serial, act.now());
            case "erasing", "erased" -> store.stage(s.id(), serial, stage, act.now());
            case "unplugged" -> store.unplugged(at, serial, act.now());
            default ->
                throw Problem.malformed(
                    "/stage", "stage has to be one of plugged, erasing, erased, unplugged.");
          }
          act.touch(Noun.BENCH);
          return new BenchMessages.Order(
              s.name(),
              s.erase(),
              s.wifiName().isEmpty()
                  ? null
                  : new BenchMessages.Wifi(
                      s.wifiName(), s.wifiSecret().map(vault::open).orElse("")));
        });
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

  private static int bounded(String where, @Nullable Integer n, int most) {
    if (n == null || n < 1 || n > most) {
      throw Problem.malformed(where, "This has to be from 1 to " + most + ".");
    }
    return n;
  }

  private static String plain(@Nullable String s) {
    return s == null ? "" : s.strip();
  }
}
