package dev.pinwright.service;

import static dev.pinwright.service.work.Page.Part.TEXT;
import static dev.pinwright.service.work.Page.Part.TIME;
import static dev.pinwright.service.work.Page.Part.WHOLE;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalArgumentException;
import static org.assertj.core.api.Assertions.assertThatIllegalStateException;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.fasterxml.jackson.core.type.TypeReference;
import dev.pinwright.catalog.Catalogue;
import dev.pinwright.core.access.Role;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.SettingValue;
import dev.pinwright.core.command.CommandState;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.policy.KitPart;
import dev.pinwright.core.target.Assignment;
import dev.pinwright.core.target.Target;
import dev.pinwright.service.secret.Passwords;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.shape.ProfileContent;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Settings;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class SecretsAndPagesTest {
  @TempDir Path home;

  @Test
  void whatIsSealedOpensOnlyWithTheSameKey() throws Exception {
    Vault vault = Vault.at(home);
    byte[] sealed = vault.seal("lantern over the quay");
    assertThat(new String(sealed)).doesNotContain("lantern");
    assertThat(vault.seal("lantern over the quay")).isNotEqualTo(sealed);
    assertThat(Vault.at(home).open(sealed)).isEqualTo("lantern over the quay");
    assertThat(
            PosixFilePermissions.toString(Files.getPosixFilePermissions(home.resolve("seal.key"))))
        .isEqualTo("rw-------");
    Vault other = Vault.at(Files.createDirectory(home.resolve("other")));
    assertThatIllegalStateException()
        .isThrownBy(() -> other.open(sealed))
        .withMessageContaining("another key");
  }

  @Test
  void passwordsAreHashedWithSaltByArgon2id() {
    String hash = Passwords.hash("herring and rye");
    assertThat(hash).startsWith("$argon2id$").isNotEqualTo(Passwords.hash("herring and rye"));
    assertThat(Passwords.matches("herring and rye", hash)).isTrue();
    assertThat(Passwords.matches("herring", hash)).isFalse();
    assertThat(Passwords.matchesNobody("herring")).isFalse();
    for (int i = 0; i < 3; i++) {
      assertThat(Passwords.sharedMatches("herring and rye", hash)).isTrue();
      assertThat(Passwords.sharedMatches("herring", hash)).isFalse();
      assertThat(Passwords.sharedMatches("herring and rye", Passwords.hash("herring"))).isFalse();
    }
  }

  @Test
  void aConstantOfCoreIsItsWordEvenAsAKey() {
    assertThat(Json.write(Map.of(CommandState.DONE, Mode.WORK_PROFILE)))
        .isEqualTo("{\"done\":\"work-profile\"}");
    assertThat(
            Json.read(
                "{\"done\":\"work-profile\"}", new TypeReference<Map<CommandState, Mode>>() {}))
        .containsEntry(CommandState.DONE, Mode.WORK_PROFILE);
  }

  @Test
  void aRoleCoversTheOnesBelowIt() {
    Caller helpdesk = new Caller("1", "guest", Role.HELPDESK);
    helpdesk.needs(Role.READER);
    helpdesk.needs(Role.HELPDESK);
    assertThatThrownBy(() -> helpdesk.needs(Role.OPERATOR))
        .hasMessage("This needs the role operator; yours is helpdesk.");
  }

  @Test
  void aCursorCarriesAnyTextAndNothingElseIsOne() {
    Page.Request page = new Page.Request(Page.cursor("quay, ü", "01J"), 10);
    assertThat(page.parts(TEXT, TEXT)).containsExactly("quay, ü", "01J");
    assertThat(new Page.Request("", 10).parts(TEXT, TEXT)).isEmpty();
    for (String odd : List.of("zzz", "%", "_w", "gA")) {
      assertThatThrownBy(() -> new Page.Request(odd, 10).parts(TEXT))
          .as("neither base64 nor UTF-8 inside")
          .hasMessageContaining("not a cursor of this list");
    }
    assertThatThrownBy(() -> page.parts(TEXT, TEXT, TEXT)).isInstanceOf(Problem.class);
    assertThatThrownBy(() -> new Page.Request("", 201)).hasMessageContaining("1 to 200");
    Page<String> shown = Page.of(List.of("a", "b", "c"), 2, x -> x, Page::cursor);
    assertThat(shown.items()).containsExactly("a", "b");
    assertThat(new Page.Request(shown.next().orElseThrow(), 2).parts(TEXT)).containsExactly("b");
    assertThat(Page.of(List.of("a"), 2, x -> x, Page::cursor).next()).isEmpty();
  }

  @Test
  void aPartOfACursorIsWhatItsListOrdersBy() {
    List<String> times =
        List.of("2026-11-25 14:03:07.123456+00", "2026-11-25 14:03:07+05:30", "-infinity");
    for (String time : times) {
      assertThat(new Page.Request(Page.cursor(time), 1).parts(TIME)).containsExactly(time);
    }
    for (String odd :
        List.of("yesterday", "2026-02-30 00:00:00+00", "2026-11-25T14:03:07Z", "1; drop")) {
      assertThatThrownBy(() -> new Page.Request(Page.cursor(odd), 1).parts(TIME))
          .hasMessageContaining("not a cursor of this list");
    }
    assertThat(new Page.Request(Page.cursor("12"), 1).parts(WHOLE)).containsExactly("12");
    for (String odd : List.of("-1", "1234567890", "1.5", "x")) {
      assertThatThrownBy(() -> new Page.Request(Page.cursor(odd), 1).parts(WHOLE))
          .isInstanceOf(Problem.class);
    }
    for (String odd : List.of("line\nbreak", "\u001b")) {
      assertThatThrownBy(() -> new Page.Request(Page.cursor(odd), 1).parts(TEXT))
          .isInstanceOf(Problem.class);
    }
  }

  @Test
  void aProfileIsKeptSealedAndShownMasked() {
    Catalog catalog = Catalogue.load().catalog();
    Vault vault = Vault.at(home);
    ProfileContent content =
        new ProfileContent(
            Map.of(
                "wifi[staff].passphrase", new SettingValue.Text("lantern over the quay"),
                "restrictions.blocked-apps", new SettingValue.Items(List.of("Shift Radio")),
                "passcode.min-length", new SettingValue.Whole(6),
                "passcode.required", new SettingValue.Flag(true)),
            List.of(new KitPart("01GALLERY", true), new KitPart("01WIFI", false)),
            new Assignment(
                List.of(new Target(Target.Kind.EVERYONE, "")),
                List.of(new Target(Target.Kind.TAG, "staff"))));
    String stored = content.store(catalog, vault);
    assertThat(stored).doesNotContain("lantern").contains("Shift Radio");
    assertThat(ProfileContent.load(stored, vault)).isEqualTo(content);
    assertThat(content.shown(catalog).get("wifi[staff].passphrase").asText())
        .isEqualTo(ProfileContent.MASK);
  }

  @Test
  void settingsComeFromTheEnvironmentAndBadOnesAreNamed() {
    Settings s =
        Settings.of(Map.of("PINWRIGHT_DEVICE_NAMES", "devices.vellmar.example, 127.0.0.1"));
    assertThat(s.deviceBase()).isEqualTo("https://devices.vellmar.example:7443");
    assertThat(s.deviceNames()).containsExactly("devices.vellmar.example", "127.0.0.1");
    assertThatIllegalArgumentException()
        .isThrownBy(() -> Settings.of(Map.of("PINWRIGHT_CONSOLE_PORT", "http")))
        .withMessageContaining("PINWRIGHT_CONSOLE_PORT has to be a whole number, not 'http'");
    assertThat(s.database()).asString().doesNotContain("assword");
  }
}
