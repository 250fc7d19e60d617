package dev.pinwright.service.rules;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.BooleanNode;
import com.fasterxml.jackson.databind.node.IntNode;
import com.fasterxml.jackson.databind.node.TextNode;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.Setting;
import dev.pinwright.service.Page;
import dev.pinwright.service.access.Caller;
import dev.pinwright.service.access.Role;
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

  private static final Map<String, JsonNode> SETTINGS = new LinkedHashMap<>();

  static {
    SETTINGS.put("passcode.required", BooleanNode.TRUE);
    SETTINGS.put("passcode.kind", TextNode.valueOf("numeric"));
    SETTINGS.put("passcode.min-length", IntNode.valueOf(6));
    SETTINGS.put("passcode.no-runs", BooleanNode.TRUE);
    SETTINGS.put("passcode.auto-lock", IntNode.valueOf(10));
    SETTINGS.put("restrictions.encryption-required", BooleanNode.TRUE);
    SETTINGS.put("restrictions.unknown-sources-off", BooleanNode.TRUE);
  }

  private final Catalog catalog;
  private final Profiles profiles;

  public Baseline(Catalog catalog, Profiles profiles) {
    this.catalog = catalog;
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
    caller.needs(Role.READER);
    Optional<String> present =
        profiles.page(caller, NAME, new Page.Request("", Page.MAX)).items().stream()
            .filter(p -> p.name().equals(NAME))
            .map(Profiles.Summary::id)
            .findFirst();
    List<Part> parts =
        SETTINGS.entrySet().stream()
            .map(
                e -> {
                  Setting s = catalog.setting(e.getKey()).orElseThrow();
                  return new Part(s.key(), s.title(), s.help(), e.getValue());
                })
            .toList();
    return new Shown(NAME, parts, present);
  }

  /**
   * Writes it as a draft for everyone, to be rehearsed and published like any profile.
   *
   * @throws dev.pinwright.service.Problem 409 when there is a profile of this name
   */
  public Profiles.Detail write(Caller caller) {
    return profiles.add(
        caller,
        new Profiles.Draft(
            Optional.of(NAME),
            Optional.of("A passcode, encryption and approved sources, for everyone"),
            Optional.of(SETTINGS),
            Optional.of(List.of(new Profiles.TargetSpec("everyone", null))),
            Optional.empty()));
  }
}
