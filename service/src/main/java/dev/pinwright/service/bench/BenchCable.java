package dev.pinwright.service.bench;

import dev.pinwright.core.intake.Identifier;
import dev.pinwright.core.intake.InvitationCode;
import dev.pinwright.protocol.join.BenchMessages;
import dev.pinwright.service.live.Events;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import java.time.Clock;
import java.util.HashMap;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** What the cable of a bench says: which device is plugged in where, and how far it is. */
public final class BenchCable {
  private final Database database;
  private final Vault vault;
  private final Events events;
  private final Clock clock;

  public BenchCable(Database database, Vault vault, Events events, Clock clock) {
    this.database = database;
    this.vault = vault;
    this.events = events;
    this.clock = clock;
  }

  /**
   * Takes word of the cable, and says what is to be done with the device.
   *
   * @param code of the session's invitation
   * @throws Problem 404 for a code that is no bench's, 409 when the session is closed, 400
   */
  public BenchMessages.Order heard(String code, BenchMessages.Word word) {
    BenchMessages.Order order =
        database.call(
            tx -> {
              Object[] s = session(tx, code);
              String serial = serial(word);
              int rack = bounded("/rack", word.rack(), (Integer) s[5]);
              int slot = bounded("/slot", word.slot(), Bench.SLOTS);
              String stage = plain(word.stage());
              Map<String, Object> p = new HashMap<>();
              p.put("s", s[0]);
              p.put("serial", serial);
              p.put("rack", rack);
              p.put("slot", slot);
              p.put("now", clock.instant());
              switch (stage) {
                case "plugged" -> plugged(tx, p);
                case "erasing", "erased" -> {
                  p.put("stage", stage);
                  tx.execute(
                      "update bench_device set stage = :stage, reason = '', changed_at = :now"
                          + " where session_id = :s and serial = :serial and :rack > 0 and :slot > 0",
                      p);
                }
                case "unplugged" ->
                    tx.execute(
                        "update bench_device set unplugged_at = :now, changed_at = :now"
                            + " where session_id = :s and serial = :serial and rack = :rack"
                            + " and slot = :slot",
                        p);
                default ->
                    throw Problem.malformed(
                        "/stage", "stage has to be one of plugged, erasing, erased, unplugged.");
              }
              return new BenchMessages.Order(
                  (String) s[1],
                  (Boolean) s[2],
                  ((String) s[3]).isEmpty()
                      ? null
                      : new BenchMessages.Wifi(
                          (String) s[3], s[4] == null ? "" : vault.open((byte[]) s[4])));
            });
    events.touch("bench");
    return order;
  }

  private static void plugged(Tx tx, Map<String, Object> p) {
    tx.execute(
        "update bench_device set unplugged_at = :now where session_id = :s and rack = :rack"
            + " and slot = :slot and serial <> :serial and unplugged_at is null",
        p);
    tx.execute(
        """
        insert into bench_device (session_id, serial, rack, slot, stage, plugged_at, changed_at)
        values (:s, :serial, :rack, :slot, 'plugged', :now, :now)
        on conflict (session_id, serial) do update set rack = excluded.rack, slot = excluded.slot,
          plugged_at = excluded.plugged_at, changed_at = excluded.changed_at, unplugged_at = null,
          stage = case when bench_device.device_id is null then 'plugged'
                       else bench_device.stage end
        """,
        p);
  }

  private static Object[] session(Tx tx, String typed) {
    InvitationCode code;
    try {
      code = InvitationCode.parse(typed);
    } catch (IllegalArgumentException e) {
      throw new Problem(404, "unknown-code", "Not known", "No bench session has this code.");
    }
    Object[] s =
        tx
            .rows(
                "select s.id, s.name, s.erase, s.wifi_name, s.wifi_secret, s.racks, s.open"
                    + " from bench_session s join invitation i on i.id = s.invitation_id"
                    + " where i.code_hash = :h",
                Map.of("h", Vault.hash(code.value())))
            .stream()
            .findFirst()
            .orElseThrow(
                () ->
                    new Problem(
                        404, "unknown-code", "Not known", "No bench session has this code."));
    if (!(Boolean) s[6]) {
      throw Problem.conflict("bench-closed", "The bench session " + s[1] + " is closed.");
    }
    return s;
  }

  private static String serial(BenchMessages.Word word) {
    try {
      return Identifier.of(Identifier.Kind.SERIAL, plain(word.serial())).value();
    } catch (IllegalArgumentException e) {
      throw Problem.malformed("/serial", e);
    }
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
