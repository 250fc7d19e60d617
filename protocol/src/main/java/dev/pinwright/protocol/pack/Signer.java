package dev.pinwright.protocol.pack;

import dev.pinwright.core.Text;
import dev.pinwright.protocol.pki.Pki;
import java.nio.charset.StandardCharsets;
import java.security.PrivateKey;
import java.security.cert.X509Certificate;
import java.time.Instant;
import java.util.Base64;
import java.util.HexFormat;
import java.util.List;
import org.jose4j.jwa.AlgorithmConstraints;
import org.jose4j.jwa.AlgorithmConstraints.ConstraintType;
import org.jose4j.jws.AlgorithmIdentifiers;
import org.jose4j.jws.JsonWebSignature;
import org.jose4j.lang.JoseException;

/**
 * Who signed a package.
 *
 * @param name of its certificate's subject, for people: the common name, else all of it (RFC 4514)
 * @param key lower-case hex SHA-256 of the public key (SubjectPublicKeyInfo, RFC 5280), by which an
 *     app knows its signer
 * @param until when the certificate ends
 */
public record Signer(String name, String key, Instant until) {
  private static final AlgorithmConstraints ALGORITHMS =
      new AlgorithmConstraints(
          ConstraintType.PERMIT,
          AlgorithmIdentifiers.ECDSA_USING_P256_CURVE_AND_SHA256,
          AlgorithmIdentifiers.EDDSA);

  /**
   * Checks a detached signature (RFC 7515, Appendix F) over a manifest.
   *
   * @param jws compact serialisation without its payload; {@code alg} is ES256 or EdDSA, {@code
   *     x5c} holds the signer's certificate first
   * @throws PackageRefused when it does not hold
   */
  static Signer check(byte[] manifest, byte[] jws) throws PackageRefused {
    String compact = new String(jws, StandardCharsets.US_ASCII).strip();
    if (!compact.matches("[A-Za-z0-9_-]+\\.\\.[A-Za-z0-9_-]+")) {
      throw new PackageRefused(
          Manifest.SIGNATURE + " is a detached JWS: header, two dots, signature.");
    }
    try {
      JsonWebSignature signature = new JsonWebSignature();
      signature.setAlgorithmConstraints(ALGORITHMS);
      // with the payload put back between the two dots (RFC 7515, Appendix F)
      String payload = Base64.getUrlEncoder().withoutPadding().encodeToString(manifest);
      signature.setCompactSerialization(compact.replace("..", "." + payload + "."));
      List<X509Certificate> chain = signature.getCertificateChainHeaderValue();
      if (chain == null || chain.isEmpty()) {
        throw new PackageRefused("The signature names no certificate of its signer (x5c).");
      }
      X509Certificate certificate = chain.get(0);
      signature.setKey(certificate.getPublicKey());
      if (!signature.verifySignature()) {
        throw new PackageRefused(
            "The signature does not hold: the manifest was changed after it was signed.");
      }
      return of(certificate);
    } catch (JoseException | IllegalArgumentException | ClassCastException e) {
      throw new PackageRefused(
          "The signature cannot be checked; it is made with ES256 or EdDSA and names its"
              + " certificate (x5c): "
              + Text.cleaned(String.valueOf(e.getMessage()), 160)
              + ".");
    }
  }

  /** Who a certificate is of. */
  public static Signer of(X509Certificate certificate) {
    String common = Pki.commonName(certificate);
    String name =
        Text.cleaned(
            common.isEmpty() ? certificate.getSubjectX500Principal().getName() : common, 120);
    return new Signer(
        name.isEmpty() ? "a signer without a name" : name,
        HexFormat.of()
            .formatHex(PackageFile.sha256().digest(certificate.getPublicKey().getEncoded())),
        certificate.getNotAfter().toInstant());
  }

  /**
   * Signs a manifest.
   *
   * @param chain the signer's certificate first
   * @return compact serialisation without its payload
   * @throws IllegalArgumentException when the key cannot sign so
   */
  public static String sign(byte[] manifest, PrivateKey key, List<X509Certificate> chain) {
    JsonWebSignature signature = new JsonWebSignature();
    signature.setAlgorithmHeaderValue(
        chain.get(0).getPublicKey().getAlgorithm().startsWith("Ed")
            ? AlgorithmIdentifiers.EDDSA
            : AlgorithmIdentifiers.ECDSA_USING_P256_CURVE_AND_SHA256);
    signature.setCertificateChainHeaderValue(chain.toArray(X509Certificate[]::new));
    signature.setPayloadBytes(manifest);
    signature.setKey(key);
    try {
      return signature.getDetachedContentCompactSerialization();
    } catch (JoseException e) {
      throw new IllegalArgumentException("this key does not sign: " + e.getMessage(), e);
    }
  }
}
