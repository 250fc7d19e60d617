package dev.pinwright.sandbox.vendor;

import dev.pinwright.core.device.Identifier;
import dev.pinwright.protocol.pki.Chains;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.protocol.pki.Pki.Identity;
import java.nio.file.Path;
import java.security.KeyPair;
import java.security.SecureRandom;
import java.security.cert.X509Certificate;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;

/**
 * The vendor of one platform: signs push credentials, keeps the registrar, relays pushes, and gives
 * each device its identity at the factory. Every method may be called from any thread.
 */
public final class Vendor {
  private static final Duration ROOT_LASTS = Duration.ofDays(365 * 20);
  private static final SecureRandom RANDOM = new SecureRandom();

  private final String platform;
  private final Book book;
  private final Identity root;
  private final VendorStore store;
  private final Map<String, Consumer<byte[]>> listening = new ConcurrentHashMap<>();

  /** What a vendor remembers over a restart. */
  static final class Book {
    public String rootKey = "";
    public String rootCertificate = "";
    public TreeMap<String, Account> accounts = new TreeMap<>();
    public TreeMap<String, Registered> registered = new TreeMap<>();
    public TreeMap<String, Server> servers = new TreeMap<>();
    public TreeMap<String, Subscription> subscriptions = new TreeMap<>();
    public VendorStore.Book store = new VendorStore.Book();
  }

  /** An organisation's account. {@code topic}: what its devices are subscribed under. */
  public record Account(String name, String topic, String registrarToken, String storeToken) {}

  /** A device a reseller registered for an account. */
  public record Registered(
      String account,
      String serial,
      @Nullable String imei,
      String model,
      String kind,
      String order,
      String registeredAt,
      boolean assigned) {}

  /** Where devices assigned to an account's server are sent. */
  record Server(String join, String root) {}

  /** A push resource (RFC 8030, 4). A message that waits for its device is kept until it is due. */
  record Subscription(String device, @Nullable String waiting, long waitingUntil) {}

  /**
   * @param packages where the store keeps its packages
   */
  Vendor(String platform, Book book, Path packages) {
    this.platform = platform;
    this.book = book;
    store = new VendorStore(book.store, packages);
    if (book.rootKey.isEmpty()) {
      Instant now = Instant.now();
      Identity made =
          Pki.newRoot(
              "Maker of " + platform + " devices",
              now.minus(Duration.ofDays(1)),
              now.plus(ROOT_LASTS));
      book.rootKey = Pki.pem(made.key());
      book.rootCertificate = Pki.pem(made.certificate());
    }
    root = new Identity(Pki.privateKey(book.rootKey), Pki.certificate(book.rootCertificate));
  }

  Book book() {
    return book;
  }

  public String platform() {
    return platform;
  }

  /** Its store. */
  public VendorStore store() {
    return store;
  }

  /** The root of everything this vendor signs. */
  public X509Certificate root() {
    return root.certificate();
  }

  Identity rootIdentity() {
    return root;
  }

  private static String token() {
    byte[] bytes = new byte[24];
    RANDOM.nextBytes(bytes);
    return Base64.getUrlEncoder().withoutPadding().encodeToString(bytes);
  }

  // ---- the portal ------------------------------------------------------------------------------

  /** An organisation's account; made when it is named for the first time. */
  public synchronized Account account(String name) {
    if (!name.matches("[^\\s]{3,100}")) {
      throw new IllegalArgumentException("an account is named by a mail address");
    }
    return book.accounts.computeIfAbsent(
        name, n -> new Account(n, platform + "." + token().substring(0, 12), token(), token()));
  }

  /**
   * Signs a push signing request under an account.
   *
   * @param days how long it holds; a year in earnest
   * @return the credential, PEM
   */
  public synchronized String sign(String account, String request, int days) {
    Account a = account(account);
    Instant now = Instant.now();
    return Pki.pem(
        Pki.issueClient(
            root,
            a.topic(),
            a.name(),
            Pki.requestedKey(request),
            now.minus(Duration.ofMinutes(5)),
            now.plus(Duration.ofDays(days))));
  }

  /** A reseller registers devices for an account. */
  public synchronized void register(String account, String order, List<Sold> sold) {
    account(account);
    for (Sold s : sold) {
      String serial = Identifier.of(Identifier.Kind.SERIAL, s.serial()).value();
      Registered before = book.registered.get(serial);
      book.registered.put(
          serial,
          new Registered(
              account,
              serial,
              s.imei(),
              s.model(),
              s.kind(),
              order,
              Instant.now().toString(),
              before != null && before.assigned()));
    }
  }

