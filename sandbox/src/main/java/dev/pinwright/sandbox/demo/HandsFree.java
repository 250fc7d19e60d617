package dev.pinwright.sandbox.demo;

import com.fasterxml.jackson.databind.JsonNode;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.sandbox.Outside;
import dev.pinwright.sandbox.vendor.Vendor;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;

/** Connects the vendors of the demo, as far as Vellmar has got: Tarn wholly, Fjell half. */
final class HandsFree {
  static final String PROFILE = "Lighthouse kiosks";
  static final String ACCOUNT = "it@vellmar.example";
  private static final int LAPSES_IN_DAYS = 19;
  private static final int YEAR = 365;
  private final Outside outside;
  private final ApiCalls api;

  HandsFree(Outside outside, ApiCalls api) {
    this.outside = outside;
    this.api = api;
  }

  /**
   * Connects what is connected.
   *
   * @param serials of Tarn devices that come hands-free
   * @param profileId what devices of Tarn's registrar join by
   */
  void connect(List<String> serials, String profileId) {
    Vendor tarn = services("tarn");
    // a little more than nineteen days, so that nineteen are left all day
    credential(tarn, LAPSES_IN_DAYS + 1);
    credential(services("fjell"), YEAR);
    List<Vendor.Sold> sold = new ArrayList<>();
    serials.forEach(s -> sold.add(new Vendor.Sold(s, null, "T10", "tablet")));
    for (int i = 0; i < 3; i++) {
      sold.add(new Vendor.Sold("AR10-4%03d-0150".formatted(i), null, "T10", "tablet"));
    }
    tarn.register(ACCOUNT, "VM-2026-114", sold);
    outside.vendors().save();
    api.put(
        "/gateways/tarn/registrar",
        "/gateways/tarn",
        Map.of("token", tarn.account(ACCOUNT).registrarToken()));
    api.put("/gateways/tarn/registrar/profile", "/gateways/tarn", Map.of("profileId", profileId));
    api.post("/gateways/tarn/registrar/assignment", Map.of("serials", serials));
    for (String platform : List.of("tarn", "fjell")) {
      api.put(
          "/gateways/" + platform + "/store",
          "/gateways/" + platform,
          Map.of("token", outside.vendors().of(platform).account(ACCOUNT).storeToken()));
    }
  }

  private Vendor services(String platform) {
    Vendor vendor = outside.vendors().of(platform);
    api.put(
        "/gateways/" + platform,
        "/gateways/" + platform,
        Map.of("services", outside.vendors().address(platform), "roots", Pki.pem(vendor.root())));
    return vendor;
  }

  private void credential(Vendor vendor, int days) {
    JsonNode asked = api.post("/gateways/" + vendor.platform() + "/push/request", Map.of());
    api.put(
        "/gateways/" + vendor.platform() + "/push/credential",
        "/gateways/" + vendor.platform(),
        Map.of(
            "certificate",
            vendor.sign(ACCOUNT, asked.path("push").path("request").asText(), days)));
  }
}
