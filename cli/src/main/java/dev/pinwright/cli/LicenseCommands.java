package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;
import static dev.pinwright.cli.Context.counted;

import dev.pinwright.client.model.LicenseMove;
import dev.pinwright.client.model.LicensePool;
import dev.pinwright.client.model.LicensePoolPage;
import dev.pinwright.client.model.LicensePoolPlace;
import dev.pinwright.client.model.Redeemed;
import dev.pinwright.client.model.RedemptionFault;
import dev.pinwright.client.model.RedemptionSheet;
import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code license}. */
@Command(
    name = "license",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description =
        "License pools, one for each app and place: list, site, move, redeem. They are bought in the"
            + " vendor's portal and appear by pinwright store read.",
    footer = {
      "",
      "Example:",
      "  pinwright license list",
      "  pinwright license site \"Lumen Reader\" Ulby --site Glasshouse",
      "  pinwright license move \"Lumen Reader\" Ulby \"Norhaven quay\" 5"
    })
final class LicenseCommands {
  private final Context context;

  LicenseCommands(Context context) {
    this.context = context;
  }

  @Command(mixinStandardHelpOptions = true, description = "Lists pools and how long they last.")
  int list(
      @Parameters(paramLabel = "WORDS", arity = "0..1", defaultValue = "") String words,
      @Mixin Paging paging) {
    LicensePoolPage page =
        call(
            () ->
                context.client().apps().listLicensePools(words, null, paging.after, paging.limit));
    return context.list(
        page,
        page.getItems(),
        p ->
            new Object[] {
              p.getApp(),
              p.getPlace(),
              p.getSite() == null ? "every site" : p.getSite(),
              p.getOwned(),
              p.getUsed(),
              p.getFree(),
              p.getLacking() == 0 ? "" : p.getLacking(),
              lasts(p)
            },
        "APP",
        "PLACE",
        "FOR",
        "OWNED",
        "USED",
        "FREE",
        "SHORT",
        "LASTS");
  }

  private static String lasts(LicensePool p) {
    return p.getDaysLeft() == null
        ? ""
        : p.getDaysLeft() == 0 ? "none left" : counted(p.getDaysLeft(), "day");
  }

  /** The pool of an app for a place, as people call the two. */
  private LicensePool pool(String app, String place) {
    String id = context.app(app).getId();
    List<LicensePool> pools =
        call(() -> context.client().apps().listLicensePools(null, id, null, 200)).getItems();
    return pools.stream()
        .filter(p -> p.getPlace().toLowerCase(Locale.ROOT).equals(place.toLowerCase(Locale.ROOT)))
        .findFirst()
        .orElseThrow(
            () ->
                new Failure(
                    Failure.REFUSED,
                    "There are no licenses of %s for %s; there are for: %s."
                        .formatted(
                            app,
                            place,
                            String.join(
                                ", ", pools.stream().map(LicensePool::getPlace).toList()))));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Says whose devices draw on a pool; those of every site without --site.")
  int site(
      @Parameters(paramLabel = "APP") String app,
      @Parameters(paramLabel = "PLACE") String place,
      @Option(names = "--site", paramLabel = "SITE") @Nullable String site) {
    LicensePool before = pool(app, place);
    LicensePoolPlace body = new LicensePoolPlace();
    if (site != null) {
      body.siteId(context.site(site).getId());
    }
    LicensePool p =
        call(
            () ->
                context
                    .client()
                    .apps()
                    .placeLicensePool(
                        before.getId(), Context.onVersion(before.getVersion()), body));
    return context.print(
        p,
        () ->
            context.line(
                "Licenses of %s for %s go to the devices of %s.",
                p.getApp(), p.getPlace(), p.getSite() == null ? "every site" : p.getSite()));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Moves licenses nobody holds to another place.")
  int move(
      @Parameters(paramLabel = "APP") String app,
      @Parameters(paramLabel = "FROM") String from,
      @Parameters(paramLabel = "TO") String to,
      @Parameters(paramLabel = "NUMBER") long number) {
    LicensePool before = pool(app, from);
    LicensePool p =
        call(
            () ->
                context
                    .client()
                    .apps()
                    .moveLicenses(before.getId(), new LicenseMove().place(to).number(number)));
    return context.print(
        p,
        () ->
            context.line(
                "%s moved to %s; %s of %s left for %s.",
                counted(number, "license"), to, p.getFree(), p.getOwned(), from));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description =
          "Redeems codes of the older kind, one a line in a sheet; each becomes a license for the"
              + " place.",
      footer = {
        "",
        "Example:",
        "  pinwright license redeem \"Lumen Reader\" Ulby codes.csv --dry-run"
      })
  int redeem(
      @Parameters(paramLabel = "APP") String app,
      @Parameters(paramLabel = "PLACE") String place,
      @Parameters(paramLabel = "FILE") Path sheet,
      @Option(names = "--dry-run", description = "Only say what they are worth.") boolean dry)
      throws IOException {
    RedemptionSheet codes =
        new RedemptionSheet()
            .appId(context.app(app).getId())
            .place(place)
            .sheet(FileText.read(sheet, "codes"))
            .save(!dry);
    Redeemed r = call(() -> context.client().apps().redeemCodes(codes));
    return context.print(
        r,
        () -> {
          context.line(
              "%s %s, %d not.",
              counted(r.getGood(), "code"),
              dry ? "can be redeemed" : "redeemed",
              r.getFaults().size());
          r.getFaults()
              .forEach(f -> context.line("  line %d, …%s: %s", f.getLine(), f.getEnds(), said(f)));
        });
  }

  private static String said(RedemptionFault f) {
    return switch (f.getJudgement()) {
      case SPENT -> "was redeemed before";
      case OTHER_APP -> "is of another app";
      case TWICE -> "stands in the sheet before";
      default -> "the store does not know it";
    };
  }
}
