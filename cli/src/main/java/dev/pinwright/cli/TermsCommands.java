package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;
import static dev.pinwright.cli.Context.time;

import dev.pinwright.client.api.DevicesApi.APIListDevicesRequest;
import dev.pinwright.client.model.DevicePage;
import dev.pinwright.client.model.Mode;
import dev.pinwright.client.model.NewTerms;
import dev.pinwright.client.model.Ownership;
import dev.pinwright.client.model.Privacy;
import dev.pinwright.client.model.Terms;
import dev.pinwright.client.model.TermsAcceptancePage;
import dev.pinwright.client.model.TermsText;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code terms}. */
@Command(
    name = "terms",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description =
        "What holders accept and are told before joining: list, add, accepted, export, missing, privacy.")
final class TermsCommands {
  private final Context context;

  TermsCommands(Context context) {
    this.context = context;
  }

  @Command(mixinStandardHelpOptions = true, description = "Lists versions of the terms.")
  int list() {
    List<Terms> all = call(() -> context.client().intake().listTerms());
    return context.list(
        all,
        all,
        x ->
            new Object[] {
              x.getVersion(),
              x.getTitle(),
              Stream.concat(
                      Stream.of(x.getLanguage()),
                      x.getTranslations().stream().map(TermsText::getLanguage))
                  .collect(Collectors.joining(", ")),
              x.getAccepted(),
              time(x.getCreatedAt())
            },
        "VERSION",
        "TITLE",
        "LANGUAGES",
        "ACCEPTED",
        "WRITTEN");
  }

  @Command(mixinStandardHelpOptions = true, description = "Who accepted a version and when.")
  int accepted(@Parameters(paramLabel = "VERSION") int version, @Mixin Paging paging) {
    TermsAcceptancePage page =
        call(
            () ->
                context
                    .client()
                    .intake()
                    .listTermsAcceptances(String.valueOf(version), paging.after, paging.limit));
    return context.list(
        page,
        page.getItems(),
        a -> new Object[] {a.getDevice(), a.getPerson(), a.getLanguage(), time(a.getAcceptedAt())},
        "DEVICE",
        "PERSON",
        "LANGUAGE",
        "ACCEPTED");
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Writes who accepted a version, and when, as a sheet (CSV).")
  int export(
      @Parameters(paramLabel = "VERSION") int version, @Parameters(paramLabel = "FILE") Path file) {
    return FileText.keep(
        context,
        call(() -> context.client().intake().exportTermsAcceptances(String.valueOf(version))),
        file);
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Devices whose holder has not accepted a version of the terms, or a later one.",
      footer = {
        "",
        "To ask them again:",
        "  pinwright accept-terms --where terms-below=2 --version 2"
      })
  int missing(@Parameters(paramLabel = "VERSION") int version, @Mixin Paging paging) {
    APIListDevicesRequest asked =
        APIListDevicesRequest.newBuilder()
            .termsBelow(version)
            .sort("name")
            .after(paging.after)
            .limit(paging.limit)
            .build();
    DevicePage page = call(() -> context.client().devices().listDevices(asked));
    return context.list(
        page,
        page.getItems(),
        d -> new Object[] {d.getName(), d.getPerson(), d.getUnit(), time(d.getLastSeen())},
        "DEVICE",
        "PERSON",
        "UNIT",
        "LAST SEEN");
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Writes a new version, its text from a file.",
      footer = {
        "",
        "Example:",
        "  pinwright terms add \"Using a Vellmar Museums device\" terms.txt"
      })
  int add(
      @Parameters(paramLabel = "TITLE") String title,
      @Parameters(paramLabel = "FILE") Path file,
      @Option(names = "--language", description = "Of title and text; en unless said otherwise.")
          @Nullable String language,
      @Option(
              names = "--translation",
              paramLabel = "LANGUAGE=FILE",
              description = "A file whose first line is the title in that language.")
          @Nullable Map<String, Path> translations)
      throws IOException {
    NewTerms draft =
        new NewTerms()
            .title(title)
            .text(FileText.read(file, "the terms"))
            .language(language)
            .translations(new ArrayList<>());
    for (Map.Entry<String, Path> t :
        (translations == null ? Map.<String, Path>of() : translations).entrySet()) {
      String[] whole = FileText.read(t.getValue(), "a translation").split("\\R", 2);
      draft
          .getTranslations()
          .add(
              new TermsText()
                  .language(t.getKey())
                  .title(whole[0])
                  .text(whole.length > 1 ? whole[1] : ""));
    }
    Terms t = call(() -> context.client().intake().addTerms(draft));
    return context.print(t, () -> context.line("Version %d of the terms written.", t.getVersion()));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "What the organisation sees and can do, as holders are told.",
      footer = {
        "",
        "Example:",
        "  pinwright terms privacy --ownership corporate --mode supervised"
      })
  int privacy(
      @Option(names = "--ownership", description = "${COMPLETION-CANDIDATES} (default).")
          @Nullable Ownership ownership,
      @Option(names = "--mode", description = "${COMPLETION-CANDIDATES} (default).")
          @Nullable Mode mode) {
    Privacy p = call(() -> context.client().intake().getPrivacy(ownership, mode));
    return context.print(
        p,
        () ->
            new Table(p.getOwnership() + ", " + p.getMode(), "")
                .row("it sees", String.join(", ", p.getVisible()))
                .row("it never sees", String.join(", ", p.getNever()))
                .row("it can", String.join(", ", p.getMay()))
                .row("it cannot", String.join(", ", p.getMayNot())));
  }
}
