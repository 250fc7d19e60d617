package dev.pinwright.service.enrollment;

import dev.pinwright.catalog.Catalogue;
import dev.pinwright.core.Words;
import dev.pinwright.core.device.DeviceKind;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.device.Ownership;
import dev.pinwright.core.enrollment.EnrollmentForm;
import dev.pinwright.core.enrollment.EnrollmentProfile;
import dev.pinwright.core.enrollment.EnrollmentProfile.SignIn;
import dev.pinwright.core.enrollment.FirstRun;
import dev.pinwright.core.enrollment.ReadyGate;
import dev.pinwright.core.naming.NamePattern;
import dev.pinwright.core.organisation.Place;
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
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;

/** Enrollment profiles as rows: how they are kept, and what is read from them again. */
public final class EnrollmentRows {
  private EnrollmentRows() {}

  /**
   * Fills a row with everything but the name.
   *
   * @throws Problem 400 naming the first field that cannot be right
   */
  static EnrollmentProfile fill(
      Tx tx, Catalogue catalogue, EnrollmentProfileRow row, EnrollmentForm form) {
    EnrollmentProfile p =
        Problem.reading(
            "",
            () ->
                form.read(
                    new EnrollmentForm.Choices(
                        catalogue.catalog(), catalogue.firstRun(), catalogue.languages().keySet()),
                    row.passphraseHash != null));
    if (p.termsVersion().filter(v -> tx.find(TermsRow.class, v).isEmpty()).isPresent()) {
      throw Problem.malformed(
          "/termsVersion", "There is no version " + p.termsVersion().get() + " of the terms.");
    }
    for (String g : p.groups()) {
      GroupRow group =
          tx.find(GroupRow.class, g)
              .orElseThrow(() -> Problem.malformed("/groups", "There is no group " + g + "."));
      if (group.rule != null) {
        throw Problem.malformed(
            "/groups",
            group.name + " takes its devices by a rule; name groups that are picked by hand.");
      }
    }
    row.ownership = Words.of(p.ownership());
    row.mode = Words.of(p.mode());
    row.platforms = p.platforms().stream().sorted().toArray(String[]::new);
    row.kinds = p.kinds().stream().sorted().map(Words::of).toArray(String[]::new);
    row.signIn = Words.of(p.signIn());
    row.directoryGroup = form.group().orElse(null);
    if (p.signIn() != SignIn.PASSPHRASE) {
      row.passphraseHash = null;
    } else if (form.passphrase() != null && !form.passphrase().isEmpty()) {
      row.passphraseHash = Passwords.hash(form.passphrase());
    }
    row.termsVersion = p.termsVersion().orElse(null);
    row.minimumOs = Json.write(p.minimumOs());
    row.approval = p.approval();
    row.rosterOnly = p.rosterOnly();
    row.fillGaps = Boolean.TRUE.equals(form.fillGaps());
    row.unitId = Known.id(tx, UnitRow.class, "unit", p.place().unit().orElse(null));
    row.siteId = Known.id(tx, SiteRow.class, "site", p.place().site().orElse(null));
    row.groups = p.groups().toArray(String[]::new);
    row.tags = p.tags().toArray(String[]::new);
    row.namePattern = p.namePattern().text();
    row.firstRun = Json.write(p.firstRun());
    row.readyGate = Json.write(p.readyGate());
    row.removable = p.removable();
    row.comesBack = p.comesBack();
    return p;
  }

  private record KeptGate(boolean profiles, Map<String, String> osVersions) {}

  /** A gate as it was kept. */
  public static ReadyGate gate(String json) {
    KeptGate kept = Json.read(json, KeptGate.class);
    Map<String, OsVersion> versions = new TreeMap<>();
    kept.osVersions().forEach((p, v) -> versions.put(p, OsVersion.parse(v)));
    return new ReadyGate(kept.profiles(), versions);
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
