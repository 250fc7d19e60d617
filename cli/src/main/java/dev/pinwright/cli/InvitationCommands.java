package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;
import static dev.pinwright.cli.Context.time;

import dev.pinwright.client.model.Invitation;
import dev.pinwright.client.model.InvitationDraft;
import dev.pinwright.client.model.InvitationExtension;
import dev.pinwright.client.model.InvitationPage;
import dev.pinwright.client.model.InvitedReport;
import dev.pinwright.client.model.ManyInvitations;
import java.io.File;
import java.io.IOException;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code invitation}. */
@Command(
    name = "invitation",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description =
        "Codes to join by: list, export, add, many, extend, remind, sheet, show, qr, join-file, withdraw.")
final class InvitationCommands {
  private final Context context;

  InvitationCommands(Context context) {
    this.context = context;
  }

  @Command(mixinStandardHelpOptions = true, description = "Lists invitations, newest first.")
  int list(
      @Mixin Paging paging,
      @Option(names = "--state", description = "open, spent, lapsed or withdrawn.")
          @Nullable String state,
      @Option(names = "--search", description = "Words of note, profile or person.")
          @Nullable String words) {
    InvitationPage page =
        call(
            () ->
                context
                    .client()
                    .intake()
                    .listInvitations(state, words, paging.after, paging.limit));
    return context.list(
        page,
        page.getItems(),
        i ->
            new Object[] {
              "…" + i.getCodeEnds(),
              i.getProfile(),
              i.getState(),
              i.getUses() + " of " + i.getUsesAllowed(),
              time(i.getExpiresAt()),
              i.getPerson() == null ? i.getNote() : i.getPerson(),
              i.getMailState().getValue().equals("none") ? "" : i.getMailState(),
              i.getId()
            },
        "CODE",
        "TO",
        "STATE",
        "USED",
        "EXPIRES",
        "FOR",
        "MAIL",
        "ID");
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Writes invitations, or those that match, as a sheet (CSV), without codes.")
  int export(
      @Parameters(paramLabel = "FILE") Path file,
      @Option(names = "--state", description = "open, spent, lapsed or withdrawn.")
          @Nullable String state,
      @Option(names = "--search", description = "Words of note, profile or person.")
          @Nullable String words) {
    return FileText.keep(
        context, call(() -> context.client().intake().exportInvitations(state, words)), file);
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Lets an invitation hold for longer, counted from now; its code stays.",
      footer = {"", "Example:", "  pinwright invitation extend 01J8… --days 14"})
  int extend(
      @Parameters(paramLabel = "ID") String id,
      @Option(
              names = "--days",
              defaultValue = "7",
              description = "How long from now; 7 if left out.")
          long days) {
    Invitation i =
        call(
            () ->
                context
                    .client()
                    .intake()
                    .extendInvitation(
                        id,
                        new InvitationExtension()
                            .expiresInMinutes(Duration.ofDays(days).toMinutes())));
    return context.print(
        i,
        () ->
            context.line(
                "…%s can be used until %s.", i.getCodeEnds(), Context.time(i.getExpiresAt())));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Makes an invitation: one use and a week, unless said otherwise.",
      footer = {"", "Example:", "  pinwright invitation add \"Harbour gallery kiosks\" --uses 36"})
  int add(
      @Parameters(paramLabel = "ENROLLMENT-PROFILE") String profile,
      @Option(names = "--uses", defaultValue = "1") int uses,
      @Option(names = "--minutes", description = "How long it holds.") @Nullable Long minutes,
      @Option(names = "--note") @Nullable String note,
      @Option(names = "--person", description = "Whom it is for.") @Nullable String person,
      @Option(names = "--mail", description = "Mail it to them.") boolean mail) {
    String personId = person == null ? null : context.person(person).getId();
    String id = context.enrollmentProfile(profile).getId();
    Invitation i =
        call(
            () ->
                context
                    .client()
                    .intake()
                    .addInvitation(
                        new InvitationDraft()
                            .profileId(id)
                            .uses(uses)
                            .expiresInMinutes(minutes)
                            .note(note)
                            .personId(personId)
                            .mail(mail)));
    return context.print(i, () -> shown(i));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Invites many people: a unit, a group of the directory, or a sheet.",
      footer = {
        "",
        "Example:",
        "  pinwright invitation many \"Volunteers' own phones\" --unit VM-VOL --mail"
      })
  int many(
      @Parameters(paramLabel = "ENROLLMENT-PROFILE") String profile,
      @Option(names = "--unit", description = "Everybody of a unit, by code.")
          @Nullable String unit,
      @Option(names = "--group", description = "A group of the staff directory.")
          @Nullable String group,
      @Option(names = "--sheet", description = "CSV with the columns login, mail, name.")
          @Nullable Path sheet,
      @Option(names = "--mail", description = "Mail each their invitation.") boolean mail,
      @Option(names = "--dry-run", description = "Only say what would be done.") boolean dry)
      throws IOException {
    ManyInvitations draft =
        new ManyInvitations()
            .profileId(context.enrollmentProfile(profile).getId())
            .unitId(unit == null ? null : context.unit(unit).getId())
            .group(group)
            .sheet(sheet == null ? null : FileText.read(sheet, "people"))
            .mail(mail)
            .save(!dry);
    InvitedReport r = call(() -> context.client().intake().inviteMany(draft));
    return context.print(
        r,
        () -> {
          context.line(
              "%d %s, %d left out.",
              r.getInvited(), dry ? "would be invited" : "invited", r.getLeftOut());
          r.getRows().stream()
              .filter(x -> x.getFault() != null)
              .forEach(
                  x -> context.line("  line %d, %s: %s", x.getLine(), x.getWho(), x.getFault()));
        });
  }

  @Command(mixinStandardHelpOptions = true, description = "Mails an invitation again.")
  int remind(@Parameters(paramLabel = "ID") String id) {
    Invitation i = call(() -> context.client().intake().remindInvitation(id));
    return context.print(
        i, () -> context.line("…%s is on its way to %s.", i.getCodeEnds(), i.getMail()));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Writes a PDF of cards to hand out, eight on a page.",
      footer = {
        "",
        "Example:",
        "  pinwright invitation sheet --to cards.pdf 01M84HZB2SASNZC9XT4TYEDSFT"
      })
  int sheet(
      @Option(names = "--to", paramLabel = "FILE", required = true) Path file,
      @Parameters(paramLabel = "ID", arity = "1..*") List<String> ids)
      throws IOException {
    return FileText.keep(
        context, call(() -> context.client().intake().getInvitationSheet(ids)), file);
  }

  @Command(mixinStandardHelpOptions = true, description = "Shows an invitation with its link.")
  int show(@Parameters(paramLabel = "ID") String id) {
    Invitation i = call(() -> context.client().intake().getInvitation(id));
    return context.print(i, () -> shown(i));
  }

  private void shown(Invitation i) {
    if (i.getCode() == null) {
      context.line("Code     …%s (whole for those who may invite)", i.getCodeEnds());
    } else {
      context.line("Code     %s", i.getCode());
      context.line("Link     %s", i.getLink());
    }
    context.line("State    %s, %d of %d used", i.getState(), i.getUses(), i.getUsesAllowed());
    context.line("Expires  %s", time(i.getExpiresAt()));
    context.line("Id       %s", i.getId());
  }

  @Command(mixinStandardHelpOptions = true, description = "Writes the QR code as PNG.")
  int qr(@Parameters(paramLabel = "ID") String id, @Parameters(paramLabel = "FILE") Path file)
      throws IOException {
    File png = call(() -> context.client().intake().getInvitationQrPng(id));
    return FileText.keep(context, png, file);
  }

  @Command(
      name = "join-file",
      mixinStandardHelpOptions = true,
      description = "Prints the join file.")
  int joinFile(@Parameters(paramLabel = "ID") String id) {
    context.json(true);
    return context.print(call(() -> context.client().intake().getJoinFile(id)), () -> {});
  }

  @Command(mixinStandardHelpOptions = true, description = "Withdraws an invitation.")
  int withdraw(@Parameters(paramLabel = "ID") String id) {
    Invitation i = call(() -> context.client().intake().withdrawInvitation(id));
    return context.print(i, () -> context.line("…%s is %s.", i.getCodeEnds(), i.getState()));
  }
}
