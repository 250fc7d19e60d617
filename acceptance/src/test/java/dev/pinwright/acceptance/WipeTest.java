package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.client.PinwrightClient;
import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.Agreement;
import dev.pinwright.client.model.AppDetail;
import dev.pinwright.client.model.CommandKey;
import dev.pinwright.client.model.DispatchOrder;
import dev.pinwright.client.model.DispatchPreview;
import dev.pinwright.client.model.EnrollmentProfile;
import dev.pinwright.client.model.EnrollmentProfileDraft;
import dev.pinwright.client.model.Intent;
import dev.pinwright.client.model.Invitation;
import dev.pinwright.client.model.InvitationDraft;
import dev.pinwright.client.model.Mode;
import dev.pinwright.client.model.Ownership;
import dev.pinwright.client.model.PlatformKey;
import dev.pinwright.client.model.Proposal;
import dev.pinwright.client.model.ProposalDraft;
import dev.pinwright.client.model.Reason;
import dev.pinwright.client.model.Revocation;
import dev.pinwright.client.model.TargetSpec;
import dev.pinwright.client.model.Thresholds;
import dev.pinwright.client.model.ThresholdsDraft;
import dev.pinwright.client.model.Wipe;
import dev.pinwright.client.model.WipeStage;
import dev.pinwright.core.session.Subtree;
import dev.pinwright.protocol.dm.DeviceSession;
import dev.pinwright.protocol.dm.Dm;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.sandbox.device.Agent;
import dev.pinwright.sandbox.device.Screen;
import java.security.cert.X509Certificate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** Wipes: asked, begun, proved or not, revoked; release; and what keeps all of it from a slip. */
class WipeTest {
  private static Rig rig;
  private static Desk desk;
  private static Gates gates;
  private static int made;

  @BeforeAll
  static void start() throws Exception {
    rig = new Rig();
    desk = new Desk(rig);
    gates = new Gates(rig);
    gates.services(PlatformKey.TARN);
    desk.publish(desk.profile("Rules", Map.of("passcode.required", true), Desk.everyone()));
    AppDetail rota = desk.bring(Packages.rota(1, ""));
    desk.release(rota, 1);
    desk.publish(desk.assignment(rota, "required", Desk.everyone(), Map.of()));
  }

  @AfterAll
  static void stop() {
    rig.close();
  }

  private Agent tablet() throws ApiException {
    return rig.join(rig.unpackAutomatic("T10"), desk.kiosks("Kiosks " + ++made, 3).getLink());
  }

  private Agent own() throws ApiException {
    EnrollmentProfile own =
        desk.enrollment(
            new EnrollmentProfileDraft()
                .name("Own phones " + ++made)
                .ownership(Ownership.PERSONAL)
                .mode(Mode.WORK_PROFILE));
    return rig.join(
        rig.unpackAutomatic("P5"),
        rig.client
            .intake()
            .addInvitation(new InvitationDraft().profileId(own.getId()).uses(3))
            .getLink());
  }

  private String id(Agent agent) {
    return desk.devices(agent.screen().serial(), 1).get(0).getId();
  }

  private static DispatchOrder to(CommandKey command, String... ids) {
    List<TargetSpec> targets = new ArrayList<>();
    for (String id : ids) {
      targets.add(Desk.device(id));
    }
    return new DispatchOrder().command(command).reason("left on the ferry").targets(targets);
  }

  private void order(DispatchOrder order) throws ApiException {
    order(desk, order);
  }

  private static void order(Desk desk, DispatchOrder order) throws ApiException {
    desk.order(order, UUID.randomUUID().toString());
  }

  private Wipe latest(String device) {
    try {
      return rig.client.acting().listWipes(device, null, null, 10).getItems().get(0);
    } catch (ApiException e) {
      throw new IllegalStateException(e);
    }
  }

  private Wipe until(String device, WipeStage... stages) {
    Predicate<Wipe> there = w -> List.of(stages).contains(w.getStage());
    return Rig.eventually(() -> latest(device), there);
  }

