package dev.pinwright.sandbox.device;

import com.fasterxml.jackson.databind.JsonNode;
import dev.pinwright.protocol.join.JoinLink;
import dev.pinwright.protocol.join.JoinMessages;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.sandbox.link.HttpLine;
import dev.pinwright.sandbox.link.HttpLine.Reply;
import dev.pinwright.sandbox.link.Network;
import java.io.IOException;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.security.KeyPair;
import java.security.cert.X509Certificate;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** How a device gets in: from the link in its holder's hand to a certificate of its own. */
final class Joiner {
  private static final Logger LOG = LoggerFactory.getLogger(Joiner.class);
  private final Network network;
  private final SimulatedDevice device;
  private final State state;
  private final Consumer<SimulatedDevice> changed;
  private final Runnable joined;

  /**
   * @param changed told whenever the device's stage changes
   * @param joined run once the device has its certificate
   */
  Joiner(
      Network network, SimulatedDevice device, Consumer<SimulatedDevice> changed, Runnable joined) {
    this.network = network;
    this.device = device;
    this.state = device.state();
    this.changed = changed;
    this.joined = joined;
  }

  private HttpLine line(JoinLink link) {
    return new HttpLine(network, network.anonymous(link.fingerprint()), URI.create(link.base()));
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
      set(State.Stage.REFUSED, "bad-link", e.getMessage());
      return CompletableFuture.completedFuture(null);
    }
    HttpLine line = line(parsed);
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
    HttpLine line = line(link);
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
    if (state.stage == State.Stage.WAITING) {
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
                joined.run();
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
}
