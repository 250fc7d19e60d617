package dev.pinwright.service.rules;

import com.fasterxml.jackson.databind.JsonNode;
import dev.pinwright.catalog.Catalogue;
import dev.pinwright.core.catalog.Setting;
import dev.pinwright.core.policy.ProfileKind;
import dev.pinwright.service.shape.ProfileContent;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Page;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * The sane baseline for an organisation that wants nothing to design: a passcode, encryption, and
 * apps from approved sources only, for everyone. Each setting says what it does before it is taken.
 */
public final class Baseline {
  /** What the profile is called. */
  public static final String NAME = "Baseline";

  private final Catalogue catalogue;
  private final Profiles profiles;

  public Baseline(Catalogue catalogue, Profiles profiles) {
    this.catalogue = catalogue;
    this.profiles = profiles;
  }

  /** One setting of it, explained. */
  public record Part(String setting, String title, String help, JsonNode value) {}

  /**
   * The baseline.
   *
   * @param profileId the profile it was written as, if it was
   */
  public record Shown(String name, List<Part> settings, Optional<String> profileId) {}

  /** What the baseline would set, and whether it is there already. */
  public Shown show(Caller caller) {
    Optional<String> present =
        profiles
            .page(caller, ProfileKind.PROFILE, NAME, new Page.Request("", Page.MAX))
            .items()
            .stream()
            .filter(p -> p.name().equals(NAME))
            .map(Profiles.Summary::id)
            .findFirst();
    List<Part> parts =
        catalogue.baseline().entrySet().stream()
            .map(
                e -> {
                  Setting s = catalogue.catalog().setting(e.getKey()).orElseThrow();
                  return new Part(s.key(), s.title(), s.help(), ProfileContent.json(e.getValue()));
                })
            .toList();
    return new Shown(NAME, parts, present);
  }

  /**
   * Writes it as a draft for everyone, to be rehearsed and published like any profile.
   *
   * @throws dev.pinwright.service.work.Problem 409 when there is a profile of this name
   */
  public Profiles.Detail write(Caller caller) {
    return profiles.add(
        caller,
        new Profiles.Draft(
            Optional.of(NAME),
            Optional.of("A passcode, encryption and approved sources, for everyone"),
            Optional.of(settings()),
            Optional.of(List.of(new Profiles.TargetSpec("everyone", null))),
            Optional.empty()));
  }

  private Map<String, JsonNode> settings() {
    Map<String, JsonNode> out = new LinkedHashMap<>();
    catalogue.baseline().forEach((key, value) -> out.put(key, ProfileContent.json(value)));
    return out;
  }
}
