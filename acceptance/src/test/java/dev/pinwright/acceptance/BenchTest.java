package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.BenchDevice;
import dev.pinwright.client.model.BenchSession;
import dev.pinwright.client.model.BenchSessionDraft;
import dev.pinwright.client.model.EnrollmentProfile;
import dev.pinwright.client.model.EnrollmentProfileDraft;
import dev.pinwright.client.model.Mode;
import dev.pinwright.sandbox.device.Agent;
import dev.pinwright.server.Server;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.time.Clock;
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