  @Test
  void theWorkPartGoesIsReadAndComesBackByItselfWhenRevoked() throws Exception {
    Agent phone = own();
    String id = id(phone);
    Rig.eventually(() -> desk.standing(id), "settled"::equals);
    phone.device().holders("skarne.chess", "Chess", "1.0");
    assertThat(phone.screen().installed())
        .extracting(Screen.Tile::name)
        .containsExactlyInAnyOrder("Rota", "Chess");

    DispatchPreview preview = rig.client.acting().rehearseDispatch(to(CommandKey.WIPE_WORK, id));
    assertThat(preview.getLosses())
        .anyMatch(l -> l.contains("apps of the organisation"))
        .anyMatch(l -> l.contains("holder’s own"));
    order(to(CommandKey.WIPE_WORK, id));
    Wipe gone = until(id, WipeStage.PROVED);
    assertThat(gone.getBefore()).contains("App Rota").anyMatch(l -> l.startsWith("Passcode"));
    assertThat(gone.getAfter()).isEmpty();
    assertThat(gone.getProof()).isEqualTo(Wipe.ProofEnum.READ);
    assertThat(phone.screen().settings()).isEmpty();
    assertThat(phone.screen().installed()).extracting(Screen.Tile::name).containsExactly("Chess");
    assertThat(phone.screen().managed()).as("it is still heard").isTrue();

    // whatever is published meanwhile does not reach it
    desk.publish(desk.profile("More", Map.of("restrictions.camera-off", true), Desk.everyone()));
    phone.checkIn(false);
    Rig.eventually(() -> desk.card(id).getUpToDate(), Boolean.TRUE::equals);
    assertThat(phone.screen().settings()).isEmpty();

    assertThatThrownBy(
            () -> rig.client.acting().revokeWipe(gone.getId(), new Revocation().reason(" ")))
        .hasMessageContaining("Say why");
    rig.client.acting().revokeWipe(gone.getId(), new Revocation().reason("found at home"));
    Wipe back = until(id, WipeStage.RESTORED);
    assertThat(back.getRevokedBy()).isEqualTo("owner");
    Rig.eventually(
        () -> phone.screen().installed().stream().map(Screen.Tile::name).toList(),
        names -> names.contains("Rota"));
    assertThat(phone.screen().settings()).isNotEmpty();
    assertThatThrownBy(
            () -> rig.client.acting().revokeWipe(back.getId(), new Revocation().reason("again")))
        .hasMessageContaining("revoked already");
    assertThat(rig.client.devices().getDeviceActivity(id, null, 50).getItems())
        .extracting(a -> a.getText())
        .contains("Everything its wipe took is back");
  }

  @Test
  void whoeverRevokesBetweenTheOrderAndTheWordOfTheDeviceStrandsNobody() throws Exception {
    Invitation kiosks = desk.kiosks("Kiosks " + ++made, 3);
    var root = Pki.certificate(rig.client.intake().getJoinFile(kiosks.getId()).getRoot());
    Wire.Joined tablet =
        new Wire(rig.deviceUrl(), root, null, null).joined(kiosks.getCode(), "WIP-0001", root);
    List<String> ordered = new ArrayList<>();
    StrangeDevice device =
        new StrangeDevice() {
          @Override
          public int exec(String uri, @Nullable String data, @Nullable String correlator) {
            ordered.add(String.valueOf(correlator));
            return Dm.ACCEPTED;
          }
        };
    tablet.session(device, "1", 60_000, List.of(device.digest(Subtree.POLICY)));
    order(to(CommandKey.WIPE_WORK, tablet.id()));
    tablet.session(device, "2", 60_000, List.of(device.digest(Subtree.POLICY)));
    Wipe w = until(tablet.id(), WipeStage.DELIVERED);
    assertThat(ordered).contains(w.getId());

    rig.client.acting().revokeWipe(w.getId(), new Revocation().reason("it was here"));
    device.leaves.clear();
    tablet.session(
        device,
        "3",
        60_000,
        List.of(
            device.digest(Subtree.POLICY),
            new DeviceSession.Outstanding(Dm.TYPE_LAWMO_DONE, "1200", Optional.of(w.getId()))));
    tablet.session(device, "4", 60_000, List.of(device.digest(Subtree.POLICY)));
    assertThat(latest(tablet.id()).getBegunAt()).isNotNull();
    assertThat(latest(tablet.id()).getStage()).isIn(WipeStage.REVOKED, WipeStage.RESTORED);
    assertThat(device.of(Subtree.POLICY)).as("what it is to hold came back").isNotEmpty();
  }

