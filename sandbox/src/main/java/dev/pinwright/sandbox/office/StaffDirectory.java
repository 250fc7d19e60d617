package dev.pinwright.sandbox.office;

import com.unboundid.ldap.listener.InMemoryDirectoryServer;
import com.unboundid.ldap.listener.InMemoryDirectoryServerConfig;
import com.unboundid.ldap.listener.InMemoryListenerConfig;
import com.unboundid.ldap.sdk.Attribute;
import com.unboundid.ldap.sdk.Entry;
import com.unboundid.ldap.sdk.LDAPException;
import com.unboundid.ldif.LDIFWriter;
import dev.pinwright.sandbox.file.PrivateFiles;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;

/** A directory server (LDAP, RFC 4511) with people as {@code inetOrgPerson} (RFC 2798). */
public final class StaffDirectory implements AutoCloseable {
  /** Where everything is. */
  public static final String BASE = "dc=vellmar,dc=example";

  /** Who may search. */
  public static final String READER = "cn=pinwright," + BASE;

  /** The password of {@link #READER}. */
  public static final String READER_PASSWORD = "reads the staff list";

  private static final String PEOPLE = "ou=people," + BASE;
  private static final String GROUPS = "ou=groups," + BASE;
  private final InMemoryDirectoryServer server;
  private final Path file;

  /**
   * Starts it with the people it had, at first without any.
   *
   * @param port 0 takes any
   * @param file where people are kept (LDIF, RFC 2849)
   */
  public StaffDirectory(int port, Path file) {
    this.file = file;
    try {
      InMemoryDirectoryServerConfig config = new InMemoryDirectoryServerConfig(BASE);
      config.setListenerConfigs(
          InMemoryListenerConfig.createLDAPConfig(
              "staff", InetAddress.getLoopbackAddress(), port, null));
      config.addAdditionalBindCredentials(READER, READER_PASSWORD);
      server = new InMemoryDirectoryServer(config);
      if (Files.exists(file)) {
        server.importFromLDIF(true, file.toString());
      } else {
        empty();
      }
      server.startListening();
    } catch (LDAPException e) {
      throw new IllegalStateException("the staff directory cannot start", e);
    }
  }

  private void empty() throws LDAPException {
    server.add(
        new Entry(
            BASE, new Attribute("objectClass", "top", "domain"), new Attribute("dc", "vellmar")));
    for (String unit : List.of(PEOPLE, GROUPS)) {
      server.add(
          new Entry(
              unit,
              new Attribute("objectClass", "top", "organizationalUnit"),
              new Attribute("ou", unit.substring(3, unit.indexOf(',')))));
    }
  }

  private void keep() {
    ByteArrayOutputStream ldif = new ByteArrayOutputStream();
    act(() -> server.exportToLDIF(new LDIFWriter(ldif), false, true, true));
    try {
      Files.createDirectories(file.toAbsolutePath().getParent());
      PrivateFiles.replace(file, ldif.toByteArray());
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  /** Somebody of the staff; {@code unit} is the code of their unit. */
  public record Member(String login, String name, String mail, String unit, String password) {
    String dn() {
      return "uid=" + login + "," + PEOPLE;
    }
  }

  /** Puts people in who are not in yet. */
  public void add(List<Member> members) {
    for (Member m : members) {
      Entry e = new Entry(m.dn());
      e.addAttribute("objectClass", "top", "person", "organizationalPerson", "inetOrgPerson");
      e.addAttribute("uid", m.login());
      e.addAttribute("cn", m.name());
      e.addAttribute("sn", m.name().substring(m.name().lastIndexOf(' ') + 1));
      e.addAttribute("mail", m.mail());
      e.addAttribute("departmentNumber", m.unit());
      e.addAttribute("userPassword", m.password());
      put(e);
    }
    keep();
  }

  /** Makes a group of people who are in already, unless there is one of this name. */
  public void group(String name, List<Member> members) {
    Entry e = new Entry("cn=" + name + "," + GROUPS);
    e.addAttribute("objectClass", "top", "groupOfNames");
    e.addAttribute("cn", name);
    e.addAttribute(
        new Attribute("member", members.stream().map(Member::dn).toArray(String[]::new)));
    put(e);
    keep();
  }

  private void put(Entry e) {
    act(
        () -> {
          // who was in it before keeps their entryUUID (RFC 4530), by which others know them
          if (server.getEntry(e.getDN()) == null) {
            server.add(e);
          }
        });
  }

  private interface Work {
    void run() throws LDAPException;
  }

  private static void act(Work work) {
    try {
      work.run();
    } catch (LDAPException e) {
      throw new IllegalStateException(e.getMessage(), e);
    }
  }

  public String address() {
    return "ldap://127.0.0.1:" + server.getListenPort("staff");
  }

  /** Stops answering, as a directory that is down does. */
  public void down() {
    server.shutDown("staff", true);
  }

  /** Answers again. */
  public void up() {
    act(() -> server.startListening("staff"));
  }

  @Override
  public void close() {
    server.shutDown(true);
  }
}
