package dev.pinwright.service.enrollment;

import dev.pinwright.catalog.Catalogue;
import dev.pinwright.core.enrollment.EnrollmentForm;
import dev.pinwright.core.enrollment.EnrollmentProfile;
import dev.pinwright.core.enrollment.HolderPath;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.row.EnrollmentProfileRow;
import dev.pinwright.storage.row.TermsRow;
import java.util.List;
import java.util.Optional;

/** Shows what holders would go through, before anybody does. */
public final class HolderPreview {
  private final UseCases useCases;
  private final Catalogue catalogue;
  private final String organisation;

  public HolderPreview(UseCases useCases, Catalogue catalogue, String organisation) {
    this.useCases = useCases;
    this.catalogue = catalogue;
    this.organisation = organisation;
  }

  /**
   * What a holder would go through under a profile as it is being written; nothing is kept.
   *
   * @param platform key of the platform of the device in hand
   */
  public List<HolderPath.Screen> show(Caller caller, EnrollmentForm draft, String platform) {
    if (catalogue.catalog().platform(platform).isEmpty()) {
      throw Problem.malformed("/platform", "There is no platform " + platform + ".");
    }
    return useCases.read(
        tx -> {
          EnrollmentProfileRow row = new EnrollmentProfileRow();
          row.passphraseHash = "unknown"; // one that is kept is not sent again
          EnrollmentProfile profile = EnrollmentRows.fill(tx, catalogue, row, draft);
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
