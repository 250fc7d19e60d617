package dev.pinwright.service.group;

import dev.pinwright.core.organisation.Attribute;
import dev.pinwright.core.query.RuleNames;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.enrollment.EnrollmentStore;
import dev.pinwright.storage.group.GroupStore;
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
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** The names of this organisation, as rules use them, in one transaction. */
public final class RuleNamesHere implements RuleNames {
  private final Tx tx;
  private @Nullable Map<String, Attribute> attributes;

  public RuleNamesHere(Tx tx) {
    this.tx = tx;
  }

  private Map<String, Attribute> attributes() {
    if (attributes == null) {
      attributes = new AttributeStore(tx).ofDevices();
    }
    return attributes;
  }

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
      case TAG -> Optional.of(name);
      case ATTRIBUTE ->
          attributes().values().stream()
              .filter(a -> a.isCalled(name))
              .map(Attribute::id)
              .findFirst();
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
      case TAG -> Optional.of(id);
      case ATTRIBUTE -> attribute(id).map(Attribute::name);
    };
  }

  @Override
  public Optional<Attribute> attribute(String id) {
    return Optional.ofNullable(attributes().get(id));
  }
}
