package dev.pinwright.cli;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;

/** What the command line sends and prints of stores and the licenses bought there. */
class LicenseCommandsTest extends ServedTest {
  private static final String POOL =
      """
      {"id":"l1","version":3,"appId":"a1","app":"Lumen Reader","platform":"tarn",
       "licensing":"by-device","sold":true,"place":"Tollen","siteId":"s1","site":"Tollen",
       "owned":9,"used":5,"free":4,"elsewhere":0,"coming":0,"lacking":0,"daysLeft":9}
      """;

  private void pools() {
    known("app", "/apps/a1", "Lumen Reader", "{}");
    answers.put("GET /license-pools", "{\"items\":[" + POOL + "]}");
  }

  @Test
  void poolsAreListedWithHowLongTheyLast() {
    pools();
    assertThat(signedIn("license", "list").out())
        .containsPattern("Lumen Reader\\s+Tollen\\s+Tollen\\s+9\\s+5\\s+4\\s+9 days");
  }

  @Test
  void aPoolIsNamedByItsAppAndItsPlace() {
    pools();
    answers.put("POST /license-pools/l1/moves", POOL);
    answers.put(
        "PATCH /license-pools/l1", POOL.replace("\"siteId\":\"s1\",\"site\":\"Tollen\",", ""));
    assertThat(signedIn("license", "move", "Lumen Reader", "tollen", "Ulby", "2").out())
        .contains("2 licenses moved to Ulby; 4 of 9 left for tollen.");
    assertThat(calls)
        .anyMatch(c -> c.startsWith("POST /license-pools/l1/moves") && c.contains("\"Ulby\""));
    assertThat(signedIn("license", "site", "Lumen Reader", "Tollen").out())
        .contains("go to the devices of every site");
    assertThat(calls).contains("PATCH /license-pools/l1 {}");
    assertThat(signedIn("license", "move", "Lumen Reader", "Skarne", "Ulby", "2").err())
        .contains("There are no licenses of Lumen Reader for Skarne; there are for: Tollen.");
  }

  @Test
  void aStoreSaysWhatIsNotSoldInACountry() {
    answers.put(
        "GET /gateways/tarn/store/apps",
        """
        {"items":[
          {"id":"lumen.reader","name":"Lumen Reader","publisher":"Lumen House","summary":"",
           "category":"","licensing":"by-device","price":"4.50 crowns","countries":["XV"],
           "version":"7.1","appId":"a1"},
          {"id":"lumen.atlas","name":"Lumen Atlas","publisher":"Lumen House","summary":"",
           "category":"","licensing":"free","countries":["XA"],"version":"1.2"}]}
        """);
    assertThat(signedIn("store", "search", "tarn", "lumen", "--country", "XV").out())
        .containsPattern("Lumen Reader.*4.50 crowns\\s+one per device\\s+yes")
        .containsPattern("Lumen Atlas.*not sold in XV\\s+none needed");
    assertThat(queries).anyMatch(q -> q.contains("country=XV") && q.contains("q=lumen"));
    answers.put(
        "POST /gateways/tarn/store/reading",
        "{\"apps\":2,\"newVersions\":1,\"pools\":1,\"owned\":9}");
    assertThat(signedIn("store", "read", "tarn").out())
        .contains("2 apps read, 1 new version; 9 licenses in 1 pool.");
  }
}
