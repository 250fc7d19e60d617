package dev.pinwright.core.configuration;

import java.text.Normalizer;
import java.util.Arrays;
import java.util.Locale;
import java.util.Optional;

/**
 * A part of the configuration, in the order in which parts are written: each names only what is in
 * those before it, its own among them. They are deleted the other way round.
 */
public enum Part {
  ATTRIBUTE("organisation/attributes"),
  UNIT("organisation/units"),
  SITE("organisation/sites"),
  PERSON("organisation/people"),
  TERMS("intake/terms"),
  GROUP("rules/groups"),
  ENROLLMENT_PROFILE("intake/enrollment-profiles/"),
  PROFILE("rules/profiles/"),
  KIT("rules/kits/"),
  CHECK("rules/checks");

  private static final String SUFFIX = ".yaml";
  private static final int LONGEST = 60;

  private final String place;

  Part(String place) {
    this.place = place;
  }

  /** Whether each of its things has a file of its own; else one file has all of them. */
  public boolean inFolder() {
    return place.endsWith("/");
  }

  /** Where its things are: a file, or a folder with a slash at the end. */
  public String place() {
    return inFolder() ? place : place + SUFFIX;
  }

  /** The file of one of its things, from what it is called: letters and digits of it, in small. */
  public String file(String name) {
    if (!inFolder()) {
      return place();
    }
    String plain =
        Normalizer.normalize(name, Normalizer.Form.NFD)
            .toLowerCase(Locale.ROOT)
            .replaceAll("\\p{M}+", "")
            .replaceAll("[^\\p{L}\\p{N}]+", "-")
            .replaceAll("^-|-$", "");
    String kept = plain.length() > LONGEST ? plain.substring(0, LONGEST) : plain;
    return place + (kept.isEmpty() ? "unnamed" : kept) + SUFFIX;
  }

  /** The part a file belongs to; empty where it is none of ours. */
  public static Optional<Part> of(String path) {
    return Arrays.stream(values())
        .filter(
            p ->
                p.inFolder()
                    ? path.startsWith(p.place)
                        && path.endsWith(SUFFIX)
                        && path.indexOf('/', p.place.length()) < 0
                    : path.equals(p.place()))
        .findFirst();
  }
}
