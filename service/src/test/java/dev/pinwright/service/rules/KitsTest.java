package dev.pinwright.service.rules;

import static dev.pinwright.service.Node.FIRST;
import static dev.pinwright.service.Node.OWNER;
import static dev.pinwright.service.Node.READER;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.core.change.Confirmation;
import dev.pinwright.core.change.Rehearsal;
import dev.pinwright.core.policy.ProfileKind;
import dev.pinwright.service.Node;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Problem;
import java.time.Duration;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Profiles handed out together, by one assignment. */
class KitsTest {
  private Node node;
  private String code;
  private String device;
  private Profiles.Detail dim;
  private Profiles.Detail quiet;

  @BeforeEach
  void start() {
    node = new Node();
    code = node.kiosks(9);
    device = node.join(code, "AR10-0001");
    dim = profile("Dim", "appearance.brightness", 20);
    quiet = profile("Quiet", "passcode.min-length", 6);
  }

  @AfterEach
  void stop() {
    node.close();
  }

  private Profiles.Detail profile(String name, String setting, int value) {
    return node.draft("{\"name\":\"%s\",\"settings\":{\"%s\":%d}}".formatted(name, setting, value));
  }

  private Profiles.Detail kit(String targets, Profiles.Detail... parts) {
    List<String> written =
        List.of(parts).stream().map(p -> "{\"profile\":\"%s\"}".formatted(p.id())).toList();
    return node.draft(
        "{\"kind\":\"kit\",\"name\":\"Gallery kit\",\"parts\":%s,%s}".formatted(written, targets));
  }

  private static final String GALLERY = "\"targets\":[{\"kind\":\"tag\",\"ref\":\"gallery\"}]";

  private Profiles.Detail change(Profiles.Detail profile, String draft) {
    Profiles.Detail now = node.pinwright.profiles().get(OWNER, profile.id());
    return node.pinwright
        .profiles()
        .change(OWNER, now.id(), now.version(), Json.request(draft, Profiles.Draft.class));
  }

  private String inEffect(String device) {
    return node.pinwright.devices().settings(READER, device).inEffect().stream()
        .map(s -> s.setting() + "=" + s.value() + " by " + s.from().get(0).profile())
        .toList()
        .toString();
  }

  private String inEffect() {
    return inEffect(device);
  }

  private Rehearsal rehearse(Profiles.Detail profile) {
    return node.pinwright.publishing().rehearse(OWNER, profile.id());
  }

  @Test
  void whatIsPublishedInItGoesWithIt() {
    node.publish(dim);
    Profiles.Detail kit = kit(GALLERY, dim, quiet);
    assertThat(inEffect()).isEqualTo("[]");
    Rehearsal r = rehearse(kit);
    assertThat(r.gain()).isEqualTo(1);
    assertThat(r.effects().get(0).steps())
        .extracting(Rehearsal.Step::setting)
        .as("what was never published stays here")
        .containsExactly("appearance.brightness");
    assertThat(node.publish(kit).change().total()).isEqualTo(1);
    assertThat(inEffect()).isEqualTo("[appearance.brightness=20 by Dim]");
    assertThat(rehearse(quiet).gain()).as("by the kit alone").isEqualTo(1);
    node.publish(quiet);
    assertThat(inEffect())
        .isEqualTo("[appearance.brightness=20 by Dim, passcode.min-length=6 by Quiet]");
    String later = node.join(code, "AR10-0002");
    assertThat(inEffect(later)).as("who comes later").isEqualTo(inEffect());
    assertThat(node.pinwright.profiles().get(OWNER, dim.id()).kits())
        .extracting(Profiles.Named::name)
        .containsExactly("Gallery kit");
    assertThat(node.pinwright.profiles().standing(OWNER, kit.id()).standings())
        .containsEntry("catching-up", 2L);
  }

  @Test
  void aNewVersionOfAPartReachesWhoHasTheKit() {
    node.publish(dim);
    node.publish(kit(GALLERY, dim));
    Profiles.Detail dark = change(dim, "{\"settings\":{\"appearance.brightness\":10}}");
    assertThat(rehearse(dark).changing()).isEqualTo(1);
    node.publish(dark);
    assertThat(inEffect()).isEqualTo("[appearance.brightness=10 by Dim]");
  }

  @Test
  void whatTheKitLeavesOutStaysWithWhoHasTheProfileItself() {
    node.publish(change(dim, "{%s}".formatted(GALLERY)));
    node.publish(quiet);
    Profiles.Detail kit =
        kit(
            "\"targets\":[{\"kind\":\"everyone\"}],\"exclusions\":[{\"kind\":\"device\",\"ref\":\"%s\"}]"
                .formatted(device),
            dim,
            quiet);
    String other = node.join(code, "AR10-0002");
    assertThat(rehearse(kit).changing()).as("all but the one left out").isEqualTo(1);
    node.publish(kit);
    assertThat(inEffect()).isEqualTo("[appearance.brightness=20 by Dim]");
    assertThat(inEffect(other))
        .isEqualTo("[appearance.brightness=20 by Dim, passcode.min-length=6 by Quiet]");
  }

