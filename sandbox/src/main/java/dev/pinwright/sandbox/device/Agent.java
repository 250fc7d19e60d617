package dev.pinwright.sandbox.device;

import com.fasterxml.jackson.databind.JsonNode;
import dev.pinwright.protocol.dm.DeviceSession;
import dev.pinwright.protocol.dm.Dm;
import dev.pinwright.protocol.join.JoinLink;
import dev.pinwright.protocol.join.JoinMessages;
import dev.pinwright.protocol.notification.Notification;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.protocol.syncml.MalformedMessage;
import dev.pinwright.protocol.syncml.Message;
import dev.pinwright.protocol.syncml.SyncMl;
import dev.pinwright.sandbox.link.HttpLine;
import dev.pinwright.sandbox.link.HttpLine.Reply;
import dev.pinwright.sandbox.link.Network;
import dev.pinwright.sandbox.link.WakeLine;
import io.netty.handler.ssl.SslContext;
import java.io.IOException;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.security.KeyPair;
import java.security.cert.X509Certificate;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * The part of a device that speaks with the server: joins, holds the wake socket, checks in. One
 * session at a time; what comes up during a session leads to another one right after it.
 */
public final class Agent implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(Agent.class);
  private static final int MAX_MSG_SIZE = 64 * 1024;
  private static final long RETRY_SECONDS = 3;

  private final Network network;
  private final SimulatedDevice device;
  private final State state;
  private final Consumer<SimulatedDevice> changed;
  private final AtomicBoolean inSession = new AtomicBoolean();
  private final AtomicBoolean another = new AtomicBoolean();
  private final AtomicLong sessionNumber = new AtomicLong(System.nanoTime() & 0xffffff);
  private @Nullable SslContext identity;
  private @Nullable String identityOf;
  private volatile @Nullable WakeLine wake;
  private volatile boolean closed;

  Agent(Network network, SimulatedDevice device, Consumer<SimulatedDevice> changed) {
    this.network = network;
    this.device = device;
    this.state = device.state();
    this.changed = changed;
  }

  public SimulatedDevice device() {
    return device;
  }

  /** The screen as it is now. */
  public SimulatedDevice.Screen screen() {
    WakeLine w = wake;
    return device.screen(w != null && w.isOpen());
  }

  private void set(State.Stage stage, String problem, String reason) {
    synchronized (device) {
      state.stage = stage;
      state.problem = problem;
      state.reason = reason;
    }
    changed.accept(device);
  }

  // ---- joining ---------------------------------------------------------------------------------

  /** Takes a join link and reads what it offers; the holder then accepts or declines. */
  public CompletableFuture<Void> take(String link) {
    JoinLink parsed;
    try {
      parsed = JoinLink.parse(link);
    } catch (IllegalArgumentException e) {
      set(State.Stage.REFUSED, "bad-link", e.getMessage());
      return CompletableFuture.completedFuture(null);
    }
    HttpLine line = line(parsed, false);
    return line.send("GET", "/join/" + parsed.code().value(), Map.of(), new byte[0])
        .handleAsync(
            (reply, failure) -> {
              line.close();
              if (failure != null) {
                set(State.Stage.REFUSED, "unreachable", unreachable(failure));
              } else if (reply.status() != 200) {
                refused(reply);
              } else {
                JoinMessages.Offer offer = read(reply, JoinMessages.Offer.class);
                synchronized (device) {
                  state.link = link;
                  state.offer = offer;
                }
                set(State.Stage.OFFERED, "", "");
              }
              return null;
            },
            network.thinking());
  }

  private HttpLine line(JoinLink link, boolean identified) {
    SslContext tls = identified ? identity(link) : network.anonymous(link.fingerprint());
    return new HttpLine(network, tls, URI.create(link.base()));
  }

  /** The device's TLS identity, made once so that TLS sessions can be resumed. */
  private synchronized SslContext identity(JoinLink link) {
    String keyPem = state.keyPem;
    String certificatePem = state.certificatePem;
    if (keyPem == null || certificatePem == null) {
      throw new IllegalStateException("the device has no certificate");
    }
    SslContext made = identity;
    if (made == null || !certificatePem.equals(identityOf)) {
      made =
          network.identity(
              link.fingerprint(), Pki.privateKey(keyPem), Pki.certificate(certificatePem));
      identity = made;
      identityOf = certificatePem;
    }
    return made;
  }

  private static String unreachable(Throwable failure) {
    Throwable t = failure;
    while (t.getCause() != null) {
      t = t.getCause();
    }
    return "The server could not be reached or trusted: " + t.getMessage();
  }

  private void refused(Reply reply) {
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

  /** The holder accepts what is offered, with a passphrase where one is asked for. */
  public CompletableFuture<Void> accept(@Nullable String secret) {
    JoinMessages.Offer offer = state.offer;
    String link = state.link;
    if (offer == null || link == null) {
      throw new IllegalStateException("there is no offer to accept");
    }
    synchronized (device) {
      state.secret = secret;
    }
    set(State.Stage.JOINING, "", "Asking to be let in");
    return ask(JoinLink.parse(link), offer);
  }

  private CompletableFuture<Void> ask(JoinLink link, JoinMessages.Offer offer) {
    List<JoinMessages.Ident> identifiers = new ArrayList<>();
    identifiers.add(new JoinMessages.Ident("serial", state.serial));
    if (state.imei != null) {
      identifiers.add(new JoinMessages.Ident("imei", state.imei));
    }
    Model m = device.model();
    JoinMessages.Request request =
        new JoinMessages.Request(
            new JoinMessages.Device(
                m.platform(), state.osVersion, m.kind(), m.maker(), m.name(), identifiers),
            state.secret == null ? null : new JoinMessages.SignIn(null, state.secret),
            offer.terms() == null ? null : offer.terms().version());
    byte[] body;
    try {
      body = Fields.MAPPER.writeValueAsBytes(request);
    } catch (IOException e) {
      throw new IllegalStateException(e);
    }
    HttpLine line = line(link, false);
    return line.send(
            "POST",
            "/join/" + link.code().value(),
            Map.of("Content-Type", "application/json"),
            body)
        .handleAsync(
            (reply, failure) -> {
              if (failure != null) {
                line.close();
                set(State.Stage.REFUSED, "unreachable", unreachable(failure));
                return CompletableFuture.<Void>completedFuture(null);
              }
              if (reply.status() == 202) {
                line.close();
                set(State.Stage.WAITING, "", "Waiting for the organisation to approve this device");
                long seconds = Long.parseLong(reply.headers().getOrDefault("Retry-After", "5"));
                network
                    .thinking()
                    .schedule(() -> retryWaiting(link, offer), seconds, TimeUnit.SECONDS);
                return CompletableFuture.<Void>completedFuture(null);
              }
              if (reply.status() != 201) {
                line.close();
                refused(reply);
                return CompletableFuture.<Void>completedFuture(null);
              }
              set(State.Stage.JOINING, "", "Getting its certificate");
              return enroll(line, read(reply, JoinMessages.Admission.class));
            },
            network.thinking())
        .thenCompose(f -> f);
  }

  private void retryWaiting(JoinLink link, JoinMessages.Offer offer) {
    if (!closed && state.stage == State.Stage.WAITING) {
      ask(link, offer);
    }
  }

  private CompletableFuture<Void> enroll(HttpLine line, JoinMessages.Admission admission) {
    KeyPair pair = Pki.newKey();
    String csr = Pki.base64(Pki.newRequest(admission.commonName(), pair));
    String basic =
        Base64.getEncoder()
            .encodeToString(
                (admission.est().username() + ":" + admission.est().password())
                    .getBytes(StandardCharsets.UTF_8));
    String path = URI.create(admission.est().url()).getPath() + "/simpleenroll";
    return line.send(
            "POST",
            path,
            Map.of(
                "Content-Type", "application/pkcs10",
                "Content-Transfer-Encoding", "base64",
                "Authorization", "Basic " + basic),
            csr.getBytes(StandardCharsets.US_ASCII))
        .handleAsync(
            (reply, failure) -> {
              line.close();
              if (failure != null) {
                set(State.Stage.REFUSED, "unreachable", unreachable(failure));
              } else if (reply.status() != 200) {
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
                }
                set(State.Stage.JOINED, "", "");
                connect();
              }
              return null;
            },
            network.thinking());
  }

  /** The holder declines; nothing is sent. */
  public void decline() {
    synchronized (device) {
      state.offer = null;
      state.link = null;
    }
    set(State.Stage.NEW, "", "");
  }

  /** Erases the device as a factory reset does. */
  public void reset() {
    disconnect();
    synchronized (device) {
      state.policy.clear();
      state.passcode = null;
      state.locked = false;
      state.ringing = false;
      state.notes.clear();
      state.reports.clear();
      state.carriedOut.clear();
      state.keyPem = null;
      state.certificatePem = null;
      state.commonName = null;
      state.offer = null;
      state.link = null;
      state.factsChanged = true;
    }
    set(State.Stage.NEW, "", "");
  }

  // ---- being managed ---------------------------------------------------------------------------

  /** Opens the wake socket, when the device has joined and is online. */
  public void connect() {
    JoinMessages.Offer offer = state.offer;
    String link = state.link;
    boolean up = state.stage == State.Stage.JOINED && !state.offline && !closed;
    if (offer == null || link == null || !up) {
      return;
    }
    disconnect();
    WakeLine line =
        new WakeLine(
            network,
            identity(JoinLink.parse(link)),
            URI.create(offer.wake()),
            () -> checkIn(false),
            this::notified);
    wake = line;
    line.open();
  }

  private void disconnect() {
    WakeLine w = wake;
    wake = null;
    if (w != null) {
      w.close();
    }
  }

  /** Takes the device off the network, or puts it back. */
  public void offline(boolean offline) {
    synchronized (device) {
      state.offline = offline;
    }
    changed.accept(device);
    if (offline) {
      disconnect();
    } else {
      connect();
    }
  }

  private void notified(byte[] bytes) {
    try {
      Notification.decode(bytes, String.valueOf(state.commonName));
      checkIn(true);
    } catch (IllegalArgumentException e) {
      LOG.warn("{}: {}", state.serial, e.getMessage());
    }
  }

  /** Begins a session, or lets another follow the one that is going on. */
  public void checkIn(boolean woken) {
    boolean up = state.stage == State.Stage.JOINED && !state.offline && !closed;
    String link = state.link;
    JoinMessages.Offer offer = state.offer;
    if (!up || link == null || offer == null) {
      return;
    }
    long restarting = state.restartedUntil - System.currentTimeMillis();
    if (restarting > 0) {
      network.thinking().schedule(() -> checkIn(woken), restarting, TimeUnit.MILLISECONDS);
      return;
    }
    if (!inSession.compareAndSet(false, true)) {
      another.set(true);
      return;
    }
    String sessionId = Long.toHexString(sessionNumber.incrementAndGet() & 0xffffff);
    DeviceSession session =
        new DeviceSession(device, sessionId, "SERIAL:" + state.serial, offer.dm(), MAX_MSG_SIZE);
    List<State.Report> reports;
    List<DeviceSession.Outstanding> alerts = new ArrayList<>();
    synchronized (device) {
      reports = List.copyOf(state.reports);
      alerts.add(
          new DeviceSession.Outstanding(Dm.TYPE_TREE_DIGEST, device.digest(), Optional.empty()));
      if (state.factsChanged) {
        alerts.add(new DeviceSession.Outstanding(Dm.TYPE_FACTS_CHANGED, "1", Optional.empty()));
      }
      state.sessions++;
    }
    reports.forEach(
        r ->
            alerts.add(
                new DeviceSession.Outstanding(
                    Dm.TYPE_OPERATION, Integer.toString(r.code()), Optional.of(r.correlator()))));
    HttpLine line = line(JoinLink.parse(link), true);
    String path = URI.create(offer.dm()).getPath();
    exchange(line, path, session, session.open(woken, device.devInfo(), alerts))
        .whenCompleteAsync(
            (done, failure) -> {
              line.close();
              ended(failure, reports);
            },
            network.thinking());
  }

  private CompletableFuture<Void> exchange(
      HttpLine line, String path, DeviceSession session, Message message) {
    return line.send(
            "POST",
            path,
            Map.of("Content-Type", SyncMl.MEDIA_TYPE + "; charset=utf-8"),
            SyncMl.write(message))
        .thenComposeAsync(
            reply -> {
              if (reply.status() == 403) {
                refusedAsManaged(reply);
                return CompletableFuture.completedFuture(null);
              }
              if (reply.status() != 200) {
                throw new CompletionException(
                    new IOException("the server answered " + reply.status()));
              }
              try {
                return session
                    .next(SyncMl.read(reply.body()))
                    .map(next -> exchange(line, path, session, next))
                    .orElseGet(() -> CompletableFuture.completedFuture(null));
              } catch (MalformedMessage e) {
                throw new CompletionException(e);
              }
            },
            network.thinking());
  }

  private void refusedAsManaged(Reply reply) {
    disconnect();
    refused(reply);
    synchronized (device) {
      state.stage = State.Stage.REMOVED;
    }
  }

  private void ended(@Nullable Throwable failure, List<State.Report> reported) {
    inSession.set(false);
    if (failure != null) {
      LOG.debug("{}: session broken off", state.serial, failure);
      another.set(false);
      network.thinking().schedule(() -> checkIn(false), RETRY_SECONDS, TimeUnit.SECONDS);
      return;
    }
    boolean more;
    synchronized (device) {
      state.reports.removeAll(reported);
      more = another.getAndSet(false) || state.factsChanged || !state.reports.isEmpty();
    }
    changed.accept(device);
    if (more) {
      checkIn(false);
    } else {
      letTheHolderAct();
    }
  }

  private void letTheHolderAct() {
    if (state.automaticHolder && device.asksForPasscode()) {
      network
          .thinking()
          .schedule(
              () -> {
                if (device.choosePasscode(goodPasscode()).isEmpty()) {
                  checkIn(false);
                }
              },
              state.holderDelayMillis,
              TimeUnit.MILLISECONDS);
    }
  }

  /** A passcode that satisfies whatever is asked: grows until nobody objects. */
  private String goodPasscode() {
    String pool = "27Kd!59Wq#38Rt%61Zp&";
    StringBuilder sb = new StringBuilder();
    for (int i = 0; i < 40; i++) {
      sb.append(pool.charAt(i % pool.length()));
      if (device.passcodePolicy().objections(sb.toString()).isEmpty()) {
        break;
      }
    }
    return sb.toString();
  }

  @Override
  public void close() {
    closed = true;
    disconnect();
  }
}
