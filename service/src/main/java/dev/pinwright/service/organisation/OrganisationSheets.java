package dev.pinwright.service.organisation;

import dev.pinwright.core.organisation.Attribute;
import dev.pinwright.core.organisation.Contact;
import dev.pinwright.core.organisation.UnitCode;
import dev.pinwright.core.place.Outline;
import dev.pinwright.core.sheet.Row;
import dev.pinwright.service.sheet.Sheet;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.After;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.organisation.AttributeStore;
import dev.pinwright.storage.organisation.PersonStore;
import dev.pinwright.storage.organisation.SiteStore;
import dev.pinwright.storage.organisation.UnitStore;
import dev.pinwright.storage.row.PersonRow;
import dev.pinwright.storage.row.SiteRow;
import dev.pinwright.storage.row.UnitRow;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * Units, sites and people as sheets (RFC 4180): written out with their attributes, and taken in
 * again row by row. A sheet is checked whole before anything of it is kept; what it names is read
 * once, however many rows it has.
 */
public final class OrganisationSheets {
  private static final int MOST_WRITTEN = 200_000;

  private final UseCases useCases;

  public OrganisationSheets(UseCases useCases) {
    this.useCases = useCases;
  }

  /** What a sheet is of. */
  public enum Kind {
    UNITS(Noun.UNIT, "code", "name", "parent"),
    SITES(Noun.SITE, "name", "address", "latitude", "longitude", "outline"),
    PEOPLE(Noun.PERSON, "name", "login", "mail", "unit", "site");

    private final Noun noun;
    private final List<String> columns;

    Kind(Noun noun, String... columns) {
      this.noun = noun;
      this.columns = List.of(columns);
    }

    private List<Attribute> attributes(Tx tx) {
      return switch (this) {
        case UNITS -> new AttributeStore(tx).of(Attribute.Kind.UNIT);
        case SITES -> List.of();
        case PEOPLE -> new AttributeStore(tx).of(Attribute.Kind.PERSON);
      };
    }
  }

  // ---- out -------------------------------------------------------------------------------------

  /** A row to write: what it is of, and its cells in the order of the columns. */
  private record Out(String id, List<String> cells) {
    static Out of(String id, String... cells) {
      return new Out(id, Stream.of(cells).map(Row::inert).toList());
    }
  }

  /** The sheet of everything there is of a kind. */
  public String write(Caller caller, Kind kind) {
    return useCases.read(
        tx -> {
          List<Attribute> attributes = kind.attributes(tx);
          Map<String, Map<String, String>> values =
              switch (kind) {
                case UNITS -> new AttributeStore(tx).values(Attribute.Kind.UNIT);
                case SITES -> Map.of();
                case PEOPLE -> new AttributeStore(tx).values(Attribute.Kind.PERSON);
              };
          return Sheet.write(
              Stream.concat(kind.columns.stream(), attributes.stream().map(Attribute::name))
                  .toList(),
              rows(tx, kind)
                      .map(
                          row -> {
                            Map<String, String> own = values.getOrDefault(row.id(), Map.of());
                            List<String> cells = new ArrayList<>(row.cells());
                            attributes.forEach(
                                a -> cells.add(Row.written(a, own.getOrDefault(a.id(), ""))));
                            return cells;
                          })
                  ::iterator);
        });
  }

