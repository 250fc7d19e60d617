package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;

import dev.pinwright.client.model.Departure;
import dev.pinwright.client.model.DeviceFate;
import dev.pinwright.client.model.Fate;
import dev.pinwright.client.model.Holding;
import dev.pinwright.client.model.Leaver;
import dev.pinwright.client.model.LeavingPlan;
import dev.pinwright.client.model.Person;
import dev.pinwright.client.model.PersonDraft;
import dev.pinwright.client.model.PersonPage;
import java.io.IOException;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code person}. A person is named by login or by name. */
@Command(
    name = "person",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description =
        "People, who hold devices: list, add, change, leave, holdings, remove, export, import.")
final class PersonCommands {
  private final Context context;

  PersonCommands(Context context) {
    this.context = context;
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Lists people.",
      footer = {"", "Example:", "  pinwright person list --unit VM-HAR"})
  int list(
      @Parameters(
              arity = "0..1",
              defaultValue = "",
              description = "Words in name, login or mail address.")
          String words,
      @Option(names = "--unit", description = "In this unit or below it.") @Nullable String unit,
      @Option(names = "--left", description = "Only who is in the staff directory no longer.")
          boolean left,
      @Option(
              names = "--attribute",
              paramLabel = "CONDITION",
              description = "Such as Keys=yes; can be repeated.")
          @Nullable List<String> attributes,
      @Mixin Paging paging) {
    String unitId = unit == null ? "" : context.unit(unit).getId();
    PersonPage page =
        call(
            () ->
                context
                    .client()
                    .organisation()
                    .listPeople(
                        words, unitId, left ? true : null, attributes, paging.after, paging.limit));
    return context.list(
        page,
        page.getItems(),
        p ->
            new Object[] {
              p.getName(), p.getLogin(), p.getMail(), p.getUnit(), p.getSite(), p.getDevices()
            },
        "NAME",
        "LOGIN",
        "MAIL",
        "UNIT",
        "SITE",
        "DEVICES");
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Adds a person.",
      footer = {"", "Example:", "  pinwright person add \"Ines Orrin\" --login ines --unit VM-HAR"})
  int add(
      @Parameters(paramLabel = "NAME") String name,
      @Option(names = "--login") @Nullable String login,
      @Option(names = "--mail") @Nullable String mail,
      @Option(names = "--unit") @Nullable String unit,
      @Option(names = "--site") @Nullable String site) {
    PersonDraft draft =
        new PersonDraft()
            .name(name)
            .login(login)
            .mail(mail)
            .unitId(unit == null ? null : context.unit(unit).getId())
            .siteId(site == null ? null : context.site(site).getId());
    Person p = call(() -> context.client().organisation().addPerson(draft));
    return context.print(p, () -> context.line("%s added.", p.getName()));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Changes what is said about a person and leaves the rest.",
      footer = {"", "Example:", "  pinwright person change ines --unit VM-GLA --site Ulby"})
  int change(
      @Parameters(paramLabel = "PERSON") String person,
      @Option(names = "--name", description = "Another name.") @Nullable String name,
      @Option(names = "--login") @Nullable String login,
      @Option(names = "--mail") @Nullable String mail,
      @Option(names = "--unit", description = "By code; \"\" for none.") @Nullable String unit,
      @Option(names = "--site", description = "By name; \"\" for none.") @Nullable String site) {
    Person before = context.person(person);
    PersonDraft draft =
        new PersonDraft()
            .name(name == null ? before.getName() : name)
            .login(login == null ? before.getLogin() : login)
            .mail(mail == null ? before.getMail() : mail)
            .unitId(before.getUnitId())
            .siteId(before.getSiteId());
    if (unit != null) {
      draft.unitId(unit.isEmpty() ? null : context.unit(unit).getId());
    }
    if (site != null) {
      draft.siteId(site.isEmpty() ? null : context.site(site).getId());
    }
    Person p =
        call(
            () ->
                context
                    .client()
                    .organisation()
                    .changePerson(before.getId(), Context.onVersion(before.getVersion()), draft));
    return context.print(p, () -> context.line("%s changed.", p.getName()));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = {
        "Lets somebody leave: every device of theirs goes its way, and what was open to them ends.",
        "Without --do it only says what they hold and what would be done."
      },
      footer = {
        "",
        "Example:",
        "  pinwright person leave ines --hand-over \"Ines Orrin P5=bo\" --others kept --take-out --do"
      })
  int leave(
      @Parameters(paramLabel = "PERSON") String person,
      @Option(names = "--hand-over", paramLabel = "DEVICE=PERSON")
          @Nullable Map<String, String> handed,
      @Option(names = "--retire", paramLabel = "DEVICE") @Nullable List<String> retired,
      @Option(names = "--others", description = "kept or retired: what becomes of the others.")
          @Nullable Fate others,
      @Option(names = "--take-out", description = "Take them out as well.") boolean takeOut,
      @Option(names = "--do", description = "Do it.") boolean yes) {
    Person p = context.person(person);
    Leaver left = call(() -> context.client().organisation().getLeaver(p.getId()));
    Map<String, DeviceFate> fates = new LinkedHashMap<>();
    left.getDevices()
        .forEach(
            d -> {
              if (others != null) {
                fates.put(d.getId(), new DeviceFate().deviceId(d.getId()).fate(others));
              }
            });
    for (String name : retired == null ? List.<String>of() : retired) {
      String id = context.device(name).getId();
      fates.put(id, new DeviceFate().deviceId(id).fate(Fate.RETIRED));
    }
    (handed == null ? Map.<String, String>of() : handed)
        .forEach(
            (name, to) -> {
              String id = context.device(name).getId();
              fates.put(
                  id,
                  new DeviceFate()
                      .deviceId(id)
                      .fate(Fate.HANDED_OVER)
                      .personId(context.person(to).getId()));
            });
    LeavingPlan plan = new LeavingPlan().devices(List.copyOf(fates.values())).takeOut(takeOut);
    if (!yes) {
      return context.print(left, () -> told(left, fates));
    }
    Departure done = call(() -> context.client().organisation().leave(p.getId(), plan));
    return context.print(
        done,
        () ->
            context.line(
                "%s left: %d handed over, %d kept, %d retired, %d invitations ended.",
                p.getName(),
                done.getHandedOver(),
                done.getKept(),
                done.getRetired(),
                done.getInvitations()));
  }

