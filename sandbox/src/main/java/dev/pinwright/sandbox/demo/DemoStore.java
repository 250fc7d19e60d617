package dev.pinwright.sandbox.demo;

import dev.pinwright.core.license.Licensing;
import dev.pinwright.protocol.pack.PackageRefused;
import dev.pinwright.sandbox.vendor.VendorStore;
import dev.pinwright.sandbox.vendor.Vendors;
import java.awt.Color;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** What the vendors' stores sell, what the museums bought there, and whom it is for. */
final class DemoStore {
  /** Tablets the re-enactors of the Folk Yard share. */
  private static final int TABLETS = 18;

  private static final int LACKING = 4;
  private static final int FOR_ALL = 5;
  private static final String COUNTRY = "XV";
  private static final String READER = "lumen.reader";
  private static final String MAIL = "orre-post.staff-mail";

  private final ApiCalls api;
  private final Vendors vendors;
  private final DemoApps apps;

  DemoStore(ApiCalls api, Vendors vendors, DemoApps apps) {
    this.api = api;
    this.vendors = vendors;
    this.apps = apps;
  }

  /** Puts apps on sale. */
  private void fill() {
    DemoPackages lumen = new DemoPackages("Lumen House", "Lumen House publishing");
    DemoPackages orre = new DemoPackages("Orre Post", "Orre Post software");
    String network = "\"permissions\":[\"network\"]";
    DemoPackages.App reader =
        new DemoPackages.App(
            READER,
            "Lumen Reader",
            "reading",
            "Books and papers, also without a network.",
            new Color(0x8a6d1f),
            List.of("tarn"),
            network);
    publish("tarn", lumen, reader, 71, "7.1", Licensing.BY_DEVICE, "4.50 crowns", "5 crowns");
    publish(
        "tarn",
        lumen,
        new DemoPackages.App(
            "lumen.atlas",
            "Lumen Atlas",
            "reading",
            "Maps of seas and coasts.",
            new Color(0x1f5f8a),
            List.of("tarn"),
            network),
        12,
        "1.2",
        Licensing.BY_DEVICE,
        null,
        "9 crowns");
    publish(
        "fjell",
        orre,
        new DemoPackages.App(
            MAIL,
            "Staff Mail",
            "staff",
            "Letters and appointments.",
            new Color(0x3c6e71),
            List.of("fjell"),
            network),
        30,
        "3.0",
        Licensing.BY_HOLDER,
        "12 crowns a year",
        "12 crowns a year");
    publish(
        "fjell",
        lumen,
        new DemoPackages.App(
            "lumen.reader-fjell",
            "Lumen Reader",
            "reading",
            "Books and papers, also without a network.",
            new Color(0x8a6d1f),
            List.of("fjell"),
            network),
        71,
        "7.1",
        Licensing.BY_DEVICE,
        "4.50 crowns",
        "5 crowns");
  }

  private void publish(
      String platform,
      DemoPackages by,
      DemoPackages.App app,
      int code,
      String version,
      Licensing licensing,
      @Nullable String here,
      String elsewhere) {
    try {
      vendors
          .of(platform)
          .store()
          .publish(
              by.packed(app, code, version, ""),
              licensing,
              here == null ? Map.of("XA", elsewhere) : Map.of(COUNTRY, here, "XA", elsewhere));
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    } catch (PackageRefused e) {
      throw new IllegalStateException(e);
    }
  }

  /**
   * Buys licenses, for four devices fewer than are to have the app, and assigns what was bought.
   */
  void write() {
    fill();
    VendorStore tarn = vendors.of("tarn").store();
    tarn.buy(HandsFree.ACCOUNT, READER, "Tollen", COUNTRY, TABLETS - FOR_ALL - LACKING);
    tarn.buy(HandsFree.ACCOUNT, READER, "Trust office", COUNTRY, FOR_ALL);
    vendors.of("fjell").store().buy(HandsFree.ACCOUNT, MAIL, "Trust office", COUNTRY, 20);
    vendors.save();
    for (String platform : List.of("tarn", "fjell")) {
      api.post("/gateways/" + platform + "/store/reading", Map.of());
    }
    apps.assign(
        READER, "Lumen Reader for the re-enactors", "required", Map.of(), apps.unit("VM-FOL"));
    apps.assign(MAIL, "Staff Mail at the harbour", "required", Map.of(), apps.unit("VM-HAR"));
  }
}
