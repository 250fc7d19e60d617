package dev.pinwright.service.directory;

import static dev.pinwright.service.Node.FIRST;
import static dev.pinwright.service.Node.OWNER;
import static dev.pinwright.service.Node.READER;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.unboundid.ldap.listener.InMemoryDirectoryServer;
import com.unboundid.ldap.listener.InMemoryDirectoryServerConfig;
import com.unboundid.ldap.listener.InMemoryListenerConfig;
import com.unboundid.ldap.sdk.LDAPException;
import dev.pinwright.core.gateway.Linked;
import dev.pinwright.core.organisation.Person;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.protocol.pki.Pki.Identity;
import dev.pinwright.service.Node;
import dev.pinwright.service.directory.HolderSignIn.Proof;
import dev.pinwright.service.house.Connections;
import dev.pinwright.service.organisation.People;
import dev.pinwright.service.organisation.Units;
import dev.pinwright.service.work.Problem;
import java.net.InetAddress;
import java.security.KeyStore;
import java.security.cert.X509Certificate;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import javax.net.ssl.KeyManagerFactory;
import javax.net.ssl.SSLContext;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

class DirectoriesTest {
  private static final String BASE = "dc=vellmar,dc=example";
  private static final String READS = "cn=pinwright," + BASE;
  private Node node;
  private InMemoryDirectoryServer server;
  private String rootPem;
  private Directories directories;

  @BeforeEach
  void start() throws Exception {
    node = new Node();
    directories = node.pinwright.directories();
    Instant now = Instant.now();
    Identity root =
        Pki.newRoot("Directory root", now.minus(Duration.ofDays(1)), now.plus(Duration.ofDays(9)));
    rootPem = Pki.pem(root.certificate());
    Identity host =
        Pki.newServer(
            root,
            List.of("127.0.0.1"),
            now.minus(Duration.ofDays(1)),
            now.plus(Duration.ofDays(9)));
    KeyStore store = KeyStore.getInstance("PKCS12");
    store.load(null, null);
    store.setKeyEntry(
        "host",
        host.key(),
        new char[0],
        new X509Certificate[] {host.certificate(), root.certificate()});
    KeyManagerFactory keys = KeyManagerFactory.getInstance("PKIX");
    keys.init(store, new char[0]);
    SSLContext tls = SSLContext.getInstance("TLS");
    tls.init(keys.getKeyManagers(), null, null);
    InMemoryDirectoryServerConfig config = new InMemoryDirectoryServerConfig(BASE);
    config.setListenerConfigs(
        InMemoryListenerConfig.createLDAPConfig("plain", InetAddress.getLoopbackAddress(), 0, null),
        InMemoryListenerConfig.createLDAPSConfig(
            "tls", InetAddress.getLoopbackAddress(), 0, tls.getServerSocketFactory(), null));
    config.addAdditionalBindCredentials(READS, "reads");
    server = new InMemoryDirectoryServer(config);
    server.add("dn: " + BASE, "objectClass: top", "objectClass: domain", "dc: vellmar");
    person("Ines", "Ines Orrin", "VM-HAR", "by the quay");
    person("bo", "Bo Skarnes", "VM-FAR", "on the ridge");
    server.add(
        "dn: cn=office," + BASE,
        "objectClass: top",
        "objectClass: groupOfNames",
        "cn: office",
        "member: uid=ines, " + BASE);
    server.startListening();
    node.pinwright.units().add(OWNER, new Units.Draft("VM-HAR", "Harbour", null));
  }

  private void person(String uid, String name, String unit, String password) throws Exception {
    server.add(
        "dn: uid=" + uid + "," + BASE,
        "objectClass: top",
        "objectClass: person",
        "objectClass: organizationalPerson",
        "objectClass: inetOrgPerson",
        "uid: " + uid,
        "cn: " + name,
        "sn: " + name,
        "mail: " + uid.toLowerCase() + "@vellmar.example",
        "departmentNumber: " + unit,
        "userPassword: " + password);
  }

  @AfterEach
  void stop() {
    server.shutDown(true);
    node.close();
  }

  private void connect() {
    connect("ldap://127.0.0.1:" + server.getListenPort("plain"), "reads", "");
  }

  private void connect(String address, String password, String roots) {
    directories.connect(
        OWNER,
        node.pinwright.connections().directory(READER).version(),
        new Connections.DirectoryDraft(address, BASE, READS, password, null, roots));
  }

  private List<Person> people() {
    return node.pinwright.people().page(READER, "", "", false, List.of(), FIRST).items();
  }

