package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;
import static dev.pinwright.cli.Context.time;

import dev.pinwright.client.model.DirectoryConnection;
import dev.pinwright.client.model.DirectoryDraft;
import dev.pinwright.client.model.DirectoryReading;
import dev.pinwright.client.model.DirectorySettings;
import dev.pinwright.client.model.MailConnection;
import dev.pinwright.client.model.MailDraft;
import dev.pinwright.client.model.MailSettings;
import dev.pinwright.client.model.NoticePage;
import dev.pinwright.client.model.SetUpStep;
import dev.pinwright.client.model.Thresholds;
import dev.pinwright.client.model.ThresholdsDraft;
import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code house}. */
@Command(
    name = "house",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description =
        "Outside connections and house rules: set-up, notices, mail, directory, directory-groups,"
            + " read-directory, thresholds.")
final class HouseCommands {
  private final Context context;

  HouseCommands(Context context) {
    this.context = context;
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = {
        "Shows from how many devices on what is asked before they are changed, or sets it.",
        "0 stands for never."
      },
      footer = {
        "",
        "Example:",
        "  pinwright house thresholds --number 25 --reason 100 --second-person 500"
      })
  int thresholds(
      @Option(names = "--number", description = "The number has to be typed.")
          @Nullable Long number,
      @Option(names = "--reason", description = "A reason has to be given.") @Nullable Long reason,
      @Option(names = "--second-person", description = "Somebody else has to agree.")
          @Nullable Long second,
      @Option(names = "--wipe-second-person", description = "Somebody else has to agree to wipes.")
          @Nullable Long wiping,
      @Option(
              names = "--wipes-alone",
              description = "How many devices one person alone wipes in an hour; 0 is none.")
          @Nullable Long alone,
      @Option(
              names = "--password",
              interactive = true,
              arity = "0..1",
              description = "Yours, to let one person alone wipe more; asked for.")
          char @Nullable [] password) {
    Thresholds before = call(() -> context.client().house().getThresholds());
    boolean asks =
        number == null && reason == null && second == null && wiping == null && alone == null;
    Thresholds t =
        asks
            ? before
            : call(
                () ->
                    context
                        .client()
                        .house()
                        .setThresholds(
                            Context.onVersion(before.getVersion()),
                            new ThresholdsDraft()
                                .number(number == null ? before.getNumber() : number)
                                .reason(threshold(reason, before.getReason()))
                                .second(threshold(second, before.getSecond()))
                                .wiping(threshold(wiping, before.getWiping()))
                                .alone(alone)
                                .password(password == null ? null : new String(password))));
    return context.print(
        t,
        () ->
            context.line(
                "Before devices are changed: the number is typed from %d on, a reason given %s, and"
                    + " a second person agrees %s; to wipes %s. One person alone wipes up to %d"
                    + " devices an hour.",
                t.getNumber(),
                from(t.getReason()),
                from(t.getSecond()),
                from(t.getWiping()),
                t.getAlone()));
  }

  private static @Nullable Long threshold(@Nullable Long wanted, @Nullable Long before) {
    if (wanted == null) {
      return before;
    }
    return wanted == 0 ? null : wanted;
  }

  private static String from(@Nullable Long devices) {
    return devices == null ? "never" : "from " + devices + " on";
  }

  @Command(
      name = "set-up",
      mixinStandardHelpOptions = true,
      description = "What is done, what is missing and what that blocks.")
  int setUp() {
    List<SetUpStep> steps = call(() -> context.client().house().getSetUpList());
    return context.list(
        steps,
        steps,
        s ->
            new Object[] {
              s.getState(),
              s.getTitle(),
              s.getDetail(),
              s.getState() == SetUpStep.StateEnum.DONE ? "" : s.getBlocks()
            },
        "STATE",
        "STEP",
        "",
        "WITHOUT IT");
  }

  @Command(mixinStandardHelpOptions = true, description = "What somebody should know.")
  int notices(@Mixin Paging paging) {
    NoticePage page = call(() -> context.client().house().listNotices(paging.after, paging.limit));
    return context.list(
        page,
        page.getItems(),
        n -> new Object[] {time(n.getAt()), n.getUrgent() ? "urgent" : "", n.getTitle()},
        "SINCE",
        "",
        "WHAT");
  }

