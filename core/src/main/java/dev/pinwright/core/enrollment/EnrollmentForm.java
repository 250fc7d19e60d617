package dev.pinwright.core.enrollment;

import dev.pinwright.core.Fault;
import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.FirstRunScreen;
import dev.pinwright.core.catalog.Platform;
import dev.pinwright.core.catalog.ValueType;
import dev.pinwright.core.device.DeviceKind;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.device.Ownership;
import dev.pinwright.core.naming.NamePattern;
import dev.pinwright.core.organisation.Place;
import dev.pinwright.core.organisation.TagList;
import java.util.Collection;
import java.util.EnumSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * An enrollment profile as somebody writes it; everything but the name has a sane default. What may
 * go with what is decided here, in one place for all who write one.
 *
 * @param passphrase a new one; empty keeps the one there is
 * @param directoryGroup group of the staff directory the holder has to belong to
 */
public record EnrollmentForm(
    @Nullable String name,
    @Nullable String ownership,
    @Nullable String mode,
    @Nullable List<String> platforms,
    @Nullable List<String> kinds,
    @Nullable String signIn,
    @Nullable String passphrase,
    @Nullable String directoryGroup,
    @Nullable Integer termsVersion,
    @Nullable Map<String, String> minimumOs,
    @Nullable Boolean approval,
    @Nullable Boolean rosterOnly,
    @Nullable String namePattern,
    @Nullable Boolean fillGaps,
    @Nullable String unitId,
    @Nullable String siteId,
    @Nullable List<String> groups,
    @Nullable List<String> tags,
    @Nullable FirstRunForm firstRun,
    @Nullable GateForm readyGate,
    @Nullable Boolean removable,
    @Nullable Boolean comesBack) {
  private static final int SHORTEST_PASSPHRASE = 8;
  private static final String WALLPAPER = "wallpaper";

  /** First-run screens and what is chosen beforehand, as written. */
  public record FirstRunForm(
      @Nullable List<String> skipped,
      @Nullable String language,
      @Nullable String region,
      @Nullable String wallpaper) {}

  /** What must be finished before a device is handed over, as written. */
  public record GateForm(@Nullable Boolean profiles, @Nullable Map<String, String> osVersions) {}

  /**
   * What there is to choose from.
   *
   * @param screens first-run screens of all platforms
   * @param languages devices speak, as BCP 47 tags
   */
  public record Choices(Catalog catalog, List<FirstRunScreen> screens, Set<String> languages) {}

  /**
   * The profile that is meant. Units, sites, groups and terms are taken by their word.
   *
   * @param passphraseKept whether there is a passphrase already
   * @throws Fault naming the first field that cannot be right, and what would be
   */
  public EnrollmentProfile read(Choices choices, boolean passphraseKept) {
    Ownership owned = word(Ownership.class, ownership, Ownership.CORPORATE, "/ownership");
    boolean personal = owned == Ownership.PERSONAL;
    Mode managed = word(Mode.class, mode, personal ? Mode.WORK_PROFILE : Mode.STANDARD, "/mode");
    if (personal && managed != Mode.WORK_PROFILE) {
      throw new Fault(
          "/mode", "A personal device is managed in the mode work-profile and no other.");
    }
    EnrollmentProfile.SignIn proof = proof(passphraseKept);
    boolean holderMayLeave = removable == null ? personal : removable;
    if (personal && !holderMayLeave) {
      throw new Fault("/removable", "The holder of a personal device may always end management.");
    }
    return new EnrollmentProfile(
        owned,
        managed,
        platformsLetIn(choices.catalog(), managed),
        kindsLetIn(),
        proof,
        Optional.ofNullable(termsVersion),
        versions(choices.catalog(), "/minimumOs", minimumOs),
        Boolean.TRUE.equals(approval),
        Boolean.TRUE.equals(rosterOnly),
        at(
            "/namePattern",
            () -> new NamePattern(namePattern == null ? "{model} {serial}" : namePattern)),
        new Place(given(unitId), given(siteId)),
        groups == null ? List.of() : groups.stream().distinct().toList(),
        at("/tags", () -> TagList.sound(tags == null ? List.of() : tags)),
        chosenBefore(choices),
        gate(choices.catalog()),
        holderMayLeave,
        comesBack == null || comesBack);
  }

  private static Optional<String> given(@Nullable String text) {
    return Optional.ofNullable(text).filter(t -> !t.isEmpty());
  }

  private static String plain(@Nullable String text) {
    return text == null ? "" : text.strip();
  }

  /** The group of the directory the holder has to belong to. */
  public Optional<String> group() {
    return given(plain(directoryGroup));
  }

  private static <T> T at(String pointer, Supplier<T> reading) {
    try {
      return reading.get();
    } catch (IllegalArgumentException e) {
      throw Fault.at(pointer, e);
    }
  }

  private static <E extends Enum<E>> E word(
      Class<E> type, @Nullable String word, E fallback, String pointer) {
    return word == null || word.isEmpty() ? fallback : at(pointer, () -> Words.parse(type, word));
  }

  private EnrollmentProfile.SignIn proof(boolean passphraseKept) {
    EnrollmentProfile.SignIn proof =
        word(EnrollmentProfile.SignIn.class, signIn, EnrollmentProfile.SignIn.NONE, "/signIn");
    boolean told = passphrase != null && !passphrase.isEmpty();
    if (proof == EnrollmentProfile.SignIn.PASSPHRASE) {
      if (told && passphrase.length() < SHORTEST_PASSPHRASE) {
        throw new Fault("/passphrase", "A passphrase has at least 8 characters.");
      }
      if (!told && !passphraseKept) {
        throw new Fault("/passphrase", "Signing in by passphrase needs a passphrase.");
      }
    }
    String group = plain(directoryGroup);
    if (!group.isEmpty() && proof != EnrollmentProfile.SignIn.DIRECTORY) {
      throw new Fault("/directoryGroup", "A group of the directory needs the sign-in 'directory'.");
    }
    if (group.length() > 200) {
      throw new Fault("/directoryGroup", "A group's name has at most 200 characters.");
    }
    return proof;
  }

  private Set<String> platformsLetIn(Catalog catalog, Mode managed) {
    if (platforms == null || platforms.isEmpty()) {
      return catalog.platforms().stream()
          .filter(p -> p.modes().contains(managed))
          .map(Platform::key)
          .collect(Collectors.toCollection(LinkedHashSet::new));
    }
    for (String key : platforms) {
      if (!platform(catalog, key, "/platforms").modes().contains(managed)) {
        throw new Fault("/platforms", key + " has no mode " + Words.of(managed) + ".");
      }
    }
    return new LinkedHashSet<>(platforms);
  }

  private static Platform platform(Catalog catalog, String key, String pointer) {
    return catalog
        .platform(key)
        .orElseThrow(() -> new Fault(pointer, "There is no platform " + key + "."));
  }

  private Set<DeviceKind> kindsLetIn() {
    if (kinds == null || kinds.isEmpty()) {
      return EnumSet.allOf(DeviceKind.class);
    }
    return kinds.stream()
        .map(k -> word(DeviceKind.class, k, DeviceKind.PHONE, "/kinds"))
        .collect(Collectors.toCollection(() -> EnumSet.noneOf(DeviceKind.class)));
  }

  /** Versions by platform, which the platform really has. */
  private static Map<String, OsVersion> versions(
      Catalog catalog, String field, @Nullable Map<String, String> told) {
    Map<String, OsVersion> out = new TreeMap<>();
    for (Map.Entry<String, String> e :
        (told == null ? Map.<String, String>of() : told).entrySet()) {
      String pointer = field + "/" + e.getKey();
      Platform platform = platform(catalog, e.getKey(), pointer);
      OsVersion version = at(pointer, () -> OsVersion.parse(e.getValue()));
      if (!platform.versions().contains(version)) {
        throw new Fault(
            pointer,
            platform.name()
                + " has no version "
                + version
                + "; it has "
                + list(platform.versions().stream().map(OsVersion::toString).toList())
                + ".");
      }
      out.put(e.getKey(), version);
    }
    return out;
  }

  private FirstRun chosenBefore(Choices choices) {
    if (firstRun == null) {
      return FirstRun.PLAIN;
    }
    Map<String, FirstRunScreen> screens =
        choices.screens().stream()
            .collect(Collectors.toMap(FirstRunScreen::key, Function.identity(), (a, b) -> a));
    List<String> skipped = firstRun.skipped() == null ? List.of() : firstRun.skipped();
    for (String key : skipped) {
      FirstRunScreen screen = screens.get(key);
      if (screen == null) {
        throw new Fault(
            "/firstRun/skipped",
            "There is no first-run screen " + key + "; there are " + list(screens.keySet()) + ".");
      }
      if (screen.always()) {
        throw new Fault(
            "/firstRun/skipped", "The screen " + key + " is needed and cannot be skipped.");
      }
    }
    String language = plain(firstRun.language());
    if (!language.isEmpty() && !choices.languages().contains(language)) {
      throw new Fault(
          "/firstRun/language",
          "Devices do not speak '" + language + "'; they speak " + list(choices.languages()) + ".");
    }
    String region = plain(firstRun.region());
    if (!region.matches("([A-Z]{2})?")) {
      throw new Fault("/firstRun/region", "A region is a code of two capital letters, such as QV.");
    }
    String wallpaper = plain(firstRun.wallpaper());
    List<String> wallpapers = wallpapers(choices.catalog());
    if (!wallpaper.isEmpty() && !wallpapers.contains(wallpaper)) {
      throw new Fault(
          "/firstRun/wallpaper",
          "There is no wallpaper '" + wallpaper + "'; there are " + list(wallpapers) + ".");
    }
    return new FirstRun(Set.copyOf(skipped), language, region, wallpaper);
  }

  private static List<String> wallpapers(Catalog catalog) {
    return catalog
        .noticed(WALLPAPER)
        .map(s -> (ValueType.ChoiceType) s.type())
        .map(t -> t.choices().stream().map(ValueType.Choice::key).toList())
        .orElse(List.of());
  }

  private static String list(Collection<String> words) {
    return String.join(", ", words.stream().sorted().toList());
  }

  private ReadyGate gate(Catalog catalog) {
    return readyGate == null
        ? ReadyGate.OPEN
        : new ReadyGate(
            Boolean.TRUE.equals(readyGate.profiles()),
            versions(catalog, "/readyGate/osVersions", readyGate.osVersions()));
  }
}
