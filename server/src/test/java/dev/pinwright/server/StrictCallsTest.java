package dev.pinwright.server;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import java.io.InputStream;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.time.Duration;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** What the contract does not know is told, and pages of others may not speak for who is here. */
class StrictCallsTest {
  private static House house;
  private static final String SIGN_IN =
      "{\"login\":\"owner\",\"password\":\"" + House.PASSWORD + "\"}";

  @BeforeAll
  static void start() throws Exception {
    house = new House();
  }

  @AfterAll
  static void stop() {
    house.close();
  }

  @Test
  void whatCannotBeAskedForIsNamedWithWhatCan() {
    House.Answer unknown = house.call("owner", "GET", "/devices?colour=red", "");
    assertThat(unknown.status()).isEqualTo(400);
    assertThat(unknown.json().path("detail").asText())
        .startsWith("'colour' cannot be asked for here; there is after, ")
        .contains("platform", "standing");
    House.Answer platform = house.call("owner", "GET", "/devices?platform=zzz", "");
    assertThat(platform.status()).isEqualTo(400);
    assertThat(platform.json().path("detail").asText())
        .isEqualTo("'zzz' is not one of tarn, fjell, moor.");
    assertThat(house.call("owner", "GET", "/devices?platform=tarn", "").status()).isEqualTo(200);
    assertThat(house.call("owner", "GET", "/devices?platform=", "").status()).isEqualTo(200);
  }

  @Test
  void aPercentSignIsAPercentSignInTheJournalToo() {
    assertThat(house.call("owner", "GET", "/journal?q=%25", "").json().path("items")).isEmpty();
    assertThat(house.call("owner", "GET", "/journal?q=signed%20IN", "").json().path("items"))
        .isNotEmpty();
  }

  private static int signIn(Map<String, String> headers) throws Exception {
    HttpRequest.Builder request =
        HttpRequest.newBuilder(
                URI.create("http://127.0.0.1:" + house.consolePort + "/api/v1/sign-in"))
            .POST(HttpRequest.BodyPublishers.ofString(SIGN_IN));
    headers.forEach(request::header);
    return HttpClient.newHttpClient().send(request.build(), BodyHandlers.discarding()).statusCode();
  }

  @Test
  void nobodyIsSignedInFromAPageOfSomebodyElse() throws Exception {
    String json = "application/json";
    String here = "http://127.0.0.1:" + house.consolePort;
    assertThat(signIn(Map.of("Content-Type", json))).isEqualTo(200);
    assertThat(signIn(Map.of("Content-Type", json, "Origin", here))).isEqualTo(200);
    assertThat(signIn(Map.of("Content-Type", json, "Origin", "http://other.example")))
        .isEqualTo(403);
    assertThat(signIn(Map.of("Content-Type", json, "Sec-Fetch-Site", "cross-site"))).isEqualTo(403);
    assertThat(signIn(Map.of("Content-Type", "text/plain"))).isEqualTo(415);
    assertThat(signIn(Map.of("Content-Type", "application/x-www-form-urlencoded"))).isEqualTo(415);
  }

  @Test
  void aStreamOfEventsEndsWithItsSignIn() throws Exception {
    String token = house.signIn("owner", House.PASSWORD);
    HttpResponse<InputStream> stream =
        HttpClient.newHttpClient()
            .send(
                HttpRequest.newBuilder(
                        URI.create("http://127.0.0.1:" + house.consolePort + "/api/v1/events"))
                    .header("Authorization", "Bearer " + token)
                    .build(),
                BodyHandlers.ofInputStream());
    CompletableFuture<Integer> end =
        CompletableFuture.supplyAsync(
            () -> {
              try (InputStream in = stream.body()) {
                return in.readAllBytes().length;
              } catch (java.io.IOException closed) {
                return -1;
              }
            });
    assertThat(house.with(token, "DELETE", "/sign-in", "").status()).isEqualTo(204);
    await().atMost(Duration.ofSeconds(30)).until(end::isDone);
  }
}
