package dev.pinwright.sandbox.device;

import com.fasterxml.jackson.databind.JsonNode;
import dev.pinwright.protocol.join.JoinLink;
import dev.pinwright.protocol.join.JoinMessages;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.sandbox.link.HttpLine;
import dev.pinwright.sandbox.link.HttpLine.Reply;
import dev.pinwright.sandbox.link.Network;
import dev.pinwright.sandbox.vendor.Vendor;
import dev.pinwright.sandbox.vendor.Vendors;
import java.io.IOException;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.security.KeyPair;
import java.security.cert.CertificateException;
import java.security.cert.X509Certificate;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.ThreadLocalRandom;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** How a device gets in: from the link in its holder's hand to a certificate of its own. */
final class Joiner {
  private static final Logger LOG = LoggerFactory.getLogger(Joiner.class);
  private static final int HOLDER_WATCHES = 2;
  private static final int PATIENT = 10;
  private static final long FIRST_PAUSE_MILLIS = 400;
  private static final long LONGEST_PAUSE_MILLIS = 15_000;
  private final Network network;
  private final @Nullable Vendors vendors;
  private final SimulatedDevice device;
  private final State state;
  private final Consumer<SimulatedDevice> changed;
  private final Runnable joined;
  private @Nullable HttpLine offered;

  /**
   * @param vendors the clouds outside, or null without them
   * @param changed told whenever the device's stage changes
   * @param joined run once the device has its certificate
   */
  Joiner(
      Network network,
      @Nullable Vendors vendors,
      SimulatedDevice device,
      Consumer<SimulatedDevice> changed,
      Runnable joined) {
    this.network = network;
    this.vendors = vendors;
    this.device = device;
    this.state = device.state();
    this.changed = changed;
    this.joined = joined;
  }

  /** The line the offer came by, as long as it can be used. */
  private synchronized HttpLine again() {
    HttpLine kept = offered;
    offered = null;
    return kept == null ? line() : kept;
  }

  private synchronized void keep(@Nullable HttpLine line) {
    if (offered != null) {
      offered.close();
    }
    offered = line;
  }

  private HttpLine line() {
    // where it has one, it shows who it is on every way in: to come back it has to prove it
    Pki.Identity own = vendors == null ? null : identity();
    return new HttpLine(
        network,
        own == null
            ? network.anonymous(state.fingerprint)
            : network.identity(state.fingerprint, own.key(), own.certificate()),
        URI.create(state.server));
  }

  /** Its maker's certificate, which it has had since the factory. */
  private Pki.Identity identity() {
    synchronized (device) {
      if (state.identityKeyPem == null || state.identityPem == null) {
        Pki.Identity made = maker().identity(device.model().maker(), state.serial);
        state.identityKeyPem = Pki.pem(made.key());
        state.identityPem = Pki.pem(made.certificate());
      }
      return new Pki.Identity(
          Pki.privateKey(state.identityKeyPem), Pki.certificate(state.identityPem));
    }
  }

  private Vendor maker() {
    if (vendors == null) {
      throw new IllegalStateException("there are no vendors in this sandbox");
    }
    return vendors.of(device.model().platform());
  }

  /** A way to its maker's services, where there are any. */
  Optional<HttpLine> toMaker() {
    if (vendors == null) {
      return Optional.empty();
    }
    Pki.Identity own = identity();
    return Optional.of(
        new HttpLine(
            network,
            network.identity(JoinLink.fingerprint(maker().root()), own.key(), own.certificate()),
            URI.create(vendors.address(device.model().platform()))));
  }

  /** Whether an address is one of its maker's. */
  boolean ofMaker(URI address) {
    return vendors != null
        && URI.create(vendors.address(device.model().platform()))
            .getAuthority()
            .equals(address.getAuthority());
  }

  /** An answer, and the line it came by, which may serve again. */
  private record Answered(HttpLine line, Reply reply) {}

  /** What is sent, and how often it is tried before the holder is told that nobody answers. */
  private record Call(
      Supplier<HttpLine> lines,
      String method,
      String path,
      Map<String, String> headers,
      byte[] body,
      int tries) {}

