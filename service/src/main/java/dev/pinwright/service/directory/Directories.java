package dev.pinwright.service.directory;

import com.github.f4b6a3.ulid.UlidCreator;
import com.unboundid.ldap.sdk.DN;
import com.unboundid.ldap.sdk.LDAPException;
import com.unboundid.ldap.sdk.ResultCode;
import dev.pinwright.service.directory.DirectoryLine.Entry;
import dev.pinwright.service.directory.HolderSignIn.Proof;
import dev.pinwright.service.directory.HolderSignIn.StaffDirectory;
import dev.pinwright.service.house.Connections;
import dev.pinwright.service.house.Connections.Directory;
import dev.pinwright.service.house.Connections.Kept;
import dev.pinwright.service.journal.Journal;
import dev.pinwright.service.live.Events;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Role;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** The staff directory in use. One that is down is said to be, and stops nothing else. */
public final class Directories implements StaffDirectory {
  private static final Logger LOG = LoggerFactory.getLogger(Directories.class);
  private final Database database;
  private final Connections connections;
  private final Journal journal;
  private final Events events;
  private final Clock clock;

  public Directories(
      Database database, Connections connections, Journal journal, Events events, Clock clock) {
    this.database = database;
    this.connections = connections;
    this.journal = journal;
    this.events = events;
    this.clock = clock;
  }

  /**
   * What a reading brought.
   *
   * @param unknownUnits codes the directory has and this organisation has not
   * @param gone people who came from the directory and are in it no longer; they stay on file
   */
  public record Synced(int found, int added, int changed, long gone, List<String> unknownUnits) {}

  private interface Work<T> {
    T on(DirectoryLine line) throws LDAPException;
  }

  private <T> T with(Directory directory, String password, Work<T> work) throws LDAPException {
    Database.outsideTransactions("the staff directory");
    try (DirectoryLine line = new DirectoryLine(directory, password)) {
      return work.on(line);
    }
  }

  private <T> T asked(Work<T> work) {
    Kept<Directory> kept =
        connections
            .directory()
            .orElseThrow(
                () ->
                    Problem.conflict(
                        "no-directory", "There is no staff directory; set one up in House."));
    try {
      T answer = with(kept.settings(), kept.secret(), work);
      connections.worked("directory", Optional.empty());
      return answer;
    } catch (LDAPException e) {
      connections.worked("directory", Optional.of(why(e)));
      throw failed(e);
    }
  }

  private static Problem failed(LDAPException e) {
    return new Problem(502, "directory-failed", "The staff directory failed", why(e));
  }

  private static String why(LDAPException e) {
    if (e.getResultCode() == ResultCode.INVALID_CREDENTIALS) {
      return "The directory does not accept the name and password it is searched with.";
    }
    return e.getResultCode() == ResultCode.CONNECT_ERROR
            || e.getResultCode() == ResultCode.SERVER_DOWN
        ? "The directory cannot be reached."
        : "The directory answered: " + e.getMessage();
  }

  /**
   * Sets the directory up, signing in to try it.
   *
   * @throws Problem 400 for a draft that cannot be right, 502 when the directory does not answer
   */
  public Connections.Shown<Directory> connect(Caller caller, Connections.DirectoryDraft draft) {
    caller.needs(Role.OWNER);
    Directory d = Connections.checked(draft);
    String typed = draft.password() == null ? "" : draft.password();
    String password =
        typed.isEmpty() ? connections.directory().map(Kept::secret).orElse("") : typed;
    try {
      with(d, password, DirectoryLine::groups);
    } catch (LDAPException e) {
      throw failed(e);
    } catch (IllegalArgumentException e) {
      throw Problem.malformed("/roots", "These are not certificates in PEM.");
    }
    connections.keep(caller, "directory", d, typed);
    return connections.directory(caller);
  }

  /** Names of the groups the directory has; none without a directory. */
  public List<String> groups(Caller caller) {
    caller.needs(Role.READER);
    if (connections.directory().isEmpty()) {
      return List.of();
    }
    return asked(DirectoryLine::groups);
  }

  @Override
  public Proof prove(String login, String password, String group) {
    Optional<Kept<Directory>> kept = connections.directory();
    if (kept.isEmpty()) {
      return Proof.not("there is no staff directory to sign in with; ask your administrator");
    }
    Proof proof;
    try {
      proof =
          with(
              kept.get().settings(),
              kept.get().secret(),
              line -> prove(line, login, password, group));
    } catch (LDAPException e) {
      LOG.warn("the staff directory failed: {}", e.getMessage());
      connections.worked("directory", Optional.of(why(e)));
      return Proof.not("the staff directory cannot be reached at the moment; try again later");
    }
    connections.worked("directory", Optional.empty());
    return proof;
  }

  private Proof prove(DirectoryLine line, String login, String password, String group)
      throws LDAPException {
    Optional<Entry> entry = line.person(login);
    if (entry.isEmpty() || !line.knows(entry.get().dn(), password)) {
      return Proof.WRONG;
    }
    if (!group.isEmpty() && !isMember(line.members(group), entry.get().dn())) {
      return Proof.not(entry.get().login() + " does not belong to the group " + group);
    }
    Map<String, String> byKey =
        database.call(
            tx -> {
              keep(tx, List.of(entry.get()), clock.instant());
              return ids(tx, List.of(entry.get()));
            });
    return new Proof(true, Optional.ofNullable(byKey.get(entry.get().key())), Optional.empty());
  }

