package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;

import dev.pinwright.client.model.LargePackages;
import dev.pinwright.client.model.LargePackagesDraft;
import dev.pinwright.client.model.Site;
import dev.pinwright.client.model.SiteCache;
import dev.pinwright.client.model.SiteCacheList;
import dev.pinwright.client.model.SiteCachePlace;
import dev.pinwright.client.model.SiteCacheScript;
import dev.pinwright.client.model.SiteDraft;
import dev.pinwright.client.model.SitePage;
import java.io.IOException;
import java.math.BigDecimal;
import java.nio.file.Path;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
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
    description =
        "Places on the map: list, add, change, delete, export, import; and caches of packages there:"
            + " caches, cache, cache-script, cache-off.")
final class SiteCommands {
  private static final String CORNER =
      "A corner of its outline, in degrees; once for each, in their order.";
  private static final Pattern TWO_NUMBERS =
      Pattern.compile("\\s*(-?\\d+(?:\\.\\d+)?)\\s*,\\s*(-?\\d+(?:\\.\\d+)?)\\s*");

  private final Context context;

  /** When large packages come in, as typed. */
  static final class Large {
    @Option(
        names = "--large-above",
        paramLabel = "MB",
        description = "Packages of more than so many MB come in at --large-hours only.")
    @Nullable Integer above;

    @Option(
        names = "--large-hours",
        paramLabel = "HOURS",
        description =
            "Times of the week at which large packages come in, where the device is:"
                + " \"Mon-Sun 22:00-06:00\".")
    @Nullable String hours;

    /** What was typed, over what was said before; null, which leaves that, where nothing was. */
    @Nullable LargePackagesDraft over(@Nullable LargePackages before) {
      if (above == null && hours == null) {
        return null;
      }
      return new LargePackagesDraft()
          .aboveMegabytes(above == null && before != null ? before.getAboveMegabytes() : above)
          .hours(hours == null && before != null ? before.getHours() : hours);
    }
  }

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
          @Nullable BigDecimal longitude,
      @Option(names = "--corner", paramLabel = "LONGITUDE,LATITUDE", description = CORNER)
          @Nullable List<String> corners,
      @Mixin Large large) {
    SiteDraft draft =
        new SiteDraft()
            .name(name)
            .address(address)
            .latitude(latitude)
            .longitude(longitude)
            .outline(outline(corners))
            .largePackages(large.over(null));
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
          @Nullable BigDecimal longitude,
      @Option(names = "--corner", paramLabel = "LONGITUDE,LATITUDE", description = CORNER)
          @Nullable List<String> corners,
      @Option(names = "--no-outline", description = "Takes its outline away.") boolean none,
      @Mixin Large large,
      @Option(
              names = "--no-large-hours",
              description = "Lets packages of any size come in at any time.")
          boolean atAnyTime) {
    Site before = context.site(name);
    SiteDraft draft =
        new SiteDraft()
            .name(other == null ? before.getName() : other)
            .address(address == null ? before.getAddress() : address)
            .latitude(latitude == null ? before.getLatitude() : latitude)
            .longitude(longitude == null ? before.getLongitude() : longitude)
            .outline(none ? List.of() : outline(corners))
            .largePackages(
                atAnyTime ? new LargePackagesDraft() : large.over(before.getLargePackages()));
    Site s =
        call(
            () ->
                context
                    .client()
                    .organisation()
                    .changeSite(before.getId(), Context.onVersion(before.getVersion()), draft));
    return context.print(s, () -> context.line("Site %s changed.", s.getName()));
  }

  /** Corners as they were typed; null where none were, which leaves the outline as it is. */
  private static @Nullable List<List<BigDecimal>> outline(@Nullable List<String> corners) {
    return corners == null ? null : corners.stream().map(SiteCommands::corner).toList();
  }

  private static List<BigDecimal> corner(String typed) {
    Matcher numbers = TWO_NUMBERS.matcher(typed);
    if (!numbers.matches()) {
      throw new Failure(
          Failure.USAGE,
          "A corner is a longitude and a latitude in degrees, such as -20.51,47.19, and not '"
              + typed
              + "'.");
    }
    return List.of(new BigDecimal(numbers.group(1)), new BigDecimal(numbers.group(2)));
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

  @Command(
      mixinStandardHelpOptions = true,
      description = "Lists the caches of packages and how much of it did not cross the line.")
  int caches() {
    SiteCacheList all = call(() -> context.client().organisation().listSiteCaches());
    return context.list(
        all,
        all.getItems(),
        c ->
            new Object[] {
              c.getSite(),
              c.getAddress(),
              c.getWorking() ? "in use" : "not in use: " + c.getFault(),
              bytes(c.getLineBytes()),
              bytes(c.getServedBytes()),
              saved(c)
            },
        "SITE",
        "ADDRESS",
        "NOW",
        "OVER THE LINE",
        "TO DEVICES",
        "SAVED");
  }

  /** The version of a site's cache; 0 where there is none. */
  private int version(String site) {
    return call(() -> context.client().organisation().listSiteCaches()).getItems().stream()
        .filter(c -> c.getSiteId().equals(site))
        .findFirst()
        .map(SiteCache::getVersion)
        .orElse(0);
  }

  private static String bytes(long n) {
    return n < 1_000_000 ? n / 1_000 + " kB" : n / 1_000_000 + " MB";
  }

  private static String saved(SiteCache c) {
    return c.getServedBytes() == 0
        ? ""
        : Math.max(0, 100 - 100 * c.getLineBytes() / c.getServedBytes()) + " %";
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Says where the cache of a site is; it is used once it is heard.",
      footer = {
        "",
        "Example:",
        "  pinwright site cache \"Skarne ridge\" https://cache.observatory.vellmar.example:8443",
        "  pinwright site cache-script \"Skarne ridge\" set-up.sh"
      })
  int cache(
      @Parameters(paramLabel = "NAME") String name,
      @Parameters(paramLabel = "ADDRESS") String address) {
    String id = context.site(name).getId();
    SiteCache c =
        call(
            () ->
                context
                    .client()
                    .organisation()
                    .setSiteCache(
                        id, Context.onVersion(version(id)), new SiteCachePlace().address(address)));
    return context.print(
        c,
        () ->
            context.line(
                "Cache of %s is at %s. Set it up there: pinwright site cache-script \"%s\" FILE",
                c.getSite(), c.getAddress(), c.getSite()));
  }

  @Command(
      name = "cache-script",
      mixinStandardHelpOptions = true,
      description = "Writes the script that sets the cache up on the machine it is run on.")
  int script(
      @Parameters(paramLabel = "NAME") String name, @Parameters(paramLabel = "FILE") Path file) {
    String id = context.site(name).getId();
    SiteCacheScript script = call(() -> context.client().organisation().makeSiteCacheScript(id));
    FileText.write(file, script.getText());
    context.line("%s written. Run it on the machine at %s, as root: sh %s", file, name, file);
    return 0;
  }

  @Command(
      name = "cache-off",
      mixinStandardHelpOptions = true,
      description = "Takes the cache of a site away; its devices fetch from the service again.")
  int off(@Parameters(paramLabel = "NAME") String name) {
    Site s = context.site(name);
    Context.act(
        () ->
            context
                .client()
                .organisation()
                .removeSiteCache(s.getId(), Context.onVersion(version(s.getId()))));
    context.line("Cache of %s taken away.", s.getName());
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