  private void told(Leaver left, Map<String, DeviceFate> fates) {
    left.getDevices()
        .forEach(
            d -> {
              DeviceFate fate = fates.get(d.getId());
              context.line(
                  "%s, %s: %s", d.getName(), d.getModel(), fate == null ? "?" : fate.getFate());
            });
    context.line(
        "%d open invitations end. Nothing is done yet; %s.",
        left.getInvitations(),
        left.getDevices().size() > fates.size()
            ? "say what becomes of each device, then --do"
            : "add --do");
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "What somebody holds and held, the latest first.")
  int holdings(@Parameters(paramLabel = "PERSON") String person) {
    Person p = context.person(person);
    List<Holding> all = call(() -> context.client().organisation().listHoldings(p.getId()));
    return context.list(
        all,
        all,
        h ->
            new Object[] {
              h.getDevice(), h.getModel(), Context.time(h.getSince()), Context.time(h.getUntil())
            },
        "DEVICE",
        "MODEL",
        "SINCE",
        "UNTIL");
  }

  @Command(mixinStandardHelpOptions = true, description = "Takes out a person who holds nothing.")
  int remove(@Parameters(paramLabel = "PERSON") String person) {
    Person p = context.person(person);
    Context.act(
        () ->
            context
                .client()
                .organisation()
                .deletePerson(p.getId(), Context.onVersion(p.getVersion())));
    context.line("%s taken out.", p.getName());
    return 0;
  }

  @Command(mixinStandardHelpOptions = true, description = "Writes the sheet of all people.")
  int export(@Parameters(paramLabel = "FILE") Path file) throws IOException {
    return FileText.keep(context, call(() -> context.client().organisation().exportPeople()), file);
  }

  @Command(
      name = "import",
      mixinStandardHelpOptions = true,
      description = "Checks a sheet of people; takes it over with --save.")
  int take(@Parameters(paramLabel = "FILE") Path file, @Option(names = "--save") boolean save)
      throws IOException {
    return Sheets.in(
        context,
        file,
        save,
        (rows, keep) -> context.client().organisation().importPeople(rows, keep, null, null));
  }
}
