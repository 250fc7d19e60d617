package dev.pinwright.service.invitation;

import dev.pinwright.core.Words;
import dev.pinwright.service.directory.Directories;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.ManyLines;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.invitation.InvitationStore;
import dev.pinwright.storage.organisation.PersonStore;
import dev.pinwright.storage.row.EnrollmentProfileRow;
import dev.pinwright.storage.row.PersonRow;
import java.io.IOException;
import java.io.StringReader;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVRecord;
import org.jspecify.annotations.Nullable;

/** Invites many people at once, each with a code of their own. */
public final class BulkInvitations {
  private static final int MOST = 2_000;

  private final UseCases useCases;
  private final Invitations invitations;
  private final Directories directories;

  public BulkInvitations(UseCases useCases, Invitations invitations, Directories directories) {
    this.useCases = useCases;
    this.invitations = invitations;
    this.directories = directories;
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
    long named =
        Stream.of(d.personIds(), d.group(), d.unitId(), d.sheet()).filter(x -> x != null).count();
    if (named != 1) {
      throw Problem.malformed("", "Say whom to invite: one of personIds, group, unitId, sheet.");
    }
    boolean save = d.save() == null || d.save();
    List<String> members = d.group() == null ? null : directories.peopleOf(caller, d.group());
    return useCases.act(
        caller,
        act -> {
          EnrollmentProfileRow profile = Invitations.profile(act.tx(), d.profileId());
          List<Asked> asked =
              d.sheet() != null
                  ? fromSheet(act, d.sheet(), save)
                  : fromIds(act.tx(), ids(act.tx(), d, members));
          return invite(act, profile, d, asked, save);
        });
  }

  private static List<String> ids(Tx tx, Draft d, @Nullable List<String> members) {
    if (members != null) {
      return members;
    }
    if (d.personIds() != null) {
      return d.personIds();
    }
    return new PersonStore(tx).within(d.unitId(), MOST + 1);
  }

  private static List<Asked> fromIds(Tx tx, List<String> ids) {
    bounded(ids.size());
    Map<String, PersonRow> people = new HashMap<>();
    new PersonStore(tx).named(ids).forEach(p -> people.put(p.id, p));
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

  private List<Asked> fromSheet(UseCases.Act act, String sheet, boolean save) {
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
    List<PersonRow> people =
        new PersonStore(act.tx())
            .reachedBy(
                records.stream()
                    .flatMap(r -> Stream.of(cell(r, "login"), cell(r, "mail")))
                    .filter(c -> !c.isEmpty())
                    .distinct()
                    .toList());
    Map<String, PersonRow> byLogin = new HashMap<>();
    Map<String, PersonRow> byMail = new HashMap<>();
    people.forEach(p -> know(p, byLogin, byMail));
    List<Asked> out = new ArrayList<>();
    for (CSVRecord r : records) {
      out.add(
          asked(
              act,
              byLogin,
              byMail,
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

  private static void know(
      PersonRow p, Map<String, PersonRow> byLogin, Map<String, PersonRow> byMail) {
    if (p.login != null) {
      byLogin.put(p.login, p);
    }
    if (p.mail != null) {
      byMail.put(p.mail.toLowerCase(Locale.ROOT), p);
    }
  }

  private static Asked asked(
      UseCases.Act act,
      Map<String, PersonRow> byLogin,
      Map<String, PersonRow> byMail,
      int line,
      String login,
      String mail,
      String name,
      boolean save) {
    String who = !name.isEmpty() ? name : !login.isEmpty() ? login : mail;
    PersonRow hasLogin = byLogin.get(login);
    PersonRow hasMail = byMail.get(mail.toLowerCase(Locale.ROOT));
    if (hasLogin != null && hasMail != null && hasLogin != hasMail) {
      return new Asked(line, who, null, null, "login and mail belong to different people");
    }
    PersonRow there = hasLogin == null ? hasMail : hasLogin;
    if (there != null) {
      return new Asked(
          line,
          there.name,
          there.id,
          there.mail == null && !mail.isEmpty() ? mail : there.mail,
          "");
    }
    if (name.isEmpty() || !mail.matches("[^@\\s]{1,64}@[^@\\s]{1,190}")) {
      return new Asked(
          line, who, null, null, "nobody on file has this login or mail; give name and mail");
    }
    if (!save) {
      return new Asked(line, name, "new", mail, "");
    }
    PersonRow p = new PersonRow();
    p.id = act.newId();
    p.name = name;
    p.login = login.isEmpty() ? null : login;
    p.mail = mail;
    p.createdAt = act.now();
    act.tx().insert(p);
    know(p, byLogin, byMail);
    return new Asked(line, name, p.id, mail, "");
  }

  private Report invite(
      UseCases.Act act, EnrollmentProfileRow profile, Draft d, List<Asked> asked, boolean save) {
    boolean mail = Boolean.TRUE.equals(d.mail());
    Set<String> invited =
        new HashSet<>(new InvitationStore(act.tx()).invited(profile.id, act.now()));
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
              act,
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
      act.done(
          Noun.INVITATION,
          "made",
          Noun.ENROLLMENT_PROFILE,
          profile.id,
          Words.counted(made, "person", "people") + " invited to " + profile.name);
      act.touch(Noun.PERSON);
    }
    return new Report(save, made, rows.size() - made, rows);
  }
}
