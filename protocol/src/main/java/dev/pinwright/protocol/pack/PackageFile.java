package dev.pinwright.protocol.pack;

import dev.pinwright.core.Text;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.Arrays;
import java.util.Enumeration;
import java.util.HashSet;
import java.util.HexFormat;
import java.util.Optional;
import java.util.Set;
import java.util.zip.ZipEntry;
import java.util.zip.ZipException;
import java.util.zip.ZipFile;

/**
 * A package that was read whole and is what its signer made.
 *
 * @param icon the picture it names; empty when it names none
 */
public record PackageFile(Manifest manifest, Signer signer, Optional<byte[]> icon) {
  /** Most bytes of all its files together, unpacked. */
  public static final long MOST_UNPACKED = 4L << 30;

  private static final int MOST_ICON = 512 * 1024;
  private static final int MOST_SIGNATURE = 64 * 1024;
  private static final int MOST_TIMES_SMALLER = 1_000;
  private static final int PART = 64 * 1024;

  /** Whether a file in a package may be called so: a plain path, in one way only. */
  static boolean fits(String path) {
    return path.matches("[A-Za-z0-9_][A-Za-z0-9._ -]*(/[A-Za-z0-9_][A-Za-z0-9._ -]*){0,15}")
        && path.length() <= 200
        && !path.contains("..");
  }

  /**
   * Reads one, and doubts everything in it: the signature over the manifest first, then every file
   * against the manifest. No more than a part of it is in memory.
   *
   * @throws PackageRefused saying what is wrong
   */
  public static PackageFile read(Path file) throws PackageRefused, IOException {
    try (ZipFile zip = new ZipFile(file.toFile())) {
      Set<String> names = names(zip);
      byte[] json = whole(zip, Manifest.FILE, Manifests.MOST_BYTES);
      byte[] jws = whole(zip, Manifest.SIGNATURE, MOST_SIGNATURE);
      Signer signer = Signer.check(json, jws);
      Manifest manifest = Manifests.read(json);
      for (String path : manifest.files().keySet()) {
        if (!names.contains(path)) {
          throw new PackageRefused("The manifest names " + path + ", which is not in the package.");
        }
      }
      for (String name : names) {
        if (!manifest.files().containsKey(name)
            && !name.equals(Manifest.FILE)
            && !name.equals(Manifest.SIGNATURE)) {
          throw new PackageRefused(
              "The package holds " + name + ", which its manifest does not name.");
        }
      }
      long unpacked = 0;
      for (String path : manifest.files().keySet().stream().sorted().toList()) {
        unpacked += same(zip, path, manifest.files().get(path), MOST_UNPACKED - unpacked);
      }
      Optional<byte[]> icon =
          manifest.icon().isEmpty()
              ? Optional.empty()
              : Optional.of(whole(zip, manifest.icon().get(), MOST_ICON));
      if (icon.filter(i -> !isPng(i)).isPresent()) {
        throw new PackageRefused("The icon is no PNG picture.");
      }
      return new PackageFile(manifest, signer, icon);
    } catch (ZipException e) {
      throw new PackageRefused(
          "The package is no ZIP that can be read: it is broken or ends too early.");
    }
  }

  /** Whether bytes begin as a PNG does (ISO/IEC 15948, 5.2). */
  public static boolean isPng(byte[] bytes) {
    return bytes.length > 8
        && Arrays.equals(
            Arrays.copyOf(bytes, 8),
            new byte[] {(byte) 0x89, 'P', 'N', 'G', '\r', '\n', 0x1a, '\n'});
  }

  private static Set<String> names(ZipFile zip) throws PackageRefused {
    Set<String> names = new HashSet<>();
    Enumeration<? extends ZipEntry> entries = zip.entries();
    while (entries.hasMoreElements()) {
      ZipEntry entry = entries.nextElement();
      String name = entry.getName();
      if (entry.isDirectory() && fits(name.substring(0, name.length() - 1))) {
        continue;
      }
      if (!fits(name)) {
        throw new PackageRefused(
            "The package holds a file called "
                + Text.cleaned(name, 80)
                + "; paths in a package are letters, digits, spaces, dots, hyphens and underscores"
                + " with slashes between, and lead nowhere else.");
      }
      if (!names.add(name)) {
        throw new PackageRefused("The package holds " + name + " twice.");
      }
      if (names.size() > 2_002) {
        throw new PackageRefused("The package holds more than 2000 files.");
      }
    }
    return names;
  }

  private static byte[] whole(ZipFile zip, String name, int most)
      throws PackageRefused, IOException {
    ZipEntry entry = zip.getEntry(name);
    if (entry == null) {
      throw new PackageRefused(
          "The package has no "
              + name
              + "; a package holds "
              + Manifest.FILE
              + " and "
              + Manifest.SIGNATURE
              + ".");
    }
    try (InputStream in = zip.getInputStream(entry)) {
      byte[] bytes = in.readNBytes(most + 1);
      if (bytes.length > most) {
        throw new PackageRefused(name + " has at most " + (most >> 10) + " KiB.");
      }
      return bytes;
    }
  }

  /** Reads a file of the package and compares it; how many bytes it has. */
  private static long same(ZipFile zip, String path, String sha256, long room)
      throws PackageRefused, IOException {
    ZipEntry entry = zip.getEntry(path);
    MessageDigest digest = sha256();
    long packed = Math.max(1, entry.getCompressedSize());
    long bytes = 0;
    byte[] part = new byte[PART];
    try (InputStream in = zip.getInputStream(entry)) {
      for (int n = in.read(part); n >= 0; n = in.read(part)) {
        bytes += n;
        if (bytes > room) {
          throw new PackageRefused(
              "The files of a package have at most " + (MOST_UNPACKED >> 30) + " GiB together.");
        }
        if (bytes > PART && bytes / packed > MOST_TIMES_SMALLER) {
          throw new PackageRefused(
              path + " is packed more than a thousand times smaller than it is; that is no app.");
        }
        digest.update(part, 0, n);
      }
    }
    if (!HexFormat.of().formatHex(digest.digest()).equals(sha256)) {
      throw new PackageRefused(
          path + " is not the file the manifest names: its SHA-256 is another.");
    }
    return bytes;
  }

  static MessageDigest sha256() {
    try {
      return MessageDigest.getInstance("SHA-256");
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException(e);
    }
  }
}
