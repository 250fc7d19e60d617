package dev.pinwright.service.arrival;

import dev.pinwright.catalog.Catalogue;
import dev.pinwright.core.Words;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.Ownership;
import dev.pinwright.core.enrollment.FirstRun;
import dev.pinwright.core.enrollment.ReadyGate;
import dev.pinwright.protocol.join.JoinMessages;
import dev.pinwright.protocol.join.JoinMessages.Offer;
import dev.pinwright.protocol.join.JoinMessages.OfferedProfile;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.service.enrollment.EnrollmentRows;
import dev.pinwright.service.identity.Authority;
import dev.pinwright.service.terms.HolderTerms;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Settings;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.EnrollmentProfileRow;
import java.util.List;

/** What a holder is told before agreeing. */
final class Offers {
  private final Catalogue catalogue;
  private final Settings settings;
  private final Authority authority;

  Offers(Catalogue catalogue, Settings settings, Authority authority) {
    this.catalogue = catalogue;
    this.settings = settings;
    this.authority = authority;
  }

  Offer of(Tx tx, EnrollmentProfileRow p, List<String> languages) {
    Ownership ownership = Words.parse(Ownership.class, p.ownership);
    Catalogue.Powers powers = catalogue.powers(ownership, Words.parse(Mode.class, p.mode));
    JoinMessages.Terms terms =
        p.termsVersion == null
            ? null
            : HolderTerms.read(tx, p.termsVersion, languages).orElse(null);
    FirstRun first = Json.read(p.firstRun, FirstRun.class);
    ReadyGate gate = EnrollmentRows.gate(p.readyGate);
    String base = settings.deviceBase();
    return new Offer(
        "Pinwright",
        settings.organisation(),
        new OfferedProfile(p.name, p.ownership, p.mode, List.of(p.platforms), p.removable),
        p.signIn,
        terms,
        catalogue.visible(ownership),
        catalogue.neverSeen(ownership),
        powers.may(),
        powers.mayNot(),
        new JoinMessages.FirstRun(
            first.skipped().stream().sorted().toList(),
            first.language(),
            first.region(),
            first.wallpaper(),
            gate.profiles() || !gate.osVersions().isEmpty()),
        base + "/.well-known/est",
        base + "/dm",
        base.replaceFirst("https", "wss") + "/wake",
        Pki.pem(authority.root()));
  }
}
