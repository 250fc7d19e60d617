package dev.pinwright.service.organisation;

import com.github.f4b6a3.ulid.UlidCreator;
import dev.pinwright.core.organisation.UnitCode;
import dev.pinwright.service.journal.Journal;
import dev.pinwright.service.live.Events;
import dev.pinwright.service.organisation.Attributes.Attribute;
import dev.pinwright.service.sheet.Sheet;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Role;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import java.time.Clock;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * Units, sites and people as sheets (RFC 4180): written out with their attributes, and taken in
 * again row by row. A sheet is checked whole before anything of it is kept.
 */
public final class OrganisationSheets {
  private static final int MOST_ROWS = 10_000;
  private final Database database;
  private final Journal journal;
  private final Events events;
  private final Clock clock;

  public OrganisationSheets(Database database, Journal journal, Events events, Clock clock) {
    this.database = database;
    this.journal = journal;
    this.events = events;
    this.clock = clock;
  }

  /** What a sheet is of. */
  public enum Kind {
    UNITS("unit", List.of("code", "name", "parent")),
    SITES("site", List.of("name", "address", "latitude", "longitude")),
    PEOPLE("person", List.of("name", "login", "mail", "unit", "site"));

    private final String subject;
    private final List<String> columns;

    Kind(String subject, List<String> columns) {
      this.subject = subject;
      this.columns = columns;
    }
  }

  // ---- out -------------------------------------------------------------------------------------

  private static final Map<Kind, String> OUT =
      Map.of(
          Kind.UNITS,
          "select u.id, u.code, u.name, p.code from unit u left join unit p on p.id = u.parent_id"
              + " order by u.code limit 200000",
          Kind.SITES,
          "select id, name, address, cast(latitude as text), cast(longitude as text) from site"
              + " order by lower(name) limit 200000",
          Kind.PEOPLE,
          "select p.id, p.name, p.login, p.mail, u.code, s.name from person p"
              + " left join unit u on u.id = p.unit_id left join site s on s.id = p.site_id"
              + " order by lower(p.name) limit 200000");

  /** The sheet of everything there is of a kind. */
  public String write(Caller caller, Kind kind) {
    caller.needs(Role.READER);
    return database.call(
        tx -> {
          List<Attribute> attributes = Attributes.of(tx, kind.subject);
          Map<String, Map<String, String>> values = new HashMap<>();
          tx.rows(
                  "select v.subject_id, a.name, v.value from attribute_value v"
                      + " join attribute a on a.id = v.attribute_id where a.kind = :k",
                  Map.of("k", kind.subject))
              .forEach(
                  r ->
                      values
                          .computeIfAbsent((String) r[0], x -> new HashMap<>())
                          .put((String) r[1], (String) r[2]));
          List<List<String>> rows = new ArrayList<>();
          for (Object[] r : tx.rows(OUT.get(kind), Map.of())) {
            List<String> cells = new ArrayList<>();
            for (int i = 1; i < r.length; i++) {
              cells.add(inert(r[i] == null ? "" : r[i].toString(), kind.columns.get(i - 1)));
            }
            Map<String, String> own = values.getOrDefault((String) r[0], Map.of());
            attributes.forEach(a -> cells.add(inert(own.getOrDefault(a.name(), ""), a.type())));
            rows.add(cells);
          }
          return Sheet.write(
              Stream.concat(kind.columns.stream(), attributes.stream().map(Attribute::name))
                  .toList(),
              rows);
        });
  }

  /** Numbers begin with a sign and are no formulas. */
  private static String inert(String text, String column) {
    return Set.of("latitude", "longitude", "number").contains(column) ? text : Sheet.inert(text);
  }

  // ---- in --------------------------------------------------------------------------------------

