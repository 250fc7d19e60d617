package dev.pinwright.service.invitation;

import com.github.f4b6a3.ulid.UlidCreator;
import dev.pinwright.core.intake.InvitationCode;
import dev.pinwright.protocol.join.JoinLink;
import dev.pinwright.protocol.join.JoinMessages.JoinFile;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.protocol.qr.QrCode;
import dev.pinwright.service.identity.Authority;
import dev.pinwright.service.journal.Journal;
import dev.pinwright.service.live.Events;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Role;
import dev.pinwright.service.work.Sought;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.EnrollmentProfileRow;
import dev.pinwright.storage.row.InvitationRow;
import dev.pinwright.storage.row.PersonRow;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;

/** Invitations: a code, a link and a QR code to join by. */
public final class Invitations {
  private static final int MAX_USES = 100_000;
  private static final Duration WEEK = Duration.ofDays(7);
  private static final long MAX_MINUTES = 60L * 24 * 365;

  private final Database database;
  private final Vault vault;
  private final Authority authority;
  private final String deviceBase;
  private final Journal journal;
  private final Events events;
  private final Clock clock;

  public Invitations(
      Database database,
      Vault vault,
      Authority authority,
      String deviceBase,
      Journal journal,
      Events events,
      Clock clock) {
    this.database = database;
    this.vault = vault;
    this.authority = authority;
    this.deviceBase = deviceBase;
    this.journal = journal;
    this.events = events;
    this.clock = clock;
  }

  /**
   * An invitation as shown.
   *
   * @param state open, spent, lapsed or withdrawn
   * @param mailState {@code none}, {@code due}, {@code sent} or {@code failed}
   */
  public record Shown(
      String id,
      String profileId,
      String profile,
      String code,
      String link,
      String note,
      String state,
      int uses,
      int usesAllowed,
      Instant expiresAt,
      Instant createdAt,
      String createdBy,
      Optional<String> personId,
      Optional<String> person,
      Optional<String> mail,
      String mailState,
      Optional<String> mailFault,
      Optional<Instant> mailedAt,
      int mailedTimes) {}

  /**
   * What is asked for.
   *
   * @param personId whom it is for; their device becomes theirs
   * @param mail whether it is mailed to them
   */
  public record Draft(
      @Nullable String profileId,
      @Nullable Integer uses,
      @Nullable Long expiresInMinutes,
      @Nullable String note,
      @Nullable String personId,
      @Nullable Boolean mail) {}

  /** Makes an invitation: one use and a week, unless said otherwise. */
  public Shown add(Caller caller, Draft draft) {
    caller.needs(Role.OPERATOR);
    Shown made =
        database.call(
            tx -> {
              EnrollmentProfileRow profile = profile(tx, draft.profileId());
              InvitationRow row = make(tx, caller, profile, draft);
              tx.flush();
              journal.write(
                  tx,
                  caller,
                  "invitation.made",
                  "invitation:" + row.id,
                  "Invitation to " + profile.name + " for " + row.usesAllowed + " uses");
              return one(tx, row.id);
            });
    events.touch("invitations");
    return made;
  }

  public static EnrollmentProfileRow profile(Tx tx, @Nullable String id) {
    return tx.find(EnrollmentProfileRow.class, id == null ? "" : id)
        .filter(p -> p.removedAt == null)
        .orElseThrow(
            () -> Problem.malformed("/profileId", "Name an enrollment profile by its id."));
  }

