package dev.pinwright.service.rules;

import dev.pinwright.service.Page;
import dev.pinwright.service.Problem;
import dev.pinwright.service.access.Caller;
import dev.pinwright.service.access.Role;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.ChangeRow;
import java.time.Instant;
import java.util.Map;
import java.util.Optional;

/** What publications set going, and how far devices are with it. */
public final class Changes {
  private final Database database;

  public Changes(Database database) {
    this.database = database;
  }

  /** A change and how far devices are with it. */
  public record Change(
      String id,
      String title,
      Optional<String> profile,
      Optional<Integer> version,
      Instant at,
      String actor,
      long total,
      long done,
      long waiting,
      long failed,
      long overtaken) {}

  /** Changes, newest first, with their progress. */
  public Page<Change> page(Caller caller, Page.Request page) {
    caller.needs(Role.READER);
    String[] c = page.parts(1);
    return database.call(
        tx ->
            Page.of(
                tx.list(
                    ChangeRow.class,
                    "from ChangeRow where id < :b order by id desc",
                    Map.of("b", c.length == 0 ? "~" : c[0]),
                    page.limit() + 1),
                page.limit(),
                r -> change(tx, r),
                r -> Page.cursor(r.id)));
  }

  /** One change with its progress. */
  public Change get(Caller caller, String id) {
    caller.needs(Role.READER);
    return database.call(
        tx ->
            change(
                tx,
                tx.find(ChangeRow.class, id).orElseThrow(() -> Problem.notFound("change", id))));
  }

  static Change change(Tx tx, ChangeRow r) {
    long done = 0;
    long waiting = 0;
    long failed = 0;
    for (Object[] row :
        tx.rows(
            "select standing, count(*) from device where change_id = :c group by standing",
            Map.of("c", r.id))) {
      long n = ((Number) row[1]).longValue();
      switch ((String) row[0]) {
        case "settled" -> done += n;
        case "blocked" -> failed += n;
        default -> waiting += n;
      }
    }
    return new Change(
        r.id,
        r.title,
        Optional.ofNullable(r.profileId),
        Optional.ofNullable(r.version),
        r.at,
        r.actor,
        r.total,
        done,
        waiting,
        failed,
        r.total - done - waiting - failed);
  }
}