  /**
   * Takes a sheet in, or says what that would do. With one faulty row nothing is kept.
   *
   * @throws Problem 400 when it is no sheet or has columns that are not known
   */
  public Sheet.Report read(Caller caller, Kind kind, Sheet.Draft draft) {
    caller.needs(Role.OPERATOR);
    Sheet.Report report =
        Sheet.keep(
            database,
            Boolean.TRUE.equals(draft.save()),
            tx -> take(tx, kind, draft.csv()),
            (tx, r) ->
                journal.write(
                    tx,
                    caller,
                    kind.subject + ".sheet",
                    "sheet",
                    "Sheet taken in: " + r.added() + " added, " + r.changed() + " changed"));
    events.touch("units");
    events.touch("sites");
    events.touch("people");
    return report;
  }

  private Sheet.Report take(Tx tx, Kind kind, @Nullable String csv) {
    List<Attribute> attributes = Attributes.of(tx, kind.subject);
    Sheet sheet = Sheet.read(csv, kind.columns, attributes.stream().map(Attribute::name).toList());
    List<Sheet.Fault> faults = new ArrayList<>();
    int[] counts = new int[2];
    for (Sheet.Row row : sheet.rows()) {
      try {
        Kept kept = keep(tx, kind, row);
        counts[kept.fresh() ? 0 : 1]++;
        for (Attribute a : attributes) {
          if (row.has(a.name())) {
            Attributes.put(tx, a, kept.id(), row.cell(a.name()));
          }
        }
      } catch (IllegalArgumentException e) {
        faults.add(new Sheet.Fault(row.line(), String.valueOf(e.getMessage())));
      }
    }
    if (kind == Kind.UNITS) {
      Units.lieWithin(tx);
    }
    return new Sheet.Report(
        true, sheet.rows().size(), counts[0], counts[1], faults, Optional.empty());
  }

  private record Kept(String id, boolean fresh) {}

  private Kept keep(Tx tx, Kind kind, Sheet.Row row) {
    return switch (kind) {
      case UNITS -> unit(tx, row);
      case SITES -> site(tx, row);
      case PEOPLE -> person(tx, row);
    };
  }

  private static String name(Sheet.Row row, int most) {
    String name = row.cell("name");
    if (name.isEmpty() || name.length() > most) {
      throw new IllegalArgumentException("a name has 1 to " + most + " characters");
    }
    return name;
  }

  private static Optional<String> id(Tx tx, String sql, String value) {
    return tx.rows(sql, Map.of("v", value)).stream().findFirst().map(r -> (String) r[0]);
  }

  private Kept unit(Tx tx, Sheet.Row row) {
    String code = new UnitCode(row.cell("code").toUpperCase(Locale.ROOT)).value();
    String name = name(row, 80);
    String parent = row.cell("parent").toUpperCase(Locale.ROOT);
    String parentId =
        parent.isEmpty()
            ? null
            : id(tx, "select id, 1 from unit where code = :v", parent)
                .orElseThrow(
                    () ->
                        new IllegalArgumentException(
                            "there is no unit '" + parent + "' in or above this line"));
    List<Object[]> there =
        tx.rows("select id, coalesce(parent_id, '') from unit where code = :v", Map.of("v", code));
    Map<String, Object> p = new HashMap<>();
    p.put("code", code);
    p.put("name", name);
    if (!there.isEmpty()) {
      String id = (String) there.get(0)[0];
      if (row.has("parent") && !there.get(0)[1].equals(parentId == null ? "" : parentId)) {
        throw new IllegalArgumentException(
            code + " lies elsewhere; moving a unit is rehearsed on its own page");
      }
      tx.execute("update unit set name = :name, version = version + 1 where code = :code", p);
      return new Kept(id, false);
    }
    p.put("id", UlidCreator.getMonotonicUlid().toString());
    p.put("parent", parentId);
    p.put("now", clock.instant());
    tx.execute(
        "insert into unit (id, version, code, name, parent_id, created_at)"
            + " values (:id, 0, :code, :name, cast(:parent as text), :now)",
        p);
    return new Kept((String) p.get("id"), true);
  }

