package dev.pinwright.service.secret;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.security.GeneralSecurityException;
import java.security.MessageDigest;
import java.security.SecureRandom;
import java.util.Arrays;
import java.util.Base64;
import java.util.HexFormat;
import javax.crypto.Cipher;
import javax.crypto.spec.GCMParameterSpec;
import javax.crypto.spec.SecretKeySpec;

/**
 * Seals what must not be readable in the database: AES-256-GCM, a fresh nonce each time. All nodes
 * share one key, kept in a file only its owner can read.
 */
public final class Vault {
  private static final int KEY_BYTES = 32;
  private static final int NONCE = 12;
  private static final int TAG_BITS = 128;
  private static final SecureRandom RANDOM = new SecureRandom();
  private final SecretKeySpec key;

  /**
   * Opens the vault whose key is in {@code home/seal.key}, making one on first start.
   *
   * @throws UncheckedIOException when the file cannot be read or written
   */
  public static Vault at(Path home) {
    Path file = home.resolve("seal.key");
    try {
      if (!Files.exists(home)) {
        Files.createDirectories(
            home,
            PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rwx------")));
      }
      if (!Files.exists(file)) {
        create(file);
      }
      return new Vault(Base64.getDecoder().decode(Files.readString(file).strip()));
    } catch (IOException e) {
      throw new UncheckedIOException("the sealing key " + file + " cannot be used", e);
    }
  }

  private static void create(Path file) throws IOException {
    byte[] key = random(KEY_BYTES);
    Path fresh =
        Files.createTempFile(
            file.getParent(),
            "seal",
            ".new",
            PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
    Files.writeString(fresh, Base64.getEncoder().encodeToString(key), StandardOpenOption.WRITE);
    try {
      Files.createLink(file, fresh);
    } catch (FileAlreadyExistsException e) {
      // another node of this machine was quicker; its key is the one
    } finally {
      Files.delete(fresh);
    }
  }

  Vault(byte[] key) {
    this.key = new SecretKeySpec(key, "AES");
  }

  /** Seals bytes. */
  public byte[] seal(byte[] plain) {
    try {
      byte[] nonce = random(NONCE);
      Cipher cipher = Cipher.getInstance("AES/GCM/NoPadding");
      cipher.init(Cipher.ENCRYPT_MODE, key, new GCMParameterSpec(TAG_BITS, nonce));
      byte[] sealed = cipher.doFinal(plain);
      return ByteBuffer.allocate(NONCE + sealed.length).put(nonce).put(sealed).array();
    } catch (GeneralSecurityException e) {
      throw new IllegalStateException(e);
    }
  }

  /** Seals a text. */
  public byte[] seal(String plain) {
    return seal(plain.getBytes(StandardCharsets.UTF_8));
  }

  /**
   * Opens what was sealed.
   *
   * @throws IllegalStateException when it was sealed with another key
   */
  public String open(byte[] sealed) {
    try {
      Cipher cipher = Cipher.getInstance("AES/GCM/NoPadding");
      cipher.init(
          Cipher.DECRYPT_MODE, key, new GCMParameterSpec(TAG_BITS, Arrays.copyOf(sealed, NONCE)));
      return new String(
          cipher.doFinal(sealed, NONCE, sealed.length - NONCE), StandardCharsets.UTF_8);
    } catch (GeneralSecurityException e) {
      throw new IllegalStateException(
          "a secret was sealed with another key; is seal.key the one of this database?", e);
    }
  }

  /** Unpredictable bytes. */
  public static byte[] random(int length) {
    byte[] bytes = new byte[length];
    RANDOM.nextBytes(bytes);
    return bytes;
  }

  /** An unpredictable number from 0 to below {@code bound}. */
  public static int randomBelow(int bound) {
    return RANDOM.nextInt(bound);
  }

  /** An unpredictable text of 160 bits. */
  public static String randomText() {
    return Base64.getUrlEncoder().withoutPadding().encodeToString(random(20));
  }

  /** Hex SHA-256 of an unguessable text, to find it by without keeping it. */
  public static String hash(String text) {
    return hash(text.getBytes(StandardCharsets.UTF_8));
  }

  /** Hex SHA-256. */
  public static String hash(byte[] bytes) {
    try {
      return HexFormat.of().formatHex(MessageDigest.getInstance("SHA-256").digest(bytes));
    } catch (GeneralSecurityException e) {
      throw new IllegalStateException(e);
    }
  }
}
