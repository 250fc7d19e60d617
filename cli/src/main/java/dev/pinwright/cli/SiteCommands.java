package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;

import dev.pinwright.client.model.Site;
import dev.pinwright.client.model.SiteDraft;
import dev.pinwright.client.model.SitePage;
import java.io.IOException;
import java.math.BigDecimal;
import java.nio.file.Path;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code site}. */
@Command(
    name = "site",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description = "Places on the map: list, add, change, delete, export, import.")
final class SiteCommands {
  private final Context context;

  SiteCommands(Context context) {
    this.context = context;
  }

  @Command(mixinStandardHelpOptions = true, description = "Lists sites.")
  int list(@Mixin Paging paging) {
    SitePage page =
        call(() -> context.client().organisation().listSites(paging.after, paging.limit));
    return context.list(
        page,
        page.getItems(),
        s ->
            new Object[] {
              s.getName(), s.getAddress(), s.getLatitude(), s.getLongitude(), s.getDevices()
            },
        "NAME",
        "ADDRESS",
        "LATITUDE",
        "LONGITUDE",
        "DEVICES");
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Makes a site.",
      footer = {
        "",
        "Example:",
        "  pinwright site add \"Lake Orre\" --latitude 47.19 --longitude -20.51"
      })
  int add(
      @Parameters(paramLabel = "NAME") String name,
      @Option(names = "--address") @Nullable String address,
      @Option(names = "--latitude", description = "Degrees, north is positive.")
          @Nullable BigDecimal latitude,
      @Option(names = "--longitude", description = "Degrees, east is positive.")
          @Nullable BigDecimal longitude) {
    SiteDraft draft =
        new SiteDraft().name(name).address(address).latitude(latitude).longitude(longitude);
    Site s = call(() -> context.client().organisation().addSite(draft));
    return context.print(s, () -> context.line("Site %s made.", s.getName()));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Changes what is said about a site and leaves the rest.")
  int change(
      @Parameters(paramLabel = "NAME") String name,
      @Option(names = "--name", description = "Another name for it.") @Nullable String other,
      @Option(names = "--address") @Nullable String address,
      @Option(names = "--latitude", description = "Degrees, north is positive.")
          @Nullable BigDecimal latitude,
      @Option(names = "--longitude", description = "Degrees, east is positive.")
          @Nullable BigDecimal longitude) {
    Site before = context.site(name);
    SiteDraft draft =
        new SiteDraft()
            .name(other == null ? before.getName() : other)
            .address(address == null ? before.getAddress() : address)
            .latitude(latitude == null ? before.getLatitude() : latitude)
            .longitude(longitude == null ? before.getLongitude() : longitude);
    Site s =
        call(
            () ->
                context
                    .client()
                    .organisation()
                    .changeSite(before.getId(), Context.onVersion(before.getVersion()), draft));
    return context.print(s, () -> context.line("Site %s changed.", s.getName()));
  }

  @Command(mixinStandardHelpOptions = true, description = "Deletes a site nothing is at.")
  int delete(@Parameters(paramLabel = "NAME") String name) {
    Site s = context.site(name);
    Context.act(
        () ->
            context
                .client()
                .organisation()
                .deleteSite(s.getId(), Context.onVersion(s.getVersion())));
    context.line("Site %s deleted.", s.getName());
    return 0;
  }

  @Command(mixinStandardHelpOptions = true, description = "Writes the sheet of all sites.")
  int export(@Parameters(paramLabel = "FILE") Path file) throws IOException {
    return FileText.keep(context, call(() -> context.client().organisation().exportSites()), file);
  }

  @Command(
      name = "import",
      mixinStandardHelpOptions = true,
      description = "Checks a sheet of sites; takes it over with --save.")
  int take(@Parameters(paramLabel = "FILE") Path file, @Option(names = "--save") boolean save)
      throws IOException {
    return Sheets.in(
        context,
        file,
        save,
        (rows, keep) -> context.client().organisation().importSites(rows, keep, null, null));
  }
}
