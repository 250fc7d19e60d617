package dev.pinwright.service.enrollment;

import dev.pinwright.catalog.Catalogue;
import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.FirstRunScreen;
import dev.pinwright.core.catalog.Platform;
import dev.pinwright.core.catalog.ValueType;
import dev.pinwright.core.device.DeviceKind;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.device.Ownership;
import dev.pinwright.core.intake.EnrollmentProfile;
import dev.pinwright.core.intake.EnrollmentProfile.SignIn;
import dev.pinwright.core.intake.FirstRun;
import dev.pinwright.core.intake.NamePattern;
import dev.pinwright.core.intake.ReadyGate;
import dev.pinwright.core.organisation.Place;
import dev.pinwright.service.enrollment.EnrollmentProfiles.Draft;
import dev.pinwright.service.enrollment.EnrollmentProfiles.FirstRunDraft;
import dev.pinwright.service.enrollment.EnrollmentProfiles.GateDraft;
import dev.pinwright.service.secret.Passwords;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.EnrollmentProfileRow;
import dev.pinwright.storage.row.GroupRow;
import dev.pinwright.storage.row.SiteRow;
import dev.pinwright.storage.row.TermsRow;
import dev.pinwright.storage.row.UnitRow;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** Reads an enrollment profile as somebody wrote it, field by field. */
public final class EnrollmentForm {
  private static final int MIN_PASSPHRASE = 8;
  private final Catalogue catalogue;

  EnrollmentForm(Catalogue catalogue) {
    this.catalogue = catalogue;
  }

  /**
   * Fills a row with everything but the name.
   *
   * @throws Problem 400 naming the first field that cannot be right
   */
  public void fill(Tx tx, EnrollmentProfileRow row, Draft d) {
    Ownership ownership = word(Ownership.class, d.ownership(), Ownership.CORPORATE, "/ownership");
    boolean personal = ownership == Ownership.PERSONAL;
    Mode usual = personal ? Mode.WORK_PROFILE : Mode.STANDARD;
    Mode mode = word(Mode.class, d.mode(), usual, "/mode");
    if (personal && mode != Mode.WORK_PROFILE) {
      throw Problem.malformed(
          "/mode", "A personal device is managed in the mode work-profile and no other.");
    }
    List<String> platforms = platforms(d.platforms(), mode);
    row.ownership = Words.of(ownership);
    row.mode = Words.of(mode);
    row.platforms = platforms.toArray(String[]::new);
    row.kinds = kinds(d.kinds());
    signIn(row, d);
    if (d.termsVersion() != null && tx.find(TermsRow.class, d.termsVersion()).isEmpty()) {
      throw Problem.malformed(
          "/termsVersion", "There is no version " + d.termsVersion() + " of the terms.");
    }
    row.termsVersion = d.termsVersion();
    row.minimumOs = Json.write(versions("/minimumOs", d.minimumOs(), false));
    row.approval = Boolean.TRUE.equals(d.approval());
    row.rosterOnly = Boolean.TRUE.equals(d.rosterOnly());
    row.fillGaps = Boolean.TRUE.equals(d.fillGaps());
    row.unitId = Known.id(tx, UnitRow.class, "unit", d.unitId());
    row.siteId = Known.id(tx, SiteRow.class, "site", d.siteId());
    row.groups = groups(tx, d.groups());
    row.tags = Known.tags(d.tags());
    try {
      row.namePattern =
          new NamePattern(d.namePattern() == null ? "{model} {serial}" : d.namePattern()).text();
    } catch (IllegalArgumentException e) {
      throw Problem.malformed("/namePattern", e);
    }
    row.firstRun = Json.write(firstRun(d.firstRun()));
    row.readyGate = Json.write(gate(d.readyGate()));
    row.removable = d.removable() == null ? personal : d.removable();
    if (personal && !row.removable) {
      throw Problem.malformed(
          "/removable", "The holder of a personal device may always end management.");
    }
    row.comesBack = d.comesBack() == null || d.comesBack();
  }

