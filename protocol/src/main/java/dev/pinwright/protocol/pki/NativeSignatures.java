package dev.pinwright.protocol.pki;

import java.security.Provider;
import java.security.Security;
import java.util.List;
import java.util.Set;
import org.conscrypt.Conscrypt;

/**
 * Lets signatures and keys on P-256, which every certificate and TLS handshakes need, be computed
 * by native code: some thirty times faster than by the JDK's own. TLS itself stays the JDK's.
 */
public final class NativeSignatures {
  private static final Set<String> KEPT =
      Set.of(
          "Signature.SHA256withECDSA",
          "Signature.SHA384withECDSA",
          "Signature.SHA512withECDSA",
          "Signature.NONEwithECDSA",
          "KeyPairGenerator.EC",
          "KeyAgreement.ECDH");

  private NativeSignatures() {}

  /** Installs them for the whole process; false where there is no native code for the machine. */
  public static synchronized boolean install() {
    if (!Conscrypt.isAvailable()) {
      return false;
    }
    Provider provider = Conscrypt.newProviderBuilder().setName("native-signatures").build();
    if (Security.getProvider(provider.getName()) == null) {
      for (Provider.Service s : List.copyOf(provider.getServices())) {
        String name = s.getType() + "." + s.getAlgorithm();
        if (!KEPT.contains(name)) {
          provider.remove(name);
        }
      }
      Security.insertProviderAt(provider, 1);
    }
    return true;
  }
}
