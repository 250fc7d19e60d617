package dev.pinwright.service.naming;

import dev.pinwright.core.intake.Identifier;
import dev.pinwright.core.intake.NamePattern;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Role;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.OptionalLong;
import org.jspecify.annotations.Nullable;

/** What a name pattern would make of devices that are really there, or on their way. */
public final class NamePreview {
  private static final int ROWS = 6;
  private final Database database;

  public NamePreview(Database database) {
    this.database = database;
  }

  /** A pattern, and where devices land of which nothing nearer is known. */
  public record Draft(
      @Nullable String namePattern, @Nullable String unitId, @Nullable String siteId) {}

  /** A device, by identifier and model, and the name it would get. */
  public record Named(String device, String name) {}

  /**
   * Names for rows of the roster that are expected, then for the newest devices; at most six. No
   * number is reserved.
   *
   * @throws Problem 400 when the pattern is not one
   */
  public List<Named> show(Caller caller, Draft draft) {
    caller.needs(Role.READER);
    NamePattern pattern;
    try {
      pattern = new NamePattern(draft.namePattern() == null ? "" : draft.namePattern());
    } catch (IllegalArgumentException e) {
      throw Problem.malformed("/namePattern", e);
    }
    return database.call(tx -> show(tx, pattern, draft));
  }

  private static List<Named> show(Tx tx, NamePattern pattern, Draft draft) {
    List<Object[]> rows =
        tx.rows(
            """
            select x.serial, x.imei, x.asset, x.model, x.platform, coalesce(p.name, ''),
                   coalesce(u.code, ''), coalesce(s.name, ''), x.sheet
              from ((select 1 as sort, id, serial, imei, asset, '' as model, '' as platform,
                            person_id, unit_id, site_id, name as sheet
                       from roster_entry where state = 'expected' order by id desc limit :n)
                    union all
                    (select 2, id, serial, imei, asset, model, platform, person_id, unit_id,
                            site_id, ''
                       from device where retired_at is null order by enrolled_at desc limit :n)) x
              left join person p on p.id = x.person_id
              left join unit u on u.id = coalesce(x.unit_id, p.unit_id, nullif(:unit, ''))
              left join site s on s.id = coalesce(x.site_id, p.site_id, nullif(:site, ''))
             order by x.sort, x.id desc limit :n
            """,
            Map.of(
                "n", ROWS,
                "unit", draft.unitId() == null ? "" : draft.unitId(),
                "site", draft.siteId() == null ? "" : draft.siteId()));
    Map<String, Long> next = new HashMap<>();
    List<Named> out = new ArrayList<>();
    for (Object[] r : rows) {
      List<Identifier> identifiers = new ArrayList<>();
      for (Identifier.Kind kind : Identifier.Kind.values()) {
        if (r[kind.ordinal()] != null) {
          identifiers.add(new Identifier(kind, (String) r[kind.ordinal()]));
        }
      }
      String model = ((String) r[3]).isEmpty() ? "device" : (String) r[3];
      NamePattern.Facts facts =
          new NamePattern.Facts(
              identifiers,
              model,
              (String) r[4],
              (String) r[5],
              (String) r[6],
              (String) r[7],
              (String) r[8]);
      OptionalLong number = OptionalLong.empty();
      if (pattern.counts()) {
        String key = pattern.sequence(facts);
        long n = next.computeIfAbsent(key, k -> last(tx, k)) + 1;
        next.put(key, n);
        number = OptionalLong.of(n);
      }
      String sheet = (String) r[8];
      String name =
          !sheet.isEmpty() && !pattern.text().contains("{sheet}")
              ? sheet
              : pattern.name(facts, number);
      out.add(
          new Named((identifiers.isEmpty() ? "" : identifiers.get(0).value() + " ") + r[3], name));
    }
    return out;
  }

  private static long last(Tx tx, String key) {
    return tx.rows("select last, 1 from sequence where key = :k", Map.of("k", key)).stream()
        .map(r -> ((Number) r[0]).longValue())
        .findFirst()
        .orElse(0L);
  }
}
