package dev.pinwright.service.invitation;

import dev.pinwright.catalog.Catalogue;
import dev.pinwright.core.catalog.Platform;
import dev.pinwright.protocol.join.JoinMessages.JoinFile;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.protocol.qr.QrCode;
import dev.pinwright.service.house.Mailer;
import dev.pinwright.service.house.Mailer.Attachment;
import dev.pinwright.service.house.Mailer.Letter;
import dev.pinwright.service.identity.Authority;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Json;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.invitation.InvitationStore;
import dev.pinwright.storage.row.EnrollmentProfileRow;
import dev.pinwright.storage.row.InvitationRow;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** Mails invitations to the people they are for. */
public final class InvitationMail {
  private static final Duration TAKEN_FOR = Duration.ofMinutes(2);
  private static final DateTimeFormatter DAY =
      DateTimeFormatter.ofPattern("d MMMM yyyy", Locale.ENGLISH).withZone(ZoneOffset.UTC);
  private final UseCases useCases;
  private final Catalogue catalogue;
  private final Invitations invitations;
  private final Mailer mailer;
  private final Authority authority;
  private final String organisation;

  public InvitationMail(
      UseCases useCases,
      Catalogue catalogue,
      Invitations invitations,
      Mailer mailer,
      Authority authority,
      String organisation) {
    this.useCases = useCases;
    this.catalogue = catalogue;
    this.invitations = invitations;
    this.mailer = mailer;
    this.authority = authority;
    this.organisation = organisation;
  }

  /**
   * Mails what is due, one letter a transaction, so that nodes share the work. A letter may go
   * twice when a node stops between sending and noting it, never not at all.
   *
   * @return how many were tried
   */
  public int sendDue() {
    int tried = 0;
    while (tried < 500 && mailer.connected() && sendNext()) {
      tried++;
    }
    return tried;
  }

  /**
   * Asks again, once, who was mailed an invitation that lapses within a day and has not used it.
   *
   * @return how many letters are due by that
   */
  public int remindLapsing() {
    return useCases.act(
        Caller.SERVICE, act -> new InvitationStore(act.tx()).remindLapsing(act.now()));
  }

  private record Due(String id, Letter letter) {}

  /**
   * Sends one letter. It is taken by one node for a while, written, sent, and put on file; when the
   * node dies in between, another takes it after that while. So a letter may go twice, never not at
   * all, and nobody waits for the mail server.
   */
  private boolean sendNext() {
    Optional<Due> due = useCases.act(Caller.SERVICE, this::take);
    due.ifPresent(
        d -> {
          Optional<String> fault = mailer.send(d.letter());
          useCases.run(Caller.SERVICE, act -> sent(act, d.id(), fault));
        });
    return due.isPresent();
  }

  private Optional<Due> take(UseCases.Act act) {
    return new InvitationStore(act.tx())
        .takeToMail(act.now(), TAKEN_FOR)
        .map(id -> new Due(id, letter(act.tx(), invitations.one(act.tx(), id))));
  }

  private static void sent(UseCases.Act act, String id, Optional<String> fault) {
    InvitationRow row = act.tx().lock(InvitationRow.class, id).orElseThrow();
    row.mailState = fault.isPresent() ? "failed" : "sent";
    row.mailFault = fault.orElse("");
    if (fault.isEmpty()) {
      row.mailedAt = act.now();
      row.mailedTimes++;
    }
    new InvitationStore(act.tx()).mailed(id);
    act.touch(Noun.INVITATION);
  }

  private Letter letter(Tx tx, Invitations.Shown i) {
    EnrollmentProfileRow profile = tx.find(EnrollmentProfileRow.class, i.profileId()).orElseThrow();
    StringBuilder text = new StringBuilder();
    text.append("Hello ").append(i.person().orElse("")).append(",\n\n");
    boolean again = i.mailedTimes() > 0;
    if (again) {
      text.append("We wrote to you on ")
          .append(i.mailedAt().map(DAY::format).orElse("an earlier day"))
          .append("; your invitation has not been used yet.\n\n");
    }
    text.append(organisation)
        .append(" invites a device of yours to join \u201c")
        .append(profile.name)
        .append("\u201d.\n\n");
    for (Platform p : catalogue.catalog().platforms()) {
      if (List.of(profile.platforms).contains(p.key())) {
        text.append("On a ")
            .append(p.name())
            .append(" device: ")
            .append(catalogue.joining().getOrDefault(p.key(), ""))
            .append('\n');
      }
    }
    text.append("\nLink:  ")
        .append(i.link().orElseThrow())
        .append("\nCode:  ")
        .append(i.code().orElseThrow());
    text.append("\nIt can be used until ").append(DAY.format(i.expiresAt())).append(".\n\n");
    if (profile.signIn.equals("directory")) {
      text.append("You will be asked for your staff login and password.\n");
    } else if (profile.signIn.equals("passphrase")) {
      text.append("You will be asked for a passphrase; your administrator has it.\n");
    }
    if (profile.ownership.equals("personal")) {
      text.append("The device stays yours. What ")
          .append(organisation)
          .append(" can see, and what it never sees, is shown before you agree.\n");
    }
    JoinFile file =
        new JoinFile(JoinFile.FORMAT, i.link().orElseThrow(), Pki.pem(authority.root()));
    return new Letter(
        i.mail().orElseThrow(),
        (again ? "Reminder: your device and " : "Your device and ") + organisation,
        text.toString(),
        List.of(
            new Attachment("join.png", "image/png", new QrCode(i.link().orElseThrow()).png(6)),
            new Attachment(
                "join.json",
                "application/json",
                Json.write(file).getBytes(StandardCharsets.UTF_8))));
  }
}
