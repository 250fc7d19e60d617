package dev.pinwright.protocol.notification;

import java.net.URI;
import java.net.URISyntaxException;
import java.util.Optional;

/** Addresses of push resources (RFC 8030, 4) as devices tell them. */
public final class PushEndpoint {
  private static final int LONGEST = 500;

  private PushEndpoint() {}

  /**
   * The address, when it is a resource below {@code /push/} of a platform's own services; empty for
   * any other, so that no device sends us, with the gateway's credential, to somewhere else.
   * Addresses are compared as they are resolved (RFC 3986, 5.2 and 6.2.2): dots and encoded
   * characters, which others may resolve otherwise, are not taken at all.
   *
   * @param services address of the platform's services
   */
  public static Optional<String> below(String services, String told) {
    try {
      URI base = new URI(services);
      URI address = new URI(told);
      String path = address.getRawPath();
      boolean same =
          told.length() <= LONGEST
              && address.getScheme() != null
              && address.getHost() != null
              && address.getScheme().equalsIgnoreCase(base.getScheme())
              && address.getHost().equalsIgnoreCase(base.getHost())
              && address.getPort() == base.getPort()
              && address.getRawUserInfo() == null
              && address.getRawQuery() == null
              && address.getRawFragment() == null
              && path.matches("(/[A-Za-z0-9_~!$&'()*+,;=:@-][A-Za-z0-9._~!$&'()*+,;=:@-]*)+")
              && path.startsWith(base.getRawPath() + "/push/");
      return same ? Optional.of(told) : Optional.empty();
    } catch (URISyntaxException e) {
      return Optional.empty();
    }
  }
}
