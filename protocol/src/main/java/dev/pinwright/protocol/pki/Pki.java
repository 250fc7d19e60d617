package dev.pinwright.protocol.pki;

import dev.pinwright.protocol.pki.CsrRefused.Reason;
import java.io.IOException;
import java.io.StringReader;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.math.BigInteger;
import java.security.GeneralSecurityException;
import java.security.KeyPair;
import java.security.KeyPairGenerator;
import java.security.PrivateKey;
import java.security.PublicKey;
import java.security.SecureRandom;
import java.security.cert.CertificateEncodingException;
import java.security.cert.X509Certificate;
import java.security.interfaces.ECPublicKey;
import java.security.interfaces.RSAPublicKey;
import java.security.spec.ECGenParameterSpec;
import java.time.Instant;
import java.util.Base64;
import java.util.Date;
import java.util.List;
import org.bouncycastle.asn1.ASN1EncodableVector;
import org.bouncycastle.asn1.ASN1Encoding;
import org.bouncycastle.asn1.DERSequence;
import org.bouncycastle.asn1.DERSet;
import org.bouncycastle.asn1.pkcs.PrivateKeyInfo;
import org.bouncycastle.asn1.sec.SECObjectIdentifiers;
import org.bouncycastle.asn1.x500.RDN;
import org.bouncycastle.asn1.x500.X500Name;
import org.bouncycastle.asn1.x500.X500NameBuilder;
import org.bouncycastle.asn1.x500.style.BCStyle;
import org.bouncycastle.asn1.x500.style.IETFUtils;
import org.bouncycastle.asn1.x509.BasicConstraints;
import org.bouncycastle.asn1.x509.ExtendedKeyUsage;
import org.bouncycastle.asn1.x509.Extension;
import org.bouncycastle.asn1.x509.GeneralName;
import org.bouncycastle.asn1.x509.GeneralNames;
import org.bouncycastle.asn1.x509.KeyPurposeId;
import org.bouncycastle.asn1.x509.KeyUsage;
import org.bouncycastle.asn1.x9.X9ObjectIdentifiers;
import org.bouncycastle.cert.CertIOException;
import org.bouncycastle.cert.X509v3CertificateBuilder;
import org.bouncycastle.cert.jcajce.JcaX509CertificateConverter;
import org.bouncycastle.cert.jcajce.JcaX509CertificateHolder;
import org.bouncycastle.cert.jcajce.JcaX509ExtensionUtils;
import org.bouncycastle.cert.jcajce.JcaX509v3CertificateBuilder;
import org.bouncycastle.cms.CMSAbsentContent;
import org.bouncycastle.cms.CMSException;
import org.bouncycastle.cms.CMSSignedDataGenerator;
import org.bouncycastle.openssl.PEMParser;
import org.bouncycastle.openssl.jcajce.JcaPEMKeyConverter;
import org.bouncycastle.openssl.jcajce.JcaPEMWriter;
import org.bouncycastle.operator.OperatorCreationException;
import org.bouncycastle.operator.jcajce.JcaContentSignerBuilder;
import org.bouncycastle.operator.jcajce.JcaContentVerifierProviderBuilder;
import org.bouncycastle.pkcs.PKCSException;
import org.bouncycastle.pkcs.jcajce.JcaPKCS10CertificationRequest;
import org.bouncycastle.pkcs.jcajce.JcaPKCS10CertificationRequestBuilder;
import org.bouncycastle.util.Store;

/** Keys, requests and certificates. Everything random comes from {@link SecureRandom}. */
public final class Pki {
  private static final SecureRandom RANDOM = new SecureRandom();

  /** Stands for a certificate without an end (RFC 5280, 4.1.2.5). */
  private static final Instant NO_END = Instant.parse("9999-12-31T23:59:59Z");

  private static final String SIGNATURE = "SHA256withECDSA";

  private Pki() {}

  /** A key and its certificate. */
  public record Identity(PrivateKey key, X509Certificate certificate) {
    @Override
    public String toString() {
      return "Identity[" + certificate.getSubjectX500Principal() + "]";
    }
  }

  /** A new EC P-256 key pair. */
  public static KeyPair newKey() {
    try {
      KeyPairGenerator g = KeyPairGenerator.getInstance("EC");
      g.initialize(new ECGenParameterSpec("secp256r1"), RANDOM);
      return g.generateKeyPair();
    } catch (GeneralSecurityException e) {
      throw new IllegalStateException(e);
    }
  }

