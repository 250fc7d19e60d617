package dev.pinwright.service.invitation;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import dev.pinwright.core.Words;
import dev.pinwright.core.access.Role;
import dev.pinwright.core.enrollment.InvitationCode;
import dev.pinwright.protocol.join.JoinLink;
import dev.pinwright.protocol.join.JoinMessages.JoinFile;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.protocol.qr.QrCode;
import dev.pinwright.service.identity.Authority;
import dev.pinwright.service.print.Cards;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.sheet.Sheet;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.invitation.InvitationStore;
import dev.pinwright.storage.row.EnrollmentProfileRow;
import dev.pinwright.storage.row.InvitationRow;
import dev.pinwright.storage.row.PersonRow;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;

/** Invitations: a code, a link and a QR code to join by. */
public final class Invitations {
  private static final int MAX_USES = 100_000;
  private static final Duration WEEK = Duration.ofDays(7);
  private static final Duration SAME_LOOK = Duration.ofMinutes(10);
  private static final long MAX_MINUTES = 60L * 24 * 365;

  private final UseCases useCases;
  private final Vault vault;
  private final Authority authority;
  private final String deviceBase;
  private final Cache<String, Boolean> looks =
      Caffeine.newBuilder().expireAfterWrite(SAME_LOOK).maximumSize(10_000).build();

  public Invitations(UseCases useCases, Vault vault, Authority authority, String deviceBase) {
    this.useCases = useCases;
    this.vault = vault;
    this.authority = authority;
    this.deviceBase = deviceBase;
  }

