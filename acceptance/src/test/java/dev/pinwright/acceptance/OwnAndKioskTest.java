package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.ActivityLine;
import dev.pinwright.client.model.Check;
import dev.pinwright.client.model.CheckDraft;
import dev.pinwright.client.model.CommandKey;
import dev.pinwright.client.model.DeviceChange;
import dev.pinwright.client.model.DispatchOrder;
import dev.pinwright.client.model.ExitCode;
import dev.pinwright.client.model.JournalEntry;
import dev.pinwright.client.model.Ladder;
import dev.pinwright.client.model.Placement;
import dev.pinwright.client.model.Profile;
import dev.pinwright.client.model.ProfileDraft;
import dev.pinwright.client.model.Unit;
import dev.pinwright.client.model.UnitDraft;
import dev.pinwright.core.session.Subtree;
import dev.pinwright.core.tree.Leaf;
import dev.pinwright.protocol.dm.DeviceSession;
import dev.pinwright.protocol.dm.Dm;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.sandbox.device.Agent;
import dev.pinwright.sandbox.device.Screen;
import java.security.cert.X509Certificate;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** What is each device's own, and the kiosk that is left with it. */
class OwnAndKioskTest {
  private static final String SELF = "./Vendor/Pinwright/Self";
  private static Rig rig;
  private static Desk desk;
  private static String link;
  private static String code;
  private static X509Certificate root;

  @BeforeAll
  static void start() throws ApiException {
    rig = new Rig();
    desk = new Desk(rig);
    var open = desk.kiosks("Kiosks", 50);
    link = open.getLink();
    code = open.getCode();
    root = Pki.certificate(rig.client.intake().getJoinFile(open.getId()).getRoot());
  }

  @AfterAll
  static void stop() {
    rig.close();
  }

  private static String id(Agent agent) {
    return desk.devices(agent.screen().serial(), 1).get(0).getId();
  }

  private static String own(Agent agent, String name) {
    Leaf leaf = agent.device().tree().read(SELF).get(SELF + "/" + name);
    return leaf == null ? "" : leaf.value();
  }

  private static Map<String, Object> kiosk() {
    return new LinkedHashMap<>(
        Map.of(
            "kiosk.mode",
            "home",
            "kiosk.apps",
            List.of("system.web", "system.photos", "system.video"),
            "kiosk.layout",
            List.of("0.1 system.web"),
            "kiosk.title",
            "Welcome to {self:Unit}",
            "kiosk.exit-minutes",
            7));
  }

  @Test
  void whatIsItsOwnFollowsWhateverChangesIt() throws Exception {
    Agent agent = rig.join(rig.unpackAutomatic("T10"), link);
    String id = id(agent);
    Rig.eventually(() -> own(agent, "Name"), desk.card(id).getDevice().getName()::equals);
    assertThat(own(agent, "ExitSecret")).matches("[A-Z2-7]{32}");
    Unit unit =
        rig.client.organisation().addUnit(new UnitDraft().code("VM-GLA").name("Glasshouse"));
    rig.client
        .devices()
        .changeDevice(
            id, "\"" + desk.card(id).getVersion() + "\"", new DeviceChange().name("Palm house 3"));
    rig.client
        .devices()
        .placeDevice(
            id, "\"" + desk.card(id).getVersion() + "\"", new Placement().unitId(unit.getId()));
    Rig.eventually(() -> own(agent, "Name"), "Palm house 3"::equals);
    Rig.eventually(() -> own(agent, "Unit"), "Glasshouse"::equals);
    Unit now = rig.client.organisation().getUnit(unit.getId());
    rig.client
        .organisation()
        .renameUnit(
            unit.getId(),
            "\"" + now.getVersion() + "\"",
            new UnitDraft().code("VM-GLA").name("Glasshouse and gardens"));
    Rig.eventually(() -> own(agent, "Unit"), "Glasshouse and gardens"::equals);
    assertThat(own(agent, "Person")).isEmpty();
  }

  /** A device that does not take all that it is told. */
  private static final class Stranger extends StrangeDevice {
    private final List<String> told = new ArrayList<>();
    private boolean knowsOrder = true;
    private @Nullable String recoveryKey;
    private int asked;