  /** A self-signed root, path length 0. */
  public static Identity newRoot(String commonName, Instant from, Instant until) {
    KeyPair pair = newKey();
    X500Name name = name(commonName);
    X509v3CertificateBuilder b = builder(name, from, until, name, pair.getPublic());
    try {
      b.addExtension(Extension.basicConstraints, true, new BasicConstraints(0));
      b.addExtension(
          Extension.keyUsage, true, new KeyUsage(KeyUsage.keyCertSign | KeyUsage.cRLSign));
      b.addExtension(
          Extension.subjectKeyIdentifier,
          false,
          new JcaX509ExtensionUtils().createSubjectKeyIdentifier(pair.getPublic()));
    } catch (CertIOException | GeneralSecurityException e) {
      throw new IllegalStateException(e);
    }
    return new Identity(pair.getPrivate(), sign(b, pair.getPrivate()));
  }

  /** A server certificate for the given DNS names and addresses. */
  public static Identity newServer(Identity root, List<String> hosts, Instant from, Instant until) {
    KeyPair pair = newKey();
    X509v3CertificateBuilder b =
        leaf(
            root, name(hosts.get(0)), pair.getPublic(), from, until, KeyPurposeId.id_kp_serverAuth);
    return new Identity(pair.getPrivate(), sign(named(b, hosts), root.key()));
  }

  /** A certificate for a server of others that is a client of ours, too. */
  public static X509Certificate issueServer(
      Identity root,
      String commonName,
      List<String> hosts,
      PublicKey key,
      Instant from,
      Instant until) {
    X509v3CertificateBuilder b =
        leaf(
            root,
            name(commonName),
            key,
            from,
            until,
            KeyPurposeId.id_kp_serverAuth,
            KeyPurposeId.id_kp_clientAuth);
    return sign(named(b, hosts), root.key());
  }

  /** The names and addresses a certificate is for (RFC 5280, 4.2.1.6). */
  private static X509v3CertificateBuilder named(X509v3CertificateBuilder b, List<String> hosts) {
    GeneralName[] names =
        hosts.stream()
            .map(
                h ->
                    new GeneralName(
                        h.matches("[0-9.]+|.*:.*") ? GeneralName.iPAddress : GeneralName.dNSName,
                        h))
            .toArray(GeneralName[]::new);
    try {
      return b.addExtension(Extension.subjectAlternativeName, false, new GeneralNames(names));
    } catch (CertIOException e) {
      throw new IllegalStateException(e);
    }
  }

  /** A key that others wrap secrets for, and its certificate; for agreeing on keys alone. */
  public static Identity newRecipient(
      Identity root, String commonName, Instant from, Instant until) {
    return newIdentity(root, commonName, KeyUsage.keyAgreement, from, until);
  }

  /** A key that signs what is handed out, and its certificate; for signing alone. */
  public static Identity newSigner(Identity root, String commonName, Instant from, Instant until) {
    return newIdentity(root, commonName, KeyUsage.digitalSignature, from, until);
  }

  private static Identity newIdentity(
      Identity root, String commonName, int usage, Instant from, Instant until) {
    KeyPair pair = newKey();
    try {
      X500Name issuer = new JcaX509CertificateHolder(root.certificate()).getSubject();
      X509v3CertificateBuilder b = builder(issuer, from, until, name(commonName), pair.getPublic());
      b.addExtension(Extension.keyUsage, true, new KeyUsage(usage));
      return new Identity(pair.getPrivate(), sign(b, root.key()));
    } catch (GeneralSecurityException | CertIOException e) {
      throw new IllegalStateException(e);
    }
  }

  /** A device certificate (clientAuth) for a checked request. */
  public static X509Certificate issueDevice(
      Identity root, String commonName, PublicKey key, Instant from, Instant until) {
    return sign(
        leaf(root, name(commonName), key, from, until, KeyPurposeId.id_kp_clientAuth), root.key());
  }

