package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.Profile;
import dev.pinwright.client.model.Standing;
import dev.pinwright.client.model.StoredFile;
import dev.pinwright.core.Sha256;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.sandbox.device.Agent;
import java.awt.image.BufferedImage;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.KeyStore;
import java.security.cert.X509Certificate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Random;
import javax.imageio.ImageIO;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLSocket;
import javax.net.ssl.TrustManagerFactory;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** Files, from the administrator's disk to the screens of devices. */
class FilesTest {
  private static final int SLOW_READERS = 120;
  private static Rig rig;
  private static Desk desk;
  private static String link;
  private static X509Certificate root;
  private static Wire anybody;

  @BeforeAll
  static void start() throws ApiException {
    rig = new Rig();
    desk = new Desk(rig);
    var open = desk.kiosks("Kiosks", 50);
    link = open.getLink();
    root = Pki.certificate(rig.client.intake().getJoinFile(open.getId()).getRoot());
    anybody = new Wire(rig.deviceUrl(), root, null, null);
  }

  @AfterAll
  static void stop() {
    rig.close();
  }

  private static StoredFile store(String name, byte[] content) throws ApiException, IOException {
    Path file = Files.write(Files.createTempFile("pinwright-test", ".file"), content);
    try {
      return rig.client.storeFile(file, name, null);
    } finally {
      Files.delete(file);
    }
  }

  private static byte[] picture(int seed) throws IOException {
    BufferedImage image = new BufferedImage(500, 700, BufferedImage.TYPE_INT_RGB);
    Random random = new Random(seed);
    for (int x = 0; x < 500; x++) {
      for (int y = 0; y < 700; y++) {
        image.setRGB(x, y, random.nextInt());
      }
    }
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    ImageIO.write(image, "png", out);
    return out.toByteArray();
  }

  private static String reference(StoredFile file) {
    return "sha256:" + file.getId();
  }

  @Test
  void aPictureComesFromTheDiskToTheScreen() throws Exception {
    byte[] content = picture(1);
    assertThat(content.length).as("more than one part").isGreaterThan(1 << 20);
    StoredFile picture = store("Quay.png", content);
    Agent agent = rig.join(rig.unpackAutomatic("T10"), link);
    String id = desk.devices(agent.screen().serial(), 1).get(0).getId();
    Profile profile =
        desk.profile(
            "Wallpaper",
            Map.of("appearance.wallpaper-picture", reference(picture)),
            Desk.device(id));
    desk.publish(profile);
    Rig.eventually(
        () -> agent.screen().noticed().get("wallpaper-picture"), reference(picture)::equals);
    Rig.eventually(() -> desk.card(id).getDevice().getStanding(), Standing.SETTLED::equals);
    HttpResponse<byte[]> shown =
        HttpClient.newHttpClient()
            .send(
                HttpRequest.newBuilder(
                        URI.create(
                            "http://127.0.0.1:"
                                + rig.handheld.port()
                                + "/content/"
                                + picture.getId()))
                    .build(),
                HttpResponse.BodyHandlers.ofByteArray());
    assertThat(shown.body()).isEqualTo(content);
    assertThat(rig.client.rules().getProfile(profile.getId()).getWords())
        .containsEntry("appearance.wallpaper-picture", "Quay.png");
    assertThatThrownBy(() -> rig.client.rules().deleteFile(picture.getId(), "\"0\""))
        .satisfies(e -> assertThat(((ApiException) e).getResponseBody()).contains("Wallpaper"));
  }

  @Test
  void whatIsNotWhatItsDigestSaysIsRefusedByTheDevice() throws Exception {
    StoredFile rules = store("Spoilt.txt", "Leave them charging.".getBytes(StandardCharsets.UTF_8));
    Sql.text(
        rig,
        "select lo_put(content, 0, 'x'::bytea) from stored_file where id = '"
            + rules.getId()
            + "'");
    Agent agent = rig.join(rig.unpackAutomatic("T10"), link);
    String id = desk.devices(agent.screen().serial(), 1).get(0).getId();
    desk.publish(
        desk.profile(
            "Spoilt",
            Map.of("documents[a].title", "Rules", "documents[a].file", reference(rules)),
            Desk.device(id)));
    Rig.eventually(() -> desk.card(id).getDevice().getStanding(), Standing.BLOCKED::equals);
    assertThat(agent.screen().documents()).allMatch(d -> d.file().isEmpty());
  }