  /**
   * Sends, and again after a while, ever longer, as long as nobody answers or who answers has no
   * time. What a device asks while it joins can be asked again, whether or not it was heard.
   */
  private CompletableFuture<Answered> reach(HttpLine line, Call call, int tried) {
    return line.send(call.method(), call.path(), call.headers(), call.body())
        .handleAsync(
            (reply, failure) -> {
              if (failure == null && (reply.status() < 502 || tried >= call.tries())) {
                return CompletableFuture.completedFuture(new Answered(line, reply));
              }
              line.close();
              if (failure != null && (tried >= call.tries() || distrusted(failure))) {
                return CompletableFuture.<Answered>failedFuture(failure);
              }
              set(state.stage, "", "Nobody answers; trying again");
              return CompletableFuture.completedFuture(call.lines().get())
                  .thenComposeAsync(
                      fresh -> reach(fresh, call, tried + 1),
                      CompletableFuture.delayedExecutor(
                          pause(reply, tried), TimeUnit.MILLISECONDS, network.thinking()));
            },
            network.thinking())
        .thenCompose(f -> f);
  }

  private static long pause(@Nullable Reply reply, int tried) {
    String told = reply == null ? null : reply.headers().get("Retry-After");
    long millis =
        told != null && told.matches("\\d{1,3}")
            ? TimeUnit.SECONDS.toMillis(Long.parseLong(told))
            : Math.min(LONGEST_PAUSE_MILLIS, FIRST_PAUSE_MILLIS << Math.min(tried, 10));
    // not all at once, after a service that was away for all
    return millis + ThreadLocalRandom.current().nextLong(1 + millis / 4);
  }

  private static boolean distrusted(Throwable failure) {
    for (Throwable t = failure; t != null; t = t.getCause()) {
      if (t instanceof CertificateException) {
        return true;
      }
    }
    return false;
  }

  /** Goes on where it was when it was turned off. */
  void resume() {
    JoinMessages.Offer offer = state.offer;
    if (state.stage == State.Stage.ASKING) {
      boot();
    } else if (offer != null
        && (state.stage == State.Stage.JOINING || state.stage == State.Stage.WAITING)) {
      ask(offer);
    }
  }

  /**
   * Shows itself, blank, to the server it erased itself for, by its maker's certificate. The
   * address outlasts the erasing; where nobody answers it is shown again.
   */
  CompletableFuture<Void> blank() {
    if (vendors == null || state.erasedFor.isEmpty()) {
      return CompletableFuture.completedFuture(null);
    }
    Pki.Identity own = identity();
    Supplier<HttpLine> server =
        () ->
            new HttpLine(
                network,
                network.identity(state.erasedForRoot, own.key(), own.certificate()),
                URI.create(state.erasedFor));
    Call call = new Call(server, "POST", "/blank", Map.of(), new byte[0], PATIENT);
    return reach(server.get(), call, 0)
        .thenAccept(
            answered -> {
              answered.line().close();
              synchronized (device) {
                state.erasedFor = "";
                state.erasedForRoot = "";
              }
            });
  }

  /** Asks the maker's registrar where the device belongs, and joins there without a touch. */
  CompletableFuture<Void> boot() {
    if (vendors == null) {
      return CompletableFuture.completedFuture(null);
    }
    set(State.Stage.ASKING, "", "Looking for its organisation");
    URI services = URI.create(vendors.address(device.model().platform()));
    Supplier<HttpLine> registrar = () -> toMaker().orElseThrow();
    return reach(
            registrar.get(),
            new Call(
                registrar,
                "GET",
                services.getPath() + "/registrar/home",
                Map.of(),
                new byte[0],
                PATIENT),
            0)
        .handleAsync(
            (answered, failure) -> {
              if (answered != null) {
                answered.line().close();
              }
              if (answered == null || answered.reply().status() != 200) {
                set(State.Stage.NEW, "", "");
                return CompletableFuture.<Void>completedFuture(null);
              }
              JsonNode home = read(answered.reply(), JsonNode.class);
              URI join = URI.create(home.path("join").asText());
              synchronized (device) {
                state.handsFree = true;
                state.server = "https://" + join.getAuthority();
                state.fingerprint =
                    JoinLink.fingerprint(Pki.certificate(home.path("root").asText()));
              }
              return offer(join.getPath())
                  .thenCompose(
                      x -> {
                        JoinMessages.Offer o = state.offer;
                        boolean untouched =
                            state.stage == State.Stage.OFFERED
                                && o != null
                                && o.terms() == null
                                && o.signIn().equals("none");
                        return untouched
                            ? accept(null, null)
                            : CompletableFuture.<Void>completedFuture(null);
                      });
            },
            network.thinking())
        .thenCompose(f -> f);
  }

