package dev.pinwright.protocol.pki;

import java.net.Socket;
import java.security.cert.X509Certificate;
import javax.net.ssl.SSLEngine;
import javax.net.ssl.X509ExtendedTrustManager;

/**
 * Lets any client certificate through the handshake, which still proves that the client holds its
 * key. Whether the certificate counts is decided per endpoint, so that a stranger is told why.
 */
public final class AnyClient extends X509ExtendedTrustManager {
  @Override
  public void checkClientTrusted(X509Certificate[] chain, String type, Socket socket) {}

  @Override
  public void checkClientTrusted(X509Certificate[] chain, String type, SSLEngine engine) {}

  @Override
  public void checkClientTrusted(X509Certificate[] chain, String type) {}

  @Override
  public void checkServerTrusted(X509Certificate[] chain, String type, Socket socket) {
    throw new UnsupportedOperationException();
  }

  @Override
  public void checkServerTrusted(X509Certificate[] chain, String type, SSLEngine engine) {
    throw new UnsupportedOperationException();
  }

  @Override
  public void checkServerTrusted(X509Certificate[] chain, String type) {
    throw new UnsupportedOperationException();
  }

  @Override
  public X509Certificate[] getAcceptedIssuers() {
    return new X509Certificate[0];
  }
}
