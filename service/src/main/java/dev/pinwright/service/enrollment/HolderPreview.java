package dev.pinwright.service.enrollment;

import dev.pinwright.catalog.Catalogue;
import dev.pinwright.core.intake.EnrollmentProfile;
import dev.pinwright.core.intake.HolderPath;
import dev.pinwright.service.enrollment.EnrollmentProfiles.Draft;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Role;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.row.EnrollmentProfileRow;
import dev.pinwright.storage.row.TermsRow;
import java.util.List;
import java.util.Optional;

/** Shows what holders would go through, before anybody does. */
public final class HolderPreview {
  private final Database database;
  private final Catalogue catalogue;
  private final EnrollmentForm form;
  private final String organisation;

  public HolderPreview(Database database, Catalogue catalogue, String organisation) {
    this.database = database;
    this.catalogue = catalogue;
    this.form = new EnrollmentForm(catalogue);
    this.organisation = organisation;
  }

  /**
   * What a holder would go through under a profile as it is being written; nothing is kept.
   *
   * @param platform key of the platform of the device in hand
   */
  public List<HolderPath.Screen> show(Caller caller, Draft draft, String platform) {
    caller.needs(Role.READER);
    if (catalogue.catalog().platform(platform).isEmpty()) {
      throw Problem.malformed("/platform", "There is no platform " + platform + ".");
    }
    return database.call(
        tx -> {
          EnrollmentProfileRow row = new EnrollmentProfileRow();
          row.passphraseHash = "unknown"; // one that is kept is not sent again
          form.fill(tx, row, draft);
          EnrollmentProfile profile = EnrollmentForm.decided(row);
          Optional<HolderPath.Terms> terms =
              profile
                  .termsVersion()
                  .flatMap(v -> tx.find(TermsRow.class, v))
                  .map(t -> new HolderPath.Terms(t.version, t.title, t.text));
          return HolderPath.of(
              profile,
              organisation,
              platform,
              terms,
              catalogue.visible(profile.ownership()),
              catalogue.neverSeen(profile.ownership()),
              catalogue.firstRun());
        });
  }
}