  private static Stream<Out> rows(Tx tx, Kind kind) {
    return switch (kind) {
      case UNITS -> {
        var units = new UnitStore(tx).all();
        Map<String, String> codes = new HashMap<>();
        units.forEach(u -> codes.put(u.id(), u.code()));
        yield units.stream()
            .map(u -> Out.of(u.id(), u.code(), u.name(), u.parentId().map(codes::get).orElse("")));
      }
      case SITES ->
          new SiteStore(tx)
              .page(After.START, MOST_WRITTEN).stream()
                  .map(
                      s ->
                          new Out(
                              s.id(),
                              List.of(
                                  Row.inert(s.name()),
                                  Row.inert(s.address()),
                                  s.latitude().map(String::valueOf).orElse(""),
                                  s.longitude().map(String::valueOf).orElse(""),
                                  s.outline().isEmpty() ? "" : new Outline(s.outline()).text())));
      case PEOPLE ->
          new PersonStore(tx)
              .page("", "", false, List.of(), After.START, MOST_WRITTEN).stream()
                  .map(
                      p ->
                          Out.of(
                              p.id(),
                              p.name(),
                              p.login().orElse(""),
                              p.mail().orElse(""),
                              p.unit().orElse(""),
                              p.site().orElse("")));
    };
  }

  // ---- in --------------------------------------------------------------------------------------

  /**
   * Takes a sheet in, or says what that would do. With one faulty row nothing is kept.
   *
   * @throws Problem 400 when it is no sheet or has columns that are not known
   */
  public Sheet.Report read(Caller caller, Kind kind, Sheet.Draft draft) {
    return Sheet.keep(
        useCases,
        caller,
        draft.save(),
        act -> {
          Sheet.Report r = take(act, kind, draft.sheet());
          act.done(
              kind.noun,
              "sheet",
              "sheet",
              "Sheet taken in: " + r.added() + " added, " + r.changed() + " changed");
          return r;
        });
  }

  private static Sheet.Report take(UseCases.Act act, Kind kind, Sheet sheet) {
    List<Attribute> attributes = kind.attributes(act.tx());
    List<Row> rows = sheet.rows(kind.columns, attributes.stream().map(Attribute::name).toList());
    Function<Row, Kept> keeper =
        switch (kind) {
          case UNITS -> units(act);
          case SITES -> sites(act, rows);
          case PEOPLE -> people(act, rows);
        };
    Map<String, Map<Attribute, String>> values = new LinkedHashMap<>();
    List<Row.Fault> faults = new ArrayList<>();
    int added = 0;
    int changed = 0;
    for (Row row : rows) {
      try {
        Kept kept = keeper.apply(row);
        added += kept.fresh() ? 1 : 0;
        changed += kept.fresh() ? 0 : 1;
        values
            .computeIfAbsent(kept.id(), x -> new LinkedHashMap<>())
            .putAll(row.values(attributes));
      } catch (IllegalArgumentException e) {
        faults.add(new Row.Fault(row.line(), String.valueOf(e.getMessage())));
      }
    }
    act.tx().flush();
    new AttributeStore(act.tx()).put(values);
    if (kind == Kind.UNITS) {
      new UnitStore(act.tx()).lieWithin();
    }
    return new Sheet.Report(true, rows.size(), added, changed, faults, Optional.empty());
  }

  private record Kept(String id, boolean fresh) {}

  private static Function<Row, Kept> units(UseCases.Act act) {
    Map<String, UnitRow> known = new HashMap<>();
    new UnitStore(act.tx()).rows().forEach(u -> known.put(u.code, u));
    return row -> {
      String code = new UnitCode(row.cell("code").toUpperCase(Locale.ROOT)).value();
      String name = row.name(80);
      String parent = row.cell("parent").toUpperCase(Locale.ROOT);
      String parentId = null;
      if (!parent.isEmpty()) {
        if (!known.containsKey(parent)) {
          throw new IllegalArgumentException(
              "there is no unit '" + parent + "' in or above this line");
        }
        parentId = known.get(parent).id;
      }
      UnitRow there = known.get(code);
      if (there != null) {
        if (row.has("parent")
            && !Optional.ofNullable(there.parentId).equals(Optional.ofNullable(parentId))) {
          throw new IllegalArgumentException(
              code + " lies elsewhere; moving a unit is rehearsed on its own page");
        }
        there.name = name;
        return new Kept(there.id, false);
      }
      if (known.size() >= Units.MAX_UNITS) {
        throw new IllegalArgumentException(
            "an organisation has at most " + Units.MAX_UNITS + " units");
      }
      UnitRow made = new UnitRow();
      made.id = act.newId();
      made.code = code;
      made.name = name;
      made.parentId = parentId;
      made.createdAt = act.now();
      act.tx().insert(made);
      known.put(code, made);
      return new Kept(made.id, true);
    };
  }