  @Test
  void whoeverRevokesWhileTheDeviceSpeaksSeesItComeBack() throws Exception {
    Invitation kiosks = desk.kiosks("Kiosks " + ++made, 3);
    var root = Pki.certificate(rig.client.intake().getJoinFile(kiosks.getId()).getRoot());
    Wire.Joined tablet =
        new Wire(rig.deviceUrl(), root, null, null).joined(kiosks.getCode(), "WIP-0002", root);
    List<String> wiped = new ArrayList<>();
    StrangeDevice device =
        new StrangeDevice() {
          @Override
          public int exec(String uri, @Nullable String data, @Nullable String correlator) {
            wiped.add(String.valueOf(correlator));
            return Dm.ACCEPTED;
          }

          @Override
          public int show(String text, @Nullable String correlator) {
            try {
              rig.client.acting().revokeWipe(wiped.get(0), new Revocation().reason("it was here"));
            } catch (ApiException e) {
              throw new IllegalStateException(e);
            }
            return Dm.OK;
          }
        };
    int session = 0;
    tablet.session(device, "" + ++session, 60_000, List.of(device.digest(Subtree.POLICY)));
    order(to(CommandKey.WIPE_WORK, tablet.id()));
    tablet.session(device, "" + ++session, 60_000, List.of(device.digest(Subtree.POLICY)));
    device.leaves.clear();
    tablet.session(
        device,
        "" + ++session,
        60_000,
        List.of(
            device.digest(Subtree.POLICY),
            new DeviceSession.Outstanding(Dm.TYPE_LAWMO_DONE, "1200", Optional.of(wiped.get(0)))));
    tablet.session(device, "" + ++session, 60_000, List.of(device.digest(Subtree.POLICY)));
    assertThat(latest(tablet.id()).getStage()).isEqualTo(WipeStage.PROVED);
    assertThat(desk.standing(tablet.id())).isEqualTo("settled");

    order(to(CommandKey.MESSAGE, tablet.id()).fields(Map.of("text", "Bring it back to Norhaven.")));
    tablet.session(device, "" + ++session, 60_000, List.of(device.digest(Subtree.POLICY)));
    assertThat(device.of(Subtree.POLICY)).as("what it is to hold came back").isNotEmpty();
    assertThat(latest(tablet.id()).getStage()).isEqualTo(WipeStage.RESTORED);
  }

  @Test
  void anErasedDeviceProvesItByItsMakersCertificateAndIsRetiredOnlyThen() throws Exception {
    Agent tablet = tablet();
    String id = id(tablet);
    Rig.eventually(() -> desk.standing(id), "settled"::equals);
    tablet.offline(true);
    order(to(CommandKey.WIPE, id).fields(Map.of("retire", "true")));
    assertThat(latest(id).getStage()).isEqualTo(WipeStage.ASKED);
    assertThatThrownBy(
            () -> rig.client.devices().retireDevice(id, new Reason().reason("written off")))
        .hasMessageContaining("is being wiped");
    tablet.offline(false);
    Wipe proved = until(id, WipeStage.PROVED);
    assertThat(proved.getProof()).isEqualTo(Wipe.ProofEnum.BLANK);
    assertThat(proved.getBegunAt()).isNotNull();
    Screen blank = Rig.eventually(tablet::screen, s -> s.screen().equals("new"));
    assertThat(blank.settings()).isEmpty();
    assertThat(blank.installed()).isEmpty();
    assertThat(
            Rig.eventually(() -> desk.card(id), d -> d.getDevice().getRetired() != null)
                .getDevice()
                .getStandingReason())
        .isEqualTo("wiped, and proved blank");
    assertThatThrownBy(
            () -> rig.client.acting().revokeWipe(proved.getId(), new Revocation().reason("a slip")))
        .hasMessageContaining("cannot be brought back");
  }

