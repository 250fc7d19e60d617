package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.AppDetail;
import dev.pinwright.client.model.BenchDevice;
import dev.pinwright.client.model.BenchSession;
import dev.pinwright.client.model.BenchSessionDraft;
import dev.pinwright.client.model.BenchWorkDraft;
import dev.pinwright.client.model.BenchWorkOrdered;
import dev.pinwright.client.model.CableWork;
import dev.pinwright.client.model.EnrollmentProfile;
import dev.pinwright.client.model.EnrollmentProfileDraft;
import dev.pinwright.client.model.Mode;
import dev.pinwright.client.model.Ownership;
import dev.pinwright.sandbox.device.Agent;
import dev.pinwright.sandbox.device.Screen;
import dev.pinwright.server.Server;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.Arrays;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Carts of devices, prepared over the cable of a bench. */
class BenchTest {
  private Rig rig;
  private Desk desk;

  @BeforeEach
  void start() {
    rig = new Rig();
    desk = new Desk(rig);
  }

  @AfterEach
  void stop() {
    rig.close();
  }

  @Test
  void aRackIsPreparedOnTheBenchAndGoesOnTomorrow() throws Exception {
    EnrollmentProfile carts =
        desk.enrollment(
            new EnrollmentProfileDraft()
                .name("Carts")
                .mode(Mode.SUPERVISED)
                .namePattern("Cart {seq:3}"));
    BenchSession session =
        rig.client
            .bench()
            .openBenchSession(
                new BenchSessionDraft()
                    .name("Harbour cart")
                    .profileId(carts.getId())
                    .firstNumber(101L)
                    .assetPrefix("VM-")
                    .wifiName("Vellmar-Staff")
                    .wifiSecret("lantern over the quay")
                    .erase(true));
    rig.handheld.cable().connect(session.getLink());
    List<CompletableFuture<Void>> plugged = new java.util.ArrayList<>();
    for (int slot = 1; slot <= 4; slot++) {
      plugged.add(rig.handheld.cable().plug(1, slot, rig.unpackAutomatic("T10")));
    }
    CompletableFuture.allOf(plugged.toArray(CompletableFuture[]::new)).join();
    List<BenchDevice> slots =
        Rig.eventually(
            () -> slots(session),
            s -> s.stream().filter(d -> d.getState().getValue().equals("ready")).count() == 4);
    assertThat(slots)
        .extracting(BenchDevice::getName)
        .containsExactlyInAnyOrder("Cart 101", "Cart 102", "Cart 103", "Cart 104");
    assertThat(slots).extracting(BenchDevice::getAsset).contains("VM-0101", "VM-0104");
    assertThat(desk.card(slots.get(0).getDeviceId()).getFacts())
        .anySatisfy(f -> assertThat(f.getValue()).isEqualTo("Vellmar-Staff"));

    rig.handheld.cable().unplug(1, 4).join();
    rig.client.bench().closeBenchSession(session.getId());
    Agent late = rig.unpackAutomatic("T10");
    rig.handheld.cable().plug(1, 5, late).join();
    assertThat(rig.handheld.cable().shown().told()).contains("is closed");
    rig.handheld.cable().unplug(1, 5);
    rig.client.bench().reopenBenchSession(session.getId());
    rig.handheld.cable().plug(1, 6, late).join();
    Rig.eventually(
        () -> slots(session), s -> s.stream().anyMatch(d -> "Cart 105".equals(d.getName())));
    byte[] pdf = Files.readAllBytes(rig.client.bench().getBenchLabels(session.getId()).toPath());
    assertThat(new String(pdf, 0, 5, StandardCharsets.US_ASCII)).isEqualTo("%PDF-");
    rig.client
        .devices()
        .retireDevice(
            slots.get(1).getDeviceId(), new dev.pinwright.client.model.Reason().reason("broken"));
    assertThat(rig.client.bench().getBenchSession(session.getId()).getMissing())
        .containsExactly(String.valueOf(number(slots.get(1))));
  }

