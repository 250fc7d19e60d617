package dev.pinwright.cli;

import dev.pinwright.protocol.pack.Manifest;
import dev.pinwright.protocol.pack.PackageFile;
import dev.pinwright.protocol.pack.PackageMaker;
import dev.pinwright.protocol.pack.PackageRefused;
import dev.pinwright.protocol.pack.Signer;
import dev.pinwright.protocol.pki.Pki;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.security.PrivateKey;
import java.security.cert.X509Certificate;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code package}: for those who make apps; nothing of it asks the service. */
@Command(
    name = "package",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description = "Packages of one's own apps: make, sign, check. Nothing of it asks the service.",
    footer = {
      "",
      "Example:",
      "  pinwright package make rota/ --out rota-4.2.pkg",
      "  pinwright package sign rota-4.2.pkg --key workshop.key.pem --certificate workshop.pem",
      "  pinwright app bring rota-4.2.pkg"
    })
final class PackageCommands {
  private final Context context;

  PackageCommands(Context context) {
    this.context = context;
  }

  /** Works on a file on this machine. */
  private interface Work<T> {
    T on() throws PackageRefused, IOException;
  }

  private static <T> T done(Work<T> work) {
    try {
      return work.on();
    } catch (PackageRefused e) {
      throw new Failure(Failure.REFUSED, String.valueOf(e.getMessage()));
    } catch (IOException e) {
      throw new Failure(Failure.USAGE, "It cannot be read or written: " + e.getMessage() + ".");
    }
  }

  @Command(
      mixinStandardHelpOptions = true,
      description =
          "Packs a folder with a manifest.json; the SHA-256 of each file is written into it.")
  int make(
      @Parameters(paramLabel = "FOLDER") Path folder,
      @Option(names = "--out", paramLabel = "FILE", description = "Else ID-CODE.pkg here.")
          @Nullable Path out) {
    Path part = done(() -> Files.createTempFile(Path.of("").toAbsolutePath(), "package-", ".part"));
    try {
      Manifest m = done(() -> PackageMaker.make(folder, part));
      Path to = out == null ? Path.of(m.id() + "-" + m.versionCode() + ".pkg") : out;
      done(() -> Files.move(part, to, StandardCopyOption.REPLACE_EXISTING));
      return context.print(
          Map.of("file", to.toString(), "id", m.id(), "version", m.version()),
          () ->
              context.line(
                  "%s: %s %s, %s. Sign it with: pinwright package sign %s --key KEY.pem"
                      + " --certificate CERTIFICATE.pem",
                  to, m.name(), m.version(), Context.counted(m.files().size(), "file"), to));
    } finally {
      done(() -> Files.deleteIfExists(part));
    }
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Signs a package, or signs it anew; ES256 or EdDSA, by the key.")
  int sign(
      @Parameters(paramLabel = "FILE") Path file,
      @Option(names = "--key", required = true, description = "Private key, PEM.") Path key,
      @Option(
              names = "--certificate",
              required = true,
              description = "Certificate of that key, PEM.")
          Path certificate) {
    Signer signer =
        done(
            () -> {
              try {
                PrivateKey with = Pki.privateKey(Files.readString(key));
                X509Certificate of = Pki.certificate(Files.readString(certificate));
                return PackageMaker.sign(file, with, List.of(of));
              } catch (IllegalArgumentException | IllegalStateException e) {
                throw new PackageRefused("The key cannot sign: " + e.getMessage() + ".");
              }
            });
    return context.print(
        Map.of("signer", signer.name(), "key", signer.key()),
        () -> context.line("Signed by %s, key %s.", signer.name(), signer.key()));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Checks a package as the service does when it is brought.")
  int check(@Parameters(paramLabel = "FILE") Path file) {
    PackageFile p = done(() -> PackageFile.read(file));
    Manifest m = p.manifest();
    return context.print(
        Map.of("id", m.id(), "version", m.version(), "signer", p.signer().name()),
        () ->
            context.line(
                "%s %s (%s, code %d) is whole, and signed by %s.",
                m.name(), m.version(), m.id(), m.versionCode(), p.signer().name()));
  }
}
