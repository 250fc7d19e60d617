package dev.pinwright.service.file;

import static dev.pinwright.service.Node.FIRST;
import static dev.pinwright.service.Node.OWNER;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.core.Sha256;
import dev.pinwright.core.change.Confirmation;
import dev.pinwright.core.file.FileKind;
import dev.pinwright.core.file.StoredFile;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.service.Node;
import dev.pinwright.service.rules.Profiles;
import dev.pinwright.service.work.Json;
import dev.pinwright.storage.house.NoticeStore;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Files are kept once, as long as something uses them. */
class StoredFilesTest {
  private static final Duration MONTH = StoredFile.KEPT_UNUSED.plusMinutes(1);

  private Node node;
  private StoredFiles files;

  @BeforeEach
  void start() {
    node = new Node();
    files = node.pinwright.files();
  }

  @AfterEach
  void stop() {
    node.close();
  }

  private StoredFiles.Kept keep(String name, String text) {
    return files.keep(
        OWNER,
        new StoredFiles.Brought(name, Optional.empty(), Optional.empty()),
        new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8)));
  }

  private Profiles.Detail naming(String profile, StoredFile file) {
    return node.draft(
        Json.write(
            Map.of(
                "name",
                profile,
                "settings",
                Map.of(
                    "documents[rules].title",
                    "Rules",
                    "documents[rules].file",
                    StoredFile.reference(file.id())))));
  }

  private List<String> names() {
    return files.page(OWNER, "", "", FIRST).items().stream().map(StoredFile::name).toList();
  }

  private long objects() {
    return node.sql(
        tx -> tx.value("select count(*) from pg_largeobject_metadata", Long.class, Map.of()));
  }

  @Test
  void aContentIsKeptOnceUnderItsDigest() throws IOException {
    StoredFiles.Kept first = keep("Rules.txt", "Leave them charging.");
    assertThat(first.before()).isFalse();
    assertThat(first.file().id()).isEqualTo(Sha256.hex("Leave them charging."));
    StoredFiles.Kept again = keep("The same.txt", "Leave them charging.");
    assertThat(again.before()).isTrue();
    assertThat(again.file().name()).isEqualTo("Rules.txt");
    assertThat(objects()).isEqualTo(1);
    assertThatThrownBy(() -> keep("RULES.TXT", "Another.")).hasMessageContaining("another file");
    assertThat(objects()).as("what is refused leaves nothing").isEqualTo(1);
    var content = files.content(first.file().id()).orElseThrow();
    try (InputStream in = content.open(6, 4)) {
      assertThat(in.readAllBytes()).asString(StandardCharsets.UTF_8).isEqualTo("them");
    }
  }

  @Test
  void itIsReadInPartsHoweverLargeItIs() throws IOException {
    String line = "A line of the long list of objects in the harbour store.\n";
    String text = line.repeat(30_000);
    StoredFile file = keep("Objects.txt", text).file();
    assertThat(file.bytes()).isEqualTo(text.length()).isGreaterThan(1 << 20);
    var content = files.content(file.id()).orElseThrow();
    try (InputStream in = content.open(0, file.bytes())) {
      assertThat(in.readAllBytes()).asString(StandardCharsets.UTF_8).isEqualTo(text);
    }
    try (InputStream in = content.open(0, file.bytes())) {
      assertThat(in.read()).isEqualTo('A');
      files.delete(OWNER, file.id(), file.version());
      assertThat(in.readAllBytes()).as("in memory since it was read").hasSize(text.length() - 1);
    }
    StoredFile unread = keep("Objects.txt", "Of another harbour.\n" + text).file();
    try (InputStream in = files.content(unread.id()).orElseThrow().open(0, unread.bytes())) {
      assertThat(in.read()).isEqualTo('O');
      files.delete(OWNER, unread.id(), unread.version());
      assertThatThrownBy(in::readAllBytes)
          .isInstanceOf(IOException.class)
          .hasMessageContaining("cannot be read on");
    }
  }

  @Test
  void aProfileNamesOnlyWhatIsThereAndOfItsKind() {
    StoredFile rules = keep("Rules.txt", "Leave them charging.").file();
    naming("Staff", rules);
    assertThat(files.get(OWNER, rules.id()).uses())
        .singleElement()
        .satisfies(u -> assertThat(u.profileName()).isEqualTo("Staff"))
        .satisfies(u -> assertThat(u.draft()).isTrue())
        .satisfies(u -> assertThat(u.latest()).isEmpty());
    assertThatThrownBy(
            () ->
                node.draft(
                    "{\"name\":\"P\",\"settings\":{\"appearance.wallpaper-picture\":\"sha256:%s\"}}"
                        .formatted(rules.id())))
        .hasMessage("Rules.txt is a document; here a picture goes.");
    assertThatThrownBy(
            () ->
                node.draft(
                    "{\"name\":\"P\",\"settings\":{\"appearance.wallpaper-picture\":\"sha256:%s\"}}"
                        .formatted("0".repeat(64))))
        .hasMessageContaining("store it first");
    assertThatThrownBy(() -> files.delete(OWNER, rules.id(), rules.version()))
        .hasMessageContaining("still used by the profile Staff");
  }

  @Test
  void whatNothingUsesGoesAfterAMonthAndWhatAVersionNamesStays() {
    StoredFile used = keep("Used.txt", "used").file();
    StoredFile before = keep("Before.txt", "before").file();
    keep("Unused.txt", "unused");
    Profiles.Detail profile = naming("Staff", before);
    node.publish(profile);
    Profiles.Detail now = node.pinwright.profiles().get(OWNER, profile.id());
    node.pinwright
        .profiles()
        .change(
            OWNER,
            now.id(),
            now.version(),
            new Profiles.Draft(
                Optional.empty(),
                Optional.empty(),
                Optional.of(
                    Map.of(
                        "documents[rules].title",
                        Json.tree("\"R\""),
                        "documents[rules].file",
                        Json.tree("\"" + StoredFile.reference(used.id()) + "\""))),
                Optional.empty(),
                Optional.empty()));
    files.clearUnused();
    assertThat(names()).hasSize(3);
    assertThat(files.get(OWNER, used.id()).file().clearedAt()).isEmpty();
    node.clock.pass(MONTH);
    files.clearUnused();
    assertThat(names()).containsExactly("Before.txt", "Used.txt");
    assertThat(objects()).isEqualTo(2);

    Profiles.Detail last = node.pinwright.profiles().get(OWNER, profile.id());
    node.pinwright.publishing().delete(OWNER, last.id(), last.version(), Confirmation.NONE);
    files.clearUnused();
    assertThat(names()).as("it has a month from now").hasSize(2);
    node.clock.pass(MONTH);
    files.clearUnused();
    assertThat(names()).isEmpty();
    assertThat(objects()).isZero();
  }

  @Test
  void whoeverHandsOutACertificateIsToldBeforeItLapses() {
    String pem =
        Pki.pem(
            Pki.newRoot(
                    "Staff network",
                    node.clock.instant().minusSeconds(60),
                    node.clock.instant().plus(Duration.ofDays(90)))
                .certificate());
    // brought late: the node's own chore clears, by the same clock, what nobody names for long
    node.clock.pass(Duration.ofDays(80));
    StoredFile root = keep("Root.pem", pem).file();
    assertThat(root.kind()).isEqualTo(FileKind.CERTIFICATE);
    assertThat(notices()).as("nothing hands it out").isEmpty();
    node.draft(
        "{\"name\":\"Staff\",\"settings\":{\"certificates[net].file\":\"%s\"}}"
            .formatted(StoredFile.reference(root.id())));
    assertThat(notices()).containsExactly("The certificate Root.pem lapses in 10 days");
    assertThat(notices()).as("once").hasSize(1);
    node.clock.pass(Duration.ofDays(3));
    assertThat(notices()).containsExactly("The certificate Root.pem lapses in 7 days");
    node.clock.pass(Duration.ofDays(30));
    assertThat(notices()).containsExactly("The certificate Root.pem has lapsed");
    assertThatThrownBy(() -> keep("Old.pem", pem + "\n"))
        .hasMessageContaining("which is over; bring one that still holds");
  }

  private List<String> notices() {
    node.pinwright.notices().lookAtCredentials();
    return node.pinwright.notices().page(OWNER, FIRST).items().stream()
        .map(NoticeStore.Given::title)
        .toList();
  }
}
