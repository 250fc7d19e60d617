package dev.pinwright.storage.house;

import dev.pinwright.core.notice.Notice;
import dev.pinwright.storage.Tx;
import java.time.Instant;
import java.util.List;
import java.util.Map;

/** Notices: each is given once, seen in the console and mailed. */
public final class NoticeStore {
  private final Tx tx;

  public NoticeStore(Tx tx) {
    this.tx = tx;
  }

  /** A notice that was given. {@code link} is an address in the console. */
  public record Given(
      String id, String title, String detail, String link, boolean urgent, Instant at) {}

  private static final String SELECT =
      "select id, title, detail, link, urgent, at from house_notice where over_at is null ";

  /** Notices that are not over, newest first. */
  public List<Given> page(String before, int limit) {
    return tx.select(
        Given.class,
        SELECT + "and id < :b order by id desc limit :l",
        Map.of("b", before, "l", limit));
  }

  /**
   * Gives a notice, in place of what was said of the same thing on another occasion; false when
   * nothing changed by that.
   */
  public boolean give(String id, Notice n, Instant now) {
    boolean over = over(n.about(), n.key(), now);
    return tx.execute(
                "insert into house_notice (id, key, title, detail, link, urgent, at)"
                    + " values (:id, :key, :title, :detail, :link, :urgent, :at)"
                    + " on conflict (key) do nothing",
                Map.of(
                    "id", id,
                    "key", n.key(),
                    "title", n.title(),
                    "detail", n.detail(),
                    "link", n.link(),
                    "urgent", n.urgent(),
                    "at", now))
            > 0
        || over;
  }

  /** Puts a notice away; false when there is none, or no longer. */
  public boolean putAway(String id, Instant now) {
    return tx.execute(
            "update house_notice set over_at = :now where id = :id and over_at is null",
            Map.of("now", now, "id", id))
        > 0;
  }

  /** Puts away what was said of something that is no longer so; false when nothing was. */
  public boolean over(String about, Instant now) {
    return over(about, "", now);
  }

  private boolean over(String about, String but, Instant now) {
    return tx.execute(
            "update house_notice set over_at = :now"
                + " where (key = :a or starts_with(key, :s)) and key <> :but and over_at is null",
            Map.of("now", now, "a", about, "s", about + " ", "but", but))
        > 0;
  }

  /** Notices that were not mailed yet, oldest first; at most twenty. */
  public List<Given> unmailed() {
    return tx.select(Given.class, SELECT + "and mailed_at is null order by id limit 20", Map.of());
  }

  /** Claims a notice to be mailed; false when somebody else did. */
  public boolean claim(String id, Instant now) {
    return tx.execute(
            "update house_notice set mailed_at = :now where id = :id and mailed_at is null",
            Map.of("now", now, "id", id))
        == 1;
  }

  /** Lets a notice be mailed again that could not be. */
  public void release(String id) {
    tx.execute("update house_notice set mailed_at = null where id = :id", Map.of("id", id));
  }
}