  private static Function<Row, Kept> sites(UseCases.Act act, List<Row> rows) {
    Map<String, SiteRow> known = new HashMap<>();
    new SiteStore(act.tx())
        .named(rows.stream().map(r -> r.cell("name")).distinct().toList())
        .forEach(s -> known.put(s.name, s));
    return row -> {
      String name = row.name(80);
      Optional<Double> lat = row.degrees("latitude", 90);
      Optional<Double> lon = row.degrees("longitude", 180);
      if (lat.isPresent() != lon.isPresent()) {
        throw new IllegalArgumentException("give latitude and longitude, or neither");
      }
      Optional<Outline> outline =
          Optional.of(row.cell("outline")).filter(o -> !o.isEmpty()).map(Outline::ofText);
      boolean fresh = !known.containsKey(name);
      SiteRow site = fresh ? new SiteRow() : known.get(name);
      // what the sheet has no column of stays as it is
      if (fresh || row.has("address")) {
        site.address = row.cell("address");
      }
      if (row.has("latitude") || row.has("longitude")) {
        site.latitude = lat.orElse(null);
        site.longitude = lon.orElse(null);
      }
      if (row.has("outline")) {
        site.outline(outline);
      }
      if (fresh) {
        site.id = act.newId();
        site.name = name;
        site.createdAt = act.now();
        act.tx().insert(site);
        known.put(name, site);
      }
      return new Kept(site.id, fresh);
    };
  }

  private static Function<Row, Kept> people(UseCases.Act act, List<Row> rows) {
    Tx tx = act.tx();
    Map<String, PersonRow> byLogin = new HashMap<>();
    Map<String, PersonRow> byMail = new HashMap<>();
    new PersonStore(tx)
        .reachedBy(
            rows.stream()
                .flatMap(r -> Stream.of(r.cell("login"), r.cell("mail")))
                .filter(c -> !c.isEmpty())
                .distinct()
                .toList())
        .forEach(
            p -> {
              byLogin.put(small(p.login), p);
              byMail.put(small(p.mail), p);
            });
    Map<String, String> units =
        new UnitStore(tx).rows().stream().collect(Collectors.toMap(u -> small(u.code), u -> u.id));
    Map<String, String> sites =
        new SiteStore(tx)
            .named(rows.stream().map(r -> r.cell("site")).distinct().toList()).stream()
                .collect(Collectors.toMap(s -> small(s.name), s -> s.id, (a, b) -> a));
    return row -> {
      String name = row.name(120);
      String login = Contact.login(row.cell("login"));
      String mail = Contact.mail(row.cell("mail"));
      Optional<String> unitId = row.id("unit", units, "unit");
      Optional<String> siteId = row.id("site", sites, "site");
      PersonRow there = login.isEmpty() ? null : byLogin.get(login);
      if (there == null && !mail.isEmpty()) {
        there = byMail.get(small(mail));
      }
      boolean fresh = there == null;
      PersonRow person = there == null ? new PersonRow() : there;
      person.name = name;
      person.login = login.isEmpty() ? person.login : login;
      person.mail = mail.isEmpty() ? person.mail : mail;
      person.unitId = unitId.orElse(person.unitId);
      person.siteId = siteId.orElse(person.siteId);
      if (fresh) {
        person.id = act.newId();
        person.createdAt = act.now();
        tx.insert(person);
      }
      byLogin.put(small(person.login), person);
      byMail.put(small(person.mail), person);
      return new Kept(person.id, fresh);
    };
  }

  private static String small(@Nullable String text) {
    return text == null ? "" : text.toLowerCase(Locale.ROOT);
  }
}
