package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.AppDetail;
import dev.pinwright.client.model.AppState;
import dev.pinwright.client.model.DeviceApp;
import dev.pinwright.client.model.EnrollmentProfileDraft;
import dev.pinwright.client.model.Invitation;
import dev.pinwright.client.model.InvitationDraft;
import dev.pinwright.client.model.LargePackagesDraft;
import dev.pinwright.client.model.Mode;
import dev.pinwright.client.model.Ownership;
import dev.pinwright.client.model.Placement;
import dev.pinwright.client.model.Site;
import dev.pinwright.client.model.SiteDraft;
import dev.pinwright.core.app.Installed;
import dev.pinwright.core.app.Inventory;
import dev.pinwright.core.session.Subtree;
import dev.pinwright.core.tree.Leaf;
import dev.pinwright.protocol.dm.DeviceSession;
import dev.pinwright.protocol.dm.Dm;
import dev.pinwright.protocol.dm.Inventories;
import dev.pinwright.protocol.pki.Pki;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** Apps and a device that is not ours: it tells too much, hears too little, takes too small. */
class AppWireTest {
  private static Rig rig;
  private static Desk desk;

  @BeforeAll
  static void start() throws Exception {
    rig = new Rig();
    desk = new Desk(rig);
  }

  @AfterAll
  static void stop() {
    rig.close();
  }

  private static Wire.Joined joined(Invitation by, String serial) throws ApiException {
    var root = Pki.certificate(rig.client.intake().getJoinFile(by.getId()).getRoot());
    return new Wire(rig.deviceUrl(), root, null, null).joined(by.getCode(), serial, root);
  }

  private static void require(Path file, Wire.Joined device, Map<String, Object> more)
      throws ApiException, IOException {
    AppDetail app = desk.bring(file);
    desk.release(app, 1);
    desk.publish(desk.assignment(app, "required", Desk.device(device.id()), more));
  }

  private static List<DeviceApp> apps(Wire.Joined device) throws ApiException {
    return rig.client.devices().listDeviceApps(device.id()).getApps();
  }

  private static Installed app(String id, boolean managed) {
    return new Installed(id, id, "3.1", true, managed, 1_000, "holder", "", id);
  }

  /** A device that accepts what it is told to install, and never does it. */
  private static final class Stranger extends StrangeDevice {
    private final List<String> ordered = new ArrayList<>();
    private final List<String> options = new ArrayList<>();
    private final Inventory inventory;

    Stranger(Installed... apps) {
      inventory = Inventory.of(List.of(apps));
      leaves.putAll(Inventories.write(inventory));
    }

    List<DeviceSession.Outstanding> tells() {
      return List.of(
          digest(Subtree.POLICY), Wire.alert(Subtree.INVENTORY.digestAlert(), inventory.digest()));
    }

    @Override
    public int put(String uri, Leaf leaf, boolean mayExist) {
      if (uri.endsWith("/InstallOpts")) {
        options.add(leaf.value());
      }
      return super.put(uri, leaf, mayExist);
    }

    @Override
    public int exec(String uri, @Nullable String data, @Nullable String correlator) {
      ordered.add(String.valueOf(correlator));
      return Dm.ACCEPTED;
    }
  }

  @Test
  void ofAPersonalDeviceItsHoldersOwnAppsAreNotKeptWhoeverSendsThem() throws Exception {
    Invitation own =
        rig.client
            .intake()
            .addInvitation(
                new InvitationDraft()
                    .profileId(
                        desk.enrollment(
                                new EnrollmentProfileDraft()
                                    .name("Own")
                                    .ownership(Ownership.PERSONAL)
                                    .mode(Mode.WORK_PROFILE))
                            .getId())
                    .uses(3));
    Wire.Joined personal = joined(own, "APP-0001");
    Stranger device = new Stranger(app("private.diary", false), app("vellmar.mail", true));
    personal.session(device, "1", 60_000, device.tells());
    assertThat(apps(personal).toString()).contains("vellmar.mail").doesNotContain("private.diary");
    assertThat(device.ordered).as("what nobody assigned is taken away").hasSize(1);
    assertThat(Sql.text(rig, "select count(*) from device_app where app = 'private.diary'"))
        .isEqualTo("0");

    Wire.Joined ours = joined(desk.kiosks("Kiosks", 3), "APP-0002");
    ours.session(device, "1", 60_000, device.tells());
    assertThat(apps(ours).toString()).as("a device of ours").contains("private.diary");
  }

  @Test
  void whatFitsIntoNoMessageOfTheDeviceIsSaidAndNotTriedWithoutEnd() throws Exception {
    Wire.Joined small = joined(desk.kiosks("Small", 3), "APP-0003");
    require(
        Packages.of("vellmar.log", "Log", 1, 9, Packages.CONFIGURED, Packages.WORKSHOP),
        small,
        Map.of("apps[log].configuration", "{\"house\":\"" + "x".repeat(5_000) + "\"}"));
    Stranger device = new Stranger();
    assertThat(small.session(device, "1", 4_000, device.tells())).isLessThan(8);
    assertThat(device.ordered).isEmpty();
    DeviceApp told = apps(small).get(0);
    assertThat(told.getState()).isEqualTo(AppState.FAILING);
    assertThat(told.getReason()).contains("larger than a message the device takes");
    assertThat(small.session(device, "2", 4_000, device.tells()))
        .as("nothing to say until it is due again")
        .isEqualTo(1);
    assertThat(
            Sql.text(
                rig,
                "select apps_due > now() + interval '5 minutes' from device_state"
                    + " where device_id = '"
                    + small.id()
                    + "'"))
        .isEqualTo("t");
  }

