package dev.pinwright.protocol.pki;

import dev.pinwright.protocol.pki.Pki.Identity;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.KeyPair;
import java.security.Provider;
import java.security.cert.CertificateEncodingException;
import java.security.cert.X509Certificate;
import java.util.Optional;
import org.bouncycastle.cert.X509CertificateHolder;
import org.bouncycastle.cert.jcajce.JcaX509CertificateHolder;
import org.bouncycastle.cms.CMSAlgorithm;
import org.bouncycastle.cms.CMSEnvelopedData;
import org.bouncycastle.cms.CMSEnvelopedDataGenerator;
import org.bouncycastle.cms.CMSException;
import org.bouncycastle.cms.CMSProcessableByteArray;
import org.bouncycastle.cms.RecipientInformation;
import org.bouncycastle.cms.jcajce.JceCMSContentEncryptorBuilder;
import org.bouncycastle.cms.jcajce.JceKeyAgreeEnvelopedRecipient;
import org.bouncycastle.cms.jcajce.JceKeyAgreeRecipientInfoGenerator;
import org.bouncycastle.jce.provider.BouncyCastleProvider;

/**
 * Keys that open the disk of a device, wrapped for the service: CMS {@code EnvelopedData} (RFC
 * 5652, section 6) with AES-256 in CBC mode (RFC 3565), whose key is agreed on with the service's
 * certificate by ECDH with an ephemeral key (RFC 5753).
 */
public final class WrappedKeys {
  /** Bytes of the largest wrapped key that is looked at. */
  public static final int MAX_WRAPPED = 16_384;

  private static final int MAX_KEY = 200;
  private static final Provider PROVIDER = new BouncyCastleProvider();

  private WrappedKeys() {}

  /** Wraps a key; DER. */
  public static byte[] wrap(String key, X509Certificate recipient) {
    try {
      KeyPair ephemeral = Pki.newKey();
      CMSEnvelopedDataGenerator generator = new CMSEnvelopedDataGenerator();
      generator.addRecipientInfoGenerator(
          new JceKeyAgreeRecipientInfoGenerator(
                  CMSAlgorithm.ECDH_SHA256KDF,
                  ephemeral.getPrivate(),
                  ephemeral.getPublic(),
                  CMSAlgorithm.AES256_WRAP)
              .addRecipient(recipient)
              .setProvider(PROVIDER));
      return generator
          .generate(
              new CMSProcessableByteArray(key.getBytes(StandardCharsets.UTF_8)),
              new JceCMSContentEncryptorBuilder(CMSAlgorithm.AES256_CBC).build())
          .getEncoded();
    } catch (CMSException | GeneralSecurityException | IOException e) {
      throw new IllegalStateException(e);
    }
  }

  /**
   * Opens a wrapped key, whatever of RFC 5753 its key was agreed on by.
   *
   * @return empty for what is no such thing, is not for this recipient, or holds no text that can
   *     be typed in
   */
  public static Optional<String> unwrap(byte[] der, Identity recipient) {
    if (der.length > MAX_WRAPPED) {
      return Optional.empty();
    }
    try {
      X509CertificateHolder us = new JcaX509CertificateHolder(recipient.certificate());
      for (RecipientInformation r : new CMSEnvelopedData(der).getRecipientInfos()) {
        if (r.getRID().match(us)) {
          byte[] content =
              r.getContent(
                  new JceKeyAgreeEnvelopedRecipient(recipient.key()).setProvider(PROVIDER));
          return Optional.of(new String(content, StandardCharsets.UTF_8).strip())
              .filter(k -> k.length() <= MAX_KEY)
              .filter(k -> k.matches("[\\x21-\\x7e]([\\x20-\\x7e]*[\\x21-\\x7e])?"));
        }
      }
      return Optional.empty();
    } catch (CMSException | CertificateEncodingException | RuntimeException e) {
      return Optional.empty();
    }
  }
}