  private static boolean isMember(List<String> members, String dn) throws LDAPException {
    DN own = new DN(dn);
    for (String m : members) {
      if (DN.isValidDN(m) && new DN(m).equals(own)) {
        return true;
      }
    }
    return false;
  }

  /** People of a directory group who are on file, by id; they are put on file first. */
  public List<String> peopleOf(Caller caller, String group) {
    caller.needs(Role.OPERATOR);
    List<Entry> members =
        asked(
            line -> {
              List<String> dns = line.members(group);
              if (dns.isEmpty()) {
                throw Problem.malformed(
                    "/group", "The directory has no group " + group + ", or nobody is in it.");
              }
              List<Entry> all = new ArrayList<>();
              line.everybody(all::addAll);
              List<Entry> in = new ArrayList<>();
              for (Entry e : all) {
                if (isMember(dns, e.dn())) {
                  in.add(e);
                }
              }
              return in;
            });
    return database.call(
        tx -> {
          keep(tx, members, clock.instant());
          return List.copyOf(ids(tx, members).values());
        });
  }

  /** Brings everybody from the directory, with their units. */
  public Synced sync(Caller caller) {
    caller.needs(Role.OPERATOR);
    return sync(caller.login());
  }

  /** Brings everybody again, when there is a directory; run now and then. */
  public void syncQuietly() {
    if (connections.directory().isPresent()) {
      try {
        sync("pinwright");
      } catch (Problem p) {
        LOG.warn("staff directory: {}", p.getMessage());
      }
    }
  }

  private Synced sync(String actor) {
    List<Entry> all = new ArrayList<>();
    asked(
        line -> {
          line.everybody(all::addAll);
          return all;
        });
    Synced synced =
        database.call(
            tx -> {
              Instant now = clock.instant();
              int[] n = keep(tx, all, now);
              long gone =
                  tx.value(
                      "select count(*) from person where directory_key is not null"
                          + " and synced_at < :now",
                      Long.class,
                      Map.of("now", now));
              List<String> unknown =
                  tx
                      .rows(
                          "select distinct c, 1 from unnest(cast(:c as text[])) t(c) where c <> ''"
                              + " and not exists (select 1 from unit where code = c) order by c",
                          Map.of("c", column(all, Entry::unit)))
                      .stream()
                      .map(r -> (String) r[0])
                      .toList();
              if (n[0] + n[1] > 0) {
                journal.write(
                    tx,
                    actor,
                    "directory.read",
                    "connection:directory",
                    n[0] + " people added and " + n[1] + " changed from the directory");
              }
              return new Synced(all.size(), n[0], n[1], gone, unknown);
            });
    events.touch("people");
    return synced;
  }

  private static String[] column(List<Entry> entries, Function<Entry, String> field) {
    return entries.stream().map(field).toArray(String[]::new);
  }

  /** Writes entries as people; the numbers of those added and changed. */
  private static int[] keep(Tx tx, List<Entry> found, Instant now) {
    List<Entry> entries = found.stream().filter(e -> !e.login().isEmpty()).toList();
    Map<String, Object> p = new HashMap<>();
    p.put("key", column(entries, Entry::key));
    p.put("name", column(entries, e -> e.name().isEmpty() ? e.login() : e.name()));
    p.put("login", column(entries, Entry::login));
    p.put("mail", column(entries, Entry::mail));
    p.put("unit", column(entries, Entry::unit));
    p.put("id", column(entries, e -> UlidCreator.getMonotonicUlid().toString()));
    p.put("now", now);
    String from =
        """
          from unnest(cast(:key as text[]), cast(:name as text[]), cast(:login as text[]),
                      cast(:mail as text[]), cast(:unit as text[]), cast(:id as text[]))
               e(key, name, login, mail, code, id)
          left join unit u on u.code = e.code
        """;
    int changed =
        tx.execute(
            "update person p set name = e.name, mail = nullif(e.mail, ''), login = e.login,"
                + " unit_id = coalesce(u.id, p.unit_id), directory_key = e.key,"
                + " version = p.version + 1, synced_at = :now"
                + from
                + " where (p.directory_key = e.key or p.directory_key is null and p.login = e.login)"
                + " and (p.name, coalesce(p.mail, ''), p.login, p.directory_key,"
                + " coalesce(u.id, p.unit_id)) is distinct from"
                + " (e.name, e.mail, e.login, e.key, p.unit_id)",
            p);
    tx.execute("update person p set synced_at = :now" + from + " where p.directory_key = e.key", p);
    int added =
        tx.execute(
            "insert into person (id, version, name, login, mail, unit_id, created_at,"
                + " directory_key, synced_at)"
                + " select e.id, 0, e.name, e.login, nullif(e.mail, ''), u.id, :now, e.key, :now"
                + from
                + " where not exists (select 1 from person p where p.directory_key = e.key"
                + " or p.login = e.login) on conflict do nothing",
            p);
    return new int[] {added, changed};
  }

  private static Map<String, String> ids(Tx tx, List<Entry> entries) {
    Map<String, String> out = new HashMap<>();
    tx.rows(
            "select directory_key, id from person where directory_key = any(cast(:k as text[]))",
            Map.of("k", column(entries, Entry::key)))
        .forEach(r -> out.put((String) r[0], (String) r[1]));
    return out;
  }
}