  private List<String> platforms(@Nullable List<String> wanted, Mode mode) {
    Catalog catalog = catalogue.catalog();
    if (wanted == null || wanted.isEmpty()) {
      return catalog.platforms().stream()
          .filter(p -> p.modes().contains(mode))
          .map(Platform::key)
          .toList();
    }
    for (String p : wanted) {
      Platform known =
          catalog
              .platform(p)
              .orElseThrow(
                  () -> Problem.malformed("/platforms", "There is no platform " + p + "."));
      if (!known.modes().contains(mode)) {
        throw Problem.malformed("/platforms", p + " has no mode " + Words.of(mode) + ".");
      }
    }
    return wanted.stream().distinct().toList();
  }

  private static void signIn(EnrollmentProfileRow row, Draft d) {
    SignIn signIn = word(SignIn.class, d.signIn(), SignIn.NONE, "/signIn");
    if (signIn != SignIn.PASSPHRASE) {
      row.passphraseHash = null;
    } else if (d.passphrase() != null && !d.passphrase().isEmpty()) {
      if (d.passphrase().length() < MIN_PASSPHRASE) {
        throw Problem.malformed("/passphrase", "A passphrase has at least 8 characters.");
      }
      row.passphraseHash = Passwords.hash(d.passphrase());
    } else if (row.passphraseHash == null) {
      throw Problem.malformed("/passphrase", "Signing in by passphrase needs a passphrase.");
    }
    String group = d.directoryGroup() == null ? "" : d.directoryGroup().strip();
    if (!group.isEmpty() && signIn != SignIn.DIRECTORY) {
      throw Problem.malformed(
          "/directoryGroup", "A group of the directory needs the sign-in 'directory'.");
    }
    if (group.length() > 200) {
      throw Problem.malformed("/directoryGroup", "A group's name has at most 200 characters.");
    }
    row.signIn = Words.of(signIn);
    row.directoryGroup = group.isEmpty() ? null : group;
  }

  /** Versions by platform; {@code released} asks for one the platform really has. */
  private Map<String, String> versions(
      String field, @Nullable Map<String, String> told, boolean released) {
    Map<String, String> out = new TreeMap<>();
    (told == null ? Map.<String, String>of() : told)
        .forEach(
            (p, v) -> {
              String pointer = field + "/" + p;
              Platform platform =
                  catalogue
                      .catalog()
                      .platform(p)
                      .orElseThrow(
                          () -> Problem.malformed(pointer, "There is no platform " + p + "."));
              try {
                OsVersion version = OsVersion.parse(v);
                if (released && !platform.versions().contains(version)) {
                  throw new IllegalArgumentException(
                      p
                          + " has no version "
                          + v
                          + "; it has "
                          + platform.versions().stream()
                              .map(OsVersion::toString)
                              .collect(Collectors.joining(", ")));
                }
                out.put(p, version.toString());
              } catch (IllegalArgumentException e) {
                throw Problem.malformed(pointer, e);
              }
            });
    return out;
  }

  private static String[] groups(Tx tx, @Nullable List<String> wanted) {
    List<String> groups = wanted == null ? List.of() : wanted.stream().distinct().toList();
    groups.forEach(
        g -> {
          if (tx.find(GroupRow.class, g).isEmpty()) {
            throw Problem.malformed("/groups", "There is no group " + g + ".");
          }
        });
    return groups.toArray(String[]::new);
  }

  private static String[] kinds(@Nullable List<String> wanted) {
    if (wanted == null || wanted.isEmpty()) {
      return Arrays.stream(DeviceKind.values()).map(Words::of).toArray(String[]::new);
    }
    wanted.forEach(k -> word(DeviceKind.class, k, DeviceKind.PHONE, "/kinds"));
    return wanted.stream().distinct().toArray(String[]::new);
  }

