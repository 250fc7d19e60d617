package dev.pinwright.protocol.pack;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.json.JsonMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.pinwright.core.enrollment.InvitationCode;
import dev.pinwright.protocol.join.JoinLink;
import dev.pinwright.protocol.pki.Pki;
import java.net.URI;
import java.security.GeneralSecurityException;
import java.security.cert.X509Certificate;
import java.time.Instant;
import java.time.format.DateTimeParseException;
import java.util.List;
import java.util.Objects;
import org.jose4j.jwa.AlgorithmConstraints;
import org.jose4j.jwa.AlgorithmConstraints.ConstraintType;
import org.jose4j.jws.AlgorithmIdentifiers;
import org.jose4j.jws.JsonWebSignature;
import org.jose4j.lang.JoseException;

/**
 * What an app is told where its device is not enrolled. The printed code holds {@code
 * https://HOST:PORT/app-configuration/CODE#FP}; there lies a JWS (RFC 7515, compact, ES256) whose
 * {@code x5c} ends in the root of fingerprint {@code FP}, and whose payload is this, as JSON.
 *
 * @param app see {@code AppId}
 * @param name of the app, for people
 * @param organisation whose it is
 * @param unit name of the unit it is for
 * @param unitCode the unit's code
 * @param issued when it was signed
 * @param until when it is to be forgotten
 * @param configuration JSON the app is told
 */
public record PrintedConfiguration(
    String app,
    String name,
    String organisation,
    String unit,
    String unitCode,
    Instant issued,
    Instant until,
    String configuration) {

  /** Value of {@code format} in this form of it. */
  public static final String FORMAT = "pinwright-app-configuration/1";

  /** Path below the device listener. */
  public static final String PATH = "/app-configuration/";

  /** Media type (RFC 7515, 9.2.1). */
  public static final String MEDIA_TYPE = "application/jose";

  private static final JsonMapper MAPPER = JsonMapper.builder().build();
  private static final AlgorithmConstraints ALGORITHMS =
      new AlgorithmConstraints(
          ConstraintType.PERMIT, AlgorithmIdentifiers.ECDSA_USING_P256_CURVE_AND_SHA256);

  /**
   * Where one lies.
   *
   * @param address without the fingerprint
   * @param fingerprint unpadded base64url of the SHA-256 of the root certificate (DER)
   */
  public record Link(String address, String fingerprint) {
    /** The link of a code. */
    public static Link of(String base, InvitationCode code, X509Certificate root) {
      return new Link(base + PATH + code.value(), JoinLink.fingerprint(root));
    }

    /**
     * Reads a link.
     *
     * @throws IllegalArgumentException saying what is missing
     */
    public static Link parse(String text) {
      URI uri = URI.create(text.strip());
      String path = Objects.requireNonNullElse(uri.getPath(), "");
      String fp = Objects.requireNonNullElse(uri.getFragment(), "");
      if (!"https".equals(uri.getScheme())
          || uri.getAuthority() == null
          || !path.startsWith(PATH)
          || !fp.matches("[A-Za-z0-9_-]{43}")) {
        throw new IllegalArgumentException(
            "a configuration code holds https://, an address, "
                + PATH
                + ", a code, # and 43 characters");
      }
      InvitationCode.parse(path.substring(PATH.length()));
      return new Link("https://" + uri.getAuthority() + path, fp);
    }

    @Override
    public String toString() {
      return address + "#" + fingerprint;
    }
  }

  /** Signs it. */
  public String sign(Pki.Identity signer, X509Certificate root) {
    ObjectNode payload = MAPPER.createObjectNode();
    payload.put("format", FORMAT);
    payload.put("app", app);
    payload.put("name", name);
    payload.put("organisation", organisation);
    payload.putObject("unit").put("code", unitCode).put("name", unit);
    payload.put("issued", issued.toString());
    payload.put("until", until.toString());
    try {
      payload.set("configuration", MAPPER.readTree(configuration));
      JsonWebSignature signature = new JsonWebSignature();
      signature.setAlgorithmHeaderValue(AlgorithmIdentifiers.ECDSA_USING_P256_CURVE_AND_SHA256);
      signature.setCertificateChainHeaderValue(signer.certificate(), root);
      signature.setPayload(payload.toString());
      signature.setKey(signer.key());
      return signature.getCompactSerialization();
    } catch (JsonProcessingException | JoseException e) {
      throw new IllegalStateException("a configuration cannot be signed", e);
    }
  }

  /**
   * Reads one as an app does.
   *
   * @param fingerprint of the root it has to come from
   * @throws PackageRefused saying why it is not to be believed
   */
  public static PrintedConfiguration read(String jws, String fingerprint, Instant now)
      throws PackageRefused {
    try {
      JsonWebSignature signature = new JsonWebSignature();
      signature.setAlgorithmConstraints(ALGORITHMS);
      signature.setCompactSerialization(jws.strip());
      List<X509Certificate> chain = signature.getCertificateChainHeaderValue();
      if (chain == null || chain.size() != 2) {
        throw new PackageRefused("It does not name its signer and the root.");
      }
      if (!JoinLink.fingerprint(chain.get(1)).equals(fingerprint)) {
        throw new PackageRefused("It was signed by others than those who printed the code.");
      }
      chain.get(0).verify(chain.get(1).getPublicKey());
      signature.setKey(chain.get(0).getPublicKey());
      if (!signature.verifySignature()) {
        throw new PackageRefused("The signature does not hold.");
      }
      PrintedConfiguration read = of(MAPPER.readTree(signature.getPayloadBytes()));
      if (read.until.isBefore(now)) {
        throw new PackageRefused("It held until " + read.until + ".");
      }
      return read;
    } catch (GeneralSecurityException e) {
      throw new PackageRefused("Its signer was not made known by those who printed the code.");
    } catch (JoseException | java.io.IOException | DateTimeParseException e) {
      throw new PackageRefused("It is no signed configuration: " + e.getMessage() + ".");
    }
  }

  private static PrintedConfiguration of(JsonNode root) throws PackageRefused {
    if (!root.path("format").asText().equals(FORMAT)) {
      throw new PackageRefused("It is not of the form " + FORMAT + ".");
    }
    return new PrintedConfiguration(
        root.path("app").asText(),
        root.path("name").asText(),
        root.path("organisation").asText(),
        root.path("unit").path("name").asText(),
        root.path("unit").path("code").asText(),
        Instant.parse(root.path("issued").asText()),
        Instant.parse(root.path("until").asText()),
        root.path("configuration").toString());
  }
}