  /** Makes the row of an invitation; the caller writes the journal. */
  public InvitationRow make(Tx tx, Caller caller, EnrollmentProfileRow profile, Draft draft) {
    int uses = draft.uses() == null ? 1 : draft.uses();
    if (uses < 1 || uses > MAX_USES) {
      throw Problem.malformed("/uses", "An invitation has 1 to 100000 uses.");
    }
    long minutes = draft.expiresInMinutes() == null ? WEEK.toMinutes() : draft.expiresInMinutes();
    if (minutes < 1 || minutes > MAX_MINUTES) {
      throw Problem.malformed(
          "/expiresInMinutes", "An invitation holds from 1 minute to 365 days (525600 minutes).");
    }
    String note = draft.note() == null ? "" : draft.note().strip();
    if (note.length() > 200) {
      throw Problem.malformed("/note", "A note has at most 200 characters.");
    }
    PersonRow person =
        draft.personId() == null
            ? null
            : tx.find(PersonRow.class, draft.personId())
                .orElseThrow(() -> Problem.malformed("/personId", "Name a person by their id."));
    InvitationCode code = InvitationCode.generate(Vault::randomBelow);
    InvitationRow row = new InvitationRow();
    row.id = UlidCreator.getMonotonicUlid().toString();
    row.profileId = profile.id;
    row.codeHash = Vault.hash(code.value());
    row.sealedCode = vault.seal(code.value());
    row.note = note;
    row.usesAllowed = uses;
    row.createdAt = clock.instant();
    row.expiresAt = row.createdAt.plus(Duration.ofMinutes(minutes));
    row.createdBy = caller.login();
    if (person != null) {
      row.personId = person.id;
      row.mail = person.mail;
    }
    if (Boolean.TRUE.equals(draft.mail())) {
      if (row.mail == null) {
        throw Problem.malformed(
            "/mail", "A mailed invitation is for a person who has a mail address.");
      }
      row.mailState = "due";
    }
    tx.insert(row);
    return row;
  }

  private static final String SELECT =
      """
      select i.id, i.profile_id, p.name, i.sealed_code, i.note, i.uses, i.uses_allowed,
             i.expires_at, i.withdrawn_at, i.created_at, i.created_by, i.person_id, h.name, i.mail,
             i.mail_state, i.mail_fault, i.mailed_at, i.mailed_times
        from invitation i join enrollment_profile p on p.id = i.profile_id
        left join person h on h.id = i.person_id
      """;

  /**
   * Which invitations.
   *
   * @param state open, spent, lapsed or withdrawn, or empty for all
   * @param words each part of note, enrollment profile, person or mail address
   */
  public record Filter(String state, String words) {}

  /** Invitations, newest first. */
  public Page<Shown> page(Caller caller, Filter filter, Page.Request page) {
    caller.needs(Role.READER);
    String[] c = page.parts(Page.Part.TEXT);
    Map<String, Object> p = new HashMap<>();
    String which =
        switch (filter.state()) {
          case "" -> "";
          case "open" -> " and " + OPEN;
          case "withdrawn" -> " and i.withdrawn_at is not null";
          case "lapsed" -> " and i.withdrawn_at is null and i.expires_at <= :now";
          case "spent" ->
              " and i.withdrawn_at is null and i.expires_at > :now and i.uses >= i.uses_allowed";
          default ->
              throw Problem.malformed(
                  "/state", "state has to be one of open, spent, lapsed, withdrawn.");
        };
    p.put("before", c.length == 0 ? "~" : c[0]);
    p.put("limit", page.limit() + 1);
    String sql =
        SELECT
            + " where i.id < :before"
            + which
            + " and "
            + Sought.in("lower(concat_ws(' ', i.note, p.name, h.name, i.mail))", filter.words(), p)
            + " order by i.id desc limit :limit";
    if (sql.contains(":now")) {
      p.put("now", clock.instant());
    }
    return database.call(
        tx -> Page.of(tx.rows(sql, p), page.limit(), this::view, r -> Page.cursor((String) r[0])));
  }

  private static final String OPEN =
      "i.withdrawn_at is null and i.expires_at > :now and i.uses < i.uses_allowed";

  /** One invitation. */
  public Shown get(Caller caller, String id) {
    caller.needs(Role.READER);
    return database.call(tx -> one(tx, id));
  }

  public Shown one(Tx tx, String id) {
    return tx.rows(SELECT + " where i.id = :id", Map.of("id", id)).stream()
        .findFirst()
        .map(this::view)
        .orElseThrow(() -> Problem.notFound("invitation", id));
  }

  /** The QR code of the join link. */
  public QrCode qr(Caller caller, String id) {
    return new QrCode(get(caller, id).link());
  }