    @Override
    public int put(String uri, Leaf leaf, boolean mayExist) {
      if (uri.equals(SELF + "/ExitSecret")) {
        asked++;
        return Dm.NOT_SUPPORTED;
      }
      if (uri.startsWith("./Vendor/Pinwright/Compliance/")) {
        told.add(uri.substring(uri.lastIndexOf('/') + 1) + "=" + leaf.value());
        return knowsOrder ? Dm.OK : Dm.NOT_FOUND;
      }
      return super.put(uri, leaf, mayExist);
    }

    /** Holds a session; how many messages it took. */
    int checkIn(Wire.Joined joined, String sessionId, String... kioskLeft) {
      List<DeviceSession.Outstanding> alerts = new ArrayList<>();
      alerts.add(digest(Subtree.POLICY));
      alerts.add(digest(Subtree.SELF));
      if (recoveryKey != null) {
        alerts.add(Wire.alert(Dm.TYPE_RECOVERY_KEY, recoveryKey));
      }
      for (String when : kioskLeft) {
        alerts.add(Wire.alert("urn:pinwright:at:kiosk-left:1", when));
      }
      return joined.session(this, sessionId, 60_000, alerts);
    }
  }

  @Test
  void whatOfItADeviceTurnsDownIsNotSentAgainUntilSomethingChanges() throws Exception {
    Wire.Joined joined = new Wire(rig.deviceUrl(), root, null, null).joined(code, "OWN-0001", root);
    Stranger device = new Stranger();
    device.checkIn(joined, "1");
    assertThat(device.leaves).containsKey(SELF + "/Name").doesNotContainKey(SELF + "/ExitSecret");
    assertThat(device.asked).isEqualTo(1);
    assertThat(device.checkIn(joined, "2")).isEqualTo(1);
    assertThat(device.asked).isEqualTo(1);

    device.leaves.put(SELF + "/Name", new Leaf("chr", "scratched"));
    device.checkIn(joined, "3");
    assertThat(device.leaves.get(SELF + "/Name").value())
        .isEqualTo(desk.card(joined.id()).getDevice().getName());
    assertThat(device.checkIn(joined, "4")).isEqualTo(1);

    rig.client
        .devices()
        .changeDevice(
            joined.id(),
            "\"" + desk.card(joined.id()).getVersion() + "\"",
            new DeviceChange().name("Lantern room"));
    device.checkIn(joined, "5");
    assertThat(device.leaves.get(SELF + "/Name").value()).isEqualTo("Lantern room");
    desk.publish(desk.profile("Stranger's kiosk", kiosk(), Desk.device(joined.id())));
    assertThatThrownBy(() -> rig.client.devices().showExitCode(joined.id()))
        .hasMessageContaining("No code would open it");
  }

  @Test
  void aKioskWhoseFirstSessionBrokeOffIsOpenedByItsCodeAllTheSame() throws Exception {
    Wire.Joined joined = new Wire(rig.deviceUrl(), root, null, null).joined(code, "OWN-0005", root);
    desk.publish(desk.profile("Cut off", kiosk(), Desk.device(joined.id())));
    StrangeDevice cutOff =
        new StrangeDevice() {
          @Override
          public Map<String, Leaf> read(String uri) {
            if (uri.startsWith(Dm.FACTS)) {
              throw new IllegalStateException("the network is gone");
            }
            return super.read(uri);
          }
        };
    List<DeviceSession.Outstanding> told =
        List.of(cutOff.digest(Subtree.POLICY), cutOff.digest(Subtree.SELF));
    assertThatThrownBy(() -> joined.session(cutOff, "1", 60_000, told))
        .hasMessageContaining("the network is gone");
    assertThat(cutOff.leaves)
        .containsKeys(SELF + "/ExitSecret", "./Vendor/Pinwright/Policy/kiosk/mode");
    String secret = cutOff.leaves.get(SELF + "/ExitSecret").value();
    ExitCode shown = rig.client.devices().showExitCode(joined.id());
    assertThat(shown.getCode())
        .isIn(
            dev.pinwright.core.kiosk.ExitCode.at(secret, Instant.now()),
            dev.pinwright.core.kiosk.ExitCode.at(secret, Instant.now().minusSeconds(30)));
  }

