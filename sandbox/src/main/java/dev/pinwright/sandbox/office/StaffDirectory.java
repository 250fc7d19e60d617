package dev.pinwright.sandbox.office;

import com.unboundid.ldap.listener.InMemoryDirectoryServer;
import com.unboundid.ldap.listener.InMemoryDirectoryServerConfig;
import com.unboundid.ldap.listener.InMemoryListenerConfig;
import com.unboundid.ldap.sdk.Attribute;
import com.unboundid.ldap.sdk.Entry;
import com.unboundid.ldap.sdk.LDAPException;
import java.net.InetAddress;
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

  /** Starts it empty; a port of 0 takes any. */
  public StaffDirectory(int port) {
    try {
      InMemoryDirectoryServerConfig config = new InMemoryDirectoryServerConfig(BASE);
      config.setListenerConfigs(
          InMemoryListenerConfig.createLDAPConfig(
              "staff", InetAddress.getLoopbackAddress(), port, null));
      config.addAdditionalBindCredentials(READER, READER_PASSWORD);
      server = new InMemoryDirectoryServer(config);
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
      server.startListening();
    } catch (LDAPException e) {
      throw new IllegalStateException("the staff directory cannot start", e);
    }
  }

  /** Somebody of the staff; {@code unit} is the code of their unit. */
  public record Member(String login, String name, String mail, String unit, String password) {
    String dn() {
      return "uid=" + login + "," + PEOPLE;
    }
  }

  /** Puts people in. */
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
      act(() -> server.add(e));
    }
  }

  /** Makes a group of people who are in already. */
  public void group(String name, List<Member> members) {
    Entry e = new Entry("cn=" + name + "," + GROUPS);
    e.addAttribute("objectClass", "top", "groupOfNames");
    e.addAttribute("cn", name);
    e.addAttribute(
        new Attribute("member", members.stream().map(Member::dn).toArray(String[]::new)));
    act(() -> server.add(e));
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
