package dev.pinwright.service.work;

import dev.pinwright.storage.Database;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;

/**
 * How a node is configured. Every value comes from an environment variable of the name beside it.
 *
 * @param home PINWRIGHT_HOME: where the sealing key and, without another store, state live
 * @param database PINWRIGHT_DB_URL, _USER, _PASSWORD, _CONNECTIONS; and of the role that owns the
 *     tables and migrates them, where that is another: _OWNER, _OWNER_PASSWORD
 * @param deviceHost PINWRIGHT_DEVICE_BIND: address the device listener binds
 * @param devicePort PINWRIGHT_DEVICE_PORT
 * @param deviceNames PINWRIGHT_DEVICE_NAMES: names and addresses devices reach it by, the first of
 *     which stands in join links
 * @param nodeName PINWRIGHT_NODE_NAME: name or address devices reach this very node by, where there
 *     are several; the first of those names where empty
 * @param consoleHost PINWRIGHT_CONSOLE_BIND
 * @param consolePort PINWRIGHT_CONSOLE_PORT
 * @param organisation PINWRIGHT_ORGANISATION: shown to holders
 * @param ownerPassword PINWRIGHT_OWNER_PASSWORD: of the first owner; made up and printed once if
 *     empty
 * @param secureCookies PINWRIGHT_SECURE_COOKIES: whether the console is reached over HTTPS
 * @param silentAfter PINWRIGHT_SILENT_AFTER: how long until a device counts as silent
 * @param trustedProxies PINWRIGHT_TRUSTED_PROXIES: addresses of the reverse proxies before the
 *     console, whose {@code Forwarded} (RFC 7239) is believed
 */
public record Settings(
    Path home,
    Database.Address database,
    String deviceHost,
    int devicePort,
    List<String> deviceNames,
    String nodeName,
    String consoleHost,
    int consolePort,
    String organisation,
    String ownerPassword,
    boolean secureCookies,
    Duration silentAfter,
    List<String> trustedProxies) {

  /** Reads the environment. */
  public static Settings of(Map<String, String> env) {
    Function<String, String> get = k -> env.getOrDefault("PINWRIGHT_" + k, "");
    String home = or(get.apply("HOME"), ".pinwright");
    return new Settings(
        Path.of(home),
        new Database.Address(
            or(get.apply("DB_URL"), "jdbc:postgresql://127.0.0.1:5432/pinwright"),
            or(get.apply("DB_USER"), "pinwright"),
            get.apply("DB_PASSWORD"),
            number("DB_CONNECTIONS", or(get.apply("DB_CONNECTIONS"), "16")),
            get.apply("DB_OWNER").isBlank()
                ? Optional.empty()
                : Optional.of(
                    new Database.Owner(get.apply("DB_OWNER"), get.apply("DB_OWNER_PASSWORD")))),
        or(get.apply("DEVICE_BIND"), "127.0.0.1"),
        number("DEVICE_PORT", or(get.apply("DEVICE_PORT"), "7443")),
        List.of(or(get.apply("DEVICE_NAMES"), "127.0.0.1,localhost").split("\\s*,\\s*")),
        get.apply("NODE_NAME"),
        or(get.apply("CONSOLE_BIND"), "127.0.0.1"),
        number("CONSOLE_PORT", or(get.apply("CONSOLE_PORT"), "7480")),
        or(get.apply("ORGANISATION"), "Your organisation"),
        get.apply("OWNER_PASSWORD"),
        Boolean.parseBoolean(get.apply("SECURE_COOKIES")),
        Duration.parse(or(get.apply("SILENT_AFTER"), "P7D")),
        get.apply("TRUSTED_PROXIES").isBlank()
            ? List.of()
            : List.of(get.apply("TRUSTED_PROXIES").strip().split("\\s*,\\s*")));
  }

  private static String or(String value, String fallback) {
    return value.isBlank() ? fallback : value;
  }

  private static int number(String name, String text) {
    if (!text.matches("\\d{1,6}")) {
      throw new IllegalArgumentException(
          "PINWRIGHT_" + name + " has to be a whole number, not '" + text + "'");
    }
    return Integer.parseInt(text);
  }

  /** {@code https://HOST:PORT} as devices reach it. */
  public String deviceBase() {
    return "https://" + deviceNames.get(0) + ":" + devicePort;
  }

  /** {@code https://HOST:PORT} as devices reach this very node. */
  public String nodeBase() {
    return "https://" + or(nodeName, deviceNames.get(0)) + ":" + devicePort;
  }
}
