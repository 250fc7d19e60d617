package dev.pinwright.service.invitation;

import com.github.f4b6a3.ulid.UlidCreator;
import dev.pinwright.service.directory.Directories;
import dev.pinwright.service.journal.Journal;
import dev.pinwright.service.live.Events;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.ManyLines;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Role;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.EnrollmentProfileRow;
import dev.pinwright.storage.row.PersonRow;
import java.io.IOException;
import java.io.StringReader;
import java.time.Clock;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVRecord;
import org.jspecify.annotations.Nullable;

/** Invites many people at once, each with a code of their own. */
public final class BulkInvitations {
  private static final int MOST = 2_000;

  /** A login and a mail address nobody has. */
  private static final String NOBODY = " ";

  private final Database database;
  private final Invitations invitations;
  private final Directories directories;
  private final Journal journal;
  private final Events events;
  private final Clock clock;

  public BulkInvitations(
      Database database,
      Invitations invitations,
      Directories directories,
      Journal journal,
      Events events,
      Clock clock) {
    this.database = database;
    this.invitations = invitations;
    this.directories = directories;
    this.journal = journal;
    this.events = events;
    this.clock = clock;
  }

  /**
   * Whom to invite: exactly one of people, group, unit and sheet.
   *
   * @param personIds people by id
   * @param group name of a group of the staff directory
   * @param unitId everybody of a unit and those below it
   * @param sheet CSV (RFC 4180) with a heading and the columns {@code login}, {@code mail} and
   *     {@code name}, any of them; people who are not on file are put there when they have name and
   *     mail
   * @param mail whether each is mailed their invitation
   * @param save false only says what would be done
   */
  public record Draft(
      @Nullable String profileId,
      @Nullable Long expiresInMinutes,
      @Nullable String note,
      @Nullable List<String> personIds,
      @Nullable String group,
      @Nullable String unitId,
      @ManyLines @Nullable String sheet,
      @Nullable Boolean mail,
      @Nullable Boolean save) {}

  /** One of them. {@code fault}: why they are not invited. */
  public record Row(int line, String who, Optional<String> mail, Optional<String> fault) {}

  /** What was done, or would be. */
  public record Report(boolean saved, int invited, int leftOut, List<Row> rows) {}

  private record Asked(
      int line, String who, @Nullable String personId, @Nullable String mail, String fault) {}

  /**
   * Invites them, or says what that would do.
   *
   * @throws Problem 400 when it is not said whom, or they are more than two thousand; 502 when the
   *     directory fails
   */
  public Report invite(Caller caller, Draft d) {
    caller.needs(Role.OPERATOR);
    long named =
        java.util.stream.Stream.of(d.personIds(), d.group(), d.unitId(), d.sheet())
            .filter(x -> x != null)
            .count();
    if (named != 1) {
      throw Problem.malformed("", "Say whom to invite: one of personIds, group, unitId, sheet.");
    }
    boolean save = d.save() == null || d.save();
    List<String> members = d.group() == null ? null : directories.peopleOf(caller, d.group());
    Report report =
        database.call(
            tx -> {
              EnrollmentProfileRow profile = Invitations.profile(tx, d.profileId());
              List<Asked> asked =
                  d.sheet() != null
                      ? fromSheet(tx, d.sheet(), save)
                      : fromIds(tx, ids(tx, d, members));
              return invite(tx, caller, profile, d, asked, save);
            });
    if (save) {
      events.touch("invitations");
      events.touch("people");
    }
    return report;
  }

  private static List<String> ids(Tx tx, Draft d, @Nullable List<String> members) {
    if (members != null) {
      return members;
    }
    if (d.personIds() != null) {
      return d.personIds();
    }
    return tx
        .rows(
            "select id, 1 from person where unit_id in"
                + " (select unit_id from unit_within where ancestor_id = :u)"
                + " order by lower(name) limit :l",
            Map.of("u", d.unitId(), "l", MOST + 1))
        .stream()
        .map(r -> (String) r[0])
        .toList();
  }

  private static List<Asked> fromIds(Tx tx, List<String> ids) {
    bounded(ids.size());
    Map<String, PersonRow> people = new HashMap<>();
    tx.list(PersonRow.class, "from PersonRow where id in :ids", Map.of("ids", ids), MOST)
        .forEach(p -> people.put(p.id, p));
    List<Asked> out = new ArrayList<>();
    for (String id : ids) {
      PersonRow p = people.get(id);
      out.add(
          p == null
              ? new Asked(out.size() + 1, id, null, null, "there is no such person")
              : new Asked(out.size() + 1, p.name, p.id, p.mail, ""));
    }
    return out;
  }

  private static void bounded(int n) {
    if (n == 0) {
      throw Problem.malformed("", "There is nobody to invite.");
    }
    if (n > MOST) {
      throw Problem.malformed("", "At most 2000 people are invited at once; split them.");
    }
  }

