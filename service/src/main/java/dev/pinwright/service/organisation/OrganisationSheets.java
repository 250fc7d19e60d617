package dev.pinwright.service.organisation;

import com.github.f4b6a3.ulid.UlidCreator;
import dev.pinwright.core.organisation.UnitCode;
import dev.pinwright.service.Problem;
import dev.pinwright.service.access.Caller;
import dev.pinwright.service.access.Role;
import dev.pinwright.service.journal.Journal;
import dev.pinwright.service.live.Events;
import dev.pinwright.service.organisation.Attributes.Attribute;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import java.io.IOException;
import java.io.StringReader;
import java.io.StringWriter;
import java.time.Clock;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVPrinter;
import org.apache.commons.csv.CSVRecord;
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

  /** A sheet to take in. {@code save}: whether it is kept when every row is sound. */
  public record Draft(@Nullable String csv, @Nullable Boolean save) {}

  /** A row that cannot be taken. Lines are counted from 1, the heading included. */
  public record Fault(int line, String fault) {}

  /** What a sheet would do, or did. */
  public record Report(boolean saved, int rows, int added, int changed, List<Fault> faults) {}

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
          StringWriter out = new StringWriter();
          String[] heading =
              Stream.concat(kind.columns.stream(), attributes.stream().map(Attribute::name))
                  .toArray(String[]::new);
          try (CSVPrinter sheet =
              new CSVPrinter(out, CSVFormat.RFC4180.builder().setHeader(heading).get())) {
            for (Object[] r : tx.rows(OUT.get(kind), Map.of())) {
              List<String> cells = new ArrayList<>();
              for (int i = 1; i < r.length; i++) {
                cells.add(inert(r[i] == null ? "" : r[i].toString(), kind.columns.get(i - 1)));
              }
              Map<String, String> own = values.getOrDefault((String) r[0], Map.of());
              attributes.forEach(a -> cells.add(inert(own.getOrDefault(a.name(), ""), a.type())));
              sheet.printRecord(cells);
            }
          } catch (IOException e) {
            throw new IllegalStateException(e);
          }
          return out.toString();
        });
  }

  /** Text a spreadsheet program takes for a formula is kept from being one; numbers are none. */
  private static String inert(String text, String column) {
    boolean number = Set.of("latitude", "longitude", "number").contains(column);
    return !number && text.matches("^[=+@\\-\\t].*") ? "'" + text : text;
  }

  // ---- in --------------------------------------------------------------------------------------

  /** Thrown to leave nothing of a trial behind. */
  private static final class Undone extends RuntimeException {
    private final transient Report report;

    private Undone(Report report) {
      super(null, null, false, false);
      this.report = report;
    }
  }

  /**
   * Takes a sheet in, or says what that would do. With one faulty row nothing is kept.
   *
   * @throws Problem 400 when it is no sheet or has columns that are not known
   */
  public Report read(Caller caller, Kind kind, Draft draft) {
    caller.needs(Role.OPERATOR);
    boolean save = Boolean.TRUE.equals(draft.save());
    try {
      Report report =
          database.call(
              tx -> {
                Report r = take(tx, kind, draft.csv() == null ? "" : draft.csv());
                if (!save || !r.faults().isEmpty()) {
                  throw new Undone(new Report(false, r.rows(), r.added(), r.changed(), r.faults()));
                }
                journal.write(
                    tx,
                    caller,
                    kind.subject + ".sheet",
                    "sheet",
                    "Sheet taken in: " + r.added() + " added, " + r.changed() + " changed");
                return r;
              });
      events.touch("units");
      events.touch("sites");
      events.touch("people");
      return report;
    } catch (Undone u) {
      return u.report;
    }
  }

  private Report take(Tx tx, Kind kind, String csv) {
    Map<String, Attribute> attributes = new LinkedHashMap<>();
    Attributes.of(tx, kind.subject)
        .forEach(a -> attributes.put(a.name().toLowerCase(Locale.ROOT), a));
    List<CSVRecord> rows = rows(csv, kind, attributes.keySet());
    List<Fault> faults = new ArrayList<>();
    int[] counts = new int[2];
    for (CSVRecord row : rows) {
      int line = (int) row.getRecordNumber() + 1;
      try {
        Kept kept = keep(tx, kind, row);
        counts[kept.fresh() ? 0 : 1]++;
        attributes.forEach(
            (name, a) -> {
              if (row.isMapped(name)) {
                Attributes.put(tx, a, kept.id(), cell(row, name));
              }
            });
      } catch (IllegalArgumentException e) {
        faults.add(new Fault(line, String.valueOf(e.getMessage())));
      }
    }
    if (kind == Kind.UNITS) {
      Units.lieWithin(tx);
    }
    return new Report(true, rows.size(), counts[0], counts[1], faults);
  }

  private static List<CSVRecord> rows(String csv, Kind kind, Set<String> attributes) {
    CSVFormat format =
        CSVFormat.RFC4180
            .builder()
            .setHeader()
            .setSkipHeaderRecord(true)
            .setIgnoreHeaderCase(true)
            .setTrim(true)
            .setIgnoreEmptyLines(true)
            .setDelimiter(csv.lines().findFirst().orElse("").contains(";") ? ";" : ",")
            .get();
    List<CSVRecord> rows;
    try (CSVParser parser = CSVParser.parse(new StringReader(csv), format)) {
      for (String column : parser.getHeaderNames()) {
        String name = column.toLowerCase(Locale.ROOT);
        if (!kind.columns.contains(name) && !attributes.contains(name)) {
          throw Problem.malformed(
              "/csv",
              "The column '"
                  + column
                  + "' is not known; known are "
                  + String.join(", ", kind.columns)
                  + (attributes.isEmpty()
                      ? ""
                      : " and the attributes " + String.join(", ", attributes))
                  + ".");
        }
      }
      if (!parser.getHeaderMap().containsKey(kind.columns.get(0))) {
        throw Problem.malformed(
            "/csv",
            "The first line has to name the columns; " + kind.columns.get(0) + " is needed.");
      }
      rows = parser.getRecords();
    } catch (IOException | IllegalArgumentException | java.io.UncheckedIOException e) {
      throw Problem.malformed("/csv", "This is not a sheet of comma-separated values.");
    }
    if (rows.isEmpty() || rows.size() > MOST_ROWS) {
      throw Problem.malformed("/csv", "A sheet has 1 to 10000 rows below its heading.");
    }
    return rows;
  }

  private static String cell(CSVRecord row, String column) {
    String text = row.isMapped(column) && row.isSet(column) ? row.get(column).strip() : "";
    return text.startsWith("'") ? text.substring(1) : text;
  }

  private record Kept(String id, boolean fresh) {}

  private Kept keep(Tx tx, Kind kind, CSVRecord row) {
    return switch (kind) {
      case UNITS -> unit(tx, row);
      case SITES -> site(tx, row);
      case PEOPLE -> person(tx, row);
    };
  }

  private static String name(CSVRecord row, int most) {
    String name = cell(row, "name");
    if (name.isEmpty() || name.length() > most) {
      throw new IllegalArgumentException("a name has 1 to " + most + " characters");
    }
    return name;
  }

  private static Optional<String> id(Tx tx, String sql, String value) {
    return tx.rows(sql, Map.of("v", value)).stream().findFirst().map(r -> (String) r[0]);
  }

  private Kept unit(Tx tx, CSVRecord row) {
    String code = new UnitCode(cell(row, "code").toUpperCase(Locale.ROOT)).value();
    String name = name(row, 80);
    String parent = cell(row, "parent").toUpperCase(Locale.ROOT);
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
      if (row.isMapped("parent") && !there.get(0)[1].equals(parentId == null ? "" : parentId)) {
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

  private static @Nullable Double degrees(CSVRecord row, String column, double most) {
    String text = cell(row, column);
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

  private Kept site(Tx tx, CSVRecord row) {
    String name = name(row, 80);
    Double lat = degrees(row, "latitude", 90);
    Double lon = degrees(row, "longitude", 180);
    if ((lat == null) != (lon == null)) {
      throw new IllegalArgumentException("give latitude and longitude, or neither");
    }
    Map<String, Object> p = new HashMap<>();
    p.put("name", name);
    p.put("address", cell(row, "address"));
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

  private Kept person(Tx tx, CSVRecord row) {
    String name = name(row, 120);
    String login = cell(row, "login").toLowerCase(Locale.ROOT);
    String mail = cell(row, "mail");
    if (!login.matches("[a-z0-9._@-]{0,80}")) {
      throw new IllegalArgumentException("a login has letters, digits, dots, hyphens or @");
    }
    if (!mail.isEmpty() && !mail.matches("[^\\s@,;<>]{1,64}@[A-Za-z0-9.-]{1,190}")) {
      throw new IllegalArgumentException("'" + mail + "' is not a mail address");
    }
    String unit = cell(row, "unit");
    String site = cell(row, "site");
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
