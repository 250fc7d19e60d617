package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.client.model.EnrollmentProfile;
import dev.pinwright.client.model.EnrollmentProfileDraft;
import dev.pinwright.client.model.Invitation;
import dev.pinwright.client.model.Mode;
import dev.pinwright.client.model.NewTerms;
import dev.pinwright.client.model.PlatformKey;
import dev.pinwright.core.Words;
import dev.pinwright.core.enrollment.EnrollmentDecision.Refusal;
import dev.pinwright.sandbox.device.Agent;
import dev.pinwright.sandbox.device.Fleet;
import dev.pinwright.sandbox.device.Screen;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;

/** Every refusal of the join exchange as its holder meets it, on the device's own screen. */
class HolderRefusalsTest {
  private final Rig rig = new Rig();
  private final Desk desk = new Desk(rig);

  @AfterEach
  void stop() {
    rig.close();
  }

  private EnrollmentProfileDraft profile(String name) {
    return new EnrollmentProfileDraft()
        .name(name)
        .mode(Mode.SUPERVISED)
        .platforms(List.of(PlatformKey.TARN));
  }

  private String link(EnrollmentProfileDraft draft, int uses) throws Exception {
    return desk.invite(desk.enrollment(draft), uses).getLink();
  }

  private Agent tablet(String serial) {
    return rig.fleet.make(new Fleet.Wish("T10", "7.2", serial, false, null));
  }

  private static Agent ask(Agent agent, String link) {
    agent.take(link).join();
    if (agent.screen().screen().equals("offered")) {
      agent.accept("wrong").join();
    }
    return agent;
  }

  private Map<Refusal, Agent> refused() throws Exception {
    Map<Refusal, Agent> all = new LinkedHashMap<>();
    String open = link(profile("Open"), 50);
    all.put(
        Refusal.UNKNOWN_CODE,
        ask(tablet("A-0001"), open.replaceFirst("/join/\\w{12}", "/join/0000000000AA")));
    String once = link(profile("Once"), 1);
    rig.join(rig.unpackAutomatic("T10"), once);
    all.put(Refusal.SPENT_CODE, ask(tablet("A-0002"), once));
    Invitation withdrawn = desk.invite(desk.enrollment(profile("Withdrawn")), 1);
    rig.client.intake().withdrawInvitation(withdrawn.getId());
    all.put(Refusal.LAPSED_CODE, ask(tablet("A-0003"), withdrawn.getLink()));
    all.put(
        Refusal.SIGN_IN_FAILED,
        ask(
            tablet("A-0004"),
            link(profile("Secret").signIn("passphrase").passphrase("by the quay"), 5)));
    all.put(
        Refusal.NOT_ON_ROSTER, ask(tablet("A-0005"), link(profile("Listed").rosterOnly(true), 5)));
    all.put(Refusal.PLATFORM_REFUSED, ask(rig.unpack("P5"), open));
    all.put(
        Refusal.OS_TOO_OLD,
        ask(tablet("A-0006"), link(profile("New").minimumOs(Map.of("tarn", "7.2.1")), 5)));
    Agent garbled = tablet("A-0007");
    garbled.device().garble(true);
    all.put(Refusal.MALFORMED, ask(garbled, open));
    all.put(Refusal.IDENTIFIER_TAKEN, taken(open));
    all.put(Refusal.TERMS_REQUIRED, outdated());
    return all;
  }

  /** A tablet of one model that says it has the serial number of another. */
  private Agent taken(String open) {
    Agent first = rig.fleet.make(new Fleet.Wish("T8 mini", "7.2", "A-0008", true, 100L));
    rig.join(first, open);
    Agent other = tablet("A-0009");
    other.device().swapBoard("A-0008");
    return ask(other, open);
  }

  /** Terms that changed between reading and accepting them. */
  private Agent outdated() throws Exception {
    rig.client.intake().addTerms(new NewTerms().title("One").text("Bring it back."));
    rig.client.intake().addTerms(new NewTerms().title("Two").text("And charge it."));
    EnrollmentProfile p = desk.enrollment(profile("Terms").termsVersion(1));
    Agent agent = tablet("A-0010");
    agent.take(desk.invite(p, 5).getLink()).join();
    rig.client
        .intake()
        .changeEnrollmentProfile(
            p.getId(), Desk.onVersion(p.getVersion()), profile("Terms").termsVersion(2));
    agent.accept(null).join();
    return agent;
  }

  @Test
  void eachIsSaidInTheHoldersWordsWithWhatToDo() throws Exception {
    try (Browser b = new Browser()) {
      Map<Refusal, Agent> all = refused();
      assertThat(all.keySet())
          .as("every refusal of the wire is met")
          .containsExactlyInAnyOrderElementsOf(Arrays.asList(Refusal.values()));
      for (Map.Entry<Refusal, Agent> e : all.entrySet()) {
        Screen screen = Rig.eventually(e.getValue()::screen, s -> s.screen().equals("refused"));
        assertThat(screen.problem()).isEqualTo(Words.of(e.getKey()));
        b.open("about:blank");
        b.open(rig.handheldUrl(e.getValue()));
        b.read("This did not work");
        b.read(screen.reason());
        assertThat(b.see(By.cssSelector(".refused .advice")).getText())
            .as("advice on " + e.getKey())
            .isNotEqualTo("Ask whoever gave you the code.")
            .isNotBlank();
      }
    }
  }
}
