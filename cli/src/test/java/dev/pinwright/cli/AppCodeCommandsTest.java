package dev.pinwright.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What the command line does with printed codes, redemption codes and sheets of apps. */
class AppCodeCommandsTest extends ServedTest {
  private static final String CODE =
      """
      {"id":"c1","appId":"a1","app":"Rota","unitId":"u1","unitCode":"VM-VOL","unit":"Volunteers",
       "name":"Rota, Volunteers","state":"open","codeEnds":"N084","link":"https://h/c#f",
       "configuration":{},"secrets":false,"madeAt":"2026-11-29T09:00:00Z","madeBy":"maren",
       "until":"2027-02-27T09:00:00Z","readTimes":3}
      """;

  @TempDir Path folder;

  @Test
  void aCodeIsMadeOfFilesAndForAUnitByItsCode() throws Exception {
    known("app", "/apps/a1", "Rota", "{}");
    known(
        "unit",
        "/units/u1",
        "VM-VOL",
        "{\"id\":\"u1\",\"code\":\"VM-VOL\",\"name\":\"Volunteers\",\"depth\":0,\"version\":0}");
    answers.put("POST /app-codes", CODE);
    Path told = Files.writeString(folder.resolve("rota.json"), "{\"team\":\"{self:Unit}\"}");
    assertThat(
            signedIn("app-code", "make", "Rota", "VM-VOL", "--configuration", told.toString())
                .out())
        .contains("https://h/c#f", "open, read 3 times");
    assertThat(calls).anyMatch(c -> c.startsWith("POST /app-codes") && c.contains("{self:Unit}"));
    Path wrong = Files.writeString(folder.resolve("wrong.json"), "team: day");
    assertThat(
            signedIn("app-code", "make", "Rota", "VM-VOL", "--configuration", wrong.toString())
                .err())
        .contains("wrong.json is no JSON object");
    answers.put("GET /app-codes", "{\"items\":[" + CODE + "]}");
    assertThat(signedIn("app-code", "list").out())
        .containsPattern("…N084\\s+Rota\\s+VM-VOL\\s+Rota, Volunteers\\s+open");
  }

  @Test
  void redemptionCodesAreLookedAtWithoutRedeemingThem() throws Exception {
    known("app", "/apps/a1", "Lumen Reader", "{}");
    answers.put(
        "POST /license-pools/codes",
        "{\"good\":2,\"saved\":false,\"faults\":[{\"line\":4,\"ends\":\"K7Q2\","
            + "\"judgement\":\"spent\"}]}");
    Path sheet = Files.writeString(folder.resolve("codes.csv"), "A-1\nB-2\n");
    assertThat(
            signedIn("license", "redeem", "Lumen Reader", "Ulby", sheet.toString(), "--dry-run")
                .out())
        .contains("2 codes can be redeemed, 1 not.", "line 4, …K7Q2: was redeemed before");
    assertThat(calls)
        .anyMatch(c -> c.startsWith("POST /license-pools/codes") && c.contains("\"save\":false"));
  }

  @Test
  void whoLacksAnAppIsWrittenIntoASheet() throws Exception {
    known("app", "/apps/a1", "Rota", "{}");
    type = "text/csv";
    answers.put("GET /apps/a1/devices.csv", "device,version\r\n");
    Path sheet = folder.resolve("old.csv");
    assertThat(signedIn("app", "export", "Rota", sheet.toString(), "--with", "old").out())
        .contains("Written to");
    assertThat(queries.get(queries.size() - 1)).contains("with=old");
    assertThat(sheet).hasContent("device,version\r\n");
  }
}
