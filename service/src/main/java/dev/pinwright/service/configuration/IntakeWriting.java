package dev.pinwright.service.configuration;

import com.fasterxml.jackson.databind.JsonNode;
import dev.pinwright.core.configuration.Part;
import dev.pinwright.core.configuration.Step;
import dev.pinwright.core.enrollment.EnrollmentForm;
import dev.pinwright.service.terms.HolderTerms;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.row.EnrollmentProfileRow;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Writes terms and enrollment profiles. */
final class IntakeWriting {
  private final Desk desk;
  private final Caller caller;
  private final Writing.Nouns nouns;

  IntakeWriting(Desk desk) {
    this.desk = desk;
    caller = desk.act().caller();
    nouns = desk.nouns();
  }

  void terms(Step s, Thing.OfTerms t) {
    if (s.verb() == Step.Verb.CHANGE) {
      throw Problem.conflict(
          "terms-stay",
          "Version "
              + t.version()
              + " of the terms was accepted as it is; write what is new as the next version.");
    }
    HolderTerms.Shown written =
        nouns
            .terms()
            .add(
                caller, new HolderTerms.Draft(t.language(), t.title(), t.text(), t.translations()));
    if (written.version() != t.version()) {
      throw Problem.malformed(
          "/version",
          "The next version of the terms is " + written.version() + ", not " + t.version() + ".");
    }
  }

  void enrollment(Thing.OfEnrollment e) {
    Optional<String> id = desk.id(e, Part.ENROLLMENT_PROFILE);
    EnrollmentForm form =
        new EnrollmentForm(
            e.name(),
            e.ownership(),
            e.mode(),
            e.platforms(),
            e.kinds(),
            e.signIn(),
            desk.load()
                .secret(Part.ENROLLMENT_PROFILE, e.name(), Thing.OfEnrollment.PASSPHRASE)
                .orElse(null),
            e.directoryGroup().orElse(null),
            e.termsVersion().orElse(null),
            e.minimumOs(),
            e.approval(),
            e.rosterOnly(),
            e.namePattern(),
            e.fillGaps(),
            desk.id(Part.UNIT, e.unit(), "/unit"),
            desk.id(Part.SITE, e.site(), "/site"),
            e.groups().stream().map(g -> desk.id(Part.GROUP, g, "/groups")).toList(),
            e.tags(),
            form(e.firstRun(), EnrollmentForm.FirstRunForm.class),
            form(e.readyGate(), EnrollmentForm.GateForm.class),
            e.removable(),
            e.comesBack());
    if (id.isPresent()) {
      int version = desk.one(EnrollmentProfileRow.class, id.get()).version;
      nouns.enrollments().change(caller, id.get(), version, form);
    } else {
      desk.ids(Part.ENROLLMENT_PROFILE).put(e.key(), nouns.enrollments().add(caller, form).id());
    }
  }

  private static <T> @Nullable T form(@Nullable JsonNode written, Class<T> type) {
    return written == null || written.isNull() ? null : Json.request(written, type);
  }
}
