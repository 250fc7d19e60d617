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
 * @param down whether no tunnel answers
 */
record Way(
    List<Map<String, String>> tunnels,
    List<Map<String, String>> proxies,
    String wifi,
    boolean down) {
  private static final String BROWSER = "system.web";
  private static final Pattern HOST = Pattern.compile("(?:[a-z]+://)?([^/?#:]+)");

  /** Why an address cannot be reached: a tunnel that is always on does not lead there. */
  Optional<String> objection(String address) {
    String host = host(address);
    if (!down && tunnels.stream().anyMatch(t -> takes(t, host))) {
      return Optional.empty();
    }
    return tunnels.stream()
        .filter(t -> "true".equals(t.get("always")) && forBrowser(t))
        .findFirst()
        .map(
            t ->
                "Nothing goes out but through the tunnel to "
                    + server(t)
                    + (down ? ", which does not answer." : ", and " + host + " is not behind it."));
  }

  /** In words, one sentence for each thing that lies between; none where nothing does. */
  List<String> words(String address) {
    String host = host(address);
    List<String> out = new ArrayList<>();
    tunnels.stream()
        .filter(t -> takes(t, host))
        .findFirst()
        .ifPresent(
            t ->
                out.add(
                    down
                        ? "Without the tunnel to " + server(t) + ", which does not answer."
                        : "Through the tunnel to " + server(t) + "."));
    proxies.stream()
        .filter(p -> p.getOrDefault("network", wifi).equals(wifi) && !named(p, host))
        .findFirst()
        .ifPresent(p -> out.add("By way of the proxy " + p.getOrDefault("host", "") + "."));
    return out;
  }

  private static String host(String address) {
    Matcher m = HOST.matcher(address.strip());
    return m.lookingAt() ? m.group(1) : "";
  }

  private static String server(Map<String, String> tunnel) {
    return tunnel.getOrDefault("server", "");
  }

  private static boolean takes(Map<String, String> tunnel, String host) {
    List<String> networks = items(tunnel, "networks");
    return forBrowser(tunnel)
        && (networks.isEmpty() || networks.stream().anyMatch(n -> lies(host, n)));
  }

  private static boolean forBrowser(Map<String, String> tunnel) {
    List<String> apps = items(tunnel, "apps");
    return apps.isEmpty() || apps.contains(BROWSER);
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
