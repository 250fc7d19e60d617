package dev.pinwright.service.app;

import static dev.pinwright.service.Node.FIRST;
import static dev.pinwright.service.Node.OWNER;
import static dev.pinwright.service.Node.READER;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.core.app.Channel;
import dev.pinwright.core.change.Confirmation;
import dev.pinwright.core.change.Rehearsal;
import dev.pinwright.core.policy.ProfileKind;
import dev.pinwright.protocol.pack.Manifest;
import dev.pinwright.protocol.pack.PackageMaker;
import dev.pinwright.protocol.pack.PackageRefused;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.service.Node;
import dev.pinwright.service.rules.Profiles;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.app.AppStore;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What may be brought, and what a release and an assignment mean. */
class AppsTest {
  private Node node;
  private Pki.Identity workshop;
  private String tablet;
  @TempDir private Path folder;
  private int made;

  @BeforeEach
  void start() {
    node = new Node();
    workshop = signer("Vellmar workshop", Duration.ofDays(900));
    tablet = node.join(node.kiosks(9), "AR10-0001");
  }

  @AfterEach
  void stop() {
    node.close();
  }

  private Pki.Identity signer(String name, Duration left) {
    Instant now = node.clock.instant();
    return Pki.newRoot(name, now.minus(Duration.ofDays(1)), now.plus(left));
  }

  private Apps.Brought bring(int code, String more) {
    return bring("vellmar.rota", code, more, workshop);
  }

