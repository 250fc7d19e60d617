package dev.pinwright.acceptance;

import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.DefaultProfile;
import dev.pinwright.client.model.DirectoryDraft;
import dev.pinwright.client.model.Gateway;
import dev.pinwright.client.model.GatewayServices;
import dev.pinwright.client.model.MailDraft;
import dev.pinwright.client.model.PlatformKey;
import dev.pinwright.client.model.RegistrarAssignment;
import dev.pinwright.client.model.SignedCredential;
import dev.pinwright.client.model.VendorToken;
import dev.pinwright.core.license.Licensing;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.sandbox.office.StaffDirectory;
import dev.pinwright.sandbox.office.StaffDirectory.Member;
import dev.pinwright.sandbox.vendor.Vendor;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;

/** Connects a rig to the services outside. */
final class Gates {
  static final String ACCOUNT = "it@vellmar.example";
  private final Rig rig;

  Gates(Rig rig) {
    this.rig = rig;
  }

  Vendor vendor(PlatformKey platform) {
    return rig.handheld.vendors().of(platform.getValue());
  }

  private String version(PlatformKey platform) throws ApiException {
    return Desk.onVersion(rig.client.house().getGateway(platform).getVersion());
  }

  /** Says where a platform's services are. */
  Vendor services(PlatformKey platform) throws ApiException {
    Vendor vendor = vendor(platform);
    rig.client
        .house()
        .setUpGateway(
            platform,
            version(platform),
            new GatewayServices()
                .services(rig.handheld.vendors().address(platform.getValue()))
                .roots(Pki.pem(vendor.root())));
    return vendor;
  }

  /** Gets a push credential signed under an account. */
  Gateway push(PlatformKey platform, String account, int days) throws ApiException {
    String request = rig.client.house().requestPushCredential(platform).getPush().getRequest();
    return rig.client
        .house()
        .takePushCredential(
            platform,
            version(platform),
            new SignedCredential().certificate(vendor(platform).sign(account, request, days)));
  }

  /** Connects the registrar; what joins by it joins by this profile. */
  void registrar(PlatformKey platform, String profileId) throws ApiException {
    rig.client
        .house()
        .connectRegistrar(
            platform,
            version(platform),
            new VendorToken().token(vendor(platform).account(ACCOUNT).registrarToken()));
    rig.client
        .house()
        .chooseRegistrarProfile(
            platform, version(platform), new DefaultProfile().profileId(profileId));
  }

  /** A reseller registers tablets, and they are assigned to this server. */
  void buy(String... serials) throws ApiException {
    vendor(PlatformKey.TARN)
        .register(
            ACCOUNT,
            "VM-2026-114",
            List.of(serials).stream().map(s -> new Vendor.Sold(s, null, "T10", "tablet")).toList());
    rig.client.house().readRegistrar(PlatformKey.TARN);
    rig.client
        .house()
        .assignRegistered(PlatformKey.TARN, new RegistrarAssignment().serials(List.of(serials)));
  }

  void mail() throws ApiException {
    rig.client
        .house()
        .connectMail(
            Desk.onVersion(rig.client.house().getMail().getVersion()),
            new MailDraft()
                .host("127.0.0.1")
                .port(rig.handheld.mail().port())
                .from(ACCOUNT)
                .noticesTo(ACCOUNT));
  }

  /** A directory with two people of the harbour, one of them of the group office. */
  void directory() throws ApiException {
    StaffDirectory d = rig.handheld.directory();
    Member ines =
        new Member(
            "ines.orrin", "Ines Orrin", "ines.orrin@vellmar.example", "VM-HAR", "by the quay");
    Member bo =
        new Member(
            "bo.skarnes", "Bo Skarnes", "bo.skarnes@vellmar.example", "VM-FAR", "on the ridge");
    d.add(List.of(ines, bo));
    d.group("office", List.of(ines));
    connectDirectory(StaffDirectory.READER_PASSWORD);
  }

  void connectDirectory(String password) throws ApiException {
    rig.client
        .house()
        .connectDirectory(
            Desk.onVersion(rig.client.house().getDirectory().getVersion()),
            new DirectoryDraft()
                .address(rig.handheld.directory().address())
                .base(StaffDirectory.BASE)
                .login(StaffDirectory.READER)
                .password(password));
  }

  /** Connects the store. */
  void store(PlatformKey platform) throws ApiException {
    rig.client
        .house()
        .connectStore(
            platform,
            version(platform),
            new VendorToken().token(vendor(platform).account(ACCOUNT).storeToken()));
  }

  /** A publisher puts an app on sale in Vellmar. */
  void sell(PlatformKey platform, Path app, Licensing licensing) throws IOException {
    vendor(platform)
        .store()
        .publish(Files.readAllBytes(app), licensing, Map.of("XV", "4.50 crowns", "XA", "5 crowns"));
  }

  /** The museums buy licenses for a place, and what they bought is read. */
  void license(PlatformKey platform, String app, String place, int number) throws ApiException {
    vendor(platform).store().buy(ACCOUNT, app, place, "XV", number);
    rig.client.apps().readStore(platform);
  }
}
