package dev.pinwright.protocol.pack;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.SerializationFeature;
import com.fasterxml.jackson.databind.json.JsonMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.security.DigestInputStream;
import java.security.MessageDigest;
import java.security.PrivateKey;
import java.security.cert.X509Certificate;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Stream;
import java.util.zip.ZipEntry;
import java.util.zip.ZipFile;
import java.util.zip.ZipOutputStream;

/** Makes packages: from a folder with a manifest, and a signature onto them. */
public final class PackageMaker {
  private static final JsonMapper MAPPER =
      JsonMapper.builder().enable(SerializationFeature.INDENT_OUTPUT).build();

  private PackageMaker() {}

  /**
   * Packs a folder: all its files, and its {@code manifest.json} with the SHA-256 of each and the
   * format written in. The package is yet to be signed.
   *
   * @throws PackageRefused when the manifest would not be read
   */
  public static Manifest make(Path folder, Path into) throws PackageRefused, IOException {
    Path manifest = folder.resolve(Manifest.FILE);
    if (!Files.isRegularFile(manifest)) {
      throw new PackageRefused("There is no " + Manifest.FILE + " in " + folder + ".");
    }
    Map<String, String> files = new TreeMap<>();
    try (Stream<Path> all = Files.walk(folder)) {
      for (Path file : all.filter(Files::isRegularFile).sorted().toList()) {
        String path = folder.relativize(file).toString().replace('\\', '/');
        if (path.equals(Manifest.FILE) || path.equals(Manifest.SIGNATURE)) {
          continue;
        }
        if (!PackageFile.fits(path)) {
          throw new PackageRefused("A file of a package cannot be called " + path + ".");
        }
        files.put(path, hash(file));
      }
    }
    byte[] json = written(Files.readAllBytes(manifest), files);
    Manifest read = Manifests.read(json);
    try (ZipOutputStream zip = new ZipOutputStream(Files.newOutputStream(into))) {
      put(zip, Manifest.FILE, json);
      for (String path : files.keySet()) {
        zip.putNextEntry(entry(path));
        Files.copy(folder.resolve(path), zip);
        zip.closeEntry();
      }
    }
    return read;
  }

  private static byte[] written(byte[] json, Map<String, String> files) throws PackageRefused {
    try {
      JsonNode root = MAPPER.readTree(json);
      if (!(root instanceof ObjectNode manifest)) {
        throw new PackageRefused("The manifest is a JSON object.");
      }
      manifest.put("format", Manifest.FORMAT);
      ObjectNode hashes = manifest.putObject("files");
      files.forEach(hashes::put);
      return MAPPER.writeValueAsBytes(manifest);
    } catch (JsonProcessingException e) {
      throw new PackageRefused("The manifest is not JSON: " + e.getOriginalMessage() + ".");
    } catch (IOException e) {
      throw new PackageRefused("The manifest cannot be read.");
    }
  }

  /**
   * Signs a package, or signs it anew.
   *
   * @param chain the signer's certificate first
   * @throws PackageRefused when it is no package
   * @throws IllegalArgumentException when the key cannot sign so
   */
  public static Signer sign(Path file, PrivateKey key, List<X509Certificate> chain)
      throws PackageRefused, IOException {
    Path signed = Files.createTempFile(file.toAbsolutePath().getParent(), "package-", ".part");
    try {
      try (ZipFile zip = new ZipFile(file.toFile());
          OutputStream out = Files.newOutputStream(signed);
          ZipOutputStream to = new ZipOutputStream(out)) {
        ZipEntry manifest = zip.getEntry(Manifest.FILE);
        if (manifest == null) {
          throw new PackageRefused("There is no " + Manifest.FILE + " in " + file + ".");
        }
        byte[] json;
        try (InputStream in = zip.getInputStream(manifest)) {
          json = in.readNBytes(Manifests.MOST_BYTES + 1);
        }
        Manifests.read(json);
        put(to, Manifest.FILE, json);
        put(
            to,
            Manifest.SIGNATURE,
            Signer.sign(json, key, chain).getBytes(StandardCharsets.US_ASCII));
        for (ZipEntry e : zip.stream().map(ZipEntry.class::cast).toList()) {
          if (!e.getName().equals(Manifest.FILE) && !e.getName().equals(Manifest.SIGNATURE)) {
            to.putNextEntry(entry(e.getName()));
            try (InputStream in = zip.getInputStream(e)) {
              in.transferTo(to);
            }
            to.closeEntry();
          }
        }
      }
      Signer signer = PackageFile.read(signed).signer();
      Files.move(signed, file, StandardCopyOption.REPLACE_EXISTING);
      return signer;
    } finally {
      Files.deleteIfExists(signed);
    }
  }

  private static void put(ZipOutputStream zip, String name, byte[] bytes) throws IOException {
    zip.putNextEntry(entry(name));
    zip.write(bytes);
    zip.closeEntry();
  }

  /** Without a time, so that the same files make the same package. */
  private static ZipEntry entry(String name) {
    ZipEntry entry = new ZipEntry(name);
    entry.setTime(0);
    return entry;
  }

  private static String hash(Path file) throws IOException {
    MessageDigest digest = PackageFile.sha256();
    try (InputStream in = new DigestInputStream(Files.newInputStream(file), digest)) {
      in.transferTo(OutputStream.nullOutputStream());
    }
    return HexFormat.of().formatHex(digest.digest());
  }
}