  private static @Nullable Double degrees(Sheet.Row row, String column, double most) {
    String text = row.cell(column);
    if (text.isEmpty()) {
      return null;
    }
    try {
      double d = Double.parseDouble(text);
      if (Math.abs(d) <= most) {
        return d;
      }
    } catch (NumberFormatException e) {
      // said below
    }
    throw new IllegalArgumentException(column + " is in degrees, from -" + most + " to " + most);
  }

  private Kept site(Tx tx, Sheet.Row row) {
    String name = name(row, 80);
    Double lat = degrees(row, "latitude", 90);
    Double lon = degrees(row, "longitude", 180);
    if ((lat == null) != (lon == null)) {
      throw new IllegalArgumentException("give latitude and longitude, or neither");
    }
    Map<String, Object> p = new HashMap<>();
    p.put("name", name);
    p.put("address", row.cell("address"));
    p.put("lat", lat);
    p.put("lon", lon);
    Optional<String> there = id(tx, "select id, 1 from site where name = :v", name);
    p.put("id", there.orElseGet(() -> UlidCreator.getMonotonicUlid().toString()));
    p.put("now", clock.instant());
    tx.execute(
        "insert into site (id, version, name, address, latitude, longitude, created_at)"
            + " values (:id, 0, :name, :address, cast(:lat as double precision),"
            + " cast(:lon as double precision), :now)"
            + " on conflict (id) do update set address = excluded.address,"
            + " latitude = excluded.latitude, longitude = excluded.longitude,"
            + " version = site.version + 1",
        p);
    return new Kept((String) p.get("id"), there.isEmpty());
  }

  private Kept person(Tx tx, Sheet.Row row) {
    String name = name(row, 120);
    String login = row.cell("login").toLowerCase(Locale.ROOT);
    String mail = row.cell("mail");
    if (!login.matches("[a-z0-9._@-]{0,80}")) {
      throw new IllegalArgumentException("a login has letters, digits, dots, hyphens or @");
    }
    if (!mail.isEmpty() && !mail.matches("[^\\s@,;<>]{1,64}@[A-Za-z0-9.-]{1,190}")) {
      throw new IllegalArgumentException("'" + mail + "' is not a mail address");
    }
    String unit = row.cell("unit");
    String site = row.cell("site");
    Map<String, Object> p = new HashMap<>();
    p.put("name", name);
    p.put("login", login.isEmpty() ? null : login);
    p.put("mail", mail.isEmpty() ? null : mail);
    p.put("unit", known(tx, "unit", "code", unit));
    p.put("site", known(tx, "site", "name", site));
    Optional<String> there =
        login.isEmpty()
            ? Optional.empty()
            : id(tx, "select id, 1 from person where login = :v", login);
    if (there.isEmpty() && !mail.isEmpty()) {
      there = id(tx, "select id, 1 from person where lower(mail) = lower(:v) limit 1", mail);
    }
    p.put("id", there.orElseGet(() -> UlidCreator.getMonotonicUlid().toString()));
    p.put("now", clock.instant());
    tx.execute(
        "insert into person (id, version, name, login, mail, unit_id, site_id, created_at)"
            + " values (:id, 0, :name, cast(:login as text), cast(:mail as text),"
            + " cast(:unit as text), cast(:site as text), :now)"
            + " on conflict (id) do update set name = excluded.name,"
            + " login = coalesce(excluded.login, person.login),"
            + " mail = coalesce(excluded.mail, person.mail),"
            + " unit_id = coalesce(excluded.unit_id, person.unit_id),"
            + " site_id = coalesce(excluded.site_id, person.site_id),"
            + " version = person.version + 1",
        p);
    return new Kept((String) p.get("id"), there.isEmpty());
  }

  private static @Nullable String known(Tx tx, String table, String column, String value) {
    if (value.isEmpty()) {
      return null;
    }
    return id(tx, "select id, 1 from " + table + " where lower(" + column + ") = lower(:v)", value)
        .orElseThrow(
            () -> new IllegalArgumentException("there is no " + table + " '" + value + "'"));
  }
}
