package dev.pinwright.service.bench;

import dev.pinwright.core.naming.NamePattern;
import dev.pinwright.service.invitation.Invitations;
import dev.pinwright.service.naming.Sequences;
import dev.pinwright.service.print.Cards;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.After;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.bench.BenchStore;
import dev.pinwright.storage.row.EnrollmentProfileRow;
import dev.pinwright.storage.row.GroupRow;
import dev.pinwright.storage.row.InvitationRow;
import dev.pinwright.storage.row.SiteRow;
import dev.pinwright.storage.row.UnitRow;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * Bench sessions: an operator says once how devices are set up, then plugs them in one after the
 * other. A session stays open until it is closed, so that its numbers go on tomorrow.
 */
public final class Bench {
  /** Places in a rack. */
  public static final int SLOTS = 16;

  private static final int MOST_RACKS = 8;
  private static final int MOST_DEVICES = 10_000;
  private static final long OPEN_MINUTES = Duration.ofDays(90).toMinutes();
  private final UseCases useCases;
  private final Vault vault;
  private final Invitations invitations;

  public Bench(UseCases useCases, Vault vault, Invitations invitations) {
    this.useCases = useCases;
    this.vault = vault;
    this.invitations = invitations;
  }

  /** A session as written; one rack, numbers from 1 and no erasing unless said otherwise. */
  public record Draft(
      @Nullable String name,
      @Nullable String profileId,
      @Nullable String namePattern,
      @Nullable Long firstNumber,
      @Nullable String assetPrefix,
      @Nullable String groupId,
      @Nullable String unitId,
      @Nullable String siteId,
      @Nullable String wifiName,
      @Nullable String wifiSecret,
      @Nullable Boolean erase,
      @Nullable Integer racks) {}

  /**
   * A session.
   *
   * @param link what the cable is told; for those who may invite, when it is shown by itself
   * @param prepared devices that are ready
   * @param troubled devices that were refused or came to a stop
   * @param missing numbers of the sequence no managed device has
   * @param doubled numbers several managed devices have
   */
  public record Session(
      String id,
      String name,
      String profileId,
      String profile,
      String namePattern,
      long firstNumber,
      String assetPrefix,
      Optional<String> groupId,
      Optional<String> unitId,
      Optional<String> siteId,
      String wifiName,
      boolean erase,
      int racks,
      boolean open,
      String fault,
      Optional<String> link,
      long devices,
      long prepared,
      long troubled,
      List<String> missing,
      List<Long> doubled,
      Instant createdAt,
      String createdBy) {}

  /** Sessions, newest first. */
  public Page<Session> page(Caller caller, Page.Request page) {
    String[] c = page.parts(Page.Part.TEXT);
    return useCases.read(
        tx ->
            Page.of(
                new BenchStore(tx).page(c.length == 0 ? "~" : c[0], page.limit() + 1),
                page.limit(),
                s -> session(tx, s, Optional.empty()),
                s -> Page.cursor(s.id())));
  }

  /** One session. */
  public Session get(Caller caller, String id) {
    String invitation = useCases.read(tx -> found(tx, id).invitationId());
    Optional<String> link = invitations.get(caller, invitation).link();
    return useCases.read(tx -> session(tx, found(tx, id), link));
  }

  private Session one(Tx tx, String id) {
    BenchStore.Session s = found(tx, id);
    return session(tx, s, invitations.one(tx, s.invitationId()).link());
  }

  private static BenchStore.Session found(Tx tx, String id) {
    return new BenchStore(tx).find(id).orElseThrow(() -> Problem.notFound("bench session", id));
  }

  private Session session(Tx tx, BenchStore.Session s, Optional<String> link) {
    Optional<Sequences.Sequence> numbers =
        new NamePattern(s.namePattern()).counts()
            ? new BenchStore(tx).sequence(s.id()).flatMap(key -> Sequences.find(tx, key))
            : Optional.empty();
    return new Session(
        s.id(),
        s.name(),
        s.profileId(),
        s.profile(),
        s.namePattern(),
        s.firstNumber(),
        s.assetPrefix(),
        s.groupId(),
        s.unitId(),
        s.siteId(),
        s.wifiName(),
        s.erase(),
        s.racks(),
        s.open(),
        s.fault(),
        link,
        s.devices(),
        s.ready(),
        s.troubled(),
        numbers.map(Sequences.Sequence::missing).orElse(List.of()),
        numbers.map(Sequences.Sequence::doubled).orElse(List.of()),
        s.createdAt(),
        s.createdBy());
  }

