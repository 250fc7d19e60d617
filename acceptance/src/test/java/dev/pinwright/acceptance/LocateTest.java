package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.Cannot;
import dev.pinwright.client.model.Command;
import dev.pinwright.client.model.CommandKey;
import dev.pinwright.client.model.CommandState;
import dev.pinwright.client.model.Dispatch;
import dev.pinwright.client.model.DispatchOrder;
import dev.pinwright.client.model.EnrollmentProfile;
import dev.pinwright.client.model.EnrollmentProfileDraft;
import dev.pinwright.client.model.InvitationDraft;
import dev.pinwright.client.model.Mode;
import dev.pinwright.client.model.Ownership;
import dev.pinwright.client.model.TargetSpec;
import dev.pinwright.client.model.TrailWanted;
import dev.pinwright.core.device.Position;
import dev.pinwright.protocol.dm.Positions;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.sandbox.device.Agent;
import dev.pinwright.sandbox.device.Screen;
import java.security.cert.X509Certificate;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** Where a device is when somebody asks, another OS, and off: each seen through to its end. */
class LocateTest {
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

  private static Dispatch order(CommandKey command, Map<String, String> fields, TargetSpec to)
      throws ApiException {
    return desk.order(
        new DispatchOrder()
            .command(command)
            .fields(fields)
            .reason("left on the ferry")
            .targets(List.of(to)),
        UUID.randomUUID().toString());
  }

  private static Agent tablet() throws ApiException {
    return rig.join(rig.unpackAutomatic("T10"), desk.kiosks("Kiosks " + ++made, 3).getLink());
  }

  private static int made;

  private static String id(Agent tablet) {
    return desk.devices(tablet.screen().serial(), 1).get(0).getId();
  }

  private static Position here(double latitude) {
    return new Position(
        Instant.now(), latitude, -20.589, Optional.of(12.0), Position.Source.SATELLITE);
  }

  @Test
  void aDeviceSaysWhereItIsAndItsHolderIsToldThatSomebodyAsked() throws Exception {
    Agent tablet = tablet();
    String id = id(tablet);
    tablet.device().be(here(47.1985));
    Command located = desk.ended(order(CommandKey.LOCATE, Map.of(), Desk.device(id)));
    assertThat(located.getState()).isEqualTo(CommandState.DONE);
    assertThat(located.getReason()).isEqualTo("within 12 m, by satellite");
    assertThat(rig.client.devices().lookAtTrail(id, new TrailWanted()).getItems())
        .extracting(p -> p.getLatitude() + " " + p.getAccuracy() + " " + p.getSource())
        .containsExactly("47.1985 12.0 satellite");
    assertThat(tablet.screen().messages())
        .extracting(Screen.Message::text)
        .contains("Your organisation asked where this device is.");
    // what it says without being asked is nobody's business
    tablet.device().be(here(47.3));
    tablet.checkIn(false);
    Rig.eventually(() -> desk.card(id).getUpToDate(), Boolean.TRUE::equals);
    assertThat(rig.client.devices().getTrail(id).getPoints()).isEqualTo(1);

    tablet.device().fault("nowhere", true);
    Command lost = desk.ended(order(CommandKey.LOCATE, Map.of(), Desk.device(id)));
    assertThat(lost.getState()).isEqualTo(CommandState.FAILED);
  }

  @Test
  void whereAPersonalDeviceIsIsNotToBeHadInAnyWay() throws Exception {
    EnrollmentProfile own =
        desk.enrollment(
            new EnrollmentProfileDraft()
                .name("Own phones")
                .ownership(Ownership.PERSONAL)
                .mode(Mode.WORK_PROFILE));
    var open =
        rig.client.intake().addInvitation(new InvitationDraft().profileId(own.getId()).uses(3));
    Agent phone = rig.join(rig.unpackAutomatic("P5"), open.getLink());
    String id = id(phone);
    phone.device().be(here(47.1985));
    assertThat(rig.client.acting().listCannot(id).getItems())
        .filteredOn(c -> c.getCommand() == CommandKey.LOCATE)
        .extracting(Cannot::getReason)
        .singleElement()
        .asString()
        .contains("personal");
    Command refused = desk.ended(order(CommandKey.LOCATE, Map.of(), Desk.device(id)));
    assertThat(refused.getState()).isEqualTo(CommandState.FAILED);
    assertThat(refused.getReason()).contains("personal");
    assertThat(phone.device().tree().exec("./Vendor/Pinwright/Operations/Locate", null, "x"))
        .as("the device has no such node")
        .isEqualTo(404);

    // one that tells all the same, under the command of another
    X509Certificate root = Pki.certificate(rig.client.intake().getJoinFile(open.getId()).getRoot());
    Wire stranger = new Wire(rig.deviceUrl(), root, null, null);
    Wire.Joined talkative = stranger.joined(open.getCode(), "OWN-0002", root);
    Agent tablet = tablet();
    tablet.offline(true);
    Dispatch waiting = order(CommandKey.LOCATE, Map.of(), Desk.device(id(tablet)));
    String told = Positions.write(List.of(here(47.2))).replace("\"", "&quot;");
    String body =
        "<Alert><CmdID>1</CmdID><Data>1201</Data></Alert>"
            + "<Alert><CmdID>2</CmdID><Data>1226</Data><Correlator>"
            + desk.only(waiting).getId()
            + "</Correlator><Item><Meta><Type"
            + " xmlns=\"syncml:metinf\">urn:pinwright:at:position:1</Type></Meta><Data>"
            + told
            + "</Data></Item></Alert>";
    assertThat(talkative.wire().dm(Wire.message("1", 1, body)).status()).isEqualTo(200);
    assertThat(Sql.text(rig, "select count(*) from device_position where latitude = 47.2"))
        .isEqualTo("0");
    assertThat(desk.only(waiting).getState()).isEqualTo(CommandState.QUEUED);
  }