  void set(State.Stage stage, String problem, String reason) {
    synchronized (device) {
      state.stage = stage;
      state.problem = problem;
      state.reason = reason;
    }
    changed.accept(device);
  }

  /** Takes a join link and reads what it offers; the holder then accepts or declines. */
  public CompletableFuture<Void> take(String link) {
    JoinLink parsed;
    try {
      parsed = JoinLink.parse(link);
    } catch (IllegalArgumentException e) {
      String why = String.valueOf(e.getMessage());
      set(
          State.Stage.REFUSED,
          "bad-link",
          why.substring(0, 1).toUpperCase(Locale.ROOT) + why.substring(1) + ".");
      return CompletableFuture.completedFuture(null);
    }
    synchronized (device) {
      state.link = link;
      state.handsFree = false;
      state.server = parsed.base();
      state.fingerprint = parsed.fingerprint();
    }
    return offer("/join/" + parsed.code().value());
  }

  private CompletableFuture<Void> offer(String path) {
    keep(null);
    Call call =
        new Call(
            this::line,
            "GET",
            path,
            Map.of("Accept-Language", state.language),
            new byte[0],
            state.handsFree ? PATIENT : HOLDER_WATCHES);
    return reach(line(), call, 0)
        .handleAsync(
            (answered, failure) -> {
              if (failure != null) {
                set(State.Stage.REFUSED, "unreachable", unreachable(failure));
              } else if (answered.reply().status() != 200) {
                answered.line().close();
                refused(answered.reply());
              } else {
                keep(answered.line());
                JoinMessages.Offer offer = read(answered.reply(), JoinMessages.Offer.class);
                synchronized (device) {
                  state.offer = offer;
                }
                set(State.Stage.OFFERED, "", "");
              }
              return null;
            },
            network.thinking());
  }

  private static String unreachable(Throwable failure) {
    Throwable t = failure;
    while (t.getCause() != null) {
      t = t.getCause();
    }
    return "The server could not be reached or trusted: " + t.getMessage();
  }

  void refused(Reply reply) {
    String problem = "http-" + reply.status();
    String reason = "The server answered " + reply.status() + ".";
    try {
      JsonNode body = Fields.MAPPER.readTree(reply.body());
      String type = body.path("type").asText();
      problem = type.substring(type.lastIndexOf('/') + 1);
      reason = body.path("detail").asText(reason);
    } catch (IOException e) {
      LOG.debug("no problem details", e);
    }
    set(State.Stage.REFUSED, problem, reason);
  }

  private static <T> T read(Reply reply, Class<T> type) {
    try {
      return Fields.MAPPER.readValue(reply.body(), type);
    } catch (IOException e) {
      throw new CompletionException(e);
    }
  }

  /** The holder accepts what is offered, signing in where that is asked for. */
  public CompletableFuture<Void> accept(@Nullable String login, @Nullable String secret) {
    JoinMessages.Offer offer = state.offer;
    if (offer == null) {
      throw new IllegalStateException("there is no offer to accept");
    }
    synchronized (device) {
      state.login = login;
      state.secret = secret;
    }
    set(State.Stage.JOINING, "", "Asking to be let in");
    return ask(offer);
  }

  private String path() {
    String link = state.link;
    return "/join/"
        + (state.handsFree || link == null ? "by-identifier" : JoinLink.parse(link).code().value());
  }