  @Test
  void howItIsWithTheChecksADeviceIsToldOnceWhetherItKnowsThatOrNot() throws Exception {
    Wire.Joined joined = new Wire(rig.deviceUrl(), root, null, null).joined(code, "OWN-0003", root);
    Stranger device = new Stranger();
    device.checkIn(joined, "1");
    assertThat(device.told).as("in order, and never otherwise").isEmpty();
    Check check =
        rig.client
            .rules()
            .addCheck(
                new CheckDraft()
                    .name("Stranger")
                    .rule("id is " + joined.id())
                    .advice("Bring it to us.")
                    .ladder(new Ladder().grace(0).holder(0)));
    device.checkIn(joined, "2");
    assertThat(device.told)
        .containsExactly("State=out-of-order", "Reasons=Stranger: Bring it to us.");
    assertThat(device.checkIn(joined, "3")).as("told already").isEqualTo(1);
    device.told.clear();
    device.knowsOrder = false;
    rig.client.rules().deleteCheck(check.getId(), Desk.onVersion(check.getVersion()), null, 1L);
    device.checkIn(joined, "4");
    assertThat(device.told).containsExactly("State=in-order", "Reasons=");
    assertThat(device.checkIn(joined, "5")).as("it has no such node").isEqualTo(1);
  }

  @Test
  void aKeyOfADiskThatIsOfNoUseIsNotKeptAndSaidOnce() throws Exception {
    Wire.Joined joined = new Wire(rig.deviceUrl(), root, null, null).joined(code, "OWN-0004", root);
    Stranger device = new Stranger();
    device.checkIn(joined, "1");
    int session = 2;
    for (String key :
        List.of(
            "", "1", "1 !!!", "1 bm8gQ01T", "999999 bm8gQ01T", "-1 x", "1 " + "A".repeat(9_000))) {
      device.recoveryKey = key;
      device.checkIn(joined, String.valueOf(session++));
    }
    assertThat(rig.client.devices().getRecoveryKey(joined.id()).getNumber()).isNull();
    assertThat(activity(joined.id()).split("recovery-key-refused", -1)).hasSize(2);
  }

  @Test
  void aKioskThatWasLeftIsNotedOnceHoweverOftenItIsTold() throws Exception {
    Wire.Joined joined = new Wire(rig.deviceUrl(), root, null, null).joined(code, "OWN-0002", root);
    Stranger device = new Stranger();
    device.checkIn(joined, "1");
    String then = Instant.now().toString();
    device.checkIn(joined, "2", then, then);
    device.checkIn(joined, "3", then);
    assertThat(left(joined.id())).isEqualTo(1);
    device.checkIn(joined, "4", "yesterday", "1970-01-01T00:00:00Z");
    assertThat(left(joined.id())).as("a time it cannot have been is now").isLessThanOrEqualTo(2);
  }

  private static long left(String id) throws ApiException {
    return rig.client.devices().getDeviceActivity(id, null, 50).getItems().stream()
        .filter(a -> a.getKind().equals("kiosk-left"))
        .count();
  }

