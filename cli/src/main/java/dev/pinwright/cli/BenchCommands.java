package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;
import static dev.pinwright.cli.Context.time;

import dev.pinwright.client.model.BenchDevice;
import dev.pinwright.client.model.BenchDevicePage;
import dev.pinwright.client.model.BenchSession;
import dev.pinwright.client.model.BenchSessionDraft;
import dev.pinwright.client.model.BenchSessionPage;
import dev.pinwright.client.model.BenchWorkDraft;
import dev.pinwright.client.model.BenchWorkOrdered;
import dev.pinwright.client.model.BenchWorkPage;
import dev.pinwright.client.model.CableWork;
import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code bench}. */
@Command(
    name = "bench",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description =
        "Preparing many devices one after the other, and helping them by cable: list, open, show,"
            + " devices, do, work, facts, erase, labels, close, reopen.",
    footer = {
      "",
      "Examples:",
      "  pinwright bench do ID update-os 7.2.1",
      "  pinwright bench do ID clear-passcode --serial AR10-0042-7731",
      "  pinwright bench do ID erase --confirm 16"
    })
final class BenchCommands {
  private final Context context;

  BenchCommands(Context context) {
    this.context = context;
  }

  @Command(mixinStandardHelpOptions = true, description = "Lists sessions, newest first.")
  int list(@Mixin Paging paging) {
    BenchSessionPage page =
        call(() -> context.client().bench().listBenchSessions(paging.after, paging.limit));
    return context.list(
        page,
        page.getItems(),
        s ->
            new Object[] {
              s.getName(),
              s.getOpen() ? "open" : "closed",
              s.getProfile(),
              s.getPrepared() + " of " + s.getDevices(),
              s.getTroubled(),
              time(s.getCreatedAt()),
              s.getId()
            },
        "NAME",
        "STATE",
        "ENROLLMENT PROFILE",
        "READY",
        "TROUBLED",
        "SINCE",
        "ID");
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Opens a session and prints the link its cable is told.",
      footer = {
        "",
        "Example:",
        "  pinwright bench open \"Cart 3\" \"Gallery kiosks\" --first-number 40 --wifi Vellmar-Staff"
      })
  int open(
      @Parameters(paramLabel = "NAME") String name,
      @Parameters(paramLabel = "ENROLLMENT-PROFILE") String profile,
      @Option(names = "--name-pattern") @Nullable String pattern,
      @Option(names = "--first-number") @Nullable Long first,
      @Option(names = "--asset-prefix") @Nullable String prefix,
      @Option(names = "--group") @Nullable String group,
      @Option(names = "--unit") @Nullable String unit,
      @Option(names = "--site") @Nullable String site,
      @Option(names = "--wifi") @Nullable String wifi,
      @Option(names = "--wifi-password") @Nullable String secret,
      @Option(names = "--erase", description = "Erase each device first.") boolean erase,
      @Option(names = "--racks") @Nullable Integer racks) {
    BenchSessionDraft draft =
        new BenchSessionDraft()
            .name(name)
            .profileId(context.enrollmentProfile(profile).getId())
            .namePattern(pattern)
            .firstNumber(first)
            .assetPrefix(prefix)
            .groupId(group == null ? null : context.group(group).getId())
            .unitId(unit == null ? null : context.unit(unit).getId())
            .siteId(site == null ? null : context.site(site).getId())
            .wifiName(wifi)
            .wifiSecret(secret)
            .erase(erase)
            .racks(racks);
    BenchSession s = call(() -> context.client().bench().openBenchSession(draft));
    return context.print(
        s, () -> context.line("Session %s is open.%nLink  %s", s.getId(), s.getLink()));
  }

