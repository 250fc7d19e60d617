package dev.pinwright.service.rules;

import com.fasterxml.jackson.databind.JsonNode;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.passcode.PasscodePolicy;
import dev.pinwright.service.shape.ProfileContent;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/** Tries a passcode against settings that are being written; neither is kept. */
public final class PasscodeTrial {
  private static final String SECTION = "passcode.";
  private static final int LONGEST = 100;

  private final Catalog catalog;

  public PasscodeTrial(Catalog catalog) {
    this.catalog = catalog;
  }

  /** A passcode, and the settings it is tried against; those of other sections do not matter. */
  public record Try(@Nullable String passcode, Optional<Map<String, JsonNode>> settings) {}

  /**
   * What a device would say to it.
   *
   * @param objections why it is refused; none where it would be taken
   * @param demand what the holder is told is asked for
   */
  public record Judged(List<String> objections, String demand) {}

  /**
   * Judges it, as the devices do.
   *
   * @throws Problem 400 naming the settings that are wrong
   */
  public Judged judge(Caller caller, Try tried) {
    String passcode = tried.passcode() == null ? "" : tried.passcode();
    if (passcode.length() > LONGEST) {
      throw Problem.malformed("/passcode", "Try one of at most " + LONGEST + " characters.");
    }
    Map<String, JsonNode> written = new TreeMap<>(tried.settings().orElse(Map.of()));
    written.keySet().removeIf(k -> !k.startsWith(SECTION));
    Map<String, String> texts = new TreeMap<>();
    ProfileContent.written(written, catalog, ProfileContent.EMPTY)
        .forEach((key, value) -> texts.put(key.substring(SECTION.length()), value.text()));
    PasscodePolicy policy = PasscodePolicy.read(texts);
    return new Judged(policy.objections(passcode), policy.demand());
  }
}
