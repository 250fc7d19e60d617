package dev.pinwright.protocol.join;

import dev.pinwright.core.enrollment.InvitationCode;
import java.net.URI;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.security.cert.CertificateEncodingException;
import java.security.cert.X509Certificate;
import java.util.Base64;

/**
 * {@code https://HOST:PORT/join/CODE#FP}.
 *
 * @param base {@code https://HOST:PORT}
 * @param fingerprint unpadded base64url of the SHA-256 of the root certificate (DER)
 */
public record JoinLink(String base, InvitationCode code, String fingerprint) {

  /** The link for a code and a root. */
  public static JoinLink of(String base, InvitationCode code, X509Certificate root) {
    return new JoinLink(base, code, fingerprint(root));
  }

  /** The fingerprint of a root certificate. */
  public static String fingerprint(X509Certificate root) {
    try {
      byte[] hash = MessageDigest.getInstance("SHA-256").digest(root.getEncoded());
      return Base64.getUrlEncoder().withoutPadding().encodeToString(hash);
    } catch (NoSuchAlgorithmException | CertificateEncodingException e) {
      throw new IllegalStateException(e);
    }
  }

  /**
   * Reads a link.
   *
   * @throws IllegalArgumentException saying what is missing
   */
  public static JoinLink parse(String text) {
    URI uri = URI.create(text.strip());
    String path = uri.getPath() == null ? "" : uri.getPath();
    if (!"https".equals(uri.getScheme()) || uri.getAuthority() == null) {
      throw new IllegalArgumentException("a join link starts with https:// and an address");
    }
    if (!path.startsWith("/join/")) {
      throw new IllegalArgumentException("a join link has /join/ and a code after the address");
    }
    String fp = uri.getFragment() == null ? "" : uri.getFragment();
    if (!fp.matches("[A-Za-z0-9_-]{43}")) {
      throw new IllegalArgumentException(
          "a join link ends in # and the 43 characters of the server's fingerprint");
    }
    return new JoinLink(
        "https://" + uri.getAuthority(),
        InvitationCode.parse(path.substring("/join/".length())),
        fp);
  }

  @Override
  public String toString() {
    return base + "/join/" + code.value() + "#" + fingerprint;
  }
}