  @Test
  void partsAreServedAndCachesMayKeepThemForEver() throws Exception {
    String text = "0123456789".repeat(60_000);
    StoredFile file = store("Digits.txt", text.getBytes(StandardCharsets.UTF_8));
    String path = "/content/sha256/" + file.getId();
    String tag = "\"" + Sha256.hex(text) + "\"";
    Wire.Answer whole = anybody.send("GET", path, Map.of(), new byte[0]);
    assertThat(whole.status()).isEqualTo(200);
    assertThat(whole.response().body()).isEqualTo(text);
    assertThat(whole.header("ETag")).isEqualTo(tag);
    assertThat(whole.header("Cache-Control")).isEqualTo("public, max-age=31536000, immutable");
    assertThat(whole.header("Content-Type")).isEqualTo("text/plain; charset=utf-8");
    assertThat(ranged(path, "bytes=300000-300004"))
        .isEqualTo("206 bytes 300000-300004/600000 01234");
    assertThat(ranged(path, "bytes=599998-")).isEqualTo("206 bytes 599998-599999/600000 89");
    assertThat(ranged(path, "bytes=-3")).isEqualTo("206 bytes 599997-599999/600000 789");
    assertThat(ranged(path, "bytes=599999-900000")).isEqualTo("206 bytes 599999-599999/600000 9");
    Wire.Answer behind = anybody.send("GET", path, Map.of("Range", "bytes=600000-"), new byte[0]);
    assertThat(behind.status()).isEqualTo(416);
    assertThat(behind.header("Content-Range")).isEqualTo("bytes */600000");
    for (String odd : List.of("bytes=5-2", "lines=1-2", "bytes=0-1,4-5", "bytes=x", "bytes=-")) {
      assertThat(anybody.send("GET", path, Map.of("Range", odd), new byte[0]).status())
          .as(odd)
          .isIn(200, 416);
    }
    assertThat(
            anybody
                .send("GET", path, Map.of("Range", "bytes=0-1", "If-Range", "\"x\""), new byte[0])
                .status())
        .isEqualTo(200);
    Wire.Answer known = anybody.send("GET", path, Map.of("If-None-Match", tag), new byte[0]);
    assertThat(known.status()).isEqualTo(304);
    assertThat(known.response().body()).isEmpty();
    Wire.Answer head = anybody.send("HEAD", path, Map.of(), new byte[0]);
    assertThat(head.header("Content-Length")).isEqualTo("600000");
    assertThat(anybody.send("POST", path, Map.of(), new byte[0]).status()).isEqualTo(405);
    assertThat(anybody.send("PUT", path, Map.of(), new byte[0]).status())
        .as("a picture comes with a right")
        .isEqualTo(401);
    for (String none : List.of("0".repeat(64), "x", file.getId().toUpperCase(), "..%2f..%2fdm")) {
      Wire.Answer missing = anybody.send("GET", "/content/sha256/" + none, Map.of(), new byte[0]);
      assertThat(missing.status()).as(none).isIn(400, 404);
    }
  }

  private static String ranged(String path, String range) {
    Wire.Answer a = anybody.send("GET", path, Map.of("Range", range), new byte[0]);
    return a.status() + " " + a.header("Content-Range") + " " + a.response().body();
  }

  @Test
  void whoeverReadsSlowlyStopsNobodyElse() throws Exception {
    // more than the buffers between here and there take
    byte[] text =
        "Leave them charging at night. ".repeat(600_000).getBytes(StandardCharsets.US_ASCII);
    StoredFile file = store("Slow.txt", text);
    SSLContext tls = SSLContext.getInstance("TLS");
    KeyStore trust = KeyStore.getInstance("PKCS12");
    trust.load(null, null);
    trust.setCertificateEntry("root", root);
    TrustManagerFactory trusting = TrustManagerFactory.getInstance("PKIX");
    trusting.init(trust);
    tls.init(null, trusting.getTrustManagers(), null);
    List<SSLSocket> readers = new ArrayList<>();
    try {
      for (int i = 0; i < SLOW_READERS; i++) {
        SSLSocket socket = (SSLSocket) tls.getSocketFactory().createSocket();
        socket.setReceiveBufferSize(4 * 1024);
        socket.connect(new java.net.InetSocketAddress("127.0.0.1", rig.devicePort));
        socket
            .getOutputStream()
            .write(
                ("GET /content/sha256/" + file.getId() + " HTTP/1.1\r\nHost: localhost\r\n\r\n")
                    .getBytes(StandardCharsets.US_ASCII));
        socket.getInputStream().read();
        readers.add(socket);
      }
      Agent agent = rig.join(rig.unpackAutomatic("T10"), link);
      assertThat(desk.devices(agent.screen().serial(), 1)).hasSize(1);
      assertThat(ranged("/content/sha256/" + file.getId(), "bytes=1-3")).endsWith("eav");
    } finally {
      for (SSLSocket reader : readers) {
        reader.close();
      }
    }
  }

  @Test
  void whatNoDeviceCouldUseIsRefusedAndSaidWhy() {
    assertThatThrownBy(() -> store("Any.bin", new byte[] {1, 0, 2, 0, 3}))
        .satisfies(
            e ->
                assertThat(((ApiException) e).getResponseBody())
                    .contains("pictures (PNG, JPEG)", "/content"));
    assertThatThrownBy(() -> store("a/b.txt", new byte[] {'a'}))
        .satisfies(e -> assertThat(((ApiException) e).getResponseBody()).contains("no slashes"));
  }
}