  @Test
  void whoeverIsErasedHandsFreeProvesItByComingBack() throws Exception {
    EnrollmentProfile kiosks =
        desk.enrollment(new EnrollmentProfileDraft().name("Lighthouse").mode(Mode.SUPERVISED));
    gates.registrar(PlatformKey.TARN, kiosks.getId());
    Agent tablet = tablet();
    String id = id(tablet);
    gates.buy(tablet.screen().serial());
    order(to(CommandKey.WIPE, id));
    Wipe proved = until(id, WipeStage.PROVED);
    assertThat(proved.getProof()).isIn(Wipe.ProofEnum.BLANK, Wipe.ProofEnum.JOINED);
    Rig.eventually(tablet::screen, s -> s.managed() && s.handsFree());
    assertThat(id(tablet)).as("its old record").isEqualTo(id);
    Rig.eventually(() -> desk.standing(id), "settled"::equals);
  }

  @Test
  void whoeverSaysSoAndIsNotErasedIsFoundOut() throws Exception {
    Agent tablet = tablet();
    String id = id(tablet);
    Rig.eventually(() -> desk.standing(id), "settled"::equals);
    tablet.device().fault("no-erasing", true);
    order(to(CommandKey.WIPE, id));
    until(id, WipeStage.BEGUN, WipeStage.FAILED);
    tablet.checkIn(false);
    Wipe failed = until(id, WipeStage.FAILED);
    assertThat(failed.getDeniedAt()).isNotNull();
    Rig.eventually(() -> desk.standing(id), "settled"::equals);
    assertThat(tablet.screen().settings()).as("it is managed as before").isNotEmpty();
    assertThat(rig.client.house().listNotices(null, 20).getItems())
        .extracting(n -> n.getTitle())
        .contains(desk.card(id).getDevice().getName() + " was not wiped");
  }

  @Test
  void aBlankDeviceThatNobodyTrustsProvesNothing() throws Exception {
    Agent tablet = tablet();
    String id = id(tablet);
    tablet.offline(true);
    order(to(CommandKey.WIPE, id));
    X509Certificate root =
        Pki.certificate(rig.client.intake().getJoinFile(desk.kiosks("Root", 1).getId()).getRoot());
    Wire stranger = new Wire(rig.deviceUrl(), root, null, null);
    Wire.Answer refused = stranger.send("POST", "/blank", Map.of(), new byte[0]);
    assertThat(refused.status()).isEqualTo(401);
    assertThat(refused.problem()).isEqualTo("not-recognised");
    assertThat(latest(id).getProof()).isNull();
  }

  @Test
  void aPersonalDeviceIsNotErasedInAnyWay() throws Exception {
    Agent phone = own();
    String id = id(phone);
    assertThat(rig.client.acting().listCannot(id).getItems())
        .filteredOn(c -> c.getCommand() == CommandKey.WIPE)
        .singleElement()
        .satisfies(c -> assertThat(c.getReason()).contains("personal"));
    order(to(CommandKey.WIPE, id));
    assertThat(rig.client.acting().listWipes(id, null, null, 10).getItems()).isEmpty();
    assertThat(phone.device().tree().exec("./LAWMO/Operations/FactoryReset", null, "x"))
        .as("the device has no such node")
        .isEqualTo(404);
    assertThat(phone.screen().managed()).isTrue();
  }

