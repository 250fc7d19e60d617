package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;
import static dev.pinwright.cli.Context.counted;

import dev.pinwright.client.model.AppDetail;
import dev.pinwright.client.model.CountryList;
import dev.pinwright.client.model.Licensing;
import dev.pinwright.client.model.PlatformKey;
import dev.pinwright.client.model.StoreApp;
import dev.pinwright.client.model.StoreAppChoice;
import dev.pinwright.client.model.StoreAppList;
import dev.pinwright.client.model.StoreReading;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code store}. */
@Command(
    name = "store",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description =
        "Apps of the platforms' stores: countries, search, add, read. A store is connected by"
            + " pinwright gateway store; what was bought there shows pinwright license.",
    footer = {
      "",
      "Example:",
      "  pinwright store search tarn reader --country XV",
      "  pinwright store add tarn lumen.reader",
      "  pinwright store read tarn"
    })
final class StoreCommands {
  private final Context context;

  StoreCommands(Context context) {
    this.context = context;
  }

  @Command(mixinStandardHelpOptions = true, description = "Lists where a store sells apps.")
  int countries(
      @Parameters(paramLabel = "PLATFORM", description = "${COMPLETION-CANDIDATES}.")
          PlatformKey platform) {
    CountryList all = call(() -> context.client().apps().listStoreCountries(platform));
    return context.list(
        all, all.getItems(), c -> new Object[] {c.getCode(), c.getName()}, "CODE", "NAME");
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Searches a store in words; what is not sold in the country says so.")
  int search(
      @Parameters(paramLabel = "PLATFORM", description = "${COMPLETION-CANDIDATES}.")
          PlatformKey platform,
      @Parameters(paramLabel = "WORDS", arity = "0..1", defaultValue = "") String words,
      @Option(
              names = "--country",
              required = true,
              paramLabel = "CODE",
              description = "Two capital letters; pinwright store countries lists them.")
          String country) {
    StoreAppList found = call(() -> context.client().apps().searchStore(platform, country, words));
    return context.list(
        found,
        found.getItems(),
        a ->
            new Object[] {
              a.getName(),
              a.getId(),
              a.getPublisher(),
              a.getVersion(),
              a.getPrice() == null ? "not sold in " + country : a.getPrice(),
              licensed(a),
              a.getAppId() == null ? "" : "yes"
            },
        "NAME",
        "ID",
        "PUBLISHER",
        "VERSION",
        "PRICE",
        "LICENSES",
        "HERE");
  }

  private static String licensed(StoreApp a) {
    return a.getLicensing() == Licensing.FREE
        ? "none needed"
        : a.getLicensing() == Licensing.BY_DEVICE ? "one per device" : "one per holder";
  }

  @Command(mixinStandardHelpOptions = true, description = "Adds an app of a store.")
  int add(
      @Parameters(paramLabel = "PLATFORM", description = "${COMPLETION-CANDIDATES}.")
          PlatformKey platform,
      @Parameters(paramLabel = "ID", description = "As the search shows it.") String id) {
    AppDetail a =
        call(() -> context.client().apps().addStoreApp(platform, new StoreAppChoice().id(id)));
    return context.print(
        a,
        () ->
            context.line(
                "%s added; %s is released to all. Assign it: pinwright app assign \"%s\" required"
                    + " ...",
                a.getApp().getName(), a.getApp().getForAll(), a.getApp().getName()));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Reads what a store says of its apps here, and what was bought.")
  int read(
      @Parameters(paramLabel = "PLATFORM", description = "${COMPLETION-CANDIDATES}.")
          PlatformKey platform) {
    StoreReading r = call(() -> context.client().apps().readStore(platform));
    return context.print(
        r,
        () ->
            context.line(
                "%s read, %s; %s in %s.",
                counted(r.getApps().longValue(), "app"),
                counted(r.getNewVersions().longValue(), "new version"),
                counted(r.getOwned(), "license"),
                counted(r.getPools().longValue(), "pool")));
  }
}