  /** Opens a session. */
  public Session open(Caller caller, Draft d) {
    String name = Known.name(d.name());
    long first = d.firstNumber() == null ? 1 : d.firstNumber();
    if (first < 1 || first > 99_999_999) {
      throw Problem.malformed("/firstNumber", "Numbers begin with 1 to 99999999.");
    }
    int racks = d.racks() == null ? 1 : d.racks();
    if (racks < 1 || racks > MOST_RACKS) {
      throw Problem.malformed("/racks", "A bench has 1 to 8 racks of 16.");
    }
    String prefix = plain(d.assetPrefix());
    if (!prefix.matches("[A-Za-z0-9-]{0,20}")) {
      throw Problem.malformed(
          "/assetPrefix", "Asset numbers begin with at most 20 letters, digits or hyphens.");
    }
    String wifi = plain(d.wifiName());
    String secret = plain(d.wifiSecret());
    if (wifi.length() > 32 || !secret.isEmpty() && (secret.length() < 8 || secret.length() > 63)) {
      throw Problem.malformed(
          "/wifiSecret", "A network's name has at most 32 characters, its password 8 to 63.");
    }
    return useCases.act(
        caller,
        act -> {
          Tx tx = act.tx();
          EnrollmentProfileRow profile = Invitations.profile(tx, d.profileId());
          if (!profile.signIn.equals("none")) {
            throw Problem.malformed(
                "/profileId",
                profile.name + " asks holders to sign in; on a bench there is no holder.");
          }
          NamePattern pattern =
              Problem.reading(
                  "/namePattern",
                  () ->
                      new NamePattern(
                          plain(d.namePattern()).isEmpty()
                              ? profile.namePattern
                              : plain(d.namePattern())));
          if (!prefix.isEmpty() && !pattern.counts()) {
            throw Problem.malformed(
                "/assetPrefix", "Asset numbers need a running number, such as {seq:3}.");
          }
          String groupId = Known.id(tx, GroupRow.class, "group", d.groupId());
          if (groupId != null && tx.find(GroupRow.class, groupId).orElseThrow().rule != null) {
            throw Problem.malformed(
                "/groupId", "This group takes its devices by a rule; name one picked by hand.");
          }
          InvitationRow invitation =
              invitations.make(
                  act,
                  profile,
                  new Invitations.Draft(
                      profile.id, MOST_DEVICES, OPEN_MINUTES, "Bench: " + name, null, false));
          String id = act.newId();
          new BenchStore(tx)
              .insert(
                  new BenchStore.Opened(
                      id,
                      name,
                      profile.id,
                      invitation.id,
                      pattern.text(),
                      first,
                      prefix.toUpperCase(Locale.ROOT),
                      groupId,
                      Known.id(tx, UnitRow.class, "unit", d.unitId()),
                      Known.id(tx, SiteRow.class, "site", d.siteId()),
                      wifi,
                      secret.isEmpty() ? null : vault.seal(secret),
                      Boolean.TRUE.equals(d.erase()),
                      racks,
                      act.now(),
                      caller.login()));
          act.done(Noun.BENCH, "opened", id, "Bench session " + name + " opened");
          return one(tx, id);
        });
  }

  private static String plain(@Nullable String s) {
    return s == null ? "" : s.strip();
  }

  /** Closes a session, so that nobody joins by it any more, or opens it again. */
  public Session close(Caller caller, String id, boolean open) {
    return useCases.act(
        caller,
        act -> {
          BenchStore.Session s = found(act.tx(), id);
          if (s.open() != open) {
            new BenchStore(act.tx())
                .open(id, open, act.now(), act.now().plus(Duration.ofMinutes(OPEN_MINUTES)));
            act.done(
                Noun.BENCH,
                open ? "opened" : "closed",
                id,
                "Bench session " + s.name() + (open ? " opened again" : " closed"));
          }
          return one(act.tx(), id);
        });
  }

  /**
   * Says that a device which is managed may be erased and prepared anew; the cable goes on with it
   * when it asks again.
   *
   * @throws Problem 404 when no such device is held
   */
  public Session release(Caller caller, String id, String serial) {
    return useCases.act(
        caller,
        act -> {
          BenchStore.Session s = found(act.tx(), id);
          if (!new BenchStore(act.tx()).release(id, serial, caller.login(), act.now())) {
            throw Problem.notFound("held device", serial);
          }
          act.done(
              Noun.BENCH,
              "released",
              id,
              serial + " may be erased in the bench session " + s.name());
          return one(act.tx(), id);
        });
  }

  /** What is plugged in now: at most a device a slot. */
  public List<BenchStore.OnBench> slots(Caller caller, String id) {
    return useCases.read(
        tx -> {
          found(tx, id);
          return new BenchStore(tx).slots(id);
        });
  }

  /** Every device of a session, by name. */
  public Page<BenchStore.OnBench> devices(Caller caller, String id, Page.Request page) {
    String[] c = page.parts(Page.Part.TEXT, Page.Part.TEXT);
    return useCases.read(
        tx -> {
          found(tx, id);
          return Page.of(
              new BenchStore(tx)
                  .devices(
                      id, c.length == 0 ? After.START : new After(c[0], c[1]), page.limit() + 1),
              page.limit(),
              d -> Page.cursor(d.name().orElse(""), d.serial()));
        });
  }

  /** Labels of the session's devices, twenty-four on a page of A4; the QR code holds the number. */
  public byte[] labels(Caller caller, String id) {
    List<BenchStore.Label> labels =
        useCases.read(
            tx -> {
              found(tx, id);
              return new BenchStore(tx).labels(id, MOST_DEVICES);
            });
    return Cards.pdf(
        labels.stream()
            .map(
                l ->
                    new Cards.Card(
                        l.number(), l.name(), l.number(), List.of(l.model(), l.serial())))
            .toList(),
        Cards.Size.LABEL);
  }
}