  /**
   * An invitation as shown.
   *
   * @param codeEnds the last four characters of its code, to tell it by
   * @param code what lets somebody in: for those who may invite, when it is shown by itself
   * @param link what a device is given, with the code in it
   * @param state open, spent, lapsed or withdrawn
   * @param mailState {@code none}, {@code due}, {@code sent} or {@code failed}
   */
  public record Shown(
      String id,
      String profileId,
      String profile,
      String codeEnds,
      Optional<String> code,
      Optional<String> link,
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
      int mailedTimes) {

    /** This for those who may not let anybody in, and for lists. */
    Shown withoutCode() {
      return new Shown(
          id,
          profileId,
          profile,
          codeEnds,
          Optional.empty(),
          Optional.empty(),
          note,
          state,
          uses,
          usesAllowed,
          expiresAt,
          createdAt,
          createdBy,
          personId,
          person,
          mail,
          mailState,
          mailFault,
          mailedAt,
          mailedTimes);
    }
  }

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
    return useCases.act(
        caller,
        act -> {
          EnrollmentProfileRow profile = profile(act.tx(), draft.profileId());
          InvitationRow row = make(act, profile, draft);
          act.done(
              Noun.INVITATION,
              "made",
              row.id,
              "Invitation to " + profile.name + " for " + row.usesAllowed + " uses");
          return one(act.tx(), row.id);
        });
  }

  /** The enrollment profile of an id; {@link Problem} 400 when there is none to join by. */
  public static EnrollmentProfileRow profile(Tx tx, @Nullable String id) {
    return tx.find(EnrollmentProfileRow.class, id == null ? "" : id)
        .filter(p -> p.removedAt == null)
        .orElseThrow(
            () -> Problem.malformed("/profileId", "Name an enrollment profile by its id."));
  }

  private static Duration holds(@Nullable Long asked) {
    long minutes = asked == null ? WEEK.toMinutes() : asked;
    if (minutes < 1 || minutes > MAX_MINUTES) {
      throw Problem.malformed(
          "/expiresInMinutes", "An invitation holds from 1 minute to 365 days (525600 minutes).");
    }
    return Duration.ofMinutes(minutes);
  }

  /** Makes the row of an invitation; the caller writes the journal. */
  public InvitationRow make(UseCases.Act act, EnrollmentProfileRow profile, Draft draft) {
    Tx tx = act.tx();
    int uses = draft.uses() == null ? 1 : draft.uses();
    if (uses < 1 || uses > MAX_USES) {
      throw Problem.malformed("/uses", "An invitation has 1 to 100000 uses.");
    }
    Duration holds = holds(draft.expiresInMinutes());
    String note = draft.note() == null ? "" : draft.note().strip();
    if (note.length() > 200) {
      throw Problem.malformed("/note", "A note has at most 200 characters.");
    }
    PersonRow person =
        draft.personId() == null
            ? null
            : tx.find(PersonRow.class, draft.personId())
                .filter(p -> !p.removed())
                .orElseThrow(() -> Problem.malformed("/personId", "Name a person by their id."));
    InvitationCode code = InvitationCode.generate(Vault::randomBelow);
    InvitationRow row = new InvitationRow();
    row.id = act.newId();
    row.profileId = profile.id;
    row.codeHash = Vault.hash(code.value());
    row.sealedCode = vault.seal(code.value());
    row.note = note;
    row.usesAllowed = uses;
    row.createdAt = act.now();
    row.expiresAt = row.createdAt.plus(holds);
    row.createdBy = act.caller().login();
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

  /**
   * Which invitations.
   *
   * @param state open, spent, lapsed or withdrawn, or empty for all
   * @param words each part of note, enrollment profile, person or mail address
   */
  public record Filter(String state, String words) {}

  private static Optional<InvitationStore.State> state(Filter filter) {
    return filter.state().isEmpty()
        ? Optional.empty()
        : Optional.of(
            Problem.reading(
                "/state", () -> Words.parse(InvitationStore.State.class, filter.state())));
  }

  /** All invitations that match as a sheet, newest first, without what lets somebody in. */
  public String sheet(Caller caller, Filter filter) {
    Optional<InvitationStore.State> state = state(filter);
    return useCases.read(
        tx ->
            Sheet.write(
                List.of(
                    "code ends",
                    "profile",
                    "state",
                    "uses",
                    "uses allowed",
                    "made",
                    "made by",
                    "expires",
                    "person",
                    "mail",
                    "mailed",
                    "mailed times",
                    "note"),
                Sheet.<InvitationStore.Line>rows(
                    (after, most) ->
                        new InvitationStore(tx)
                            .page(
                                state,
                                filter.words(),
                                useCases.now(),
                                after.map(InvitationStore.Line::id).orElse("~"),
                                most),
                    l -> {
                      Shown i = view(l);
                      return Sheet.cells(
                          i.codeEnds(),
                          i.profile(),
                          i.state(),
                          i.uses(),
                          i.usesAllowed(),
                          i.createdAt(),
                          i.createdBy(),
                          i.expiresAt(),
                          i.person(),
                          i.mail(),
                          i.mailedAt(),
                          i.mailedTimes(),
                          i.note());
                    })));
  }

  /** Invitations, newest first. */
  public Page<Shown> page(Caller caller, Filter filter, Page.Request page) {
    String[] c = page.parts(Page.Part.TEXT);
    Optional<InvitationStore.State> state = state(filter);
    return useCases.read(
        tx ->
            Page.of(
                new InvitationStore(tx)
                    .page(
                        state,
                        filter.words(),
                        useCases.now(),
                        c.length == 0 ? "~" : c[0],
                        page.limit() + 1),
                page.limit(),
                l -> view(l).withoutCode(),
                l -> Page.cursor(l.id())));
  }

  /** One invitation; with its code for those who may invite, which is noted. */
  public Shown get(Caller caller, String id) {
    if (!caller.role().covers(Role.OPERATOR)) {
      return useCases.read(tx -> one(tx, id).withoutCode());
    }
    Shown shown = useCases.read(tx -> one(tx, id));
    noteLook(caller, shown, "looked at");
    return shown;
  }

  /** Notes that somebody was shown a code; a look soon after another is the same look. */
  private void noteLook(Caller caller, Shown shown, String how) {
    if (looks.asMap().putIfAbsent(caller.accountId() + " " + shown.id() + " " + how, true)
        == null) {
      useCases.run(
          caller,
          act ->
              act.done(
                  Noun.INVITATION,
                  "shown",
                  shown.id(),
                  "Code of the invitation to " + shown.profile() + " " + how));
    }
  }

  /** One invitation, within a transaction. */
  public Shown one(Tx tx, String id) {
    return new InvitationStore(tx)
        .find(id)
        .map(this::view)
        .orElseThrow(() -> Problem.notFound("invitation", id));
  }

  /** The QR code of the join link. */
  public QrCode qr(Caller caller, String id) {
    return new QrCode(get(caller, id).link().orElseThrow());
  }

  /**
   * A sheet of cards to print and hand out, eight on a page.
   *
   * @param ids one to five hundred invitations
   */
  public byte[] sheet(Caller caller, List<String> ids) {
    if (ids.isEmpty() || ids.size() > 500) {
      throw Problem.malformed("/id", "Name 1 to 500 invitations.");
    }
    List<InvitationStore.Line> rows = useCases.read(tx -> new InvitationStore(tx).named(ids));
    rows.forEach(l -> noteLook(caller, view(l), "printed"));
    return Cards.pdf(
        rows.stream()
            .map(this::view)
            .map(
                i ->
                    new Cards.Card(
                        i.link().orElseThrow(),
                        i.person().orElse(i.note().isEmpty() ? i.profile() : i.note()),
                        i.code().orElseThrow(),
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
    return new JoinFile(
        JoinFile.FORMAT, get(caller, id).link().orElseThrow(), Pki.pem(authority.root()));
  }

  /** Withdraws an invitation; whoever still has the code is told so. */
  public Shown withdraw(Caller caller, String id) {
    return changed(
        caller,
        id,
        "withdrawn",
        r -> {
          if (r.withdrawnAt != null) {
            return false;
          }
          r.withdrawnAt = useCases.now();
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
    return changed(
        caller,
        id,
        "mailed again",
        r -> {
          if (r.mail == null) {
            throw Problem.conflict(
                "no-address", "This invitation is for nobody with a mail address.");
          }
          usable(r);
          Instant now = useCases.now();
          if (!now.isBefore(r.expiresAt)) {
            r.expiresAt = now.plus(WEEK);
          }
          r.mailState = "due";
          r.mailFault = "";
          return true;
        });
  }

  /**
   * Lets an invitation hold for longer, counted from now: a week unless said otherwise. The code
   * and the cards that are out stay as they are; one that has lapsed can be used again.
   *
   * @throws Problem 400, 409 when it is spent or withdrawn
   */
  public Shown extend(Caller caller, String id, @Nullable Long minutes) {
    Duration holds = holds(minutes);
    return changed(
        caller,
        id,
        "extended",
        r -> {
          usable(r);
          r.expiresAt = useCases.now().plus(holds);
          return true;
        });
  }

  private static void usable(InvitationRow r) {
    if (r.withdrawnAt != null || r.uses >= r.usesAllowed) {
      throw Problem.conflict(
          "not-open", "This invitation cannot be used any more; make a new one.");
    }
  }

  private Shown changed(Caller caller, String id, String how, Predicate<InvitationRow> change) {
    return useCases.act(
        caller,
        act -> {
          InvitationRow r =
              act.tx()
                  .lock(InvitationRow.class, id)
                  .orElseThrow(() -> Problem.notFound("invitation", id));
          boolean did = change.test(r);
          Shown now = one(act.tx(), id);
          if (did) {
            act.done(
                Noun.INVITATION,
                how.replace(' ', '-'),
                id,
                "Invitation to " + now.profile() + " " + how);
          }
          return now.withoutCode();
        });
  }

  private Shown view(InvitationStore.Line l) {
    InvitationCode code = new InvitationCode(vault.open(l.sealedCode()));
    String state;
    if (l.withdrawnAt().isPresent()) {
      state = "withdrawn";
    } else if (!useCases.now().isBefore(l.expiresAt())) {
      state = "lapsed";
    } else {
      state = l.uses() >= l.usesAllowed() ? "spent" : "open";
    }
    return new Shown(
        l.id(),
        l.profileId(),
        l.profile(),
        code.display().substring(code.display().length() - 4),
        Optional.of(code.display()),
        Optional.of(JoinLink.of(deviceBase, code, authority.root()).toString()),
        l.note(),
        state,
        l.uses(),
        l.usesAllowed(),
        l.expiresAt(),
        l.createdAt(),
        l.createdBy(),
        l.personId(),
        l.person(),
        l.mail(),
        l.mailState(),
        Optional.of(l.mailFault()).filter(t -> !t.isEmpty()),
        l.mailedAt(),
        l.mailedTimes());
  }
}