  private Apps.Brought bring(String id, int code, String more, Pki.Identity signer) {
    try (InputStream in = Files.newInputStream(packed(id, code, more, signer))) {
      return node.pinwright.apps().bring(OWNER, in);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private Path packed(String id, int code, String more, Pki.Identity signer) throws IOException {
    Path app = Files.createDirectory(folder.resolve("app" + ++made));
    Files.writeString(
        app.resolve(Manifest.FILE),
        """
        {"id":"%s","name":"Rota","version":"%d.0","versionCode":%d,"platforms":["tarn"]%s}
        """
            .formatted(id, code, code, more.isEmpty() ? "" : "," + more));
    Files.writeString(app.resolve("app.bin"), "the app in version " + code);
    Path file = folder.resolve("app" + made + ".pkg");
    try {
      PackageMaker.make(app, file);
      PackageMaker.sign(file, signer.key(), List.of(signer.certificate()));
    } catch (PackageRefused e) {
      throw new IllegalArgumentException(e);
    }
    return file;
  }

  private Releases.Released release(Apps.Detail app, int code, Channel channel) {
    return node.pinwright
        .releases()
        .release(
            OWNER,
            app.app().id(),
            node.pinwright.apps().get(OWNER, app.app().id()).version(),
            code,
            channel,
            Confirmation.NONE,
            Optional.empty());
  }

  private Profiles.Detail assign(Apps.Detail app, String name, String settings, String targets) {
    Profiles.Detail p =
        node.draft(
            "{\"kind\":\"app\",\"app\":\"%s\",\"name\":\"%s\",\"settings\":{%s},\"targets\":[%s]}"
                .formatted(app.app().id(), name, settings, targets));
    node.publish(p);
    return node.pinwright.profiles().get(OWNER, p.id());
  }

  private static final String GALLERY = "{\"kind\":\"tag\",\"ref\":\"gallery\"}";
  private static final String REQUIRED = "\"apps[rota].presence\":\"required\"";

  private String wanted() {
    return node.pinwright.deviceApps().of(READER, tablet).apps().stream()
        .map(
            a ->
                a.name()
                    + " "
                    + a.presence().orElseThrow()
                    + a.wanted().map(" "::concat).orElse(""))
        .toList()
        .toString();
  }

  @Test
  void anotherSignerAnEarlierCodeAndATakenNameAreRefused() {
    Apps.Brought first = bring(2, "\"permissions\":[\"network\"]");
    assertThat(first.before()).isFalse();
    assertThat(first.newPermissions()).isEmpty();
    assertThatThrownBy(() -> bring("vellmar.rota", 3, "", signer("Another", Duration.ofDays(9))))
        .isInstanceOfSatisfying(
            Problem.class, p -> assertThat(p.type()).isEqualTo("another-signer"))
        .hasMessageContaining("signed by Vellmar workshop");
    assertThatThrownBy(() -> bring(1, "")).hasMessageContaining("version code 2 already");
    assertThatThrownBy(() -> bring(2, "\"notes\":\"otherwise\""))
        .hasMessageContaining("Raise versionCode");
    assertThat(bring(3, "\"permissions\":[\"network\",\"camera\"]").newPermissions())
        .containsExactly("camera");
    assertThat(node.pinwright.apps().versions(READER, first.app().app().id(), FIRST).items())
        .extracting(Apps.Version::code)
        .containsExactly(3L, 2L);
  }

  @Test
  void theSamePackageAgainChangesNothing() throws IOException {
    byte[] bytes = Files.readAllBytes(packed("vellmar.rota", 1, "", workshop));
    Apps.Brought first = node.pinwright.apps().bring(OWNER, new ByteArrayInputStream(bytes));
    Apps.Brought again = node.pinwright.apps().bring(OWNER, new ByteArrayInputStream(bytes));
    assertThat(again.before()).isTrue();
    assertThat(again.app().version()).isEqualTo(first.app().version());
  }

  @Test
  void whatIsNoPackageOrOfNoPlatformOrOfALapsedSignerIsRefusedInWords() {
    assertThatThrownBy(
            () -> node.pinwright.apps().bring(OWNER, new ByteArrayInputStream(new byte[99])))
        .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.status()).isEqualTo(400))
        .hasMessageContaining("no ZIP that can be read");
    assertThatThrownBy(() -> bring(1, "\"configuration\":{\"type\":\"object\",\"properties\":7}"))
        .hasMessageContaining("configuration is no JSON Schema");
    assertThatThrownBy(
            () ->
                bring(
                    1,
                    "\"configuration\":{\"type\":\"object\",\"$ref\":\"https://else.example/s\"}"))
        .hasMessageContaining("refers to something outside");
    Pki.Identity lapsing = signer("Lapsing", Duration.ofDays(1));
    node.clock.pass(Duration.ofDays(2));
    assertThatThrownBy(() -> bring("vellmar.other", 1, "", lapsing))
        .hasMessageContaining("The certificate of Lapsing ended");
    assertThat(node.pinwright.apps().page(READER, "", "package", FIRST).items()).isEmpty();
    assertThat(node.pinwright.files().page(READER, "", "package", FIRST).items()).isEmpty();
  }

  @Test
  void aReleasePublishesWhatFollowsItAndLeavesWhatIsHeld() {
    Apps.Detail rota = bring(1, "").app();
    assertThat(release(rota, 1, Channel.ALL).changes()).isEmpty();
    Profiles.Detail all = assign(rota, "For all", REQUIRED, GALLERY);
    assign(
        rota,
        "Held",
        REQUIRED + ",\"apps[rota].follows\":\"held\",\"apps[rota].version\":\"1.0\"",
        "{\"kind\":\"tag\",\"ref\":\"still\"}");
    assertThat(wanted()).isEqualTo("[Rota REQUIRED 1.0]");
    bring(2, "");
    Rehearsal early = node.pinwright.releases().rehearse(READER, rota.app().id(), 2, Channel.EARLY);
    assertThat(early.devices()).as("nobody follows early releases").isZero();
    release(rota, 2, Channel.EARLY);
    assertThat(wanted()).isEqualTo("[Rota REQUIRED 1.0]");
    Rehearsal r = node.pinwright.releases().rehearse(READER, rota.app().id(), 2, Channel.ALL);
    assertThat(r.change()).isEqualTo(1);
    assertThat(r.effects().get(0).steps())
        .extracting(
            s ->
                s.title()
                    + ": "
                    + s.from().orElseThrow().text()
                    + " to "
                    + s.to().orElseThrow().text())
        .containsExactly("Version (rota): 1.0 (1) to 2.0 (2)");
    assertThat(release(rota, 2, Channel.ALL).changes()).hasSize(1);
    assertThat(wanted()).isEqualTo("[Rota REQUIRED 2.0]");
    assertThat(node.pinwright.profiles().get(OWNER, all.id()).draftChanged()).isFalse();
    assertThatThrownBy(() -> release(rota, 2, Channel.ALL))
        .hasMessageContaining("released so already");
    assertThat(release(rota, 1, Channel.ALL).changes()).as("going back").hasSize(1);
    assertThat(wanted()).isEqualTo("[Rota REQUIRED 1.0]");
  }

