package dev.pinwright.storage.invitation;

import dev.pinwright.storage.Tx;
import dev.pinwright.storage.query.Sought;
import dev.pinwright.storage.row.InvitationRow;
import java.time.Duration;
import java.time.Instant;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Invitations. */
public final class InvitationStore {
  private static final String SELECT =
      """
      select i.id, i.profile_id, p.name as profile, i.sealed_code, i.note, i.uses, i.uses_allowed,
             i.expires_at, i.withdrawn_at, i.created_at, i.created_by, i.person_id,
             h.name as person, i.mail, i.mail_state, i.mail_fault, i.mailed_at, i.mailed_times
        from invitation i join enrollment_profile p on p.id = i.profile_id
        left join person h on h.id = i.person_id
      """;

  private final Tx tx;

  public InvitationStore(Tx tx) {
    this.tx = tx;
  }

  /** An invitation with the names of what it is about. */
  public record Line(
      String id,
      String profileId,
      String profile,
      byte[] sealedCode,
      String note,
      int uses,
      int usesAllowed,
      Instant expiresAt,
      Optional<Instant> withdrawnAt,
      Instant createdAt,
      String createdBy,
      Optional<String> personId,
      Optional<String> person,
      Optional<String> mail,
      String mailState,
      String mailFault,
      Optional<Instant> mailedAt,
      int mailedTimes) {}

  /** What has become of an invitation. */
  public enum State {
    OPEN("i.withdrawn_at is null and i.expires_at > :now and i.uses < i.uses_allowed"),
    SPENT("i.withdrawn_at is null and i.expires_at > :now and i.uses >= i.uses_allowed"),
    LAPSED("i.withdrawn_at is null and i.expires_at <= :now"),
    WITHDRAWN("i.withdrawn_at is not null and i.created_at <= :now");

    private final String condition;

    State(String condition) {
      this.condition = condition;
    }
  }

  /**
   * Invitations before an id, newest first.
   *
   * @param words each part of note, enrollment profile, person or mail address
   */
  public List<Line> page(
      Optional<State> state, String words, Instant now, String before, int limit) {
    Map<String, Object> p = new HashMap<>();
    p.put("before", before);
    p.put("limit", limit);
    state.ifPresent(s -> p.put("now", now));
    return tx.select(
        Line.class,
        SELECT
            + " where i.id < :before"
            + state.map(s -> " and " + s.condition).orElse("")
            + " and "
            + Sought.in("lower(concat_ws(' ', i.note, p.name, h.name, i.mail))", words, p)
            + " order by i.id desc limit :limit",
        p);
  }

  /** One invitation. */
  public Optional<Line> find(String id) {
    tx.flush();
    return named(List.of(id)).stream().findFirst();
  }

  /** These invitations, by person. */
  public List<Line> named(Collection<String> ids) {
    return tx.select(
        Line.class,
        SELECT + " where i.id = any(cast(:ids as text[])) order by h.name, i.id",
        Map.of("ids", ids.toArray(String[]::new)));
  }

  /** The row of a code, by its hash. */
  public Optional<InvitationRow> byCode(String codeHash) {
    return tx
        .list(
            InvitationRow.class, "from InvitationRow where codeHash = :h", Map.of("h", codeHash), 1)
        .stream()
        .findFirst();
  }

  /** Counts one use; false when there was none left. */
  public boolean use(String id) {
    return tx.execute(
            "update invitation set uses = uses + 1 where id = :i and uses < uses_allowed",
            Map.of("i", id))
        == 1;
  }

  /** People who have an open invitation to an enrollment profile. */
  public Set<String> invited(String profileId, Instant now) {
    return Set.copyOf(
        tx.column(
            String.class,
            "select distinct i.person_id from invitation i where i.profile_id = :p"
                + " and i.person_id is not null and "
                + State.OPEN.condition,
            Map.of("p", profileId, "now", now)));
  }

  /** Takes the next invitation that is to be mailed, for a while; see {@code mail_taken_at}. */
  public Optional<String> takeToMail(Instant now, Duration taken) {
    return tx
        .column(
            String.class,
            """
            update invitation set mail_taken_at = :now
             where id = (select id from invitation
                          where mail_state = 'due'
                            and (mail_taken_at is null or mail_taken_at < :before)
                          order by id limit 1 for update skip locked)
            returning id
            """,
            Map.of("now", now, "before", now.minus(taken)))
        .stream()
        .findFirst();
  }

  /** Lets go of an invitation that was taken to be mailed. */
  public void mailed(String id) {
    tx.execute("update invitation set mail_taken_at = null where id = :id", Map.of("id", id));
  }

  /**
   * Lets invitations be mailed again, once, that lapse within a day, were mailed a day ago and not
   * used; says how many.
   */
  public int remindLapsing(Instant now) {
    return tx.execute(
        "update invitation set mail_state = 'due' where mail_state = 'sent'"
            + " and mailed_times = 1 and uses = 0 and withdrawn_at is null"
            + " and expires_at between :now and :soon and mailed_at < :before",
        Map.of(
            "now", now,
            "soon", now.plus(Duration.ofDays(1)),
            "before", now.minus(Duration.ofDays(1))));
  }
}