  /**
   * A maker's certificate for a device of its own (IDevID, IEEE 802.1AR-2018, 8). It has no end.
   *
   * @param serial the device's serial number, kept in the subject (8.6)
   */
  public static X509Certificate issueIdentity(
      Identity maker, String organisation, String serial, PublicKey key, Instant from) {
    X500Name subject =
        new X500NameBuilder(BCStyle.INSTANCE)
            .addRDN(BCStyle.O, organisation)
            .addRDN(BCStyle.SERIALNUMBER, serial)
            .build();
    return sign(
        leaf(maker, subject, key, from, NO_END, KeyPurposeId.id_kp_clientAuth), maker.key());
  }

  /**
   * A certificate (clientAuth) that names an organisation beside the common name.
   *
   * @param organisation who it was issued to
   */
  public static X509Certificate issueClient(
      Identity root,
      String commonName,
      String organisation,
      PublicKey key,
      Instant from,
      Instant until) {
    X500Name subject =
        new X500NameBuilder(BCStyle.INSTANCE)
            .addRDN(BCStyle.O, organisation)
            .addRDN(BCStyle.CN, commonName)
            .build();
    return sign(leaf(root, subject, key, from, until, KeyPurposeId.id_kp_clientAuth), root.key());
  }

  private static X509v3CertificateBuilder leaf(
      Identity root,
      X500Name subject,
      PublicKey key,
      Instant from,
      Instant until,
      KeyPurposeId... purposes) {
    try {
      X500Name issuer = new JcaX509CertificateHolder(root.certificate()).getSubject();
      X509v3CertificateBuilder b = builder(issuer, from, until, subject, key);
      JcaX509ExtensionUtils ids = new JcaX509ExtensionUtils();
      b.addExtension(Extension.basicConstraints, true, new BasicConstraints(false));
      b.addExtension(Extension.keyUsage, true, new KeyUsage(KeyUsage.digitalSignature));
      b.addExtension(Extension.extendedKeyUsage, false, new ExtendedKeyUsage(purposes));
      b.addExtension(Extension.subjectKeyIdentifier, false, ids.createSubjectKeyIdentifier(key));
      b.addExtension(
          Extension.authorityKeyIdentifier,
          false,
          ids.createAuthorityKeyIdentifier(root.certificate()));
      return b;
    } catch (GeneralSecurityException | CertIOException e) {
      throw new IllegalStateException(e);
    }
  }

  private static X509v3CertificateBuilder builder(
      X500Name issuer, Instant from, Instant until, X500Name subject, PublicKey key) {
    return new JcaX509v3CertificateBuilder(
        issuer,
        new BigInteger(127, RANDOM).setBit(126),
        Date.from(from),
        Date.from(until),
        subject,
        key);
  }

  private static X509Certificate sign(X509v3CertificateBuilder builder, PrivateKey key) {
    try {
      return new JcaX509CertificateConverter()
          .getCertificate(builder.build(new JcaContentSignerBuilder(SIGNATURE).build(key)));
    } catch (GeneralSecurityException | OperatorCreationException e) {
      throw new IllegalStateException(e);
    }
  }

  private static X500Name name(String commonName) {
    return new X500NameBuilder(BCStyle.INSTANCE).addRDN(BCStyle.CN, commonName).build();
  }

  /** A request (PKCS#10, RFC 2986) signed with the key it asks a certificate for; DER. */
  public static byte[] newRequest(String commonName, KeyPair pair) {
    try {
      String algorithm = pair.getPublic() instanceof RSAPublicKey ? "SHA256withRSA" : SIGNATURE;
      return new JcaPKCS10CertificationRequestBuilder(name(commonName), pair.getPublic())
          .build(new JcaContentSignerBuilder(algorithm).build(pair.getPrivate()))
          .getEncoded();
    } catch (OperatorCreationException | IOException e) {
      throw new IllegalStateException(e);
    }
  }