  private List<Asked> fromSheet(Tx tx, String sheet, boolean save) {
    List<CSVRecord> records;
    Map<String, Integer> columns;
    CSVFormat format =
        CSVFormat.RFC4180
            .builder()
            .setHeader()
            .setSkipHeaderRecord(true)
            .setIgnoreHeaderCase(true)
            .setTrim(true)
            .setIgnoreEmptyLines(true)
            .setDelimiter(sheet.lines().findFirst().orElse("").contains(";") ? ";" : ",")
            .get();
    try (CSVParser parser = CSVParser.parse(new StringReader(sheet), format)) {
      records = parser.getRecords();
      columns = parser.getHeaderMap();
    } catch (IOException | IllegalArgumentException | java.io.UncheckedIOException e) {
      throw Problem.malformed("/sheet", "This is not a sheet of comma-separated values.");
    }
    Set<String> known = new HashSet<>();
    columns.keySet().forEach(k -> known.add(k.toLowerCase(Locale.ROOT)));
    if (!known.contains("login") && !known.contains("mail")) {
      throw Problem.malformed(
          "/sheet", "The first line has to name the columns; login or mail has to be among them.");
    }
    bounded(records.size());
    List<Asked> out = new ArrayList<>();
    for (CSVRecord r : records) {
      out.add(
          asked(
              tx,
              (int) r.getRecordNumber() + 1,
              cell(r, "login").toLowerCase(Locale.ROOT),
              cell(r, "mail"),
              cell(r, "name"),
              save));
    }
    return out;
  }

  private static String cell(CSVRecord r, String column) {
    return r.isMapped(column) && r.isSet(column) ? r.get(column).strip() : "";
  }

  private Asked asked(Tx tx, int line, String login, String mail, String name, boolean save) {
    String who = !name.isEmpty() ? name : !login.isEmpty() ? login : mail;
    List<PersonRow> found =
        tx.list(
            PersonRow.class,
            "from PersonRow where login = :l or lower(mail) = :m order by id",
            Map.of(
                "l", login.isEmpty() ? NOBODY : login,
                "m", mail.isEmpty() ? NOBODY : mail.toLowerCase(Locale.ROOT)),
            2);
    if (found.size() > 1) {
      return new Asked(line, who, null, null, "login and mail belong to different people");
    }
    if (!found.isEmpty()) {
      PersonRow p = found.get(0);
      return new Asked(line, p.name, p.id, p.mail == null && !mail.isEmpty() ? mail : p.mail, "");
    }
    if (name.isEmpty() || !mail.matches("[^@\\s]{1,64}@[^@\\s]{1,190}")) {
      return new Asked(
          line, who, null, null, "nobody on file has this login or mail; give name and mail");
    }
    if (!save) {
      return new Asked(line, name, "new", mail, "");
    }
    PersonRow p = new PersonRow();
    p.id = UlidCreator.getMonotonicUlid().toString();
    p.name = name;
    p.login = login.isEmpty() ? null : login;
    p.mail = mail;
    p.createdAt = clock.instant();
    tx.insert(p);
    tx.flush();
    return new Asked(line, name, p.id, mail, "");
  }

  private Report invite(
      Tx tx,
      Caller caller,
      EnrollmentProfileRow profile,
      Draft d,
      List<Asked> asked,
      boolean save) {
    boolean mail = Boolean.TRUE.equals(d.mail());
    Set<String> invited = new HashSet<>();
    tx.rows(
            "select distinct person_id, 1 from invitation where profile_id = :p"
                + " and person_id is not null and withdrawn_at is null and expires_at > :now"
                + " and uses < uses_allowed",
            Map.of("p", profile.id, "now", clock.instant()))
        .forEach(r -> invited.add((String) r[0]));
    List<Row> rows = new ArrayList<>();
    int made = 0;
    for (Asked a : asked) {
      String fault = a.fault();
      if (fault.isEmpty() && mail && a.mail() == null) {
        fault = "has no mail address";
      }
      if (fault.isEmpty() && !"new".equals(a.personId()) && !invited.add(a.personId())) {
        fault = "has an open invitation to " + profile.name + " already";
      }
      if (fault.isEmpty()) {
        made++;
        if (save) {
          invitations.make(
              tx,
              caller,
              profile,
              new Invitations.Draft(
                  profile.id, 1, d.expiresInMinutes(), d.note(), a.personId(), mail));
        }
      }
      rows.add(
          new Row(
              a.line(),
              a.who(),
              Optional.ofNullable(a.mail()),
              Optional.of(fault).filter(f -> !f.isEmpty())));
    }
    if (save && made > 0) {
      journal.write(
          tx,
          caller,
          "invitation.made",
          "enrollment-profile:" + profile.id,
          made + " people invited to " + profile.name);
    }
    return new Report(save, made, rows.size() - made, rows);
  }
}