  @Test
  void whatIsPluggedInWhileTheServiceIsAwayJoinsWhenItIsBack() throws Exception {
    EnrollmentProfile carts =
        desk.enrollment(new EnrollmentProfileDraft().name("Carts").mode(Mode.SUPERVISED));
    BenchSession session =
        rig.client
            .bench()
            .openBenchSession(
                new BenchSessionDraft().name("Harbour cart").profileId(carts.getId()));
    rig.handheld.cable().connect(session.getLink());
    rig.server.close();
    Agent device = rig.unpackAutomatic("T10");
    CompletableFuture<Void> plugged = rig.handheld.cable().plug(1, 1, device);
    rig.server = new Server(rig.settings(rig.consolePort, rig.devicePort), Clock.systemUTC());
    plugged.join();
    Rig.eventually(
        () -> slots(session),
        s -> s.stream().anyMatch(d -> d.getState().getValue().equals("ready")));
    assertThat(device.screen().managed()).isTrue();
    assertThat(rig.handheld.cable().shown().told()).isEmpty();
  }

  private BenchSession open(Ownership ownership) throws ApiException {
    EnrollmentProfile p =
        desk.enrollment(
            new EnrollmentProfileDraft()
                .name("Bench " + ++made)
                .ownership(ownership)
                .mode(ownership == Ownership.PERSONAL ? Mode.WORK_PROFILE : Mode.SUPERVISED));
    return rig.client
        .bench()
        .openBenchSession(new BenchSessionDraft().name("Bench " + made).profileId(p.getId()));
  }

  private int made;

  private BenchWorkOrdered work(BenchSession s, CableWork what, String value, Agent... to)
      throws ApiException {
    return rig.client
        .bench()
        .orderBenchWork(
            s.getId(),
            new BenchWorkDraft()
                .what(what)
                .value(value)
                .serials(Arrays.stream(to).map(a -> a.screen().serial()).toList())
                .confirmDevices((long) to.length));
  }

  private BenchDevice slot(BenchSession s, Agent agent) {
    return slots(s).stream()
        .filter(d -> d.getSerial().equals(agent.screen().serial()))
        .findFirst()
        .orElseThrow();
  }

  private void done(BenchSession s, Agent agent, String work) {
    Rig.eventually(() -> slot(s, agent).getWork(), (work + " done")::equals);
  }

  @Test
  void aDeviceThatIsOutOfReachIsSeenAndHelpedByTheCable() throws Exception {
    BenchSession s = open(Ownership.CORPORATE);
    rig.handheld.cable().connect(s.getLink());
    Agent lost = rig.unpackAutomatic("T10");
    rig.handheld.cable().plug(1, 1, lost).join();
    Rig.eventually(() -> slot(s, lost).getState().getValue(), "ready"::equals);
    lost.device().updateOs("7.0");
    lost.device().choosePasscode("483920");
    lost.offline(true);
    Rig.eventually(() -> slot(s, lost).getOsVersion(), "7.0"::equals);
    assertThat(slot(s, lost).getPasscode()).isEqualTo("true");
    assertThat(slot(s, lost).getModel()).isEqualTo("Arbor T10");

    work(s, CableWork.UPDATE_OS, "7.2", lost);
    done(s, lost, "update-os");
    assertThat(lost.screen().osVersion()).isEqualTo("7.2");
    work(s, CableWork.CLEAR_PASSCODE, null, lost);
    done(s, lost, "clear-passcode");
    assertThat(lost.screen().passcodeSet()).isFalse();

    AppDetail notes =
        desk.bring(
            Packages.of(
                "vellmar.notes", "Notes", 3, 20_000, "\"summary\":\"x\"", Packages.WORKSHOP));
    work(s, CableWork.APP, notes.getApp().getId(), lost);
    done(s, lost, "app");
    assertThat(lost.screen().installed()).extracting(Screen.Tile::name).contains("Notes");
    Path rules = Files.createTempFile("House rules", ".txt");
    Files.writeString(rules, "Close the shutters.");
    String file = rig.client.storeFile(rules, "House rules.txt", null).getId();
    Files.delete(rules);
    work(s, CableWork.DOCUMENT, "sha256:" + file, lost);
    done(s, lost, "document");
    assertThat(lost.screen().documents()).extracting(Screen.Document::file).contains(file);

    work(s, CableWork.BACK_UP, "Gallery", lost);
    done(s, lost, "back-up");
    Agent other = rig.unpackAutomatic("T10");
    rig.handheld.cable().plug(1, 2, other).join();
    work(s, CableWork.RESTORE, "Nothing", other);
    Rig.eventually(() -> slot(s, other).getWork(), "restore failed"::equals);
    work(s, CableWork.RESTORE, "Gallery", other);
    done(s, other, "restore");
    assertThat(other.screen().installed()).extracting(Screen.Tile::name).contains("Notes");

    assertThat(work(s, CableWork.RENAME, "Gallery 11", lost).getLeft())
        .singleElement()
        .asString()
        .contains("renamed on its card");
    String id = desk.devices(lost.screen().serial(), 1).get(0).getId();
    assertThat(rig.client.devices().getDeviceActivity(id, null, 50).getItems())
        .extracting(a -> a.getText())
        .contains("By cable, for owner: OS updated (7.2)", "By cable, for owner: passcode cleared");
    String sheet = Files.readString(rig.client.bench().exportBenchFacts(s.getId()).toPath());
    assertThat(sheet).startsWith("rack,slot,serial,").contains("system/os-version", "Arbor T10");
    assertThat(rig.client.bench().listBenchWork(s.getId(), null, 50).getItems())
        .anySatisfy(w -> assertThat(w.getReason()).isEqualTo("this cable keeps no Nothing"));
  }

