package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;
import static dev.pinwright.cli.Context.time;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.type.TypeReference;
import com.fasterxml.jackson.databind.json.JsonMapper;
import dev.pinwright.client.model.AppCode;
import dev.pinwright.client.model.AppCodeDraft;
import dev.pinwright.client.model.AppCodePage;
import java.io.File;
import java.io.IOException;
import java.nio.file.Path;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code app-code}. */
@Command(
    name = "app-code",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description =
        "Codes printed for a unit, from which an app is told its configuration on devices that are"
            + " not enrolled: list, make, show, qr, sheet, revoke.",
    footer = {
      "",
      "Example:",
      "  pinwright app-code make Rota VM-VOL --configuration rota.json --until 2027-03-31",
      "  pinwright app-code sheet --to codes.pdf 01M84HZB2SASNZC9XT4TYEDSFT"
    })
final class AppCodeCommands {
  private static final JsonMapper MAPPER = JsonMapper.builder().build();

  private final Context context;

  AppCodeCommands(Context context) {
    this.context = context;
  }

  @Command(mixinStandardHelpOptions = true, description = "Lists codes, newest first.")
  int list(
      @Parameters(paramLabel = "APP", arity = "0..1", description = "Those of one app alone.")
          @Nullable String app,
      @Mixin Paging paging) {
    String id = app == null ? null : context.app(app).getId();
    AppCodePage page =
        call(() -> context.client().apps().listAppCodes(id, paging.after, paging.limit));
    return context.list(
        page,
        page.getItems(),
        c ->
            new Object[] {
              "…" + c.getCodeEnds(),
              c.getApp(),
              c.getUnitCode(),
              c.getName(),
              c.getState(),
              time(c.getUntil()),
              c.getReadTimes(),
              c.getId()
            },
        "CODE",
        "APP",
        "UNIT",
        "NAME",
        "STATE",
        "UNTIL",
        "READ",
        "ID");
  }

  @Command(mixinStandardHelpOptions = true, description = "Makes a code for a unit.")
  int make(
      @Parameters(paramLabel = "APP") String app,
      @Parameters(paramLabel = "UNIT", description = "By its code.") String unit,
      @Option(names = "--name", description = "What it is called in lists.") @Nullable String name,
      @Option(
              names = "--until",
              paramLabel = "YYYY-MM-DD",
              description = "The last day it holds; 90 days without it.")
          @Nullable LocalDate until,
      @Option(
              names = "--configuration",
              paramLabel = "FILE",
              description = "JSON the app is told; a text may hold {self:Unit}.")
          @Nullable Path configuration,
      @Option(
              names = "--secrets",
              paramLabel = "FILE",
              description =
                  "JSON laid over it and never shown; whoever scans the code can read it.")
          @Nullable Path secrets)
      throws IOException {
    AppCodeDraft draft =
        new AppCodeDraft()
            .appId(context.app(app).getId())
            .unitId(context.unit(unit).getId())
            .name(name)
            .until(
                until == null
                    ? null
                    : until.plusDays(1).atStartOfDay(ZoneId.systemDefault()).toOffsetDateTime())
            ._configuration(configuration == null ? null : json(configuration))
            .secrets(secrets == null ? null : json(secrets));
    AppCode c = call(() -> context.client().apps().makeAppCode(draft));
    return context.print(c, () -> shown(c));
  }

  private static Map<String, Object> json(Path file) throws IOException {
    try {
      return MAPPER.readValue(FileText.read(file, "configuration"), new TypeReference<>() {});
    } catch (JsonProcessingException e) {
      throw new Failure(
          Failure.USAGE, file + " is no JSON object: " + e.getOriginalMessage() + ".");
    }
  }

  @Command(mixinStandardHelpOptions = true, description = "Shows a code with its link.")
  int show(@Parameters(paramLabel = "ID") String id) {
    AppCode c = call(() -> context.client().apps().getAppCode(id));
    return context.print(c, () -> shown(c));
  }

  private void shown(AppCode c) {
    context.line("Code     %s", c.getName());
    context.line("App      %s", c.getApp());
    context.line("Unit     %s %s", c.getUnitCode(), c.getUnit());
    context.line("Link     %s", c.getLink());
    context.line("State    %s, read %d times", c.getState(), c.getReadTimes());
    context.line("Until    %s", time(c.getUntil()));
    context.line("Id       %s", c.getId());
  }

  @Command(mixinStandardHelpOptions = true, description = "Writes the QR code as PNG.")
  int qr(@Parameters(paramLabel = "ID") String id, @Parameters(paramLabel = "FILE") Path file)
      throws IOException {
    File png = call(() -> context.client().apps().getAppCodeQrPng(id));
    return FileText.keep(context, png, file);
  }

  @Command(mixinStandardHelpOptions = true, description = "Writes cards to print (PDF).")
  int sheet(
      @Option(names = "--to", paramLabel = "FILE", required = true) Path file,
      @Parameters(paramLabel = "ID", arity = "1..*") List<String> ids)
      throws IOException {
    return FileText.keep(context, call(() -> context.client().apps().getAppCodeSheet(ids)), file);
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Takes a code back: nobody can read it any more.")
  int revoke(@Parameters(paramLabel = "ID") String id) {
    AppCode c = call(() -> context.client().apps().revokeAppCode(id));
    return context.print(c, () -> context.line("%s is %s.", c.getName(), c.getState()));
  }
}
