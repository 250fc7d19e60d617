package dev.pinwright.service.arrival;

import static java.util.stream.Collectors.joining;

import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.device.DeviceKind;
import dev.pinwright.core.device.Identifier;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.enrollment.JoinAttempt;
import dev.pinwright.protocol.join.JoinMessages;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Reads what a device says of itself when it asks to be let in. */
final class Attempts {
  private static final int MOST_IDENTIFIERS = 4;
  private final Catalog catalog;

  Attempts(Catalog catalog) {
    this.catalog = catalog;
  }

  /**
   * Reads the body of a join request.
   *
   * @throws IllegalArgumentException saying which field is wrong and what would be right
   */
  JoinAttempt read(JoinMessages.Request request) {
    JoinMessages.Device d = request.device();
    if (d == null) {
      throw new IllegalArgumentException("'device' is missing");
    }
    if (d.identifiers() == null || d.identifiers().isEmpty()) {
      throw new IllegalArgumentException("at least one identifier is needed");
    }
    if (d.identifiers().size() > MOST_IDENTIFIERS) {
      throw new IllegalArgumentException("at most " + MOST_IDENTIFIERS + " identifiers are read");
    }
    String platform = need(d.platform(), "platform", 20);
    DeviceKind kind = Words.parse(DeviceKind.class, need(d.kind(), "kind", 20));
    catalog
        .platform(platform)
        .filter(p -> !p.kinds().contains(kind))
        .ifPresent(
            p -> {
              throw new IllegalArgumentException(
                  "'kind' has to be "
                      + p.kinds().stream().map(Words::of).sorted().collect(joining(" or "))
                      + " for "
                      + platform);
            });
    return new JoinAttempt(
        platform,
        OsVersion.parse(need(d.osVersion(), "osVersion", 20)),
        kind,
        need(d.maker(), "maker", 60),
        need(d.model(), "model", 60),
        d.identifiers().stream()
            .map(
                i ->
                    Identifier.of(
                        Words.parse(Identifier.Kind.class, need(i.kind(), "identifier kind", 20)),
                        need(i.value(), "identifier value", 60)))
            .distinct()
            .toList(),
        Optional.ofNullable(request.termsAccepted()));
  }

  private static String need(@Nullable String value, String what, int max) {
    if (value == null || value.isBlank() || value.length() > max) {
      throw new IllegalArgumentException(
          "'" + what + "' has to be text of 1 to " + max + " characters");
    }
    return value.strip();
  }
}
