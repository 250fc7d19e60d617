package dev.pinwright.protocol.pack;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.core.device.OsVersion;
import dev.pinwright.protocol.pki.Pki;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.KeyPairGenerator;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Duration;
import java.time.Instant;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What a package is, and what of it is refused. */
class PackageFileTest {
  private static final Instant NOW = Instant.parse("2026-11-29T09:00:00Z");
  private static final Pki.Identity SIGNER =
      Pki.newRoot("Vellmar workshop", NOW.minus(Duration.ofDays(1)), NOW.plus(Duration.ofDays(9)));

  @TempDir private Path folder;
  private Path file;

  @BeforeEach
  void where() {
    file = folder.resolve("rota.pkg");
  }

  private static String manifest(String more) {
    return """
        {"format":"pinwright-package/1","id":"vellmar.rota","name":"Rota","version":"4.2",
         "versionCode":42,"platforms":["tarn"],"lowestOs":{"tarn":"7.0"},
         "permissions":["network","camera"]%s}
        """
        .formatted(more);
  }

  private static String hash(byte[] bytes) {
    try {
      return HexFormat.of().formatHex(MessageDigest.getInstance("SHA-256").digest(bytes));
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException(e);
    }
  }

  private static byte[] bytes(String text) {
    return text.getBytes(StandardCharsets.UTF_8);
  }

  /** A package with these files, signed over its manifest as it is. */
  private Path zip(String manifest, Map<String, byte[]> files) throws IOException {
    try (OutputStream out = Files.newOutputStream(file);
        ZipOutputStream zip = new ZipOutputStream(out)) {
      put(zip, "manifest.json", bytes(manifest));
      put(
          zip,
          "manifest.jws",
          bytes(Signer.sign(bytes(manifest), SIGNER.key(), List.of(SIGNER.certificate()))));
      for (Map.Entry<String, byte[]> f : files.entrySet()) {
        put(zip, f.getKey(), f.getValue());
      }
    }
    return file;
  }

  private static void put(ZipOutputStream zip, String name, byte[] bytes) throws IOException {
    zip.putNextEntry(new ZipEntry(name));
    zip.write(bytes);
    zip.closeEntry();
  }

  private static String naming(Map<String, byte[]> files) {
    return ",\"files\":{"
        + String.join(
            ",",
            files.entrySet().stream()
                .map(f -> "\"" + f.getKey() + "\":\"" + hash(f.getValue()) + "\"")
                .toList())
        + "}";
  }

  private void refused(String manifest, Map<String, byte[]> files, String why) throws IOException {
    zip(manifest, files);
    assertThatThrownBy(() -> PackageFile.read(file))
        .isInstanceOf(PackageRefused.class)
        .hasMessageContaining(why);
  }

  @Test
  void isMadeFromAFolderSignedAndReadBack() throws Exception {
    Path app = Files.createDirectory(folder.resolve("app"));
    Files.writeString(
        app.resolve("manifest.json"),
        "{\"id\":\"vellmar.rota\",\"name\":\"Rota\",\"version\":\"4.2\",\"versionCode\":42,"
            + "\"platforms\":[\"tarn\",\"fjell\"],\"lowestOs\":{\"tarn\":\"7.0\"},"
            + "\"configuration\":{\"type\":\"object\"}}");
    Files.createDirectory(app.resolve("payload"));
    Files.write(app.resolve("payload/app.bin"), new byte[100_000]);
    Manifest made = PackageMaker.make(app, file);
    assertThat(made.files()).containsOnlyKeys("payload/app.bin");
    assertThatThrownBy(() -> PackageFile.read(file)).hasMessageContaining("no manifest.jws");
    Signer signer = PackageMaker.sign(file, SIGNER.key(), List.of(SIGNER.certificate()));
    PackageFile read = PackageFile.read(file);
    assertThat(read.signer()).isEqualTo(signer);
    assertThat(signer.name()).contains("Vellmar workshop");
    assertThat(read.manifest().lowest())
        .containsEntry("tarn", OsVersion.parse("7.0"))
        .containsEntry("fjell", OsVersion.parse("0.0"));
    assertThat(read.manifest().configuration()).contains("{\"type\":\"object\"}");
    assertThat(read.manifest().permissions()).isEmpty();
  }

  @Test
  void isSignedWithEd25519Too() throws Exception {
    KeyPairGenerator keys = KeyPairGenerator.getInstance("Ed25519");
    var pair = keys.generateKeyPair();
    var certificate = Pki.issueIdentity(SIGNER, "An Ed25519 signer", "ED-1", pair.getPublic(), NOW);
    Map<String, byte[]> files = Map.of("payload/a", bytes("a"));
    zip(manifest(naming(files)), files);
    Signer signer = PackageMaker.sign(file, pair.getPrivate(), List.of(certificate));
    assertThat(PackageFile.read(file).signer()).isEqualTo(signer);
  }