  @Test
  void whatIsTakenOutOfItLeavesDevicesWithIt() {
    node.publish(dim);
    node.publish(quiet);
    Profiles.Detail kit = kit(GALLERY, dim, quiet);
    node.publish(kit);
    Profiles.Detail less = change(kit, "{\"parts\":[{\"profile\":\"%s\"}]}".formatted(quiet.id()));
    assertThat(less.draftChanged()).isTrue();
    assertThat(rehearse(less).lose()).isEqualTo(1);
    node.publish(less);
    assertThat(inEffect()).isEqualTo("[passcode.min-length=6 by Quiet]");
    assertThat(node.pinwright.publishing().versions(OWNER, kit.id(), FIRST).items())
        .extracting(v -> v.parts().size())
        .containsExactly(1, 2);
    String change = node.pinwright.changes().page(OWNER, FIRST).items().get(0).id();
    node.pinwright.undo().undo(OWNER, change, Confirmation.NONE);
    assertThat(inEffect())
        .as("taken back")
        .isEqualTo("[appearance.brightness=20 by Dim, passcode.min-length=6 by Quiet]");
    Profiles.Detail now = node.pinwright.profiles().get(OWNER, kit.id());
    node.pinwright.publishing().delete(OWNER, kit.id(), now.version(), Confirmation.NONE);
    assertThat(inEffect()).isEqualTo("[]");
  }

  @Test
  void aKitBeginsAndEndsWithAllThatGoesAlong() {
    node.publish(dim);
    node.publish(
        kit(
            GALLERY
                + ",\"window\":{\"from\":\"%s\"}"
                    .formatted(node.clock.instant().plus(Duration.ofHours(2))),
            dim));
    assertThat(inEffect()).isEqualTo("[]");
    node.clock.pass(Duration.ofHours(3));
    node.pinwright.publishing().followWindows();
    assertThat(inEffect()).isEqualTo("[appearance.brightness=20 by Dim]");
  }

  @Test
  void itIsListedAsAKitAndAsNoProfile() {
    Profiles.Detail kit = kit(GALLERY, dim);
    Profiles profiles = node.pinwright.profiles();
    assertThat(profiles.page(OWNER, ProfileKind.KIT, "", FIRST).items())
        .extracting(Profiles.Summary::name, Profiles.Summary::parts)
        .containsExactly(org.assertj.core.groups.Tuple.tuple("Gallery kit", 1));
    assertThat(profiles.page(OWNER, ProfileKind.PROFILE, "", FIRST).items())
        .extracting(Profiles.Summary::name)
        .containsExactly("Dim", "Quiet");
    ProfileFiles.File file = node.pinwright.profileFiles().write(OWNER, kit.id());
    assertThat(file.kind()).contains(ProfileKind.KIT);
    assertThat(file.parts().orElseThrow()).containsExactly(new ProfileFiles.Part("Dim", false));
    assertThat(profiles.copy(OWNER, kit.id(), "Second kit").parts())
        .extracting(Profiles.Part::name)
        .containsExactly("Dim");
  }

  @Test
  void whatCannotBeAKitIsRefusedInWords() {
    Profiles.Detail kit = kit(GALLERY, dim);
    assertRefused(
        () -> change(kit, "{\"parts\":[{\"profile\":\"%s\"}]}".formatted(kit.id())), "no kits");
    assertRefused(
        () -> change(kit, "{\"parts\":[{\"profile\":\"nowhere\"}]}"), "no profile nowhere");
    assertRefused(
        () ->
            change(
                kit,
                "{\"parts\":[{\"profile\":\"%1$s\"},{\"profile\":\"%1$s\"}]}".formatted(dim.id())),
        "once");
    assertRefused(() -> change(kit, "{\"parts\":[{}]}"), "which profile");
    assertRefused(
        () -> change(kit, "{\"settings\":{\"passcode.min-length\":6}}"), "into a profile");
    assertRefused(
        () -> change(dim, "{\"parts\":[{\"profile\":\"%s\"}]}".formatted(quiet.id())),
        "Only a kit");
    assertRefused(() -> change(kit, "{\"kind\":\"profile\"}"), "stays one");
    assertThatThrownBy(
            () ->
                node.pinwright
                    .publishing()
                    .delete(
                        OWNER,
                        dim.id(),
                        node.pinwright.profiles().get(OWNER, dim.id()).version(),
                        Confirmation.NONE))
        .hasMessageContaining("Dim goes along with Gallery kit");
  }

  private static void assertRefused(
      org.assertj.core.api.ThrowableAssert.ThrowingCallable call, String why) {
    assertThatThrownBy(call).isInstanceOf(Problem.class).hasMessageContaining(why);
  }
}
