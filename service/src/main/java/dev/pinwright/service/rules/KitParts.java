package dev.pinwright.service.rules;

import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.SettingValue;
import dev.pinwright.core.policy.KitPart;
import dev.pinwright.core.policy.ProfileKind;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.profile.KitStore;
import dev.pinwright.storage.row.ProfileRow;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** What kits take along. */
final class KitParts {
  private final Catalog catalog;

  KitParts(Catalog catalog) {
    this.catalog = catalog;
  }

  /**
   * Goes on when a profile may take these along.
   *
   * @throws Problem 400 naming every part that cannot be one
   */
  List<KitPart> require(Tx tx, ProfileRow row, List<Profiles.PartSpec> written) {
    if (written.isEmpty()) {
      return List.of();
    }
    if (row.kind() != ProfileKind.KIT) {
      throw Problem.malformed("/parts", "Only a kit takes profiles along; this is a profile.");
    }
    if (written.size() > KitPart.MOST) {
      throw Problem.malformed("/parts", "A kit takes at most " + KitPart.MOST + " profiles along.");
    }
    Map<String, KitStore.Named> there =
        new KitStore(tx)
            .named(written.stream().map(p -> String.valueOf(p.profile())).toList()).stream()
                .collect(Collectors.toMap(KitStore.Named::id, Function.identity()));
    List<Map<String, String>> faults = new ArrayList<>();
    Set<String> seen = new HashSet<>();
    for (int i = 0; i < written.size(); i++) {
      String pointer = "/parts/" + i + "/profile";
      objection(written.get(i).profile(), there, seen)
          .ifPresent(o -> faults.add(Map.of("pointer", pointer, "detail", o)));
    }
    if (!faults.isEmpty()) {
      String detail = String.join(" ", faults.stream().map(f -> f.get("detail")).toList());
      throw Problem.malformed("", detail).with("errors", faults);
    }
    return written.stream().map(Profiles.PartSpec::part).toList();
  }

  private static Optional<String> objection(
      @Nullable String id, Map<String, KitStore.Named> there, Set<String> seen) {
    if (id == null) {
      return Optional.of("Say which profile goes along.");
    }
    KitStore.Named part = there.get(id);
    if (part == null) {
      return Optional.of("There is no profile " + id + ".");
    }
    if (part.kind().equals("kit")) {
      return Optional.of(part.name() + " is a kit; a kit takes profiles along, no kits.");
    }
    return seen.add(id) ? Optional.empty() : Optional.of(part.name() + " goes along once.");
  }

  /**
   * Goes on when a kit says of itself only which files there are.
   *
   * @throws Problem 400 naming the first setting that belongs into a profile
   */
  void onlyFiles(ProfileRow row, Map<String, SettingValue> settings) {
    if (row.kind() != ProfileKind.KIT) {
      return;
    }
    settings.keySet().stream()
        .sorted()
        .filter(key -> !catalog.holdsFiles(key))
        .findFirst()
        .ifPresent(
            key -> {
              throw Problem.malformed(
                  "/settings/" + key,
                  "A kit holds files: documents, certificates, fonts, scripts. Put "
                      + key
                      + " into a profile, and that into the kit.");
            });
  }

  /** Parts with their names; those that are no more are left out. */
  List<Profiles.Part> shown(Tx tx, List<KitPart> parts) {
    if (parts.isEmpty()) {
      return List.of();
    }
    Map<String, KitStore.Named> there =
        new KitStore(tx)
            .named(parts.stream().map(KitPart::profileId).toList()).stream()
                .collect(Collectors.toMap(KitStore.Named::id, Function.identity()));
    return parts.stream()
        .filter(p -> there.containsKey(p.profileId()))
        .map(
            p -> {
              KitStore.Named n = there.get(p.profileId());
              return new Profiles.Part(n.id(), n.name(), n.publishedVersion(), p.whenInOrder());
            })
        .toList();
  }

  /**
   * Goes on when no kit takes a profile along.
   *
   * @throws Problem 409 naming those that do
   */
  static void none(Tx tx, ProfileRow row) {
    List<KitStore.Named> kits = new KitStore(tx).taking(row.id);
    if (!kits.isEmpty()) {
      throw Problem.conflict(
          "in-kit",
          row.name
              + " goes along with "
              + String.join(", ", kits.stream().map(KitStore.Named::name).toList())
              + "; take it out there first, and publish that.");
    }
  }
}