  @Test
  void whatIsNotToBeErasedOrTouchedIsLeftAlone() throws Exception {
    BenchSession own = open(Ownership.PERSONAL);
    Agent phone = rig.join(rig.unpackAutomatic("P5"), own.getLink());
    Agent managed = rig.join(rig.unpackAutomatic("T10"), desk.kiosks("Kiosks", 3).getLink());
    Agent blank = rig.unpackAutomatic("T10");
    BenchSession s = open(Ownership.CORPORATE);
    rig.handheld.cable().connect(s.getLink());
    rig.handheld.cable().plug(1, 1, phone).join();
    rig.handheld.cable().plug(1, 2, managed).join();
    Rig.eventually(() -> slot(s, managed).getOsVersion() != null, Boolean.TRUE::equals);
    assertThat(slot(s, phone).getOsVersion()).as("nothing it tells is kept").isNull();
    assertThatThrownBy(
            () ->
                rig.client
                    .bench()
                    .orderBenchWork(s.getId(), new BenchWorkDraft().what(CableWork.ERASE)))
        .hasMessageContaining("repeat that number");
    BenchWorkOrdered erased = work(s, CableWork.ERASE, null, phone, managed);
    assertThat(erased.getDevices()).isZero();
    assertThat(erased.getLeft())
        .anyMatch(l -> l.contains("its holder's own"))
        .anyMatch(l -> l.contains("may be erased"));
    assertThat(work(s, CableWork.CLEAR_PASSCODE, null, phone).getDevices()).isZero();

    rig.handheld.cable().plug(1, 3, blank).join();
    Rig.eventually(() -> slot(s, blank).getState().getValue(), "ready"::equals);
    assertThat(work(s, CableWork.ERASE, null, blank).getDevices()).isEqualTo(1);
    done(s, blank, "erase");
    assertThat(blank.screen().managed()).isFalse();
    assertThat(managed.screen().managed()).isTrue();
    for (BenchWorkDraft wrong :
        List.of(
            new BenchWorkDraft().what(CableWork.UPDATE_OS).value("99.9"),
            new BenchWorkDraft().what(CableWork.APP).value("nothing"),
            new BenchWorkDraft().what(CableWork.RENAME).value(" "),
            new BenchWorkDraft().what(CableWork.DOCUMENT).value("sha256:" + "0".repeat(64)))) {
      assertThatThrownBy(() -> rig.client.bench().orderBenchWork(s.getId(), wrong))
          .as(String.valueOf(wrong.getWhat()))
          .isInstanceOfSatisfying(ApiException.class, e -> assertThat(e.getCode()).isEqualTo(400));
    }
  }

  private static int number(BenchDevice d) {
    return Integer.parseInt(d.getName().replace("Cart ", ""));
  }

  private List<BenchDevice> slots(BenchSession session) {
    try {
      return rig.client.bench().listBenchSlots(session.getId());
    } catch (ApiException e) {
      throw new IllegalStateException(e);
    }
  }
}
