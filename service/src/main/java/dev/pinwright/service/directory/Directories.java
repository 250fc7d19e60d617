package dev.pinwright.service.directory;

import com.unboundid.ldap.sdk.DN;
import com.unboundid.ldap.sdk.LDAPException;
import com.unboundid.ldap.sdk.ResultCode;
import dev.pinwright.core.Words;
import dev.pinwright.service.directory.DirectoryLine.Entry;
import dev.pinwright.service.directory.HolderSignIn.Proof;
import dev.pinwright.service.directory.HolderSignIn.StaffDirectory;
import dev.pinwright.service.house.Connections;
import dev.pinwright.service.house.Connections.Directory;
import dev.pinwright.service.house.Connections.Kept;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.organisation.DirectoryStore;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** The staff directory in use. One that is down is said to be, and stops nothing else. */
public final class Directories implements StaffDirectory {
  private static final Logger LOG = LoggerFactory.getLogger(Directories.class);
  private final UseCases useCases;
  private final Connections connections;

  public Directories(UseCases useCases, Connections connections) {
    this.useCases = useCases;
    this.connections = connections;
  }

  /**
   * What a reading brought.
   *
   * @param unknownUnits codes the directory has and this organisation has not
   * @param gone people who came from the directory and are in it no longer; they stay on file
   * @param leaving how many would be said to have left, when that has to be confirmed first: it is
   *     more than a tenth of all
   * @param examples some of them, by name
   */
  public record Synced(
      int found,
      int added,
      int changed,
      long gone,
      List<String> unknownUnits,
      Optional<Long> leaving,
      List<String> examples) {}

  /** Of how many of ten, at most, it is believed unasked that they left. */
  private static final int BELIEVED_OF_TEN = 1;

  /** So many leave unasked, however few people there are. */
  private static final long BELIEVED = 5;

  private static final int EXAMPLES = 5;

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
  public Connections.Shown<Directory> connect(
      Caller caller, int version, Connections.DirectoryDraft draft) {
    Directory d = Connections.checked(draft);
    String typed = draft.password() == null ? "" : draft.password();
    String password =
        Connections.secret(
            connections.directory(), typed, d, k -> List.of(k.address(), k.login(), k.roots()));
    try {
      with(d, password, DirectoryLine::groups);
    } catch (LDAPException e) {
      throw failed(e);
    } catch (IllegalArgumentException e) {
      throw Problem.malformed("/roots", "These are not certificates in PEM.");
    }
    connections.keep(caller, "directory", version, d, typed);
    return connections.directory(caller);
  }

  /** Names of the groups the directory has; none without a directory. */
  public List<String> groups(Caller caller) {
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
        useCases.act(
            Caller.SERVICE,
            act -> {
              keep(act, List.of(entry.get()));
              return new DirectoryStore(act.tx()).ids(List.of(entry.get().key()));
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
    return useCases.act(
        caller,
        act -> {
          keep(act, members);
          return List.copyOf(
              new DirectoryStore(act.tx()).ids(members.stream().map(Entry::key).toList()).values());
        });
  }

  /** Brings everybody again, when there is a directory; run now and then. */
  public void syncQuietly() {
    if (connections.directory().isPresent()) {
      try {
        Synced read = sync(Caller.SERVICE, Optional.empty());
        read.leaving()
            .ifPresent(
                n ->
                    connections.worked(
                        "directory",
                        Optional.of(
                            Words.counted(n, "person is", "people are")
                                + " missing in the directory; read it by hand and say"
                                + " whether they left.")));
      } catch (Problem p) {
        LOG.warn("staff directory: {}", p.getMessage());
      }
    }
  }

  /**
   * Brings everybody from the directory, with their units. Who is not in it any more has left, and
   * what was open to them ends; where that is more than a tenth of all, their number has to be
   * repeated first: a directory that was moved or read with other rights is no reason to let
   * everybody go.
   */
  public Synced sync(Caller caller, Optional<Long> confirmLeaving) {
    List<Entry> all = new ArrayList<>();
    asked(
        line -> {
          line.everybody(all::addAll);
          return all;
        });
    return useCases.act(
        caller,
        act -> {
          DirectoryStore.Kept n = keep(act, all);
          DirectoryStore store = new DirectoryStore(act.tx());
          if (n.added() + n.changed() > 0) {
            act.done(
                Noun.DIRECTORY,
                "read",
                Noun.CONNECTION,
                "directory",
                Words.counted(n.added(), "person", "people")
                    + " added and "
                    + n.changed()
                    + " changed from the directory");
          }
          act.touch(Noun.PERSON);
          DirectoryStore.Gone gone = store.gone(act.now());
          boolean believed =
              gone.leaving() <= Math.max(BELIEVED, gone.known() * BELIEVED_OF_TEN / 10)
                  || confirmLeaving.filter(c -> c == gone.leaving()).isPresent();
          List<String> examples = believed ? List.of() : store.leaving(act.now(), EXAMPLES);
          if (believed && gone.leaving() > 0) {
            store.leave(act.now());
            act.done(
                Noun.DIRECTORY,
                "left",
                Noun.CONNECTION,
                "directory",
                Words.counted(gone.leaving(), "person is", "people are")
                    + " in the directory no longer");
            act.touch(Noun.INVITATION);
          }
          return new Synced(
              all.size(),
              n.added(),
              n.changed(),
              gone.left(),
              store.unknownUnits(all.stream().map(Entry::unit).toList()),
              believed ? Optional.empty() : Optional.of(gone.leaving()),
              examples);
        });
  }

  /** Keeps those who can be told from each other: who shares a login with somebody is left out. */
  private static DirectoryStore.Kept keep(UseCases.Act act, List<Entry> found) {
    Map<String, Long> logins =
        found.stream().collect(Collectors.groupingBy(Entry::login, Collectors.counting()));
    return new DirectoryStore(act.tx())
        .keep(
            found.stream()
                .filter(e -> !e.login().isEmpty() && logins.get(e.login()) == 1)
                .map(
                    e ->
                        new DirectoryStore.Listed(
                            act.newId(),
                            e.key(),
                            e.name().isEmpty() ? e.login() : e.name(),
                            e.login(),
                            e.mail(),
                            e.unit()))
                .toList(),
            act.now());
  }
}
