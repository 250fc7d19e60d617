package dev.pinwright.core.enrollment;

import dev.pinwright.core.catalog.FirstRunScreen;
import java.util.List;
import java.util.Set;

/**
 * What a device does of its own between joining and the first use.
 *
 * @param skipped keys of the first-run screens left out
 * @param language BCP 47 tag the device starts in; empty leaves it to the holder
 * @param region ISO 3166-1 code of two letters; empty leaves it to the holder
 * @param wallpaper one of those the catalogue has; empty for the device's own
 */
public record FirstRun(Set<String> skipped, String language, String region, String wallpaper) {
  /** Every screen is shown and nothing chosen beforehand. */
  public static final FirstRun PLAIN = new FirstRun(Set.of(), "", "", "");

  public FirstRun {
    skipped = Set.copyOf(skipped);
  }

  /**
   * The screens a device of a platform shows, in their order. One that is answered is not asked.
   */
  public List<FirstRunScreen> shown(List<FirstRunScreen> screens, String platform) {
    return screens.stream()
        .filter(s -> s.platforms().contains(platform))
        .filter(s -> s.always() || !skipped.contains(s.key()))
        .filter(s -> !(s.key().equals("language") && !language.isEmpty()))
        .filter(s -> !(s.key().equals("region") && !region.isEmpty()))
        .toList();
  }
}
