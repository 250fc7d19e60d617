package dev.pinwright.server;

import java.math.BigInteger;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.SocketAddress;
import java.net.UnknownHostException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.eclipse.jetty.http.HttpFields;
import org.eclipse.jetty.http.HttpHeader;
import org.eclipse.jetty.server.ConnectionMetaData;
import org.eclipse.jetty.server.HttpConfiguration;
import org.eclipse.jetty.server.Request;

/**
 * Finds out who asks when reverse proxies of our own pass requests on: {@code Forwarded} (RFC 7239)
 * is read from its end on, as long as whoever added to it is trusted. What anybody else writes
 * there counts for nothing, so that nobody gives themselves another address.
 */
final class TrustedProxies implements HttpConfiguration.Customizer {
  private static final Pattern FOR =
      Pattern.compile("(?:^|[,;\\s])for=(?:\"([^\"]*)\"|([^,;\\s]*))", Pattern.CASE_INSENSITIVE);
  private static final Pattern NODE =
      Pattern.compile("\\[([0-9a-fA-F:.]+)](?::\\d+)?|(\\d+(?:\\.\\d+){3})(?::\\d+)?");
  private final List<Range> trusted;

  /** Addresses whose first bits are the same as those of one. */
  private record Range(byte[] address, int bits) {
    boolean holds(InetAddress other) {
      byte[] o = other.getAddress();
      int shift = o.length * 8 - bits;
      return o.length == address.length
          && new BigInteger(1, o)
              .shiftRight(shift)
              .equals(new BigInteger(1, address).shiftRight(shift));
    }
  }

  /**
   * Those at these addresses.
   *
   * @param addresses each an address, or a range such as {@code 10.0.0.0/8}
   * @throws IllegalArgumentException for what is neither
   */
  TrustedProxies(List<String> addresses) {
    trusted = addresses.stream().map(TrustedProxies::range).toList();
  }

  private static Range range(String text) {
    String[] parts = text.split("/", 2);
    Optional<InetAddress> address = literal(parts[0]);
    int most = address.map(a -> a.getAddress().length * 8).orElse(0);
    boolean sound =
        address.isPresent()
            && (parts.length == 1
                || parts[1].matches("\\d{1,3}") && Integer.parseInt(parts[1]) <= most);
    if (!sound) {
      throw new IllegalArgumentException(
          "PINWRIGHT_TRUSTED_PROXIES has to hold addresses or ranges such as 10.0.0.0/8, not '"
              + text
              + "'");
    }
    return new Range(
        address.get().getAddress(), parts.length == 1 ? most : Integer.parseInt(parts[1]));
  }

  /** An address as written; names are not looked up. */
  private static Optional<InetAddress> literal(String text) {
    try {
      return text.matches("[0-9.]+") && text.chars().filter(c -> c == '.').count() == 3
              || text.contains(":") && text.matches("[0-9a-fA-F:.]+")
          ? Optional.of(InetAddress.getByName(text))
          : Optional.empty();
    } catch (UnknownHostException e) {
      return Optional.empty();
    }
  }

  /**
   * Who asks.
   *
   * @param neighbour who is connected
   * @param forwarded what the request says, in its order
   */
  InetAddress asker(InetAddress neighbour, List<String> forwarded) {
    List<String> nodes = new ArrayList<>();
    Matcher m = FOR.matcher(String.join(",", forwarded));
    while (m.find()) {
      nodes.add(m.group(1) == null ? m.group(2) : m.group(1));
    }
    InetAddress asker = neighbour;
    for (int i = nodes.size() - 1; i >= 0 && trusts(asker); i--) {
      Matcher node = NODE.matcher(nodes.get(i));
      Optional<InetAddress> named =
          node.matches()
              ? literal(node.group(1) == null ? node.group(2) : node.group(1))
              : Optional.empty();
      if (named.isEmpty()) {
        break; // hidden or unknown: the proxy itself is all that is known
      }
      asker = named.get();
    }
    return asker;
  }

  private boolean trusts(InetAddress address) {
    return trusted.stream().anyMatch(range -> range.holds(address));
  }

  @Override
  public Request customize(Request request, HttpFields.Mutable responseHeaders) {
    SocketAddress remote = request.getConnectionMetaData().getRemoteSocketAddress();
    List<String> forwarded = request.getHeaders().getValuesList(HttpHeader.FORWARDED);
    if (trusted.isEmpty()
        || forwarded.isEmpty()
        || !(remote instanceof InetSocketAddress neighbour)) {
      return request;
    }
    InetSocketAddress asker =
        new InetSocketAddress(asker(neighbour.getAddress(), forwarded), neighbour.getPort());
    ConnectionMetaData from =
        new ConnectionMetaData.Wrapper(request.getConnectionMetaData()) {
          @Override
          public SocketAddress getRemoteSocketAddress() {
            return asker;
          }
        };
    return new Request.Wrapper(request) {
      @Override
      public ConnectionMetaData getConnectionMetaData() {
        return from;
      }
    };
  }
}