  @Test
  void itIsTriedBeforeItIsKeptAndThePasswordIsNeverShown() {
    assertThatThrownBy(
            () -> connect("ldap://127.0.0.1:" + server.getListenPort("plain"), "wrong", ""))
        .hasMessageContaining("does not accept the name and password");
    assertThatThrownBy(() -> connect("ldap://127.0.0.1:1", "reads", ""))
        .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.status()).isEqualTo(502));
    assertThatThrownBy(() -> connect("http://x", "reads", "")).hasMessageContaining("ldaps://");
    assertThat(node.pinwright.connections().directory(READER).state()).isEqualTo(Linked.MISSING);
    assertThat(directories.groups(READER)).as("none without a directory").isEmpty();
    connect();
    assertThat(node.pinwright.connections().directory(READER))
        .satisfies(
            c -> {
              assertThat(c.secretKept()).isTrue();
              assertThat(c.toString()).doesNotContain("reads\"");
            });
    assertThat(directories.groups(READER)).containsExactly("office");
  }

  @Test
  void overTlsOnlyARootThatVouchesForItIsTrusted() {
    String address = "ldaps://127.0.0.1:" + server.getListenPort("tls");
    assertThatThrownBy(() -> connect(address, "reads", ""))
        .as("the system does not know this root")
        .isInstanceOf(Problem.class);
    connect(address, "reads", rootPem);
    assertThat(directories.sync(OWNER, Optional.empty()).found()).isEqualTo(2);
  }

  @Test
  void peopleComeWithTheirUnitsAndAreChangedInPlace() throws Exception {
    connect();
    node.pinwright.people().add(OWNER, new People.Draft("Bo", "bo", null, null, null));
    Directories.Synced first = directories.sync(OWNER, Optional.empty());
    assertThat(List.of(first.added(), first.changed())).containsExactly(1, 1);
    assertThat(first.unknownUnits()).containsExactly("VM-FAR");
    assertThat(people())
        .extracting(p -> p.name() + " " + p.login().orElse("") + " " + p.unit().orElse("-"))
        .containsExactly("Bo Skarnes bo -", "Ines Orrin ines VM-HAR");
    Directories.Synced again = directories.sync(OWNER, Optional.empty());
    assertThat(List.of(again.added(), again.changed())).containsExactly(0, 0);
    server.modify(
        "dn: uid=ines," + BASE, "changetype: modify", "replace: cn", "cn: Ines Orrin-Holm");
    assertThat(directories.sync(OWNER, Optional.empty()).changed()).isEqualTo(1);
    node.clock.pass(Duration.ofHours(1));
    server.delete("uid=bo," + BASE);
    assertThat(directories.sync(OWNER, Optional.empty()).gone()).isEqualTo(1);
    assertThat(people()).as("who left stays on file").hasSize(2);
  }

  @Test
  void aHolderIsProvedByTheirOwnPasswordAndGroup() throws LDAPException {
    assertThat(directories.prove("ines", "by the quay", "").fault())
        .hasValueSatisfying(f -> assertThat(f).contains("no staff directory"));
    connect();
    Proof ines = directories.prove("ines", "by the quay", "office");
    assertThat(ines.right()).isTrue();
    assertThat(ines.personId()).contains(people().get(0).id());
    assertThat(directories.prove("ines", "wrong", "")).isEqualTo(Proof.WRONG);
    assertThat(directories.prove("nobody", "x", "")).isEqualTo(Proof.WRONG);
    assertThat(directories.prove("*", "by the quay", ""))
        .as("a star is no login")
        .isEqualTo(Proof.WRONG);
    assertThat(directories.prove("bo", "on the ridge", "office").fault())
        .hasValueSatisfying(f -> assertThat(f).contains("does not belong to the group office"));
    assertThat(directories.prove("bo", "on the ridge", "").right()).isTrue();
    assertThat(directories.peopleOf(OWNER, "office")).hasSize(1);
    assertThatThrownBy(() -> directories.peopleOf(OWNER, "cellar"))
        .hasMessageContaining("no group cellar");
  }

  @Test
  void oneThatIsDownIsSaidToBeAndComesBackByItself() throws Exception {
    connect();
    server.shutDown(true);
    assertThat(directories.prove("ines", "by the quay", "").fault())
        .hasValueSatisfying(f -> assertThat(f).contains("cannot be reached at the moment"));
    assertThat(node.pinwright.connections().directory(READER).state()).isEqualTo(Linked.FAILING);
    directories.syncQuietly();
    node.clock.pass(Duration.ofMinutes(5));
    int port = Integer.parseInt(address().replaceAll(".*:", ""));
    assertThat(port).isPositive();
    assertThatThrownBy(() -> directories.sync(OWNER, Optional.empty()))
        .hasMessageContaining("cannot be reached");
  }

  private String address() {
    return node.pinwright.connections().directory(READER).settings().orElseThrow().address();
  }

  @Test
  void theKeptPasswordGoesNowhereElse() {
    connect();
    assertThatThrownBy(() -> connect("ldap://127.0.0.1:1", "", ""))
        .hasMessageContaining("type the password again");
    assertThatThrownBy(
            () -> connect("ldap://127.0.0.1:" + server.getListenPort("plain"), "", rootPem))
        .hasMessageContaining("type the password again");
    connect("ldap://127.0.0.1:" + server.getListenPort("plain"), "", "");
  }

  private Person called(String login) {
    return people().stream()
        .filter(p -> p.login().filter(login::equals).isPresent())
        .findFirst()
        .orElseThrow();
  }

  @Test
  void whoIsMovedOrRenamedInTheDirectoryStaysWhoTheyAre() throws Exception {
    connect();
    directories.sync(OWNER, Optional.empty());
    String ines = called("ines").id();
    server.add("dn: ou=quay," + BASE, "objectClass: organizationalUnit", "ou: quay");
    server.modifyDN("uid=Ines," + BASE, "uid=ines.orrin", true, "ou=quay," + BASE);
    assertThat(directories.sync(OWNER, Optional.empty()).added()).isZero();
    assertThat(called("ines.orrin").id()).isEqualTo(ines);
  }

  @Test
  void whoGetsTheLoginOfSomebodyWhoLeftDoesNotGetTheirDevices() throws Exception {
    connect();
    directories.sync(OWNER, Optional.empty());
    String before = called("ines").id();
    node.clock.pass(Duration.ofHours(1));
    server.delete("uid=Ines," + BASE);
    person("Ines", "Ines Quayle", "VM-HAR", "another");
    Proof proof = directories.prove("ines", "another", "");
    assertThat(proof.personId()).isPresent().get().isNotEqualTo(before);
    assertThat(directories.sync(OWNER, Optional.empty()).gone()).isEqualTo(1);
    assertThat(node.pinwright.people().get(READER, before))
        .satisfies(p -> assertThat(p.login()).isEmpty())
        .satisfies(p -> assertThat(p.leftAt()).isPresent());
  }

  @Test
  void twoWhoSwapTheirLoginsStayWhoTheyAre() throws Exception {
    connect();
    directories.sync(OWNER, Optional.empty());
    String ines = called("ines").id();
    server.modifyDN("uid=Ines," + BASE, "uid=x", true);
    server.modifyDN("uid=bo," + BASE, "uid=ines", true);
    server.modifyDN("uid=x," + BASE, "uid=bo", true);
    directories.sync(OWNER, Optional.empty());
    assertThat(called("bo").id()).isEqualTo(ines);
  }

  @Test
  void manyWhoAreMissingLeaveOnlyWhenSomebodySaysSo() throws Exception {
    for (int i = 0; i < 20; i++) {
      person("p" + i, "Person " + i, "VM-HAR", "x");
    }
    connect();
    directories.sync(OWNER, Optional.empty());
    String code = node.invite("{\"name\":\"Staff\",\"signIn\":\"directory\"}", 1);
    assertThat(code).isNotEmpty();
    node.clock.pass(Duration.ofHours(1));
    for (int i = 0; i < 6; i++) {
      server.delete("uid=p" + i + "," + BASE);
    }
    Directories.Synced asks = directories.sync(OWNER, Optional.empty());
    assertThat(asks.leaving()).hasValue(6L);
    assertThat(asks.examples())
        .containsExactly("Person 0", "Person 1", "Person 2", "Person 3", "Person 4");
    assertThat(left()).isEmpty();
    directories.syncQuietly();
    assertThat(node.pinwright.connections().directory(READER).state()).isEqualTo(Linked.FAILING);
    assertThat(directories.sync(OWNER, Optional.of(5L)).leaving()).hasValue(6L);
    assertThat(directories.sync(OWNER, Optional.of(6L)).leaving()).isEmpty();
    assertThat(left()).hasSize(6);
    person("p0", "Person 0", "VM-HAR", "x");
    directories.sync(OWNER, Optional.empty());
    assertThat(left()).as("one is another entry, and nobody comes back as them").hasSize(6);
  }

  private List<Person> left() {
    return node.pinwright.people().page(READER, "", "", true, List.of(), FIRST).items();
  }
}