  private CompletableFuture<Void> ask(JoinMessages.Offer offer) {
    List<JoinMessages.Ident> identifiers = new ArrayList<>();
    identifiers.add(new JoinMessages.Ident("serial", state.serial));
    if (state.imei != null) {
      identifiers.add(new JoinMessages.Ident("imei", state.imei));
    }
    Model m = device.model();
    JoinMessages.Request request =
        new JoinMessages.Request(
            new JoinMessages.Device(
                m.platform(),
                state.garbled ? "seven" : state.osVersion,
                m.kind(),
                m.maker(),
                m.name(),
                identifiers),
            state.secret == null ? null : new JoinMessages.SignIn(state.login, state.secret),
            offer.terms() == null ? null : offer.terms().version());
    byte[] body;
    try {
      body = Fields.MAPPER.writeValueAsBytes(request);
    } catch (IOException e) {
      throw new IllegalStateException(e);
    }
    Call call =
        new Call(
            this::line,
            "POST",
            path(),
            Map.of("Content-Type", "application/json", "Accept-Language", state.language),
            body,
            state.stage == State.Stage.WAITING ? Integer.MAX_VALUE : PATIENT);
    return reach(again(), call, 0)
        .handleAsync(
            (answered, failure) -> {
              if (failure != null) {
                set(State.Stage.REFUSED, "unreachable", unreachable(failure));
                return CompletableFuture.<Void>completedFuture(null);
              }
              HttpLine line = answered.line();
              Reply reply = answered.reply();
              if (reply.status() == 202) {
                line.close();
                set(State.Stage.WAITING, "", "Waiting for the organisation to approve this device");
                long seconds = Long.parseLong(reply.headers().getOrDefault("Retry-After", "5"));
                network.thinking().schedule(() -> retryWaiting(offer), seconds, TimeUnit.SECONDS);
                return CompletableFuture.<Void>completedFuture(null);
              }
              if (reply.status() != 201) {
                line.close();
                refused(reply);
                return CompletableFuture.<Void>completedFuture(null);
              }
              set(State.Stage.JOINING, "", "Getting its certificate");
              return enroll(line, offer, read(reply, JoinMessages.Admission.class));
            },
            network.thinking())
        .thenCompose(f -> f);
  }

  private void retryWaiting(JoinMessages.Offer offer) {
    if (state.stage == State.Stage.WAITING) {
      ask(offer);
    }
  }

  private CompletableFuture<Void> enroll(
      HttpLine line, JoinMessages.Offer offer, JoinMessages.Admission admission) {
    KeyPair pair = Pki.newKey();
    String csr = Pki.base64(Pki.newRequest(admission.commonName(), pair));
    String basic =
        Base64.getEncoder()
            .encodeToString(
                (admission.est().username() + ":" + admission.est().password())
                    .getBytes(StandardCharsets.UTF_8));
    String path = URI.create(admission.est().url()).getPath() + "/simpleenroll";
    Call call =
        new Call(
            this::line,
            "POST",
            path,
            Map.of(
                "Content-Type", "application/pkcs10",
                "Content-Transfer-Encoding", "base64",
                "Authorization", "Basic " + basic),
            csr.getBytes(StandardCharsets.US_ASCII),
            PATIENT);
    return reach(line, call, 0)
        .handleAsync(
            (answered, failure) -> {
              if (failure != null) {
                set(State.Stage.REFUSED, "unreachable", unreachable(failure));
                return CompletableFuture.<Void>completedFuture(null);
              }
              answered.line().close();
              Reply reply = answered.reply();
              if (reply.status() == 401) {
                // the password lapsed meanwhile; who was let in once is let in again
                return ask(offer);
              }
              if (reply.status() != 200) {
                refused(reply);
              } else {
                X509Certificate certificate =
                    Pki.readEstCertificates(new String(reply.body(), StandardCharsets.US_ASCII))
                        .get(0);
                synchronized (device) {
                  state.commonName = admission.commonName();
                  state.keyPem = Pki.pem(pair.getPrivate());
                  state.certificatePem = Pki.pem(certificate);
                  state.secret = null;
                  state.factsChanged = true;
                  device.handover().begin();
                }
                set(State.Stage.JOINED, "", "");
                joined.run();
              }
              return CompletableFuture.<Void>completedFuture(null);
            },
            network.thinking())
        .thenCompose(f -> f);
  }

  /** The holder declines; nothing is sent. */
  public void decline() {
    synchronized (device) {
      state.offer = null;
      state.link = null;
    }
    set(State.Stage.NEW, "", "");
  }
}
