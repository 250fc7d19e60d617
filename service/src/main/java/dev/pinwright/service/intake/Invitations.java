package dev.pinwright.service.intake;

import com.github.f4b6a3.ulid.UlidCreator;
import dev.pinwright.core.intake.InvitationCode;
import dev.pinwright.protocol.join.JoinLink;
import dev.pinwright.protocol.join.JoinMessages.JoinFile;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.protocol.qr.QrCode;
import dev.pinwright.service.Page;
import dev.pinwright.service.Problem;
import dev.pinwright.service.access.Caller;
import dev.pinwright.service.access.Role;
import dev.pinwright.service.identity.Authority;
import dev.pinwright.service.journal.Journal;
import dev.pinwright.service.live.Events;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.EnrollmentProfileRow;
import dev.pinwright.storage.row.InvitationRow;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** Invitations: a code, a link and a QR code to join by. */
public final class Invitations {
  private static final int MAX_USES = 100_000;
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

  /** An invitation as shown. {@code state}: open, spent, lapsed or withdrawn. */
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
      String createdBy) {}

  /** What is asked for. */
  public record Draft(
      @Nullable String profileId,
      @Nullable Integer uses,
      @Nullable Long expiresInMinutes,
      @Nullable String note) {}

  /** Makes an invitation: one use and a week, unless said otherwise. */
  public Shown add(Caller caller, Draft draft) {
    caller.needs(Role.OPERATOR);
    int uses = draft.uses() == null ? 1 : draft.uses();
    if (uses < 1 || uses > MAX_USES) {
      throw Problem.malformed("/uses", "An invitation has 1 to 100000 uses.");
    }
    long minutes =
        draft.expiresInMinutes() == null
            ? Duration.ofDays(7).toMinutes()
            : draft.expiresInMinutes();
    if (minutes < 1 || minutes > MAX_MINUTES) {
      throw Problem.malformed(
          "/expiresInMinutes", "An invitation holds from 1 minute to 365 days (525600 minutes).");
    }
    String note = draft.note() == null ? "" : draft.note().strip();
    if (note.length() > 200) {
      throw Problem.malformed("/note", "A note has at most 200 characters.");
    }
    Shown made =
        database.call(
            tx -> {
              EnrollmentProfileRow profile =
                  tx.find(
                          EnrollmentProfileRow.class,
                          draft.profileId() == null ? "" : draft.profileId())
                      .orElseThrow(
                          () ->
                              Problem.malformed(
                                  "/profileId", "Name an enrollment profile by its id."));
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
              tx.insert(row);
              tx.flush();
              journal.write(
                  tx,
                  caller,
                  "invitation.made",
                  "invitation:" + row.id,
                  "Invitation to " + profile.name + " for " + uses + " uses");
              return view(row, profile.name);
            });
    events.touch("invitations");
    return made;
  }

  /** Invitations, newest first. */
  public Page<Shown> page(Caller caller, Page.Request page) {
    caller.needs(Role.READER);
    String[] c = page.parts(1);
    return database.call(
        tx ->
            Page.of(
                tx.list(
                    InvitationRow.class,
                    "from InvitationRow where id < :b order by id desc",
                    Map.of("b", c.length == 0 ? "~" : c[0]),
                    page.limit() + 1),
                page.limit(),
                r -> view(r, profileName(tx, r)),
                r -> Page.cursor(r.id)));
  }

  private static String profileName(Tx tx, InvitationRow r) {
    return tx.find(EnrollmentProfileRow.class, r.profileId).orElseThrow().name;
  }

  /** One invitation. */
  public Shown get(Caller caller, String id) {
    caller.needs(Role.READER);
    return database.call(
        tx -> {
          InvitationRow r = row(tx, id);
          return view(r, profileName(tx, r));
        });
  }

  private static InvitationRow row(Tx tx, String id) {
    return tx.find(InvitationRow.class, id).orElseThrow(() -> Problem.notFound("invitation", id));
  }

  /** The QR code of the join link. */
  public QrCode qr(Caller caller, String id) {
    return new QrCode(get(caller, id).link());
  }

  /** The join file. */
  public JoinFile file(Caller caller, String id) {
    return new JoinFile(JoinFile.FORMAT, get(caller, id).link(), Pki.pem(authority.root()));
  }

  /** Withdraws an invitation; whoever still has the code is told so. */
  public Shown withdraw(Caller caller, String id) {
    caller.needs(Role.OPERATOR);
    Shown shown =
        database.call(
            tx -> {
              InvitationRow r = row(tx, id);
              if (r.withdrawnAt == null) {
                r.withdrawnAt = clock.instant();
                journal.write(
                    tx,
                    caller,
                    "invitation.withdrawn",
                    "invitation:" + id,
                    "Invitation to " + profileName(tx, r) + " withdrawn");
              }
              return view(r, profileName(tx, r));
            });
    events.touch("invitations");
    return shown;
  }

  private Shown view(InvitationRow r, String profile) {
    InvitationCode code = new InvitationCode(vault.open(r.sealedCode));
    String state;
    if (r.withdrawnAt != null) {
      state = "withdrawn";
    } else if (!clock.instant().isBefore(r.expiresAt)) {
      state = "lapsed";
    } else {
      state = r.uses >= r.usesAllowed ? "spent" : "open";
    }
    return new Shown(
        r.id,
        r.profileId,
        profile,
        code.display(),
        JoinLink.of(deviceBase, code, authority.root()).toString(),
        r.note,
        state,
        r.uses,
        r.usesAllowed,
        r.expiresAt,
        r.createdAt,
        r.createdBy);
  }
}
