package dev.pinwright.protocol.notification;

import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.Arrays;
import java.util.Base64;

/**
 * Package 0 (OMA-TS-DM_Notification-V1_2, section 6): a digest of 16 bytes, then 64 bits of header
 * (version 10, ui-mode 2, initiator 1, reserved 27, session id 16, server-id length 8), then the
 * server id.
 *
 * @param sessionId 0 to 65535
 * @param serverId 1 to 255 ASCII characters
 */
public record Notification(int sessionId, String serverId) {
  private static final int DIGEST = 16;
  private static final int HEADER = 8;
  private static final long VERSION_1_2 = 12;
  private static final long UI_NOT_SAID = 2;
  private static final long SERVER_INITIATED = 1;

  /**
   * The bytes.
   *
   * <p>The digest is {@code MD5(B64(MD5(serverId:secret)):nonce:B64(MD5(trigger)))} with an empty
   * nonce. The socket it travels on is mutually authenticated, so it guards against mix-ups only.
   *
   * @param secret shared with the device; Pinwright uses the device's common name
   */
  public byte[] encode(String secret) {
    byte[] id = serverId.getBytes(StandardCharsets.US_ASCII);
    long header =
        VERSION_1_2 << 54
            | UI_NOT_SAID << 52
            | SERVER_INITIATED << 51
            | (long) (sessionId & 0xffff) << 8
            | id.length & 0xff;
    byte[] trigger = ByteBuffer.allocate(HEADER + id.length).putLong(header).put(id).array();
    return ByteBuffer.allocate(DIGEST + trigger.length)
        .put(digest(secret, trigger))
        .put(trigger)
        .array();
  }

  /**
   * Reads and checks a notification.
   *
   * @throws IllegalArgumentException when it is too short, of another version, or its digest is
   *     wrong
   */
  public static Notification decode(byte[] bytes, String secret) {
    if (bytes.length < DIGEST + HEADER + 1) {
      throw new IllegalArgumentException("a notification has at least 25 bytes");
    }
    byte[] trigger = Arrays.copyOfRange(bytes, DIGEST, bytes.length);
    long header = ByteBuffer.wrap(trigger).getLong();
    if (header >>> 54 != VERSION_1_2) {
      throw new IllegalArgumentException("the notification is not of DM 1.2");
    }
    int length = (int) (header & 0xff);
    if (trigger.length < HEADER + length) {
      throw new IllegalArgumentException("the notification's server id is cut short");
    }
    String serverId = new String(trigger, HEADER, length, StandardCharsets.US_ASCII);
    Notification n = new Notification((int) (header >>> 8 & 0xffff), serverId);
    if (!MessageDigest.isEqual(n.digest(secret, trigger), Arrays.copyOfRange(bytes, 0, DIGEST))) {
      throw new IllegalArgumentException("the notification's digest is wrong");
    }
    return n;
  }

  private byte[] digest(String secret, byte[] trigger) {
    String inner = b64(md5((serverId + ":" + secret).getBytes(StandardCharsets.UTF_8)));
    return md5((inner + "::" + b64(md5(trigger))).getBytes(StandardCharsets.US_ASCII));
  }

  private static String b64(byte[] bytes) {
    return Base64.getEncoder().encodeToString(bytes);
  }

  private static byte[] md5(byte[] bytes) {
    try {
      return MessageDigest.getInstance("MD5").digest(bytes);
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException(e);
    }
  }
}
