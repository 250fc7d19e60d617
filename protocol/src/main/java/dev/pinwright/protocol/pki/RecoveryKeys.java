package dev.pinwright.protocol.pki;

import dev.pinwright.protocol.pki.Pki.Identity;
import java.nio.charset.StandardCharsets;
import java.security.cert.CertificateEncodingException;
import java.security.cert.X509Certificate;
import java.util.Optional;
import org.bouncycastle.asn1.nist.NISTObjectIdentifiers;
import org.bouncycastle.asn1.pkcs.PKCSObjectIdentifiers;
import org.bouncycastle.asn1.pkcs.RSAESOAEPparams;
import org.bouncycastle.asn1.x509.AlgorithmIdentifier;
import org.bouncycastle.cms.CMSEnvelopedData;
import org.bouncycastle.cms.CMSEnvelopedDataGenerator;
import org.bouncycastle.cms.CMSException;
import org.bouncycastle.cms.CMSProcessableByteArray;
import org.bouncycastle.cms.RecipientInformation;
import org.bouncycastle.cms.jcajce.JceCMSContentEncryptorBuilder;
import org.bouncycastle.cms.jcajce.JceKeyTransEnvelopedRecipient;
import org.bouncycastle.cms.jcajce.JceKeyTransRecipientInfoGenerator;

/**
 * Keys that open the disk of a device, wrapped for the service: CMS {@code EnvelopedData} (RFC
 * 5652, section 6) with AES-256 in CBC mode (RFC 3565), its key by RSA to the service's
 * certificate.
 */
public final class RecoveryKeys {
  /** Bytes of the largest wrapped key that is looked at. */
  public static final int MAX_WRAPPED = 16_384;

  private static final int MAX_KEY = 200;

  private RecoveryKeys() {}

  /** Wraps a key, with RSAES-OAEP (RFC 3560); DER. */
  public static byte[] wrap(String key, X509Certificate recipient) {
    try {
      CMSEnvelopedDataGenerator generator = new CMSEnvelopedDataGenerator();
      generator.addRecipientInfoGenerator(
          new JceKeyTransRecipientInfoGenerator(
              recipient,
              new AlgorithmIdentifier(PKCSObjectIdentifiers.id_RSAES_OAEP, new RSAESOAEPparams())));
      return generator
          .generate(
              new CMSProcessableByteArray(key.getBytes(StandardCharsets.UTF_8)),
              new JceCMSContentEncryptorBuilder(NISTObjectIdentifiers.id_aes256_CBC).build())
          .getEncoded();
    } catch (CMSException | CertificateEncodingException | java.io.IOException e) {
      throw new IllegalStateException(e);
    }
  }

  /**
   * Opens a wrapped key, however its key was transported by RSA (RFC 3370, RFC 3560).
   *
   * @return empty for what is no such thing, is not for this recipient, or holds no text that can
   *     be typed in
   */
  public static Optional<String> unwrap(byte[] der, Identity recipient) {
    if (der.length > MAX_WRAPPED) {
      return Optional.empty();
    }
    try {
      for (RecipientInformation r : new CMSEnvelopedData(der).getRecipientInfos()) {
        if (r.getRID()
            .match(
                new org.bouncycastle.cert.jcajce.JcaX509CertificateHolder(
                    recipient.certificate()))) {
          byte[] content = r.getContent(new JceKeyTransEnvelopedRecipient(recipient.key()));
          return Optional.of(new String(content, StandardCharsets.UTF_8).strip())
              .filter(
                  k ->
                      k.length() <= MAX_KEY
                          && k.matches("[\\x21-\\x7e]([\\x20-\\x7e]*[\\x21-\\x7e])?"));
        }
      }
      return Optional.empty();
    } catch (CMSException | CertificateEncodingException | RuntimeException e) {
      return Optional.empty();
    }
  }
}
