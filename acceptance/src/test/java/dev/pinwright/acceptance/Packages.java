package dev.pinwright.acceptance;

import dev.pinwright.protocol.pack.Manifest;
import dev.pinwright.protocol.pack.PackageMaker;
import dev.pinwright.protocol.pack.PackageRefused;
import dev.pinwright.protocol.pki.Pki;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Random;

/** Makes packages of made-up apps, signed by one who makes apps. */
final class Packages {
  static final Pki.Identity WORKSHOP = signer("Vellmar workshop");

  /** What can be told to an app, with a secret. */
  static final String CONFIGURED =
      """
      "configuration":{"type":"object","properties":{"house":{"type":"string","title":"House"},
        "quiet":{"type":"boolean","title":"Quiet"},
        "key":{"type":"string","title":"Key","writeOnly":true}}}
      """;

  private Packages() {}

  static Pki.Identity signer(String name) {
    Instant now = Instant.now();
    return Pki.newRoot(name, now.minus(Duration.ofDays(1)), now.plus(Duration.ofDays(365)));
  }

  /**
   * A package of {@code vellmar.rota}, or whatever is said otherwise.
   *
   * @param more members of the manifest besides id, name, version, code and platforms
   */
  static Path rota(int code, String more) throws IOException {
    return of("vellmar.rota", "Rota", code, 20_000, more, WORKSHOP);
  }

  static Path of(String id, String name, int code, int bytes, String more, Pki.Identity signer)
      throws IOException {
    Path folder = Files.createTempDirectory("package");
    Files.writeString(
        folder.resolve(Manifest.FILE),
        """
        {"id":"%s","name":"%s","version":"%d.0","versionCode":%d,
         "lowestOs":{"tarn":"6.0"}%s%s}
        """
            .formatted(
                id,
                name,
                code,
                code,
                more.contains("\"platforms\"") ? "" : ",\"platforms\":[\"tarn\",\"fjell\"]",
                more.isEmpty() ? "" : "," + more));
    byte[] payload = new byte[bytes];
    new Random(code).nextBytes(payload);
    Files.createDirectories(folder.resolve("payload"));
    Files.write(folder.resolve("payload/app.bin"), payload);
    Path file = Files.createTempFile("app", ".pkg");
    try {
      PackageMaker.make(folder, file);
      PackageMaker.sign(file, signer.key(), List.of(signer.certificate()));
    } catch (PackageRefused e) {
      throw new IllegalArgumentException(e);
    }
    return file;
  }
}
