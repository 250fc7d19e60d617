package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import com.fasterxml.jackson.dataformat.yaml.YAMLMapper;
import com.networknt.schema.JsonSchemaFactory;
import com.networknt.schema.SpecVersion;
import dev.pinwright.sandbox.demo.Scenario;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HexFormat;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.openqa.selenium.By;

/** All that the demo arranges, written into a folder and loaded into a service that has nothing. */
class ConfigurationStoryTest {
  private static final String SECRETS =
      """
      profile:
        Gallery Wi-Fi:
          wifi[galleries].passphrase: lantern over the quay
        Staff network:
          wifi[staff].passphrase: harbour bell at noon
      enrollment-profile:
        Volunteers' own phones:
          passphrase: a quiet word
      """;

  private static Map<String, String> read(Path dir) throws IOException {
    Map<String, String> all = new TreeMap<>();
    try (Stream<Path> inside = Files.walk(dir)) {
      for (Path file : inside.filter(Files::isRegularFile).toList()) {
        all.put(
            dir.relativize(file).toString(),
            file.toString().endsWith(".yaml")
                ? Files.readString(file)
                : HexFormat.of().formatHex(Files.readAllBytes(file)));
      }
    }
    return all;
  }

  private static Shell signedIn(Rig rig) {
    Shell shell = new Shell(rig);
    shell.type(Rig.PASSWORD + "\n", "signin", "--login", "owner", "--password-stdin");
    return shell;
  }

  @Test
  void theDemoIsLoadedIntoAnEmptyServiceAndWrittenOutAgainTheSame(@TempDir Path temp)
      throws Exception {
    Path house = temp.resolve("house");
    try (Rig rig = new Rig()) {
      new Scenario(rig.handheld, rig.consoleUrl(), "owner", Rig.PASSWORD).arrange();
      Shell shell = signedIn(rig);
      assertThat(shell.ok("configuration", "export", house.toString())).contains("written to");
      assertThat(shell.ok("configuration", "load", house.toString(), "--dry-run", "--delete"))
          .contains("The files say what is so already.", "No device gets other settings.");
      sound(house, shell.ok("configuration", "schema"));
    }
    Map<String, String> first = read(house);
    assertThat(first)
        .containsKeys("rules/kits/staff-kit.yaml", "files/Quay at dusk.png")
        .hasSizeGreaterThan(25);
    try (Rig rig = new Rig()) {
      Shell shell = signedIn(rig);
      assertThat(shell.run("configuration", "load", house.toString()).err())
          .contains("Secrets are in no file and ", " of ");
      Path secrets = Files.writeString(temp.resolve("secrets.yaml"), SECRETS);
      assertThat(
              shell.ok("configuration", "load", house.toString(), "--secrets", secrets.toString()))
          .contains("add     unit                VM-HAR", "Loaded; no device gets other settings.");
      Path again = temp.resolve("again");
      shell.ok("configuration", "export", again.toString());
      assertThat(read(again)).isEqualTo(first);

      // a picture is another, a rule is another, a profile goes
      Path dusk = house.resolve("files/Quay at dusk.png");
      Path night = house.resolve("files/Ridge at night.png");
      byte[] kept = Files.readAllBytes(dusk);
      Files.write(dusk, Files.readAllBytes(night));
      Files.write(night, kept);
      Path groups = house.resolve("rules/groups.yaml");
      Files.writeString(groups, Files.readString(groups).replace("os < 7.1", "os < 7.2"));
      Files.delete(house.resolve("rules/profiles/dome-screens.yaml"));
      assertThat(shell.ok("configuration", "load", house.toString(), "--dry-run"))
          .contains(
              "change  group               Kiosks behind on updates",
              "change  profile             Gallery tablets",
              "1 thing is in no file and stays; --delete deletes:",
              "profile             Dome screens");
      loadedInTheConsole(rig, house);
      shell.ok("configuration", "export", again.toString());
      assertThat(read(again)).isEqualTo(read(house));
    }
  }

  private static void loadedInTheConsole(Rig rig, Path house) {
    try (Browser b = new Browser()) {
      b.open(rig.consoleUrl());
      b.type("Login", "owner");
      b.type("Password", Rig.PASSWORD);
      b.press("Sign in");
      b.read("Today");
      b.open(rig.consoleUrl() + "/house/configuration");
      b.read("state: published");
      b.see(By.cssSelector("input[type=file]")).sendKeys(house.toString());
      b.read("In no file; stays, 1");
      b.click(By.xpath("//label[contains(., 'Delete what is in no file')]"));
      b.read("Deleted, 1");
      b.press("Load all of it");
      b.read("Loaded. No device gets other settings.");
    }
  }

  /** Holds what was written to the schema that is published. */
  private static void sound(Path house, String schema) throws IOException {
    ObjectMapper json = new ObjectMapper();
    ObjectNode all = json.createObjectNode();
    for (Map.Entry<String, String> e : read(house).entrySet()) {
      if (e.getKey().endsWith(".yaml")) {
        all.set(e.getKey(), new YAMLMapper().readTree(house.resolve(e.getKey()).toFile()));
      }
    }
    var rules = JsonSchemaFactory.getInstance(SpecVersion.VersionFlag.V202012).getSchema(schema);
    assertThat(rules.validate(all)).isEmpty();
    ((ObjectNode) all.get("rules/profiles/baseline.yaml")).put("state", "loud");
    assertThat(rules.validate(all)).as("and would not have held anything").isNotEmpty();
  }
}