  private FirstRun firstRun(@Nullable FirstRunDraft d) {
    if (d == null) {
      return FirstRun.PLAIN;
    }
    Map<String, FirstRunScreen> screens =
        catalogue.firstRun().stream().collect(Collectors.toMap(FirstRunScreen::key, s -> s));
    List<String> skipped = d.skipped() == null ? List.of() : d.skipped();
    for (String key : skipped) {
      FirstRunScreen screen = screens.get(key);
      if (screen == null) {
        throw Problem.malformed(
            "/firstRun/skipped",
            "There is no first-run screen " + key + "; there are " + list(screens.keySet()) + ".");
      }
      if (screen.always()) {
        throw Problem.malformed(
            "/firstRun/skipped", "The screen " + key + " is needed and cannot be skipped.");
      }
    }
    String language = plain(d.language());
    if (!language.isEmpty() && !catalogue.languages().containsKey(language)) {
      throw Problem.malformed(
          "/firstRun/language",
          "Devices do not speak '"
              + language
              + "'; they speak "
              + list(catalogue.languages().keySet())
              + ".");
    }
    String region = plain(d.region());
    if (!region.matches("([A-Z]{2})?")) {
      throw Problem.malformed(
          "/firstRun/region", "A region is a code of two capital letters, such as QV.");
    }
    String wallpaper = plain(d.wallpaper());
    if (!wallpaper.isEmpty() && !wallpapers().contains(wallpaper)) {
      throw Problem.malformed(
          "/firstRun/wallpaper",
          "There is no wallpaper '" + wallpaper + "'; there are " + list(wallpapers()) + ".");
    }
    return new FirstRun(Set.copyOf(skipped), language, region, wallpaper);
  }

  private List<String> wallpapers() {
    return catalogue
        .catalog()
        .setting("appearance.wallpaper")
        .map(s -> (ValueType.ChoiceType) s.type())
        .map(t -> t.choices().stream().map(ValueType.Choice::key).toList())
        .orElse(List.of());
  }

  private static String list(java.util.Collection<String> words) {
    return String.join(", ", words.stream().sorted().toList());
  }

  private static String plain(@Nullable String s) {
    return s == null ? "" : s.strip();
  }

  /** A gate as it is kept. */
  private record KeptGate(boolean profiles, Map<String, String> osVersions) {}

  private KeptGate gate(@Nullable GateDraft d) {
    return d == null
        ? new KeptGate(false, Map.of())
        : new KeptGate(
            Boolean.TRUE.equals(d.profiles()),
            versions("/readyGate/osVersions", d.osVersions(), true));
  }

  /** A gate as it was kept. */
  public static ReadyGate gate(String json) {
    KeptGate kept = Json.read(json, KeptGate.class);
    Map<String, OsVersion> versions = new TreeMap<>();
    kept.osVersions().forEach((p, v) -> versions.put(p, OsVersion.parse(v)));
    return new ReadyGate(kept.profiles(), versions);
  }

  private static <E extends Enum<E>> E word(
      Class<E> type, @Nullable String word, E fallback, String pointer) {
    if (word == null || word.isEmpty()) {
      return fallback;
    }
    try {
      return Words.parse(type, word);
    } catch (IllegalArgumentException e) {
      throw Problem.malformed(pointer, e);
    }
  }

  /** The record the enrollment decision works on. */
  public static EnrollmentProfile decided(EnrollmentProfileRow r) {
    Map<String, OsVersion> minimum = new TreeMap<>();
    Json.tree(r.minimumOs)
        .properties()
        .forEach(e -> minimum.put(e.getKey(), OsVersion.parse(e.getValue().asText())));
    EnumSet<DeviceKind> kinds = EnumSet.noneOf(DeviceKind.class);
    for (String k : r.kinds) {
      kinds.add(Words.parse(DeviceKind.class, k));
    }
    return new EnrollmentProfile(
        Words.parse(Ownership.class, r.ownership),
        Words.parse(Mode.class, r.mode),
        Set.of(r.platforms),
        kinds,
        Words.parse(SignIn.class, r.signIn),
        Optional.ofNullable(r.termsVersion),
        minimum,
        r.approval,
        r.rosterOnly,
        new NamePattern(r.namePattern),
        new Place(Optional.ofNullable(r.unitId), Optional.ofNullable(r.siteId)),
        List.of(r.groups),
        List.of(r.tags),
        Json.read(r.firstRun, FirstRun.class),
        gate(r.readyGate),
        r.removable,
        r.comesBack);
  }
}