  @Test
  void changedByOneByteIsRefused() throws IOException {
    Map<String, byte[]> files = Map.of("payload/app.bin", bytes("an app"));
    refused(
        manifest(naming(files)),
        Map.of("payload/app.bin", bytes("an apq")),
        "payload/app.bin is not the file the manifest names");
    String signed = manifest(naming(files));
    try (ZipOutputStream zip = new ZipOutputStream(Files.newOutputStream(file))) {
      put(zip, "manifest.json", bytes(signed.replace("4.2", "4.3")));
      put(
          zip,
          "manifest.jws",
          bytes(Signer.sign(bytes(signed), SIGNER.key(), List.of(SIGNER.certificate()))));
      put(zip, "payload/app.bin", bytes("an app"));
    }
    assertThatThrownBy(() -> PackageFile.read(file))
        .hasMessage("The signature does not hold: the manifest was changed after it was signed.");
  }

  @Test
  void filesThatAreNotNamedOrNotThereAreRefused() throws IOException {
    Map<String, byte[]> files = Map.of("payload/a", bytes("a"));
    Map<String, byte[]> more = new LinkedHashMap<>(files);
    more.put("payload/b", bytes("b"));
    refused(manifest(naming(files)), more, "holds payload/b, which its manifest does not name");
    refused(manifest(naming(more)), files, "names payload/b, which is not in the package");
  }

  @Test
  void pathsThatLeadElsewhereAreRefused() throws IOException {
    for (String path :
        List.of(
            "../evil", "/etc/passwd", "a/../../b", "a\\b", "a//b", ".hidden", "a/\u0007b", "é")) {
      Map<String, byte[]> files = new LinkedHashMap<>();
      files.put("payload/a", bytes("a"));
      String named = manifest(naming(files));
      files.put(path, bytes("x"));
      refused(named, files, "The package holds a file called");
    }
    refused(
        manifest(",\"files\":{\"../evil\":\"" + "0".repeat(64) + "\"}"),
        Map.of("payload/a", bytes("a")),
        "files names ../evil, which no file of a package is called");
  }

  @Test
  void whatUnpacksWithoutEndIsRefusedBeforeItDoes() throws IOException {
    byte[] zeros = new byte[64 << 20];
    refused(
        manifest(naming(Map.of("payload/a", zeros))),
        Map.of("payload/a", zeros),
        "packed more than a thousand times smaller");
  }

  @Test
  void aManifestIsHeldToItsForm() throws IOException {
    Map<String, byte[]> files = Map.of("payload/a", bytes("a"));
    String good = manifest(naming(files));
    refused(
        good.replace("\"versionCode\":42", "\"versionCode\":-1"), files, "versionCode is a whole");
    refused(good.replace("vellmar.rota", "Rota"), files, "id is not right");
    refused(good.replace("\"Rota\"", "\"Ro\\u0000ta\""), files, "name is a text of 1 to 60");
    refused(good.replace("\"Rota\"", "\"Ro\\u202eta\""), files, "name is a text of 1 to 60");
    refused(good.replace("[\"tarn\"]", "[]"), files, "platforms is a list of one to ten");
    refused(good.replace("{\"tarn\":\"7.0\"}", "{\"moor\":\"7.0\"}"), files, "lowestOs names moor");
    refused(good.replace("\"permissions\"", "\"permission\""), files, "which is not known");
    refused(
        good.replace("\"permissions\"", "\"configuration\":[1],\"permissions\""),
        files,
        "configuration is a JSON Schema");
    refused(good.replace("\"name\"", "\"icon\":\"icon.png\",\"name\""), files, "icon is a path");
    refused(good + "x", files, "The manifest is not JSON");
    refused(
        good.replace("\"name\":\"Rota\"", "\"name\":\"Rota\",\"name\":\"B\""), files, "not JSON");
    refused("[]", files, "The manifest is a JSON object");
    refused(
        good.replace("\"Rota\"", "\"" + "x".repeat(300_000) + "\""), files, "has at most 256 KiB");
  }

  @Test
  void anotherFileIsNoPackage() throws IOException {
    Files.writeString(file, "an app");
    assertThatThrownBy(() -> PackageFile.read(file))
        .hasMessageContaining("no ZIP that can be read");
    try (ZipOutputStream zip = new ZipOutputStream(Files.newOutputStream(file))) {
      put(zip, "readme", bytes("hello"));
    }
    assertThatThrownBy(() -> PackageFile.read(file)).hasMessageContaining("no manifest.json");
  }

  @Test
  void aSignatureOfAnotherAlgorithmOrWithoutACertificateIsRefused() throws IOException {
    Map<String, byte[]> files = Map.of("payload/a", bytes("a"));
    String signed = manifest(naming(files));
    for (String jws : List.of("eyJhbGciOiJub25lIn0..", "eyJhbGciOiJIUzI1NiJ9..c2ln", "not a jws")) {
      try (ZipOutputStream zip = new ZipOutputStream(Files.newOutputStream(file))) {
        put(zip, "manifest.json", bytes(signed));
        put(zip, "manifest.jws", bytes(jws));
        put(zip, "payload/a", bytes("a"));
      }
      assertThatThrownBy(() -> PackageFile.read(file))
          .isInstanceOf(PackageRefused.class)
          .hasMessageMatching("(?s)(The signature|manifest.jws).*");
    }
  }
}