  @Test
  void whoLacksAnAppIsASheet() {
    Apps.Detail rota = bring(1, "").app();
    release(rota, 1, Channel.ALL);
    assign(rota, "For all", REQUIRED, GALLERY);
    String name = node.pinwright.devices().get(READER, tablet).device().name();
    assertThat(node.pinwright.apps().sheet(READER, rota.app().id(), "missing"))
        .isEqualToNormalizingNewlines(
            "device,version,managed,attempt,why,since\n" + name + ",,,,,\n");
    assertThat(node.pinwright.apps().sheet(READER, rota.app().id(), ""))
        .isEqualToNormalizingNewlines("device,version,managed,attempt,why,since\n");
    assertThatThrownBy(() -> node.pinwright.apps().sheet(READER, rota.app().id(), "lost"))
        .hasMessageContaining("under-way");
  }

  @Test
  void aReleaseTakenBackIsReleasedNoMore() {
    Apps.Detail rota = bring(1, "").app();
    release(rota, 1, Channel.ALL);
    assign(rota, "For all", REQUIRED, GALLERY);
    assign(rota, "First", REQUIRED + ",\"apps[rota].follows\":\"early\"", "");
    bring(2, "");
    List<String> changes = release(rota, 2, Channel.ALL).changes();
    assertThat(changes).hasSize(2);
    takeBack(changes.get(0));
    assertThat(released(rota)).as("one follows it still").isEqualTo("2 1");
    takeBack(changes.get(1));
    assertThat(released(rota)).isEqualTo("1 1");
    assertThat(wanted()).isEqualTo("[Rota REQUIRED 1.0]");
    assertThat(release(rota, 2, Channel.ALL).changes()).as("released anew").hasSize(2);
  }

  private void takeBack(String change) {
    node.pinwright.undo().undo(OWNER, change, Confirmation.NONE);
  }

  private String released(Apps.Detail app) {
    Apps.Detail now = node.pinwright.apps().get(READER, app.app().id());
    return now.forAll().orElseThrow().code() + " " + now.forEarly().orElseThrow().code();
  }

  @Test
  void whatIsForbiddenAnywhereGoesBeforeWhatIsNearer() {
    Apps.Detail rota = bring(1, "").app();
    release(rota, 1, Channel.ALL);
    assign(rota, "Mine", REQUIRED, "{\"kind\":\"device\",\"ref\":\"%s\"}".formatted(tablet));
    Profiles.Detail none =
        assign(rota, "None", "\"apps[rota].presence\":\"forbidden\"", "{\"kind\":\"everyone\"}");
    assertThat(wanted()).isEqualTo("[Rota FORBIDDEN]");
    node.pinwright.publishing().delete(OWNER, none.id(), none.version(), Confirmation.NONE);
    assertThat(wanted()).isEqualTo("[Rota REQUIRED 1.0]");
  }

