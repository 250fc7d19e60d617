package dev.pinwright.service.device;

import dev.pinwright.core.organisation.Attribute;
import dev.pinwright.core.query.RuleNames;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.device.GroupStore;
import dev.pinwright.storage.enrollment.EnrollmentStore;
import dev.pinwright.storage.organisation.AttributeStore;
import dev.pinwright.storage.organisation.PersonStore;
import dev.pinwright.storage.organisation.SiteStore;
import dev.pinwright.storage.organisation.UnitStore;
import dev.pinwright.storage.row.EnrollmentProfileRow;
import dev.pinwright.storage.row.GroupRow;
import dev.pinwright.storage.row.PersonRow;
import dev.pinwright.storage.row.SiteRow;
import dev.pinwright.storage.row.UnitRow;
import java.util.Locale;
import java.util.Optional;

/** The names of this organisation, as rules use them. */
record RuleNamesHere(Tx tx) implements RuleNames {

  @Override
  public Optional<String> id(Kind kind, String name) {
    return switch (kind) {
      case UNIT -> new UnitStore(tx).byCode(name).map(u -> u.id);
      case SITE -> new SiteStore(tx).byName(name).map(s -> s.id);
      case PERSON ->
          new PersonStore(tx)
              .byLogin(name.toLowerCase(Locale.ROOT))
              .or(() -> new PersonStore(tx).onlyOne(name))
              .map(p -> p.id);
      case GROUP -> new GroupStore(tx).byName(name).map(g -> g.id);
      case PROFILE -> new EnrollmentStore(tx).byName(name).map(p -> p.id);
    };
  }

  @Override
  public Optional<String> name(Kind kind, String id) {
    return switch (kind) {
      case UNIT -> tx.find(UnitRow.class, id).map(u -> u.code);
      case SITE -> tx.find(SiteRow.class, id).map(s -> s.name);
      case PERSON -> tx.find(PersonRow.class, id).map(p -> p.login == null ? p.name : p.login);
      case GROUP -> tx.find(GroupRow.class, id).map(g -> g.name);
      case PROFILE -> tx.find(EnrollmentProfileRow.class, id).map(p -> p.name);
    };
  }

  @Override
  public Optional<Attribute> attribute(String name) {
    return new AttributeStore(tx)
        .of(Attribute.Kind.DEVICE).stream().filter(a -> a.isCalled(name)).findFirst();
  }

  @Override
  public Optional<String> attributeName(String id) {
    return new AttributeStore(tx).find(id).map(Attribute::name);
  }
}