  @Test
  void aReleasedDeviceSaysWhatWentAndWhatStayed() throws Exception {
    Agent tablet = tablet();
    String id = id(tablet);
    Rig.eventually(() -> desk.standing(id), "settled"::equals);
    tablet.device().holders("skarne.chess", "Chess", "1.0");
    order(to(CommandKey.RELEASE, id));
    Screen gone = Rig.eventually(tablet::screen, s -> s.screen().equals("removed"));
    assertThat(gone.reason()).isEqualTo("Your organisation no longer manages this device.");
    assertThat(gone.installed()).extracting(Screen.Tile::name).contains("Chess");
    assertThat(desk.card(id).getDevice().getStandingReason()).isEqualTo("released by owner");
    assertThat(rig.client.devices().getDeviceCommands(id, null, 10).getItems().get(0).getReason())
        .contains("went: ")
        .contains("stayed: App Chess");
  }

  @Test
  void aStolenSignInWipesNoMoreThanTheLimitAndCannotLiftIt() throws Exception {
    try (Rig house = new Rig()) {
      stolen(house, new Desk(house));
    }
  }

  private static void stolen(Rig rig, Desk desk) throws Exception {
    PinwrightClient bo = rig.another("bo", "owner");
    PinwrightClient help = rig.another("hanna", "helpdesk");
    List<String> ids = new ArrayList<>();
    for (int i = 0; i < 12; i++) {
      Agent t = rig.join(rig.unpackAutomatic("T10"), desk.kiosks("K " + i, 3).getLink());
      t.offline(true);
      ids.add(desk.devices(t.screen().serial(), 1).get(0).getId());
    }
    assertThatThrownBy(() -> help.acting().addDispatch(to(CommandKey.WIPE, ids.get(0)), "h"))
        .hasMessageContaining("needs the role operator");
    String[] all = ids.toArray(String[]::new);
    assertThatThrownBy(() -> order(desk, to(CommandKey.WIPE, all).confirmDevices(12L)))
        .hasMessageContaining("One person alone may wipe or release 10 devices in an hour");
    for (int i = 0; i < 10; i++) {
      order(desk, to(CommandKey.WIPE, ids.get(i)));
    }
    assertThatThrownBy(() -> order(desk, to(CommandKey.WIPE, ids.get(10))))
        .hasMessageContaining("10 devices were wiped or released in the last hour");
    Thresholds set = rig.client.house().getThresholds();
    ThresholdsDraft lifted = new ThresholdsDraft().number(set.getNumber()).alone(1000L);
    String version = Desk.onVersion(set.getVersion());
    assertThatThrownBy(() -> rig.client.house().setThresholds(version, lifted))
        .hasMessageContaining("give your password again");
    assertThatThrownBy(
            () -> rig.client.house().setThresholds(version, lifted.password("a guess, no more")))
        .hasMessageContaining("password is wrong");

    // two are not held up
    String proposed =
        rig.client
            .rules()
            .propose(
                new ProposalDraft()
                    .intent(new Intent().order(to(CommandKey.WIPE, ids.get(10), ids.get(11))))
                    .note("the last of the ferry"))
            .getProposal()
            .getId();
    assertThatThrownBy(
            () ->
                rig.client
                    .rules()
                    .agree(
                        proposed,
                        new Agreement().seen(rig.client.rules().getProposal(proposed).getSeen())))
        .hasMessageContaining("somebody else");
    String seen = bo.rules().getProposal(proposed).getSeen();
    Proposal done = bo.rules().agree(proposed, new Agreement().seen(seen)).getProposal();
    assertThat(done.getState().getValue()).isEqualTo("done");
    assertThat(
            rig.client
                .acting()
                .listWipes(ids.get(11), null, null, 1)
                .getItems()
                .get(0)
                .getAgreedBy())
        .isEqualTo("bo");
    assertThat(rig.client.acting().listWipes(null, true, null, 50).getItems()).hasSize(12);
  }
}