  @Test
  void aKioskIsLeftByACodeWithoutANetworkAndSaysSoWhenItIsHeard() throws Exception {
    Agent agent = rig.join(rig.unpackAutomatic("T10"), link);
    String id = id(agent);
    Profile profile = desk.profile("Kiosk " + id, kiosk(), Desk.device(id));
    desk.publish(profile);
    Screen.KioskView shown =
        Rig.eventually(agent::screen, s -> s.screen().equals("kiosk")).kiosk().orElseThrow();
    assertThat(shown.dock()).extracting(Screen.App::name).containsExactly("Web");
    assertThat(shown.title()).isEqualTo("Welcome to ");
    assertThat(agent.device().openApp("system.camera")).isPresent();
    Rig.eventually(() -> desk.standing(id), "settled"::equals);

    agent.offline(true);
    ExitCode right = rig.client.devices().showExitCode(id);
    assertThat(right.getMinutes()).isEqualTo(7);
    String wrong = right.getCode().startsWith("1") ? "222222" : "111111";
    assertThat(agent.device().typeExitCode(wrong)).contains("That is not the code.");
    assertThat(agent.device().typeExitCode(right.getCode())).isEmpty();
    assertThat(agent.screen().screen()).isEqualTo("home");
    assertThat(agent.screen().kioskBack()).isPresent();
    agent.offline(false);
    Rig.eventually(() -> activity(id), a -> a.contains("kiosk-left"));
    assertThat(rig.client.records().listJournal("device:" + id, null, null, 50).getItems())
        .extracting(JournalEntry::getAction)
        .contains("device.exit-code-shown", "device.kiosk-left");
    Rig.eventually(
        () -> desk.devices("", 50).stream().filter(d -> d.getId().equals(id)).findFirst(),
        d -> d.isPresent());
    Rig.eventually(
        () ->
            desk.card(id).getFacts().stream()
                .filter(f -> f.getKey().equals("kiosk/state"))
                .map(f -> String.valueOf(f.getValue()))
                .findFirst()
                .orElse(""),
        "left"::equals);

    order(CommandKey.ENTER_KIOSK, id, Map.of());
    Rig.eventually(agent::screen, s -> s.screen().equals("kiosk"));
    order(CommandKey.LEAVE_KIOSK, id, Map.of("back-after", "3"));
    Rig.eventually(agent::screen, s -> s.screen().equals("home") && s.kioskBack().isPresent());

    Map<String, Object> other = kiosk();
    other.put("kiosk.mode", "one");
    desk.publish(desk.change(rig.client.rules().getProfile(profile.getId()), other));
    Rig.eventually(
        agent::screen,
        s ->
            s.kiosk()
                .flatMap(Screen.KioskView::open)
                .filter(a -> a.name().equals("Web"))
                .isPresent());
    agent.device().takeAway("system.web");
    agent.checkIn(false);
    Rig.eventually(
        () ->
            desk.card(id).getFacts().stream()
                .filter(f -> f.getKey().equals("kiosk/missing"))
                .map(f -> String.valueOf(f.getValue()))
                .findFirst()
                .orElse(""),
        "system.web"::equals);
  }

  private static String activity(String id) {
    try {
      return rig.client.devices().getDeviceActivity(id, null, 50).getItems().stream()
          .map(ActivityLine::getKind)
          .toList()
          .toString();
    } catch (ApiException e) {
      throw new IllegalStateException(e);
    }
  }

  private static void order(CommandKey command, String id, Map<String, String> fields)
      throws ApiException {
    desk.order(
        new DispatchOrder()
            .command(command)
            .reason("test")
            .fields(fields)
            .targets(List.of(Desk.device(id))),
        command + id);
  }

  @Test
  void aCodeIsRefusedInWordsWhereNoneWouldOpenAnything() throws Exception {
    Agent agent = rig.join(rig.unpackAutomatic("T10"), link);
    String id = id(agent);
    assertThatThrownBy(() -> rig.client.devices().showExitCode(id))
        .hasMessageContaining("is told to be no kiosk");
    Map<String, Object> codeless = kiosk();
    codeless.put("kiosk.exit-code", false);
    desk.publish(desk.profile("Codeless", codeless, Desk.device(id)));
    assertThatThrownBy(() -> rig.client.devices().showExitCode(id))
        .hasMessageContaining("told not to take codes");
  }

  @Test
  void aPlaceholderNoDeviceKnowsIsRefusedWhenItIsWritten() {
    assertThatThrownBy(
            () ->
                rig.client
                    .rules()
                    .addProfile(
                        new ProfileDraft()
                            .name("Wrong")
                            .settings(
                                Map.of("appearance.lock-screen-text", "Ask {self:Attribute/bay}"))))
        .hasMessageContaining("{self:Attribute/bay}")
        .hasMessageContaining("400");
  }
}
