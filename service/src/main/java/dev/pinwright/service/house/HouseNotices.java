package dev.pinwright.service.house;

import com.github.f4b6a3.ulid.UlidCreator;
import dev.pinwright.core.gateway.PushCredential;
import dev.pinwright.service.journal.Journal;
import dev.pinwright.service.live.Events;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Role;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.GatewayRow;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.OptionalInt;
import org.jspecify.annotations.Nullable;

/** What somebody should know: each thing is said once, in the console and by mail. */
public final class HouseNotices {
  private final Database database;
  private final Mailer mailer;
  private final Journal journal;
  private final Events events;
  private final Clock clock;

  public HouseNotices(
      Database database, Mailer mailer, Journal journal, Events events, Clock clock) {
    this.database = database;
    this.mailer = mailer;
    this.journal = journal;
    this.events = events;
    this.clock = clock;
  }

  /** A notice. {@code link} is an address in the console. */
  public record Shown(
      String id, String title, String detail, String link, boolean urgent, Instant at) {}

  /** Notices that are not over, newest first. */
  public Page<Shown> page(Caller caller, Page.Request page) {
    caller.needs(Role.READER);
    String[] c = page.parts(Page.Part.TEXT);
    List<Object[]> rows =
        database.call(
            tx ->
                tx.rows(
                    "select id, title, detail, link, urgent, at from house_notice"
                        + " where over_at is null and id < :b order by id desc limit :l",
                    Map.of("b", c.length == 0 ? "~" : c[0], "l", page.limit() + 1)));
    return Page.of(
        rows,
        page.limit(),
        r ->
            new Shown(
                (String) r[0],
                (String) r[1],
                (String) r[2],
                (String) r[3],
                (Boolean) r[4],
                (Instant) r[5]),
        r -> Page.cursor((String) r[0]));
  }

  /** Puts a notice away. */
  public void putAway(Caller caller, String id) {
    caller.needs(Role.OPERATOR);
    int n =
        database.call(
            tx ->
                tx.execute(
                    "update house_notice set over_at = :now where id = :id and over_at is null",
                    Map.of("now", clock.instant(), "id", id)));
    if (n == 0) {
      throw Problem.notFound("notice", id);
    }
    events.touch("notices");
  }

  /** Looks at every push credential and says what is due; run as often as one likes. */
  public void lookAtCredentials() {
    int said =
        database.call(
            tx ->
                tx
                    .list(
                        GatewayRow.class,
                        "from GatewayRow where pushExpiresAt is not null order by platform",
                        Map.of(),
                        100)
                    .stream()
                    .mapToInt(g -> look(tx, g))
                    .sum());
    if (said > 0) {
      events.touch("notices");
      events.touch("gateways");
    }
    mail();
  }

  private int look(Tx tx, GatewayRow found) {
    GatewayRow g = tx.lock(GatewayRow.class, found.platform).orElseThrow();
    PushCredential held = new PushCredential(g.pushAccount, g.pushTopic, g.pushExpiresAt);
    OptionalInt told = g.pushTold == null ? OptionalInt.empty() : OptionalInt.of(g.pushTold);
    OptionalInt due = held.noticeDue(clock.instant(), told);
    if (due.isEmpty()) {
      return 0;
    }
    g.pushTold = due.getAsInt();
    long left = held.daysLeft(clock.instant());
    String title =
        "Push credential of "
            + g.platform
            + (left < 0 ? " has lapsed" : left == 0 ? " lapses today" : " lapses in " + days(left));
    String detail =
        "It holds until "
            + held.expiresAt().atZone(ZoneOffset.UTC).toLocalDate()
            + ". Make a signing request, have it signed under "
            + held.account()
            + " and bring the result. Without it "
            + g.platform
            + " devices are woken only while they keep a connection open.";
    tx.flush();
    tx.execute(
        "update house_notice set over_at = :now where key like :k and over_at is null",
        Map.of("now", clock.instant(), "k", "push " + g.platform + " %"));
    Map<String, Object> p = new HashMap<>();
    p.put("id", UlidCreator.getMonotonicUlid().toString());
    p.put("key", "push " + g.platform + " " + held.expiresAt() + " " + due.getAsInt());
    p.put("title", title);
    p.put("detail", detail);
    p.put("link", "/house/gateways?open=" + g.platform);
    p.put("urgent", due.getAsInt() <= 7);
    p.put("at", clock.instant());
    tx.execute(
        "insert into house_notice (id, key, title, detail, link, urgent, at)"
            + " values (:id, :key, :title, :detail, :link, :urgent, :at)"
            + " on conflict (key) do nothing",
        p);
    journal.write(tx, "pinwright", "notice.given", "gateway:" + g.platform, title);
    return 1;
  }

  private static String days(long n) {
    return n + (n == 1 ? " day" : " days");
  }

  /** Mails what has not been mailed, when there is a way to. */
  private void mail() {
    @Nullable String to = mailer.noticesTo().orElse(null);
    if (to == null) {
      return;
    }
    List<Object[]> due =
        database.call(
            tx ->
                tx.rows(
                    "select id, title, detail from house_notice where mailed_at is null"
                        + " and over_at is null order by id limit 20",
                    Map.of()));
    for (Object[] n : due) {
      // claimed before it is sent: a notice that is lost is still in the console
      int claimed =
          database.call(
              tx ->
                  tx.execute(
                      "update house_notice set mailed_at = :now where id = :id"
                          + " and mailed_at is null",
                      Map.of("now", clock.instant(), "id", n[0])));
      if (claimed == 1
          && mailer.send(new Mailer.Letter(to, (String) n[1], (String) n[2])).isPresent()) {
        database.run(
            tx ->
                tx.execute(
                    "update house_notice set mailed_at = null where id = :id", Map.of("id", n[0])));
        return;
      }
    }
  }
}