  @Test
  void anAssignmentGoesAlongWithAKitAndKeepsItsAppFromBeingDeleted() {
    Apps.Detail rota = bring(1, "").app();
    release(rota, 1, Channel.ALL);
    Profiles.Detail assigned = assign(rota, "Rota", REQUIRED, "");
    assertThat(wanted()).isEqualTo("[]");
    node.publish(
        node.draft(
            "{\"kind\":\"kit\",\"name\":\"Gallery kit\",\"parts\":[{\"profile\":\"%s\"}],\"targets\":[%s]}"
                .formatted(assigned.id(), GALLERY)));
    assertThat(wanted()).isEqualTo("[Rota REQUIRED 1.0]");
    int version = node.pinwright.apps().get(OWNER, rota.app().id()).version();
    assertThatThrownBy(() -> node.pinwright.apps().delete(OWNER, rota.app().id(), version))
        .hasMessageContaining("the assignment Rota");
    String file =
        node.pinwright.apps().versions(READER, rota.app().id(), FIRST).items().get(0).sha256();
    assertThatThrownBy(
            () ->
                node.pinwright
                    .files()
                    .delete(OWNER, file, node.pinwright.files().get(OWNER, file).file().version()))
        .hasMessageContaining("the app Rota 1.0");
  }

  @Test
  void appsAreAssignedByTheirOwnAndByNothingElse() {
    Apps.Detail rota = bring(1, "").app();
    release(rota, 1, Channel.ALL);
    for (String wrong :
        List.of(
            "{\"name\":\"A\",\"settings\":{%s}}".formatted(REQUIRED),
            "{\"name\":\"A\",\"kind\":\"app\"}",
            "{\"name\":\"A\",\"kind\":\"app\",\"app\":\"nobody\"}",
            "{\"name\":\"A\",\"app\":\"%s\"}".formatted(rota.app().id()),
            "{\"name\":\"A\",\"kind\":\"app\",\"app\":\"%s\",\"settings\":{\"apps[other].presence\":\"required\"}}"
                .formatted(rota.app().id()),
            "{\"name\":\"A\",\"kind\":\"app\",\"app\":\"%s\",\"settings\":{\"passcode.min-length\":6}}"
                .formatted(rota.app().id()),
            "{\"name\":\"A\",\"kind\":\"app\",\"app\":\"%s\",\"settings\":{%s,\"apps[rota].configuration\":\"{}x\"}}"
                .formatted(rota.app().id(), REQUIRED),
            "{\"name\":\"A\",\"kind\":\"app\",\"app\":\"%s\",\"settings\":{%s,\"apps[rota].configuration\":\"{\\\"a\\\":1}\"}}"
                .formatted(rota.app().id(), REQUIRED))) {
      assertThatThrownBy(() -> node.draft(wrong))
          .as(wrong)
          .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.status()).isEqualTo(400));
    }
    assertThat(node.pinwright.profiles().page(OWNER, ProfileKind.APP, "", FIRST).items()).isEmpty();
    assertThat(Json.write(node.pinwright.search().find(READER, "rota", "", false)))
        .contains("vellmar.rota");
  }

  @Test
  void howDevicesAreWithItIsCountedAndListed() {
    Apps.Detail rota = bring(1, "").app();
    release(rota, 1, Channel.ALL);
    assign(rota, "Rota", REQUIRED, GALLERY);
    Apps.Detail now = node.pinwright.apps().get(READER, rota.app().id());
    assertThat(now.counts()).isEqualTo(new AppStore.Counts(0, 1, 0, 0, 0));
    assertThat(now.app().assigned()).isEqualTo(1);
    assertThat(now.assignments().get(0).devices()).isEqualTo(1);
    assertThat(node.pinwright.apps().devices(READER, rota.app().id(), "missing", FIRST).items())
        .extracting(AppStore.OnDevice::id)
        .containsExactly(tablet);
    node.sql(
        "insert into device_app values ('%s','vellmar.rota','Rota','0.9',true,true,1,'x','','n')"
            .formatted(tablet));
    assertThat(node.pinwright.apps().get(READER, rota.app().id()).counts())
        .isEqualTo(new AppStore.Counts(1, 0, 1, 0, 0));
    assertThatThrownBy(() -> node.pinwright.apps().devices(READER, rota.app().id(), "lost", FIRST))
        .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.status()).isEqualTo(400));
  }
}
