package dev.pinwright.service.configuration;

import dev.pinwright.core.Words;
import dev.pinwright.core.configuration.Part;
import dev.pinwright.core.place.Outline;
import dev.pinwright.service.organisation.Attributes;
import dev.pinwright.service.organisation.People;
import dev.pinwright.service.organisation.Sites;
import dev.pinwright.service.organisation.Units;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.row.PersonRow;
import dev.pinwright.storage.row.SiteRow;
import dev.pinwright.storage.row.UnitRow;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/** Writes attributes, units, sites and people. */
final class OrganisationWriting {
  private final Desk desk;
  private final Caller caller;
  private final Writing.Nouns nouns;

  OrganisationWriting(Desk desk) {
    this.desk = desk;
    caller = desk.act().caller();
    nouns = desk.nouns();
  }

  void attribute(Thing.OfAttribute a) {
    Attributes.Draft draft = new Attributes.Draft(a.name(), a.of(), a.type(), a.choices());
    Optional<String> id = desk.id(a, Part.ATTRIBUTE);
    if (id.isEmpty()) {
      desk.ids(Part.ATTRIBUTE).put(a.key(), nouns.attributes().add(caller, draft).id());
      return;
    }
    var there =
        nouns.attributes().all(caller).stream()
            .filter(x -> x.id().equals(id.get()))
            .findFirst()
            .orElseThrow();
    nouns
        .attributes()
        .change(
            caller,
            id.get(),
            there.version(),
            new Attributes.Draft(
                a.name(), a.of(), a.type(), a.choices().isEmpty() ? null : a.choices()));
  }

  void unit(Thing.OfUnit u) {
    String parent = desk.id(Part.UNIT, u.within(), "/within");
    Optional<String> id = desk.id(u, Part.UNIT);
    if (id.isEmpty()) {
      String made = nouns.units().add(caller, new Units.Draft(u.code(), u.name(), parent)).id();
      desk.ids(Part.UNIT).put(u.code(), made);
    } else {
      Thing.OfUnit before = (Thing.OfUnit) desk.now(Part.UNIT, u.code()).orElseThrow();
      if (!before.name().equals(u.name())) {
        int version = desk.one(UnitRow.class, id.get()).version;
        nouns.units().change(caller, id.get(), version, new Units.Draft(null, u.name(), null));
      }
      if (!before.within().equals(u.within())) {
        Units.put(desk.act(), id.get(), parent);
      }
    }
    values(Part.UNIT, u, u.attributes());
  }

  private void values(Part part, Thing thing, Map<String, String> wanted) {
    Map<String, String> before =
        desk.now(part, thing.key())
            .map(
                t ->
                    t instanceof Thing.OfUnit u
                        ? u.attributes()
                        : ((Thing.OfPerson) t).attributes())
            .orElse(Map.of());
    if (before.equals(wanted)) {
      return;
    }
    Map<String, String> values = new TreeMap<>(wanted);
    before.keySet().forEach(name -> values.putIfAbsent(name, ""));
    nouns.attributes().set(caller, Words.of(part), desk.id(thing, part).orElseThrow(), values);
  }

  void site(Thing.OfSite s) {
    Sites.Draft draft =
        new Sites.Draft(
            s.name(),
            s.address().orElse(null),
            s.latitude().orElse(null),
            s.longitude().orElse(null),
            Optional.of(
                s.outline()
                    .map(o -> Problem.reading("/outline", () -> Outline.ofText(o)).corners())
                    .orElse(List.of())),
            Optional.of(s.largePackages().orElse(new Sites.Large(null, null))));
    Optional<String> id = desk.id(s, Part.SITE);
    if (id.isPresent()) {
      int version = desk.one(SiteRow.class, id.get()).version;
      nouns.sites().change(caller, id.get(), version, draft);
    } else {
      desk.ids(Part.SITE).put(s.key(), nouns.sites().add(caller, draft).id());
    }
  }

  void person(Thing.OfPerson p) {
    People.Draft draft =
        new People.Draft(
            p.name(),
            p.login().orElse(null),
            p.mail().orElse(null),
            desk.id(Part.UNIT, p.unit(), "/unit"),
            desk.id(Part.SITE, p.site(), "/site"));
    Optional<String> id = desk.id(p, Part.PERSON);
    if (id.isPresent()) {
      int version = desk.one(PersonRow.class, id.get()).version;
      nouns.people().change(caller, id.get(), version, draft);
    } else {
      desk.ids(Part.PERSON).put(p.key(), nouns.people().add(caller, draft).id());
    }
    values(Part.PERSON, p, p.attributes());
  }
}
