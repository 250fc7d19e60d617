package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assumptions.assumeThat;

import dev.pinwright.client.model.Invitation;
import dev.pinwright.protocol.pki.Pki;
import java.io.IOException;
import java.io.InputStream;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.cert.X509Certificate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.regex.Pattern;
import java.util.zip.GZIPInputStream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Programs that know nothing of Pinwright get on with it: they hold it to the standards. */
class IndependentProgramsTest {
  private static final HttpClient HTTP = HttpClient.newHttpClient();
  private static Rig rig;
  private static Invitation kiosks;
  @TempDir Path here;

  @BeforeAll
  static void start() throws Exception {
    rig = new Rig();
    kiosks = new Desk(rig).kiosks("Kiosks", 9);
  }

  @AfterAll
  static void stop() {
    rig.close();
  }

  private byte[] run(byte[] in, String... command) throws IOException, InterruptedException {
    Path out = here.resolve("out");
    Path err = here.resolve("err");
    Path from = Files.write(here.resolve("in"), in);
    int code =
        new ProcessBuilder(command)
            .redirectInput(from.toFile())
            .redirectOutput(out.toFile())
            .redirectError(err.toFile())
            .start()
            .waitFor();
    assertThat(code).as("%s: %s", String.join(" ", command), Files.readString(err)).isZero();
    return Files.readAllBytes(out);
  }

  /** Debian's strongswan-pki speaks EST (RFC 7030) with its own TLS, and reads only strict DER. */
  @Test
  void aStrictEstClientFetchesTheRootAndACertificateAndRenewsIt() throws Exception {
    X509Certificate root =
        Pki.certificate(rig.client.intake().getJoinFile(kiosks.getId()).getRoot());
    Path ca = Files.write(here.resolve("root.der"), root.getEncoded());
    String url = rig.deviceUrl().replace("127.0.0.1", "localhost");
    Path fetched = here.resolve("fetched.der");
    run(
        new byte[0],
        "pki",
        "--estca",
        "--url",
        url,
        "--cacert",
        ca.toString(),
        "--caout",
        fetched.toString());
    assertThat(Files.readAllBytes(fetched)).isEqualTo(root.getEncoded());

    Wire stranger = new Wire(rig.deviceUrl(), root, null, null);
    Wire.Answer joined =
        stranger.join(
            kiosks.getCode(),
            Map.of(
                "device",
                Wire.device("tarn", "7.2", "tablet", "AR10-7001-0001"),
                "termsAccepted",
                1));
    String device = joined.json().path("commonName").asText();
    Path key =
        Files.write(
            here.resolve("key.der"),
            run(new byte[0], "pki", "--gen", "--type", "ecdsa", "--size", "256"));
    byte[] request =
        run(
            new byte[0],
            "pki",
            "--req",
            "--type",
            "ecdsa",
            "--in",
            key.toString(),
            "--dn",
            "CN=" + device);
    byte[] certificate =
        est(
            request,
            url,
            ca,
            "--userpass",
            joined.json().at("/est/username").asText()
                + ":"
                + joined.json().at("/est/password").asText());
    Path first = Files.write(here.resolve("first.der"), certificate);
    assertThat(new String(run(new byte[0], "pki", "--print", "--in", first.toString())))
        .contains("CN=" + device, "clientAuth");
    byte[] renewed = est(request, url, ca, "--cert", first.toString(), "--key", key.toString());
    assertThat(renewed).isNotEqualTo(certificate);
  }

  private byte[] est(byte[] request, String url, Path ca, String... as) throws Exception {
    List<String> command =
        new ArrayList<>(List.of("pki", "--est", "--url", url, "--cacert", ca.toString()));
    command.addAll(List.of(as));
    return run(request, command.toArray(String[]::new));
  }

  /** Prometheus' own checker of what it scrapes. */
  @Test
  void theMetricsAreAsTheirReaderWantsThem() throws Exception {
    String metrics = get("/metrics").body();
    assertThat(metrics).contains("# TYPE");
    String said =
        new String(run(metrics.getBytes(StandardCharsets.UTF_8), promtool(), "check", "metrics"));
    assertThat(said).isEmpty();
  }

  private static String promtool() {
    String given = System.getenv("PINWRIGHT_PROMTOOL");
    assumeThat(given).as("the launcher could not fetch promtool").isNotEqualTo("");
    return given == null ? "promtool" : given;
  }

  private static HttpResponse<String> get(String path) throws IOException, InterruptedException {
    return HTTP.send(
        HttpRequest.newBuilder(URI.create(rig.consoleUrl() + path)).build(),
        HttpResponse.BodyHandlers.ofString());
  }

  /** What a browser fetches before it shows the sign-in page: bytes as they are sent. */
  @Test
  void theConsoleIsLightToOpen() throws Exception {
    String page = get("/").body();
    List<String> files =
        Pattern.compile("(?:src|href)=\"(/assets/[^\"]+\\.(?:js|css))\"")
            .matcher(page)
            .results()
            .map(m -> m.group(1))
            .toList();
    assertThat(files).hasSizeGreaterThan(2);
    long bytes = 0;
    for (String file : files) {
      HttpResponse<byte[]> sent =
          HTTP.send(
              HttpRequest.newBuilder(URI.create(rig.consoleUrl() + file))
                  .header("Accept-Encoding", "gzip")
                  .build(),
              HttpResponse.BodyHandlers.ofByteArray());
      if (sent.headers().firstValue("Content-Encoding").isPresent()) {
        assertThat(sent.headers().firstValue("Content-Encoding")).as(file).hasValue("gzip");
        try (InputStream in = new GZIPInputStream(new java.io.ByteArrayInputStream(sent.body()))) {
          assertThat(in.readAllBytes().length).isGreaterThan(sent.body().length);
        }
      } else {
        assertThat(sent.body().length).as(file + ", sent as it is").isLessThan(1_000);
      }
      bytes += sent.body().length;
    }
    assertThat(bytes).as("compressed bytes of the first load").isLessThan(140_000);
  }
}
