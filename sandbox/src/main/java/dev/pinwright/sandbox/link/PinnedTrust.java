package dev.pinwright.sandbox.link;

import dev.pinwright.protocol.join.JoinLink;
import java.io.IOException;
import java.net.Socket;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.security.cert.CertificateException;
import java.security.cert.X509Certificate;
import javax.net.ssl.SSLEngine;
import javax.net.ssl.TrustManager;
import javax.net.ssl.TrustManagerFactory;
import javax.net.ssl.X509ExtendedTrustManager;

/** Trusts a server whose chain ends in the root of a given fingerprint, and is right otherwise. */
final class PinnedTrust extends X509ExtendedTrustManager {
  private final String fingerprint;

  PinnedTrust(String fingerprint) {
    this.fingerprint = fingerprint;
  }

  private X509ExtendedTrustManager pinned(X509Certificate[] chain) throws CertificateException {
    X509Certificate root = chain[chain.length - 1];
    if (!JoinLink.fingerprint(root).equals(fingerprint)) {
      throw new CertificateException("the server is not the one the join link names");
    }
    try {
      KeyStore store = KeyStore.getInstance("PKCS12");
      store.load(null, null);
      store.setCertificateEntry("root", root);
      TrustManagerFactory f = TrustManagerFactory.getInstance("PKIX");
      f.init(store);
      for (TrustManager m : f.getTrustManagers()) {
        if (m instanceof X509ExtendedTrustManager x) {
          return x;
        }
      }
      throw new CertificateException("no trust manager");
    } catch (GeneralSecurityException | IOException e) {
      throw new CertificateException(e);
    }
  }

  @Override
  public void checkServerTrusted(X509Certificate[] chain, String type, SSLEngine engine)
      throws CertificateException {
    pinned(chain).checkServerTrusted(chain, type, engine);
  }

  @Override
  public void checkServerTrusted(X509Certificate[] chain, String type, Socket socket)
      throws CertificateException {
    pinned(chain).checkServerTrusted(chain, type, socket);
  }

  @Override
  public void checkServerTrusted(X509Certificate[] chain, String type) throws CertificateException {
    pinned(chain).checkServerTrusted(chain, type);
  }

  @Override
  public void checkClientTrusted(X509Certificate[] chain, String type) {
    throw new UnsupportedOperationException();
  }

  @Override
  public void checkClientTrusted(X509Certificate[] chain, String type, Socket socket) {
    throw new UnsupportedOperationException();
  }

  @Override
  public void checkClientTrusted(X509Certificate[] chain, String type, SSLEngine engine) {
    throw new UnsupportedOperationException();
  }

  @Override
  public X509Certificate[] getAcceptedIssuers() {
    return new X509Certificate[0];
  }
}