  /**
   * Reads and checks a request: common name, key (EC P-256 or P-384, RSA of 2048 bits or more) and
   * proof of possession.
   *
   * @param der PKCS#10
   * @return the key to be certified
   * @throws CsrRefused saying what would be right
   */
  public static PublicKey checkRequest(byte[] der, String commonName) throws CsrRefused {
    JcaPKCS10CertificationRequest request;
    PublicKey key;
    String asked;
    try {
      request = new JcaPKCS10CertificationRequest(der);
      key = request.getPublicKey();
      // read here, where a name that is no text can still be refused
      RDN[] names = request.getSubject().getRDNs(BCStyle.CN);
      asked = names.length == 1 ? IETFUtils.valueToString(names[0].getFirst().getValue()) : "";
    } catch (IOException | GeneralSecurityException | RuntimeException e) {
      throw new CsrRefused(Reason.UNREADABLE, "the body is not a PKCS#10 request in base64");
    }
    if (!asked.equals(commonName)) {
      throw new CsrRefused(Reason.WRONG_NAME, "the request's common name has to be " + commonName);
    }
    boolean strong =
        key instanceof RSAPublicKey rsa && rsa.getModulus().bitLength() >= 2048
            || key instanceof ECPublicKey ec && isP256OrP384(ec, request);
    if (!strong) {
      throw new CsrRefused(
          Reason.WEAK_KEY, "the key has to be EC P-256 or P-384, or RSA of at least 2048 bits");
    }
    try {
      if (!request.isSignatureValid(new JcaContentVerifierProviderBuilder().build(key))) {
        throw new CsrRefused(
            Reason.BAD_SIGNATURE, "the request is not signed with the key it is for");
      }
    } catch (OperatorCreationException | PKCSException | RuntimeException e) {
      throw new CsrRefused(Reason.BAD_SIGNATURE, "the request's signature cannot be checked");
    }
    return key;
  }

  private static boolean isP256OrP384(ECPublicKey key, JcaPKCS10CertificationRequest request) {
    Object curve = request.getSubjectPublicKeyInfo().getAlgorithm().getParameters();
    return (X9ObjectIdentifiers.prime256v1.equals(curve)
            || SECObjectIdentifiers.secp384r1.equals(curve))
        && key.getParams() != null;
  }

  /** The common name of a certificate's subject; empty when it has none. */
  public static String commonName(X509Certificate certificate) {
    return subject(certificate, BCStyle.CN);
  }

  /** The organisation of a certificate's subject; empty when it names none. */
  public static String organisation(X509Certificate certificate) {
    return subject(certificate, BCStyle.O);
  }

  /** Whether a certificate may prove who a TLS client is (RFC 5280, 4.2.1.12). */
  public static boolean forClients(X509Certificate certificate) {
    try {
      List<String> uses = certificate.getExtendedKeyUsage();
      return uses == null
          || uses.contains(KeyPurposeId.id_kp_clientAuth.getId())
          || uses.contains(KeyPurposeId.anyExtendedKeyUsage.getId());
    } catch (GeneralSecurityException e) {
      return false;
    }
  }

  /** The device's serial number an IDevID names; empty when it names none. */
  public static String deviceSerial(X509Certificate certificate) {
    return subject(certificate, BCStyle.SERIALNUMBER);
  }

  private static String subject(
      X509Certificate certificate, org.bouncycastle.asn1.ASN1ObjectIdentifier attribute) {
    try {
      RDN[] names = new JcaX509CertificateHolder(certificate).getSubject().getRDNs(attribute);
      return names.length == 0 ? "" : IETFUtils.valueToString(names[0].getFirst().getValue());
    } catch (GeneralSecurityException | IllegalArgumentException e) {
      return ""; // no certificate, or a name that is no text
    }
  }

  /** A request as PEM. */
  public static String requestPem(byte[] der) {
    try {
      return pem(new org.bouncycastle.pkcs.PKCS10CertificationRequest(der));
    } catch (IOException e) {
      throw new IllegalArgumentException("this is not a PKCS#10 request", e);
    }
  }

  /**
   * The key a PEM request asks a certificate for, once it is proved that its sender has it.
   *
   * @throws IllegalArgumentException when it is no such request
   */
  public static PublicKey requestedKey(String pem) {
    try (PEMParser parser = new PEMParser(new StringReader(pem))) {
      if (!(parser.readObject()
          instanceof org.bouncycastle.pkcs.PKCS10CertificationRequest request)) {
        throw new IllegalArgumentException("this is not a PKCS#10 request in PEM");
      }
      PublicKey key = new JcaPKCS10CertificationRequest(request).getPublicKey();
      if (!request.isSignatureValid(new JcaContentVerifierProviderBuilder().build(key))) {
        throw new IllegalArgumentException("the request is not signed with the key it is for");
      }
      return key;
    } catch (IOException | GeneralSecurityException | OperatorCreationException | PKCSException e) {
      throw new IllegalArgumentException("this is not a PKCS#10 request in PEM", e);
    }
  }

