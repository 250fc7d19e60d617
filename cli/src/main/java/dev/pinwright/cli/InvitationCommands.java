package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;
import static dev.pinwright.cli.Context.time;

import dev.pinwright.client.model.Invitation;
import dev.pinwright.client.model.InvitationDraft;
import dev.pinwright.client.model.InvitationPage;
import java.io.File;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
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
    description = "Codes to join by: list, add, show, qr, join-file, withdraw.")
final class InvitationCommands {
  private final Context context;

  InvitationCommands(Context context) {
    this.context = context;
  }

  @Command(mixinStandardHelpOptions = true, description = "Lists invitations, newest first.")
  int list(@Mixin Paging paging) {
    InvitationPage page =
        call(() -> context.client().intake().listInvitations(paging.after, paging.limit));
    return context.list(
        page,
        page.getItems(),
        i ->
            new Object[] {
              i.getCode(),
              i.getProfile(),
              i.getState(),
              i.getUses() + " of " + i.getUsesAllowed(),
              time(i.getExpiresAt()),
              i.getNote(),
              i.getId()
            },
        "CODE",
        "TO",
        "STATE",
        "USED",
        "EXPIRES",
        "NOTE",
        "ID");
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Makes an invitation: one use and a week, unless said otherwise.",
      footer = {"", "Example:", "  pinwright invitation add \"Harbour gallery kiosks\" --uses 36"})
  int add(
      @Parameters(paramLabel = "ENROLLMENT-PROFILE") String profile,
      @Option(names = "--uses", defaultValue = "1") int uses,
      @Option(names = "--minutes", description = "How long it holds.") @Nullable Long minutes,
      @Option(names = "--note") @Nullable String note) {
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
                            .note(note)));
    return context.print(i, () -> shown(i));
  }

  @Command(mixinStandardHelpOptions = true, description = "Shows an invitation with its link.")
  int show(@Parameters(paramLabel = "ID") String id) {
    Invitation i = call(() -> context.client().intake().getInvitation(id));
    return context.print(i, () -> shown(i));
  }

  private void shown(Invitation i) {
    context.line("Code     %s", i.getCode());
    context.line("Link     %s", i.getLink());
    context.line("State    %s, %d of %d used", i.getState(), i.getUses(), i.getUsesAllowed());
    context.line("Expires  %s", time(i.getExpiresAt()));
    context.line("Id       %s", i.getId());
  }

  @Command(mixinStandardHelpOptions = true, description = "Writes the QR code as PNG.")
  int qr(@Parameters(paramLabel = "ID") String id, @Parameters(paramLabel = "FILE") Path file)
      throws IOException {
    File png = call(() -> context.client().intake().getInvitationQrPng(id));
    Files.move(png.toPath(), file, StandardCopyOption.REPLACE_EXISTING);
    context.line("Written to %s.", file);
    return 0;
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
    return context.print(i, () -> context.line("%s is %s.", i.getCode(), i.getState()));
  }
}
