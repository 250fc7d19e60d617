package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.Command;
import dev.pinwright.client.model.CommandKey;
import dev.pinwright.client.model.CommandOutput;
import dev.pinwright.client.model.CommandState;
import dev.pinwright.client.model.Dispatch;
import dev.pinwright.client.model.DispatchOrder;
import dev.pinwright.client.model.Process;
import dev.pinwright.client.model.Profile;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.sandbox.device.Agent;
import dev.pinwright.sandbox.device.Screen;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** What is done on laptops from afar: scripts, and what runs on them. */
class LaptopTest {
  private static Rig rig;
  private static Desk desk;
  private static Agent laptop;
  private static String id;

  @BeforeAll
  static void start() throws Exception {
    rig = new Rig();
    desk = new Desk(rig);
    laptop = rig.join(rig.unpackAutomatic("Note 14"), desk.kiosks("Laptops", 3).getLink());
    id = desk.devices(laptop.screen().serial(), 1).get(0).getId();
  }

  @AfterAll
  static void stop() {
    rig.close();
  }

  private static String script(String text) throws Exception {
    return file(text, ".sh");
  }

  private static String file(String text, String ending) throws Exception {
    Path file = Files.createTempFile("laptop", ending);
    Files.writeString(file, text);
    try {
      return "sha256:" + rig.client.storeFile(file, file.getFileName().toString(), null).getId();
    } finally {
      Files.delete(file);
    }
  }

  private static Command ended(CommandKey command, Map<String, String> fields) throws Exception {
    Dispatch d =
        desk.order(
            new DispatchOrder()
                .command(command)
                .fields(fields)
                .reason("the fans run all day")
                .targets(List.of(Desk.device(id))),
            UUID.randomUUID().toString());
    return desk.ended(d);
  }

  private static CommandOutput output(Command c) throws ApiException {
    return rig.client.acting().getCommandOutput(c.getId());
  }

  @Test
  void aScriptRunsAndBringsBackHowItEndedAndWhatItWrote() throws Exception {
    Command well =
        ended(
            CommandKey.RUN_SCRIPT,
            Map.of(
                "script",
                script("#!/bin/sh\n# what is it called\necho moor\necho \"second line\"\n")));
    assertThat(well.getState()).isEqualTo(CommandState.DONE);
    assertThat(output(well).getExit()).isZero();
    assertThat(output(well).getText()).isEqualTo("moor\nsecond line");

    Command badly =
        ended(CommandKey.RUN_SCRIPT, Map.of("script", script("#!/bin/sh\necho half\nexit 3\n")));
    assertThat(badly.getState()).isEqualTo(CommandState.FAILED);
    assertThat(badly.getReason()).isEqualTo("the script ended with 3");
    assertThat(output(badly).getText()).isEqualTo("half");

    assertThatThrownBy(
            () -> ended(CommandKey.RUN_SCRIPT, Map.of("script", "sha256:" + "0".repeat(64))))
        .hasMessageContaining("no file");
  }

  @Test
  void scriptsRunWhenSomebodySignsInAndOutAndCertificatesAreTrusted() throws Exception {
    String root = rig.client.intake().getJoinFile(desk.kiosks("Trusting", 1).getId()).getRoot();
    Profile profile =
        desk.profile(
            "Office",
            Map.of(
                "scripts[drive].file",
                script("#!/bin/sh\necho the drive is there\n"),
                "scripts[bye].file",
                script("#!/bin/sh\nsleep 90\n"),
                "scripts[bye].when",
                "sign-out",
                "scripts[bye].limit",
                30,
                "certificates[house].file",
                file(root, ".pem"),
                "certificates[house].kept",
                true),
            Desk.device(id));
    desk.publish(profile);
    Rig.eventually(
        () -> laptop.screen().provided().certificates(),
        List.of(new Screen.Certificate(Pki.commonName(Pki.certificate(root)), false, true))
            ::equals);
    assertThat(laptop.screen().provided().scripts()).as("nobody signed in").isEmpty();
    assertThat(laptop.signIn("ines")).isEmpty();
    assertThat(laptop.screen().provided().scripts())
        .containsExactly(Map.entry("drive", "Ended with 0.\nthe drive is there\n"));
    laptop.signOut();
    assertThat(laptop.screen().provided().scripts()).containsEntry("bye", "Stopped after 30 s.");
  }

  @Test
  void itIsUpdatedAtOnceWhereThatIsSaid() throws Exception {
    Agent old =
        rig.join(rig.unpackAutomatic("Note 14", "4.0"), desk.kiosks("Old laptops", 1).getLink());
    assertThat(old.screen().osVersion()).isEqualTo("4.0");
    assertThat(old.screen().update()).as("nobody said anything of updates").isEmpty();
    String oldId = desk.devices(old.screen().serial(), 1).get(0).getId();
    Profile profile = desk.profile("Updates", Map.of("updates.when", "holder"), Desk.device(oldId));
    desk.publish(profile);
    Rig.eventually(
        () -> old.screen().update().map(Screen.Update::version).orElse(""), "4.2"::equals);
    desk.publish(desk.change(profile, Map.of("updates.when", "at-once")));
    Rig.eventually(() -> old.screen().osVersion(), "4.2"::equals);
    Rig.eventually(() -> desk.card(oldId).getDevice().getOsVersion(), "4.2"::equals);
  }

  @Test
  void whatRunsIsListedAndOneOfItIsEnded() throws Exception {
    Command listed = ended(CommandKey.PROCESSES, Map.of());
    List<Process> before = output(listed).getProcesses();
    assertThat(before).extracting(Process::getName).contains("indexer", "backup");
    Process indexer =
        before.stream().filter(p -> p.getName().equals("indexer")).findFirst().orElseThrow();
    Command gone = ended(CommandKey.END_PROCESS, Map.of("process", indexer.getNumber().toString()));
    assertThat(gone.getState()).isEqualTo(CommandState.DONE);
    assertThat(output(ended(CommandKey.PROCESSES, Map.of())).getProcesses())
        .extracting(Process::getName)
        .doesNotContain("indexer")
        .contains("backup");
    Command nobody = ended(CommandKey.END_PROCESS, Map.of("process", "4"));
    assertThat(nobody.getReason()).isEqualTo("the device said: there is no process 4");
    assertThatThrownBy(() -> rig.client.acting().getCommandOutput(gone.getId()))
        .hasMessageContaining("404");
  }
}
