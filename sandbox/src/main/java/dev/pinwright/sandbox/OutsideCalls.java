package dev.pinwright.sandbox;

import static dev.pinwright.sandbox.SandboxListener.json;
import static dev.pinwright.sandbox.SandboxListener.read;

import dev.pinwright.protocol.pack.PrintedConfiguration;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.sandbox.bench.Cable;
import dev.pinwright.sandbox.device.Agent;
import dev.pinwright.sandbox.device.Fleet;
import dev.pinwright.sandbox.link.ConfigurationReader;
import dev.pinwright.sandbox.office.MailCatcher;
import dev.pinwright.sandbox.office.StaffDirectory;
import dev.pinwright.sandbox.vendor.Vendor;
import dev.pinwright.sandbox.vendor.VendorStore;
import dev.pinwright.sandbox.vendor.Vendors;
import io.javalin.config.RoutesConfig;
import io.javalin.http.Context;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** Calls of the pages besides devices: the vendors' portal, the mail catcher, the bench's cable. */
public final class OutsideCalls {
  private static final int YEAR = 365;
  private final Fleet fleet;
  private final Vendors vendors;
  private final MailCatcher mail;
  private final StaffDirectory directory;
  private final Cable cable;

  public OutsideCalls(
      Fleet fleet, Vendors vendors, MailCatcher mail, StaffDirectory directory, Cable cable) {
    this.fleet = fleet;
    this.vendors = vendors;
    this.mail = mail;
    this.directory = directory;
    this.cable = cable;
  }

  private record Signing(
      @Nullable String account, @Nullable String request, @Nullable Integer days) {}

  private record Sale(
      @Nullable String account, @Nullable String order, @Nullable List<Vendor.Sold> devices) {}

  private record Purchase(
      @Nullable String account,
      @Nullable String app,
      @Nullable String place,
      @Nullable String country,
      long number) {}

  private record Scan(@Nullable String link, byte @Nullable [] picture) {}

  private record Session(@Nullable String link) {}

  private record Plugged(int rack, int slot, @Nullable String device, @Nullable String model) {}

  private record Up(boolean up) {}

  private record VendorShown(String platform, String services, String root) {}

  private record AccountShown(String account, String registrarToken, String storeToken) {}

  private record SoldShown(
      String serial, String account, String model, String order, boolean assigned) {}

  /** Puts the calls in. */
  public void install(RoutesConfig r) {
    r.get(
        "/api/vendors",
        ctx ->
            json(
                ctx,
                vendors.all().stream()
                    .map(
                        v ->
                            new VendorShown(
                                v.platform(), vendors.address(v.platform()), Pki.pem(v.root())))
                    .toList()));
    r.get("/api/vendors/{platform}/accounts/{name}", this::account);
    r.post("/api/vendors/{platform}/credentials", this::sign);
    r.get(
        "/api/vendors/{platform}/devices",
        ctx ->
            json(
                ctx,
                vendor(ctx).registered().stream()
                    .map(
                        d ->
                            new SoldShown(
                                d.serial(), d.account(), d.model(), d.order(), d.assigned()))
                    .toList()));
    r.post("/api/vendors/{platform}/devices", this::sell);
    r.get("/api/store-countries", ctx -> json(ctx, VendorStore.COUNTRIES));
    r.get("/api/vendors/{platform}/store/apps", ctx -> json(ctx, vendor(ctx).store().offers()));
    r.post("/api/vendors/{platform}/store/apps", this::offer);
    r.delete(
        "/api/vendors/{platform}/store/apps/{app}",
        ctx -> {
          vendor(ctx).store().withdraw(ctx.pathParam("app"));
          vendors.save();
          ctx.status(204);
        });
    r.get("/api/vendors/{platform}/store/licenses", ctx -> json(ctx, vendor(ctx).store().bought()));
    r.post("/api/vendors/{platform}/store/licenses", this::buy);
    r.post(
        "/api/vendors/{platform}/store/codes",
        ctx -> {
          Purchase p = read(ctx, Purchase.class);
          List<String> codes =
              vendor(ctx).store().codes(plain(p.app()), plain(p.country()), p.number());
          vendors.save();
          json(ctx, Map.of("codes", codes));
        });
    r.post("/api/reader", this::scan);
    r.get("/api/mail", ctx -> json(ctx, mail.letters()));
    r.post(
        "/api/directory",
        ctx -> {
          boolean up = read(ctx, Up.class).up();
          if (up) {
            directory.up();
          } else {
            directory.down();
          }
          json(ctx, Map.of("up", up));
        });
    r.get("/api/cable", ctx -> json(ctx, cable.shown()));
    r.post(
        "/api/cable",
        ctx -> {
          cable.connect(plain(read(ctx, Session.class).link()));
          json(ctx, cable.shown());
        });
    r.post("/api/cable/plug", this::plug);
    r.post(
        "/api/cable/unplug",
        ctx -> {
          Plugged p = read(ctx, Plugged.class);
          cable.unplug(p.rack(), p.slot()).join();
          json(ctx, cable.shown());
        });
  }

  private static String plain(@Nullable String s) {
    return s == null ? "" : s;
  }

  private Vendor vendor(Context ctx) {
    return vendors.of(ctx.pathParam("platform"));
  }

  private void account(Context ctx) {
    var a = vendor(ctx).account(ctx.pathParam("name"));
    vendors.save();
    json(ctx, new AccountShown(a.name(), a.registrarToken(), a.storeToken()));
  }

  private void sign(Context ctx) {
    Signing s = read(ctx, Signing.class);
    String pem =
        vendor(ctx)
            .sign(plain(s.account()), plain(s.request()), s.days() == null ? YEAR : s.days());
    vendors.save();
    json(ctx, Map.of("certificate", pem));
  }

  private void sell(Context ctx) {
    Sale s = read(ctx, Sale.class);
    vendor(ctx)
        .register(
            plain(s.account()), plain(s.order()), s.devices() == null ? List.of() : s.devices());
    vendors.save();
    ctx.status(204);
  }

  /** A publisher puts another version on sale. */
  private void offer(Context ctx) {
    VendorStore.Offer offer = vendor(ctx).store().update(ctx.bodyAsBytes());
    vendors.save();
    json(ctx, offer);
  }

  private void buy(Context ctx) {
    Purchase p = read(ctx, Purchase.class);
    VendorStore.Stock stock =
        vendor(ctx)
            .store()
            .buy(
                plain(p.account()),
                plain(p.app()),
                plain(p.place()),
                plain(p.country()),
                p.number());
    vendors.save();
    json(ctx, stock);
  }

  /** What an app on a phone that is not enrolled makes of a printed code. */
  private void scan(Context ctx) {
    Scan said = read(ctx, Scan.class);
    String link =
        said.picture() != null
            ? ConfigurationReader.scan(said.picture())
            : Objects.requireNonNullElse(said.link(), "");
    PrintedConfiguration read = new ConfigurationReader(fleet.network()).read(link);
    json(
        ctx,
        Map.of(
            "app", read.app(),
            "name", read.name(),
            "organisation", read.organisation(),
            "unit", read.unit(),
            "until", read.until().toString(),
            "configuration", read.configuration()));
  }

  private void plug(Context ctx) {
    Plugged p = read(ctx, Plugged.class);
    Agent agent =
        p.device() != null
            ? fleet
                .find(p.device())
                .orElseThrow(() -> new IllegalArgumentException("there is no such device here"))
            : fleet.make(
                new Fleet.Wish(p.model() == null ? "T10" : p.model(), null, null, true, 400L));
    cable.plug(p.rack(), p.slot(), agent);
    json(ctx, cable.shown());
  }
}