  @Test
  void whatIsTooLargeForTheLineOfASiteComesInAtItsTimes() throws Exception {
    Site ridge =
        rig.client
            .organisation()
            .addSite(
                new SiteDraft()
                    .name("Ridge")
                    .largePackages(
                        new LargePackagesDraft().aboveMegabytes(0).hours("Mon-Sun 22:00-06:00")));
    Wire.Joined slow = joined(desk.kiosks("Slow", 3), "APP-0007");
    rig.client
        .devices()
        .placeDevice(
            slow.id(),
            Desk.onVersion(desk.card(slow.id()).getVersion()),
            new Placement().siteId(ridge.getId()));
    require(
        Packages.of("vellmar.sky", "Sky", 1, 9, Packages.CONFIGURED, Packages.WORKSHOP),
        slow,
        Map.of());
    Stranger device = new Stranger();
    slow.session(device, "1", 60_000, device.tells());
    assertThat(device.options.get(0)).contains("\"hours\":\"Mon-Sun 22:00-06:00\"");
    assertThat(apps(slow).get(0).getComes()).isEqualTo("Mon-Sun 22:00-06:00");

    assertThatThrownBy(
            () ->
                rig.client
                    .organisation()
                    .changeSite(
                        ridge.getId(),
                        "\"" + ridge.getVersion() + "\"",
                        new SiteDraft()
                            .name("Ridge")
                            .largePackages(
                                new LargePackagesDraft().aboveMegabytes(9).hours("nights"))))
        .hasMessageContaining("/largePackages/hours")
        .hasMessageContaining("Mon-Fri 20:00-06:00");
    Site quick =
        rig.client
            .organisation()
            .changeSite(
                ridge.getId(),
                "\"" + ridge.getVersion() + "\"",
                new SiteDraft().name("Ridge").largePackages(new LargePackagesDraft()));
    assertThat(quick.getLargePackages()).isNull();
    assertThat(apps(slow).get(0).getComes()).isNull();
  }

  @Test
  void aWishForWhatIsNotOnTheShelfIsAnsweredInWordsHoweverItIsWritten() throws Exception {
    Wire.Joined wishing = joined(desk.kiosks("Wishing", 3), "APP-0006");
    Stranger device = new Stranger();
    wishing.session(device, "1", 60_000, device.tells());
    List<DeviceSession.Outstanding> told = new ArrayList<>(device.tells());
    told.add(Wire.alert(Dm.TYPE_SHELF_WISH, "vellmar.nothing"));
    told.add(Wire.alert(Dm.TYPE_SHELF_WISH, "'; drop table app; --" + "x".repeat(3_000)));
    wishing.session(device, "2", 60_000, told);
    assertThat(device.shown).hasSize(1);
    assertThat(device.shown.iterator().next())
        .contains("vellmar.nothing is not on the shelf any more.")
        .hasSizeLessThan(300);
    assertThat(device.ordered).isEmpty();
    assertThat(Sql.text(rig, "select count(*) from app_wish")).isEqualTo("0");
    assertThat(wishing.session(device, "3", 60_000, device.tells())).isEqualTo(1);
  }

  @Test
  void anOrderThatWasNotHeardIsRepeatedAsTheSameAndEndsByItsOwnDeviceAlone() throws Exception {
    Invitation kiosks = desk.kiosks("Deaf", 3);
    Wire.Joined deaf = joined(kiosks, "APP-0004");
    Wire.Joined other = joined(kiosks, "APP-0005");
    require(Packages.rota(1, ""), deaf, Map.of());
    Stranger device = new Stranger();
    deaf.session(device, "0", 60_000, device.tells());
    String first = device.ordered.get(0);
    Sql.run(rig, "update app_attempt set state = 'sent' where id = '" + first + "'");
    deaf.unheard(device, "1", device.tells());
    deaf.session(device, "2", 60_000, device.tells());
    assertThat(device.ordered).containsExactly(first, first);

    DeviceSession.Outstanding done =
        new DeviceSession.Outstanding(Dm.TYPE_APP_DONE, "1405", Optional.of(first));
    List<DeviceSession.Outstanding> told = new ArrayList<>(device.tells());
    told.add(done);
    other.session(new Stranger(), "1", 60_000, told);
    assertThat(apps(deaf).get(0).getState()).isEqualTo(AppState.UNDER_WAY);
    deaf.session(device, "3", 60_000, told);
    assertThat(apps(deaf).get(0).getState()).isEqualTo(AppState.FAILING);
    assertThat(apps(deaf).get(0).getReason()).contains("could not install it");
  }
}