  @Test
  void theOsIsUpdatedAndTheDeviceSwitchedOffAndOnAgain() throws Exception {
    Agent tablet = rig.join(rig.unpackAutomatic("T10"), desk.kiosks("Old", 3).getLink());
    String id = id(tablet);
    tablet.device().updateOs("7.0");
    Command wrong =
        desk.ended(order(CommandKey.UPDATE_OS, Map.of("version", "6.0"), Desk.device(id)));
    assertThat(wrong.getState()).as("there is no way back").isEqualTo(CommandState.FAILED);
    Command updated =
        desk.ended(order(CommandKey.UPDATE_OS, Map.of("version", "7.1"), Desk.device(id)));
    assertThat(updated.getState()).isEqualTo(CommandState.DONE);
    Rig.eventually(() -> desk.card(id).getDevice().getOsVersion(), "7.1"::equals);
    desk.ended(order(CommandKey.UPDATE_OS, Map.of(), Desk.device(id)));
    Rig.eventually(() -> desk.card(id).getDevice().getOsVersion(), "7.2.1"::equals);

    Command off = desk.ended(order(CommandKey.SHUT_DOWN, Map.of(), Desk.device(id)));
    assertThat(off.getState()).isEqualTo(CommandState.DONE);
    Rig.eventually(() -> tablet.screen().screen(), "off"::equals);
    Dispatch waiting = order(CommandKey.RING, Map.of(), Desk.device(id));
    assertThat(desk.only(waiting).getState()).isEqualTo(CommandState.QUEUED);
    tablet.switchOn();
    Rig.eventually(() -> tablet.screen().ringing(), Boolean.TRUE::equals);
  }

  @Test
  void whatFailedIsOrderedAgainForThoseAloneOnWhichItDid() throws Exception {
    Agent lost = tablet();
    Agent found = tablet();
    lost.device().fault("nowhere", true);
    DispatchOrder both =
        new DispatchOrder()
            .command(CommandKey.LOCATE)
            .reason("left on the ferry")
            .serials(
                List.of(
                    lost.screen().serial(), found.screen().imei().orElse(found.screen().serial())));
    Dispatch first = desk.order(both, UUID.randomUUID().toString());
    Rig.eventually(() -> desk.dispatch(first.getId()), Dispatch::getEnded);
    lost.device().fault("nowhere", false);
    Dispatch second =
        desk.order(
            new DispatchOrder().command(CommandKey.LOCATE).reason("once more").again(first.getId()),
            UUID.randomUUID().toString());
    assertThat(second.getTotal()).isEqualTo(1);
    assertThat(desk.ended(second).getDeviceId()).isEqualTo(id(lost));
    assertThatThrownBy(
            () -> desk.order(both.serials(List.of("NOBODY-1")), UUID.randomUUID().toString()))
        .hasMessageContaining("NOBODY-1");
  }

  @Test
  void whatIsOrderedForATimeWaitsForItAndIsTakenBackUntilThen() throws Exception {
    Agent tablet = tablet();
    String id = id(tablet);
    DispatchOrder ring =
        new DispatchOrder()
            .command(CommandKey.RING)
            .targets(List.of(Desk.device(id)))
            .at(OffsetDateTime.now().plusHours(1));
    Dispatch later = desk.order(ring, UUID.randomUUID().toString());
    assertThat(desk.only(later).getState()).isEqualTo(CommandState.PLANNED);
    assertThat(later.getExpiresAt()).isEqualTo(later.getDueAt().plusHours(1));
    tablet.checkIn(false);
    Rig.eventually(() -> desk.card(id).getUpToDate(), Boolean.TRUE::equals);
    assertThat(desk.only(later).getState()).isEqualTo(CommandState.PLANNED);
    assertThat(rig.client.acting().cancelDispatch(later.getId()).getCancelled()).isEqualTo(1);

    Dispatch soon =
        desk.order(ring.at(OffsetDateTime.now().plusSeconds(2)), UUID.randomUUID().toString());
    assertThat(desk.only(soon).getState()).isEqualTo(CommandState.PLANNED);
    Rig.eventually(() -> tablet.screen().ringing(), Boolean.TRUE::equals);
    assertThatThrownBy(
            () ->
                desk.order(
                    ring.at(OffsetDateTime.now().minusMinutes(1)), UUID.randomUUID().toString()))
        .hasMessageContaining("within a year from now");
  }
}