  @Command(mixinStandardHelpOptions = true, description = "Shows what is plugged in.")
  int show(@Parameters(paramLabel = "ID") String id) {
    BenchSession s = call(() -> context.client().bench().getBenchSession(id));
    List<BenchDevice> slots = call(() -> context.client().bench().listBenchSlots(id));
    return context.print(
        slots,
        () -> {
          if (!s.getFault().isEmpty()) {
            context.line(s.getFault());
          }
          if (!s.getMissing().isEmpty()) {
            context.line("Missing numbers: %s", String.join(", ", s.getMissing()));
          }
          context.list(slots, slots, BenchCommands::row, HEADS);
        });
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Lists every device of a session, plugged in or not.")
  int devices(@Parameters(paramLabel = "ID") String id, @Mixin Paging paging) {
    BenchDevicePage page =
        call(() -> context.client().bench().listBenchDevices(id, paging.after, paging.limit));
    return context.list(page, page.getItems(), BenchCommands::row, HEADS);
  }

  private static final String[] HEADS = {"SLOT", "STATE", "NAME", "ASSET", "SERIAL", ""};

  private static Object[] row(BenchDevice d) {
    String slot = d.getRack() == null ? "" : d.getRack() + "." + d.getSlot();
    return new Object[] {
      slot, d.getState(), d.getName(), d.getAsset(), d.getSerial(), d.getReason()
    };
  }

  @Command(
      name = "do",
      mixinStandardHelpOptions = true,
      description = {
        "Has something done by the cable to what is plugged in, whether it is in reach or not:",
        "erase, clear-passcode, rename NAME, update-os VERSION, app NAME, document NAME, back-up"
            + " NAME, restore NAME."
      })
  int work(
      @Parameters(paramLabel = "ID") String id,
      @Parameters(paramLabel = "WHAT") String what,
      @Parameters(paramLabel = "VALUE", arity = "0..1") @Nullable String value,
      @Option(
              names = "--serial",
              split = ",",
              description = "Of these alone; of all that are plugged in without.")
          @Nullable List<String> serials,
      @Option(
              names = "--confirm",
              paramLabel = "NUMBER",
              description = "How many devices are erased.")
          @Nullable Long confirm) {
    CableWork work = Context.word(CableWork.values(), CableWork::fromValue, what);
    String said =
        value == null
            ? null
            : switch (work) {
              case APP -> context.app(value).getId();
              case DOCUMENT ->
                  value.startsWith("sha256:") ? value : "sha256:" + context.file(value).getId();
              default -> value;
            };
    BenchWorkOrdered ordered =
        call(
            () ->
                context
                    .client()
                    .bench()
                    .orderBenchWork(
                        id,
                        new BenchWorkDraft()
                            .what(work)
                            .value(said)
                            .serials(serials == null ? List.of() : serials)
                            .confirmDevices(confirm)));
    return context.print(
        ordered,
        () -> {
          context.line(
              "%s: %s. Follow with: pinwright bench work %s",
              what, Context.counted(ordered.getDevices(), "device"), id);
          ordered.getLeft().forEach(l -> context.line("  not %s", l));
        });
  }

  @Command(
      name = "work",
      mixinStandardHelpOptions = true,
      description = "Lists what was done by the cable of a session, the latest first.")
  int done(@Parameters(paramLabel = "ID") String id, @Mixin Paging paging) {
    BenchWorkPage page =
        call(() -> context.client().bench().listBenchWork(id, paging.after, paging.limit));
    return context.list(
        page,
        page.getItems(),
        w ->
            new Object[] {
              time(w.getOrderedAt()),
              w.getSerial(),
              w.getWhat(),
              w.getSaid(),
              w.getState(),
              w.getReason(),
              w.getOrderedBy()
            },
        "WHEN",
        "SERIAL",
        "WHAT",
        "",
        "STATE",
        "WHY",
        "BY");
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Writes a sheet of what the devices of a session told by the cable.")
  int facts(@Parameters(paramLabel = "ID") String id, @Parameters(paramLabel = "FILE") Path file) {
    return FileText.keep(context, call(() -> context.client().bench().exportBenchFacts(id)), file);
  }

  @Command(mixinStandardHelpOptions = true, description = "Writes a PDF of labels.")
  int labels(@Parameters(paramLabel = "ID") String id, @Parameters(paramLabel = "FILE") Path file)
      throws IOException {
    return FileText.keep(context, call(() -> context.client().bench().getBenchLabels(id)), file);
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Says that a device which is managed may be erased and prepared anew.")
  int erase(
      @Parameters(paramLabel = "ID") String id, @Parameters(paramLabel = "SERIAL") String serial) {
    BenchSession s = call(() -> context.client().bench().releaseBenchDevice(id, serial));
    return context.print(s, () -> context.line("%s is erased when the cable asks again.", serial));
  }

  @Command(mixinStandardHelpOptions = true, description = "Closes a session.")
  int close(@Parameters(paramLabel = "ID") String id) {
    return shown(call(() -> context.client().bench().closeBenchSession(id)));
  }

  @Command(mixinStandardHelpOptions = true, description = "Goes on with a closed session.")
  int reopen(@Parameters(paramLabel = "ID") String id) {
    return shown(call(() -> context.client().bench().reopenBenchSession(id)));
  }

  private int shown(BenchSession s) {
    return context.print(
        s, () -> context.line("%s is %s.", s.getName(), s.getOpen() ? "open" : "closed"));
  }
}