  /** A device that was sold. */
  public record Sold(String serial, @Nullable String imei, String model, String kind) {}

  // ---- the registrar ---------------------------------------------------------------------------

  synchronized Optional<Account> byRegistrarToken(String token) {
    return book.accounts.values().stream()
        .filter(a -> a.registrarToken().equals(token))
        .findFirst();
  }

  synchronized Optional<Account> byStoreToken(String token) {
    return book.accounts.values().stream().filter(a -> a.storeToken().equals(token)).findFirst();
  }

  synchronized void server(Account account, Server server) {
    book.servers.put(account.name(), server);
  }

  synchronized List<Registered> registered(String account, String after, int limit) {
    return book.registered.tailMap(after, after.isEmpty()).values().stream()
        .filter(r -> r.account().equals(account))
        .limit(limit)
        .toList();
  }

  /** Everything registered, by serial number. */
  public synchronized List<Registered> registered() {
    return List.copyOf(book.registered.values());
  }

  synchronized List<String> assign(Account account, List<String> serials, boolean assigned) {
    List<String> done = new ArrayList<>();
    for (String serial : serials) {
      Registered r = book.registered.get(serial);
      if (r != null && r.account().equals(account.name())) {
        book.registered.put(
            serial,
            new Registered(
                r.account(),
                r.serial(),
                r.imei(),
                r.model(),
                r.kind(),
                r.order(),
                r.registeredAt(),
                assigned));
        done.add(serial);
      }
    }
    return done;
  }

  /** The serial number a device of this maker's proves to be of; empty when it proves none. */
  Optional<String> serial(List<X509Certificate> identity) {
    return Chains.endsIn(identity, List.of(root.certificate()), Instant.now())
        ? Optional.of(Pki.deviceSerial(identity.get(0)))
        : Optional.empty();
  }

  /** Where a device belongs that proves its serial number; empty when nobody has it. */
  synchronized Optional<Server> home(List<X509Certificate> identity) {
    return serial(identity)
        .map(book.registered::get)
        .filter(Registered::assigned)
        .map(r -> book.servers.get(r.account()));
  }

  // ---- the factory -----------------------------------------------------------------------------

  /** A device's identity: its key and its maker's certificate for it (IEEE 802.1AR). */
  public Identity identity(String maker, String serial) {
    KeyPair pair = Pki.newKey();
    return new Identity(
        pair.getPrivate(),
        Pki.issueIdentity(
            root, maker, serial, pair.getPublic(), Instant.now().minus(Duration.ofDays(1))));
  }

  // ---- the push service ------------------------------------------------------------------------

  /** A new push resource for a device; its last part. */
  public synchronized String subscribe(String device) {
    String token = token();
    book.subscriptions.put(token, new Subscription(device, null, 0));
    return token;
  }

  /** Ends a subscription; later pushes to it are answered with 410. */
  public synchronized void unsubscribe(String token) {
    listening.remove(token);
    book.subscriptions.remove(token);
  }

  /** A device listens to its subscription; what waits for it comes at once. */
  public void listen(String token, Consumer<byte[]> device) {
    String waiting = null;
    synchronized (this) {
      Subscription s = book.subscriptions.get(token);
      if (s == null) {
        return;
      }
      listening.put(token, device);
      if (s.waiting() != null && System.currentTimeMillis() < s.waitingUntil()) {
        waiting = s.waiting();
      }
      book.subscriptions.put(token, new Subscription(s.device(), null, 0));
    }
    if (waiting != null) {
      device.accept(Base64.getDecoder().decode(waiting));
    }
  }

  /** A device stops listening; what is pushed waits for it. */
  public void silence(String token) {
    listening.remove(token);
  }

  /**
   * Takes a push (RFC 8030, 5). A later one takes the place of one that waits.
   *
   * @return false when there is no such subscription any more
   */
  boolean push(String token, byte[] body, long ttlSeconds) {
    Consumer<byte[]> device;
    synchronized (this) {
      Subscription s = book.subscriptions.get(token);
      if (s == null) {
        return false;
      }
      device = listening.get(token);
      if (device == null && ttlSeconds > 0) {
        book.subscriptions.put(
            token,
            new Subscription(
                s.device(),
                Base64.getEncoder().encodeToString(body),
                System.currentTimeMillis() + ttlSeconds * 1_000));
      }
    }
    if (device != null) {
      device.accept(body);
    }
    return true;
  }
}