  @Command(
      mixinStandardHelpOptions = true,
      description =
          "Shows outgoing mail, or sets it up by a letter to the sender. What is not said stays.",
      footer = {
        "",
        "Example:",
        "  pinwright house mail --host 127.0.0.1 --port 7494 \\",
        "    --from it@vellmar.example --notices-to it@vellmar.example"
      })
  int mail(
      @Option(names = "--host") @Nullable String host,
      @Option(names = "--port") @Nullable Integer port,
      @Option(names = "--security", description = "none, starttls or tls.")
          @Nullable String security,
      @Option(names = "--login") @Nullable String login,
      @Option(names = "--password") @Nullable String password,
      @Option(names = "--from") @Nullable String from,
      @Option(names = "--notices-to") @Nullable String notices,
      @Option(names = "--contact", description = "Whom to ask, below every letter.")
          @Nullable String contact) {
    MailConnection before = call(() -> context.client().house().getMail());
    MailDraft draft = kept(before);
    given(host, draft::host);
    given(port, draft::port);
    given(security, draft::security);
    given(login, draft::login);
    given(password, draft::password);
    given(from, draft::from);
    given(notices, draft::noticesTo);
    given(contact, draft::contact);
    MailConnection mail =
        draft.equals(kept(before))
            ? before
            : call(
                () ->
                    context
                        .client()
                        .house()
                        .connectMail(Context.onVersion(before.getVersion()), draft));
    return context.print(
        mail,
        () -> context.line("Outgoing mail is %s%s.", mail.getState(), because(mail.getFault())));
  }

  /** What is not said stays as it is. */
  private static MailDraft kept(MailConnection mail) {
    MailSettings s = mail.getSettings();
    return s == null
        ? new MailDraft()
        : new MailDraft()
            .host(s.getHost())
            .port(s.getPort())
            .security(s.getSecurity().getValue())
            .login(s.getLogin())
            .from(s.getFrom())
            .noticesTo(s.getNoticesTo())
            .contact(s.getContact());
  }

  private static DirectoryDraft kept(DirectoryConnection directory) {
    DirectorySettings s = directory.getSettings();
    return s == null
        ? new DirectoryDraft()
        : new DirectoryDraft()
            .address(s.getAddress())
            .base(s.getBase())
            .login(s.getLogin())
            .unitAttribute(s.getUnitAttribute())
            .roots(s.getRoots());
  }

  private static <T> void given(@Nullable T option, Consumer<T> into) {
    if (option != null) {
      into.accept(option);
    }
  }

  private static String because(@Nullable String fault) {
    return fault == null ? "" : ": " + fault;
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Shows the staff directory, or sets it up. What is not said stays.",
      footer = {
        "",
        "Example:",
        "  pinwright house directory --address ldap://127.0.0.1:7495 \\",
        "    --base dc=vellmar,dc=example --login cn=pinwright,dc=vellmar,dc=example --password …"
      })
  int directory(
      @Option(names = "--address") @Nullable String address,
      @Option(names = "--base") @Nullable String base,
      @Option(names = "--login") @Nullable String login,
      @Option(names = "--password") @Nullable String password,
      @Option(names = "--unit-attribute") @Nullable String unit,
      @Option(names = "--roots", description = "PEM file for ldaps.") @Nullable Path roots)
      throws IOException {
    DirectoryConnection before = call(() -> context.client().house().getDirectory());
    DirectoryDraft draft = kept(before);
    given(address, draft::address);
    given(base, draft::base);
    given(login, draft::login);
    given(password, draft::password);
    given(unit, draft::unitAttribute);
    given(roots == null ? null : FileText.read(roots, "certificates"), draft::roots);
    DirectoryConnection d =
        draft.equals(kept(before))
            ? before
            : call(
                () ->
                    context
                        .client()
                        .house()
                        .connectDirectory(Context.onVersion(before.getVersion()), draft));
    return context.print(
        d, () -> context.line("The directory is %s%s.", d.getState(), because(d.getFault())));
  }

  @Command(
      name = "directory-groups",
      mixinStandardHelpOptions = true,
      description = "Groups of the staff directory.")
  int directoryGroups() {
    List<String> groups = call(() -> context.client().house().listDirectoryGroups());
    return context.list(groups, groups, g -> new Object[] {g}, "GROUP");
  }

  @Command(
      name = "read-directory",
      mixinStandardHelpOptions = true,
      description = "Brings people from the staff directory now.")
  int readDirectory(
      @Option(
              names = "--confirm-leaving",
              description = "How many have left, where it is asked for.")
          @Nullable Long leaving) {
    DirectoryReading r = call(() -> context.client().house().readDirectory(leaving));
    return context.print(
        r,
        () -> {
          context.line(
              "%d people found, %d added, %d changed, %d in it no longer.",
              r.getFound(), r.getAdded(), r.getChanged(), r.getGone());
          if (!r.getUnknownUnits().isEmpty()) {
            context.line("Units not known here: %s", String.join(", ", r.getUnknownUnits()));
          }
          if (r.getLeaving() != null) {
            context.line(
                "%d are missing, such as %s. If they left, say --confirm-leaving %d.",
                r.getLeaving(), String.join(", ", r.getExamples()), r.getLeaving());
          }
        });
  }

  @Command(name = "put-away", mixinStandardHelpOptions = true, description = "Puts a notice away.")
  int putAway(@Parameters(paramLabel = "ID") String id) {
    Context.act(() -> context.client().house().putNoticeAway(id));
    context.line("Put away.");
    return 0;
  }
}
