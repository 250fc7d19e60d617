package dev.pinwright.sandbox.link;

import java.net.Socket;
import java.security.Principal;
import java.security.PrivateKey;
import java.security.cert.X509Certificate;
import javax.net.ssl.SSLEngine;
import javax.net.ssl.X509ExtendedKeyManager;

/**
 * Presents one certificate. A key store would do the same, but derives a key from a password each
 * time it is filled, which a thousand devices on two cores notice.
 */
final class OneKey extends X509ExtendedKeyManager {
  private static final String ALIAS = "device";
  private final PrivateKey key;
  private final X509Certificate certificate;

  OneKey(PrivateKey key, X509Certificate certificate) {
    this.key = key;
    this.certificate = certificate;
  }

  @Override
  public String chooseEngineClientAlias(String[] types, Principal[] issuers, SSLEngine engine) {
    return ALIAS;
  }

  @Override
  public String chooseClientAlias(String[] types, Principal[] issuers, Socket socket) {
    return ALIAS;
  }

  @Override
  public String[] getClientAliases(String type, Principal[] issuers) {
    return new String[] {ALIAS};
  }

  @Override
  public X509Certificate[] getCertificateChain(String alias) {
    return new X509Certificate[] {certificate};
  }

  @Override
  public PrivateKey getPrivateKey(String alias) {
    return key;
  }

  @Override
  public String[] getServerAliases(String type, Principal[] issuers) {
    return new String[0];
  }

  @Override
  public String chooseServerAlias(String type, Principal[] issuers, Socket socket) {
    throw new UnsupportedOperationException();
  }
}
