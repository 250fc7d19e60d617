package dev.pinwright.core.enrollment;

import dev.pinwright.core.device.Identifier;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;

/** What one device is known by: at most one identifier of each kind. */
public record Identifiers(Optional<String> serial, Optional<String> imei, Optional<String> asset) {
  /** Of these; the first of each kind counts. */
  public static Identifiers of(Collection<Identifier> identifiers) {
    return new Identifiers(
        first(identifiers, Identifier.Kind.SERIAL),
        first(identifiers, Identifier.Kind.IMEI),
        first(identifiers, Identifier.Kind.ASSET));
  }

  private static Optional<String> first(Collection<Identifier> from, Identifier.Kind kind) {
    return from.stream().filter(i -> i.kind() == kind).map(Identifier::value).findFirst();
  }

  /** These, and where one is missing that of the other. */
  public Identifiers or(Identifiers other) {
    return new Identifiers(serial.or(other::serial), imei.or(other::imei), asset.or(other::asset));
  }

  /** Those there are, in the order serial number, IMEI, asset number. */
  public List<Identifier> list() {
    List<Identifier> out = new ArrayList<>();
    serial.ifPresent(v -> out.add(new Identifier(Identifier.Kind.SERIAL, v)));
    imei.ifPresent(v -> out.add(new Identifier(Identifier.Kind.IMEI, v)));
    asset.ifPresent(v -> out.add(new Identifier(Identifier.Kind.ASSET, v)));
    return out;
  }

  /** As people write them: values, separated by commas. */
  public String text() {
    return String.join(", ", list().stream().map(Identifier::value).toList());
  }
}
