package dev.pinwright.server;

import dev.pinwright.catalog.Catalogue;
import dev.pinwright.core.Words;
import dev.pinwright.core.access.Role;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.Ownership;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import java.util.List;

/** What is collected and can be done on devices of an ownership and mode, from the catalogue. */
record PrivacyView(
    String ownership,
    String mode,
    List<String> visible,
    List<String> never,
    List<String> may,
    List<String> mayNot) {

  static PrivacyView of(Caller caller, Catalogue catalogue, String ownership, String mode) {
    caller.needs(Role.READER);
    Ownership o;
    Mode m;
    try {
      o = Words.parse(Ownership.class, ownership.isEmpty() ? "personal" : ownership);
      m = Words.parse(Mode.class, mode.isEmpty() ? "work-profile" : mode);
    } catch (IllegalArgumentException e) {
      throw Problem.malformed("", e);
    }
    Catalogue.Powers powers = catalogue.powers(o, m);
    return new PrivacyView(
        Words.of(o),
        Words.of(m),
        catalogue.visible(o),
        catalogue.neverSeen(o),
        powers.may(),
        powers.mayNot());
  }
}
