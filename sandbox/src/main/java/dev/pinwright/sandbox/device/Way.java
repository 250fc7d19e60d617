package dev.pinwright.sandbox.device;

import dev.pinwright.core.catalog.JsonTexts;
import java.net.InetAddress;
import java.net.UnknownHostException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * By what way the browser of a device reaches an address.
 *
 * @param tunnels texts of the settings of each tunnel, by name
 * @param proxies texts of the settings of each proxy, by name
 * @param wifi the network it is in; empty where it was told of none
 */
record Way(List<Map<String, String>> tunnels, List<Map<String, String>> proxies, String wifi) {
  private static final String BROWSER = "system.web";
  private static final Pattern HOST = Pattern.compile("(?:[a-z]+://)?([^/?#:]+)");

  /** In words, one sentence for each thing that lies between; none where nothing does. */
  List<String> words(String address) {
    Matcher m = HOST.matcher(address.strip());
    String host = m.lookingAt() ? m.group(1) : "";
    List<String> out = new ArrayList<>();
    tunnels.stream()
        .filter(t -> takes(t, host))
        .findFirst()
        .ifPresent(t -> out.add("Through the tunnel to " + t.getOrDefault("server", "") + "."));
    proxies.stream()
        .filter(p -> p.getOrDefault("network", wifi).equals(wifi) && !named(p, host))
        .findFirst()
        .ifPresent(p -> out.add("By way of the proxy " + p.getOrDefault("host", "") + "."));
    return out;
  }

  private static boolean takes(Map<String, String> tunnel, String host) {
    List<String> apps = items(tunnel, "apps");
    List<String> networks = items(tunnel, "networks");
    return (apps.isEmpty() || apps.contains(BROWSER))
        && (networks.isEmpty() || networks.stream().anyMatch(n -> lies(host, n)));
  }

  private static boolean named(Map<String, String> proxy, String host) {
    return items(proxy, "except").stream().anyMatch(e -> host.equals(e) || host.endsWith("." + e));
  }

  /** Whether a host is an address in a network (RFC 4632); a name is looked up by nobody here. */
  private static boolean lies(String host, String network) {
    String[] parts = network.split("/", 2);
    byte[] at = bytes(host);
    byte[] of = bytes(parts[0]);
    if (at.length == 0 || at.length != of.length) {
      return false;
    }
    int bits = parts.length == 2 ? Integer.parseInt(parts[1]) : at.length * Byte.SIZE;
    for (int i = 0; i < bits; i++) {
      int mask = 0x80 >> i % Byte.SIZE;
      if ((at[i / Byte.SIZE] & mask) != (of[i / Byte.SIZE] & mask)) {
        return false;
      }
    }
    return true;
  }

  private static byte[] bytes(String literal) {
    try {
      return literal.matches("[0-9.]+|[0-9a-fA-F:.]*:[0-9a-fA-F:.]*")
          ? InetAddress.getByName(literal).getAddress()
          : new byte[0];
    } catch (UnknownHostException e) {
      return new byte[0];
    }
  }

  private static List<String> items(Map<String, String> texts, String name) {
    return Optional.ofNullable(texts.get(name)).flatMap(JsonTexts::read).orElse(List.of());
  }
}
