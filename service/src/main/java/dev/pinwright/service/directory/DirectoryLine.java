package dev.pinwright.service.directory;

import com.unboundid.asn1.ASN1OctetString;
import com.unboundid.ldap.sdk.Filter;
import com.unboundid.ldap.sdk.LDAPConnection;
import com.unboundid.ldap.sdk.LDAPConnectionOptions;
import com.unboundid.ldap.sdk.LDAPException;
import com.unboundid.ldap.sdk.LDAPSearchException;
import com.unboundid.ldap.sdk.LDAPURL;
import com.unboundid.ldap.sdk.ResultCode;
import com.unboundid.ldap.sdk.SearchRequest;
import com.unboundid.ldap.sdk.SearchResult;
import com.unboundid.ldap.sdk.SearchResultEntry;
import com.unboundid.ldap.sdk.SearchScope;
import com.unboundid.ldap.sdk.controls.SimplePagedResultsControl;
import com.unboundid.util.ssl.AggregateTrustManager;
import com.unboundid.util.ssl.HostNameSSLSocketVerifier;
import com.unboundid.util.ssl.SSLUtil;
import dev.pinwright.protocol.pki.Chains;
import dev.pinwright.service.house.Connections.Directory;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.security.cert.X509Certificate;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import javax.net.ssl.TrustManagerFactory;
import org.jspecify.annotations.Nullable;

/** A connection to the staff directory (LDAP, RFC 4511), signed in as the one that may search. */
final class DirectoryLine implements AutoCloseable {
  private static final int PAGE = 500;
  private static final int PATIENCE_MILLIS = 5_000;
  private final Directory directory;
  private final LDAPConnection connection;

  /**
   * Someone the directory knows.
   *
   * @param key what they are known by whatever they are called and wherever they stand: the entry's
   *     UUID (RFC 4530), or their login in a directory that gives none
   * @param unit code of the unit, or empty
   */
  record Entry(String key, String dn, String name, String login, String mail, String unit) {}

  /**
   * Connects and signs in.
   *
   * @throws LDAPException when the directory cannot be reached or does not accept the password
   */
  DirectoryLine(Directory directory, String password) throws LDAPException {
    this.directory = directory;
    connection = open(directory);
    try {
      if (!directory.login().isEmpty()) {
        connection.bind(directory.login(), password);
      }
    } catch (LDAPException e) {
      connection.close();
      throw e;
    }
  }

  private static LDAPConnection open(Directory directory) throws LDAPException {
    LDAPURL url = new LDAPURL(directory.address());
    LDAPConnectionOptions options = new LDAPConnectionOptions();
    options.setConnectTimeoutMillis(PATIENCE_MILLIS);
    options.setResponseTimeoutMillis(PATIENCE_MILLIS);
    if (!url.getScheme().equals("ldaps")) {
      return new LDAPConnection(options, url.getHost(), url.getPort());
    }
    try {
      options.setSSLSocketVerifier(new HostNameSSLSocketVerifier(false));
      return new LDAPConnection(
          trusting(directory.roots()).createSSLSocketFactory(),
          options,
          url.getHost(),
          url.getPort());
    } catch (GeneralSecurityException e) {
      throw new LDAPException(ResultCode.CONNECT_ERROR, "TLS cannot be set up", e);
    }
  }

  private static SSLUtil trusting(String roots) throws GeneralSecurityException {
    KeyStore store = null;
    if (!roots.isEmpty()) {
      store = KeyStore.getInstance("PKCS12");
      try {
        store.load(null, null);
      } catch (java.io.IOException e) {
        throw new GeneralSecurityException(e);
      }
      int i = 0;
      for (X509Certificate c : Chains.certificates(roots)) {
        store.setCertificateEntry("root" + i++, c);
      }
    }
    TrustManagerFactory factory = TrustManagerFactory.getInstance("PKIX");
    factory.init(store);
    return new SSLUtil(
        new AggregateTrustManager(
            false,
            java.util.Arrays.stream(factory.getTrustManagers())
                .map(t -> (javax.net.ssl.X509TrustManager) t)
                .toList()));
  }

  /** Whether a person's password is right; asked on a connection of its own. */
  boolean knows(String dn, String password) throws LDAPException {
    try (LDAPConnection own = open(directory)) {
      return own.bind(dn, password).getResultCode() == ResultCode.SUCCESS;
    } catch (LDAPException e) {
      if (e.getResultCode() == ResultCode.INVALID_CREDENTIALS
          || e.getResultCode() == ResultCode.NO_SUCH_OBJECT) {
        return false;
      }
      throw e;
    }
  }

  /** Someone by login; empty when none or more than one has it. */
  Optional<Entry> person(String login) throws LDAPException {
    List<SearchResultEntry> found =
        connection
            .search(
                request(Filter.createANDFilter(PEOPLE, Filter.createEqualityFilter("uid", login))))
            .getSearchEntries();
    return found.size() == 1 ? Optional.of(entry(found.get(0))) : Optional.empty();
  }

  private static final Filter PEOPLE = Filter.createEqualityFilter("objectClass", "inetOrgPerson");

  private SearchRequest request(Filter filter) {
    return new SearchRequest(
        directory.base(),
        SearchScope.SUB,
        filter,
        "uid",
        "cn",
        "mail",
        "entryUUID",
        "member",
        directory.unitAttribute());
  }

  private Entry entry(SearchResultEntry e) {
    String login = text(e, "uid").toLowerCase(java.util.Locale.ROOT);
    String key = text(e, "entryUUID");
    return new Entry(
        key.isEmpty() ? "login:" + login : key,
        e.getDN(),
        text(e, "cn"),
        login,
        text(e, "mail"),
        text(e, directory.unitAttribute()));
  }

  private static String text(SearchResultEntry e, String attribute) {
    @Nullable String value = e.getAttributeValue(attribute);
    return value == null ? "" : value.strip();
  }

  /** Names of groups, and the distinguished names of a group's members (RFC 4519, 3.5). */
  List<String> members(String group) throws LDAPException {
    List<String> out = new ArrayList<>();
    for (SearchResultEntry e :
        connection
            .search(
                request(
                    Filter.createANDFilter(
                        Filter.createEqualityFilter("objectClass", "groupOfNames"),
                        Filter.createEqualityFilter("cn", group))))
            .getSearchEntries()) {
      String[] members = e.getAttributeValues("member");
      out.addAll(members == null ? List.of() : List.of(members));
    }
    return out;
  }

  /** Names of all groups. */
  List<String> groups() throws LDAPException {
    return connection
        .search(request(Filter.createEqualityFilter("objectClass", "groupOfNames")))
        .getSearchEntries()
        .stream()
        .map(e -> text(e, "cn"))
        .sorted()
        .toList();
  }

  /** Hands over everybody, page by page (RFC 2696). */
  void everybody(Consumer<List<Entry>> take) throws LDAPException {
    SearchRequest request = request(PEOPLE);
    ASN1OctetString cookie = null;
    do {
      request.setControls(new SimplePagedResultsControl(PAGE, cookie));
      SearchResult result;
      try {
        result = connection.search(request);
      } catch (LDAPSearchException e) {
        throw new LDAPException(e);
      }
      take.accept(result.getSearchEntries().stream().map(this::entry).toList());
      SimplePagedResultsControl next = SimplePagedResultsControl.get(result);
      cookie = next == null ? null : next.getCookie();
    } while (cookie != null && cookie.getValueLength() > 0);
  }

  @Override
  public void close() {
    connection.close();
  }
}
