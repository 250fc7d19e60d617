package dev.pinwright.protocol.pki;

import dev.pinwright.protocol.pki.Pki.Identity;
import java.io.IOException;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.security.cert.X509Certificate;
import java.util.List;
import java.util.Optional;
import javax.net.ssl.KeyManagerFactory;
import javax.net.ssl.SSLContext;
import javax.net.ssl.TrustManagerFactory;

/** TLS as a client that trusts some roots and nobody else. */
public final class ClientTls {
  private ClientTls() {}

  /**
   * TLS to servers whose certificates these roots vouch for.
   *
   * @param own what to present; empty for nothing
   * @throws IllegalStateException when the roots or the key cannot be used
   */
  public static SSLContext trusting(List<X509Certificate> roots, Optional<Identity> own) {
    try {
      KeyStore trusted = store();
      for (int i = 0; i < roots.size(); i++) {
        trusted.setCertificateEntry("root" + i, roots.get(i));
      }
      TrustManagerFactory trust = TrustManagerFactory.getInstance("PKIX");
      trust.init(trusted);
      KeyStore mine = store();
      if (own.isPresent()) {
        mine.setKeyEntry(
            "own", own.get().key(), new char[0], new X509Certificate[] {own.get().certificate()});
      }
      KeyManagerFactory keys = KeyManagerFactory.getInstance("PKIX");
      keys.init(mine, new char[0]);
      SSLContext tls = SSLContext.getInstance("TLS");
      tls.init(keys.getKeyManagers(), trust.getTrustManagers(), null);
      return tls;
    } catch (GeneralSecurityException | IOException e) {
      throw new IllegalStateException("TLS cannot be set up", e);
    }
  }

  private static KeyStore store() throws GeneralSecurityException, IOException {
    KeyStore store = KeyStore.getInstance("PKCS12");
    store.load(null, null);
    return store;
  }
}