  /** EST body of certificates: certs-only CMS in DER (RFC 7030, 4.1.3), in base64. */
  public static String estCertificates(List<X509Certificate> certificates) {
    try {
      CMSSignedDataGenerator g = new CMSSignedDataGenerator();
      g.addCertificates(new org.bouncycastle.cert.jcajce.JcaCertStore(certificates));
      return base64(
          g.generate(new CMSAbsentContent(), false).toASN1Structure().getEncoded(ASN1Encoding.DER));
    } catch (CMSException | IOException | GeneralSecurityException e) {
      throw new IllegalStateException(e);
    }
  }

  /** Certificates of an EST body. */
  public static List<X509Certificate> readEstCertificates(String body) {
    try {
      Store<org.bouncycastle.cert.X509CertificateHolder> store =
          new org.bouncycastle.cms.CMSSignedData(Base64.getMimeDecoder().decode(body))
              .getCertificates();
      JcaX509CertificateConverter converter = new JcaX509CertificateConverter();
      List<X509Certificate> out = new java.util.ArrayList<>();
      for (org.bouncycastle.cert.X509CertificateHolder h : store.getMatches(null)) {
        out.add(converter.getCertificate(h));
      }
      return out;
    } catch (CMSException | GeneralSecurityException e) {
      throw new IllegalArgumentException("not a certs-only CMS body", e);
    }
  }

  /** EST {@code csrattrs} (RFC 7030, 4.5.2): an EC key on P-256, signed with SHA-256. */
  public static String estAttributes() {
    ASN1EncodableVector key = new ASN1EncodableVector();
    key.add(X9ObjectIdentifiers.id_ecPublicKey);
    key.add(new DERSet(X9ObjectIdentifiers.prime256v1));
    ASN1EncodableVector all = new ASN1EncodableVector();
    all.add(new DERSequence(key));
    all.add(X9ObjectIdentifiers.ecdsa_with_SHA256);
    try {
      return base64(new DERSequence(all).getEncoded());
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  /** Base64 without line breaks (RFC 4648, 4), as EST bodies are since RFC 8951. */
  public static String base64(byte[] bytes) {
    return Base64.getEncoder().encodeToString(bytes);
  }

  /** A certificate as DER (X.690). */
  public static byte[] der(X509Certificate certificate) {
    try {
      return certificate.getEncoded();
    } catch (CertificateEncodingException e) {
      throw new IllegalStateException(e);
    }
  }

  /** A certificate or private key as PEM. */
  public static String pem(Object object) {
    StringWriter out = new StringWriter();
    try (JcaPEMWriter w = new JcaPEMWriter(out)) {
      // PKCS#8 for every kind of key, rather than the older form of each
      w.writeObject(
          object instanceof PrivateKey k
              ? new org.bouncycastle.util.io.pem.PemObject("PRIVATE KEY", k.getEncoded())
              : object);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    return out.toString();
  }

  /** A certificate from PEM. */
  public static X509Certificate certificate(String pem) {
    try (PEMParser p = new PEMParser(new StringReader(pem))) {
      return new JcaX509CertificateConverter()
          .getCertificate((org.bouncycastle.cert.X509CertificateHolder) p.readObject());
    } catch (IOException | GeneralSecurityException | ClassCastException e) {
      throw new IllegalArgumentException("not a certificate in PEM", e);
    }
  }

  /** A certificate from DER. */
  public static X509Certificate certificate(byte[] der) {
    try {
      return new JcaX509CertificateConverter()
          .getCertificate(new org.bouncycastle.cert.X509CertificateHolder(der));
    } catch (IOException | GeneralSecurityException e) {
      throw new IllegalArgumentException("not a certificate in DER", e);
    }
  }

  /** A private key from PEM (PKCS#8). */
  public static PrivateKey privateKey(String pem) {
    try (PEMParser p = new PEMParser(new StringReader(pem))) {
      return new JcaPEMKeyConverter().getPrivateKey((PrivateKeyInfo) p.readObject());
    } catch (IOException | ClassCastException e) {
      throw new IllegalArgumentException("not a private key in PEM", e);
    }
  }
}