  /**
   * A sheet of cards to print and hand out, eight on a page.
   *
   * @param ids one to five hundred invitations
   */
  public byte[] sheet(Caller caller, List<String> ids) {
    caller.needs(Role.OPERATOR);
    if (ids.isEmpty() || ids.size() > 500) {
      throw Problem.malformed("/id", "Name 1 to 500 invitations.");
    }
    List<Object[]> rows =
        database.call(
            tx ->
                tx.rows(
                    SELECT + " where i.id = any(cast(:ids as text[])) order by h.name, i.id",
                    Map.of("ids", ids.toArray(String[]::new))));
    return Cards.pdf(
        rows.stream()
            .map(this::view)
            .map(
                i ->
                    new Cards.Card(
                        i.link(),
                        i.person().orElse(i.note().isEmpty() ? i.profile() : i.note()),
                        i.code(),
                        List.of(
                            "Scan the code with the new device, or type the address "
                                + deviceBase.replace("https://", "")
                                + "/join and the code above.",
                            i.profile(),
                            (i.usesAllowed() == 1
                                    ? "For one device"
                                    : "For " + i.usesAllowed() + " devices")
                                + ", until "
                                + i.expiresAt().toString().substring(0, 10))))
            .toList(),
        Cards.Size.CARD);
  }

  /** The join file. */
  public JoinFile file(Caller caller, String id) {
    return new JoinFile(JoinFile.FORMAT, get(caller, id).link(), Pki.pem(authority.root()));
  }

  /** Withdraws an invitation; whoever still has the code is told so. */
  public Shown withdraw(Caller caller, String id) {
    caller.needs(Role.OPERATOR);
    return changed(
        caller,
        id,
        "withdrawn",
        r -> {
          if (r.withdrawnAt != null) {
            return false;
          }
          r.withdrawnAt = clock.instant();
          r.mailState = r.mailState.equals("due") ? "none" : r.mailState;
          return true;
        });
  }

  /**
   * Mails an invitation again. One that has lapsed holds for another week.
   *
   * @throws Problem 409 when it is for nobody with a mail address, spent or withdrawn
   */
  public Shown remind(Caller caller, String id) {
    caller.needs(Role.OPERATOR);
    return changed(
        caller,
        id,
        "mailed again",
        r -> {
          if (r.mail == null) {
            throw Problem.conflict(
                "no-address", "This invitation is for nobody with a mail address.");
          }
          if (r.withdrawnAt != null || r.uses >= r.usesAllowed) {
            throw Problem.conflict(
                "not-open", "This invitation cannot be used any more; make a new one.");
          }
          Instant now = clock.instant();
          if (!now.isBefore(r.expiresAt)) {
            r.expiresAt = now.plus(WEEK);
          }
          r.mailState = "due";
          r.mailFault = "";
          return true;
        });
  }

  private Shown changed(Caller caller, String id, String how, Predicate<InvitationRow> change) {
    Shown shown =
        database.call(
            tx -> {
              InvitationRow r =
                  tx.lock(InvitationRow.class, id)
                      .orElseThrow(() -> Problem.notFound("invitation", id));
              boolean did = change.test(r);
              tx.flush();
              Shown now = one(tx, id);
              if (did) {
                journal.write(
                    tx,
                    caller,
                    "invitation." + how.replace(' ', '-'),
                    "invitation:" + id,
                    "Invitation to " + now.profile() + " " + how);
              }
              return now;
            });
    events.touch("invitations");
    return shown;
  }

  private Shown view(Object[] r) {
    InvitationCode code = new InvitationCode(vault.open((byte[]) r[3]));
    int uses = (Integer) r[5];
    int allowed = (Integer) r[6];
    String state;
    if (r[8] != null) {
      state = "withdrawn";
    } else if (!clock.instant().isBefore((Instant) r[7])) {
      state = "lapsed";
    } else {
      state = uses >= allowed ? "spent" : "open";
    }
    return new Shown(
        (String) r[0],
        (String) r[1],
        (String) r[2],
        code.display(),
        JoinLink.of(deviceBase, code, authority.root()).toString(),
        (String) r[4],
        state,
        uses,
        allowed,
        (Instant) r[7],
        (Instant) r[9],
        (String) r[10],
        Optional.ofNullable((String) r[11]),
        Optional.ofNullable((String) r[12]),
        Optional.ofNullable((String) r[13]),
        (String) r[14],
        Optional.of((String) r[15]).filter(f -> !f.isEmpty()),
        Optional.ofNullable((Instant) r[16]),
        (Integer) r[17]);
  }
}
