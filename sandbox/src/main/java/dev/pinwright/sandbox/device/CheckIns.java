package dev.pinwright.sandbox.device;

import dev.pinwright.protocol.dm.DeviceSession;
import dev.pinwright.protocol.join.JoinMessages;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.protocol.syncml.MalformedMessage;
import dev.pinwright.protocol.syncml.Message;
import dev.pinwright.protocol.syncml.SyncMl;
import dev.pinwright.sandbox.link.Backoff;
import dev.pinwright.sandbox.link.HttpLine;
import dev.pinwright.sandbox.link.HttpLine.Reply;
import dev.pinwright.sandbox.link.Network;
import io.netty.handler.ssl.SslContext;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.cert.CertificateException;
import java.security.cert.CertificateFactory;
import java.security.cert.X509Certificate;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicLong;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * The sessions a device has with the server, one at a time: what comes up during one leads to
 * another right after it, and one that was broken off is tried again, slower each time.
 */
final class CheckIns {
  private static final Logger LOG = LoggerFactory.getLogger(CheckIns.class);
  private static final int MAX_MSG_SIZE = 64 * 1024;

  /** The device whose sessions they are. */
  interface Party {
    /** Whether it is managed and on the network. */
    boolean isUp();

    /** What it proves itself with. */
    SslContext identity();

    /** The server will not manage it. */
    void refused(Reply reply);

    /** A session came to its end; whether what it told ended more than that. */
    boolean endedBy(Outbox told);

    /** What a session that ended was told is seen to; another follows where one is needed. */
    void settle(boolean follows);
  }

  private final Network network;
  private final FetchedFiles files;
  private final SimulatedDevice device;
  private final State state;
  private final Party party;
  private final AtomicBoolean inSession = new AtomicBoolean();
  private final AtomicBoolean another = new AtomicBoolean();
  private final AtomicLong number = new AtomicLong(System.nanoTime() & 0xffffff);
  private final Backoff backoff = new Backoff(2_000, 15_000);

  CheckIns(Network network, FetchedFiles files, SimulatedDevice device, Party party) {
    this.network = network;
    this.files = files;
    this.device = device;
    this.state = device.state();
    this.party = party;
  }

  /** Begins a session, or lets another follow the one that is going on. */
  void begin(boolean woken) {
    JoinMessages.Offer offer = state.offer;
    if (!party.isUp() || offer == null) {
      return;
    }
    long restarting =
        Math.max(state.restartedUntil, state.updatingUntil) - System.currentTimeMillis();
    if (restarting > 0) {
      network.thinking().schedule(() -> begin(woken), restarting, TimeUnit.MILLISECONDS);
      return;
    }
    if (!inSession.compareAndSet(false, true)) {
      another.set(true);
      return;
    }
    String id = Long.toHexString(number.incrementAndGet() & 0xffffff);
    DeviceSession session =
        new DeviceSession(device.tree(), id, "SERIAL:" + state.serial, offer.dm(), MAX_MSG_SIZE);
    Outbox outbox = Outbox.of(device);
    HttpLine line = new HttpLine(network, party.identity(), URI.create(state.server));
    String path = URI.create(offer.dm()).getPath();
    exchange(line, path, session, session.open(woken, device.tree().devInfo(), outbox.alerts()))
        .whenCompleteAsync(
            (done, failure) -> {
              line.close();
              ended(failure, outbox);
            },
            network.thinking());
  }

  private CompletableFuture<Void> exchange(
      HttpLine line, String path, DeviceSession session, Message message) {
    if (state.offline) {
      return CompletableFuture.failedFuture(new IOException("there is no network"));
    }
    return line.send(
            "POST",
            path,
            Map.of("Content-Type", SyncMl.MEDIA_TYPE + "; charset=utf-8"),
            SyncMl.write(message))
        .thenComposeAsync(
            reply -> {
              if (reply.status() == 403) {
                party.refused(reply);
                return CompletableFuture.completedFuture(null);
              }
              if (reply.status() != 200) {
                throw new CompletionException(
                    new IOException("the server answered " + reply.status()));
              }
              Message answer;
              try {
                answer = SyncMl.read(reply.body());
              } catch (MalformedMessage e) {
                throw new CompletionException(e);
              }
              return fetched(line, answer)
                  .thenCompose(
                      x ->
                          session
                              .next(answer)
                              .map(next -> exchange(line, path, session, next))
                              .orElseGet(() -> CompletableFuture.completedFuture(null)));
            },
            network.thinking());
  }

  /** Fetches the files a message names, before anything of it is carried out. */
  private CompletableFuture<Void> fetched(HttpLine line, Message message) {
    CompletableFuture<Void> all = CompletableFuture.completedFuture(null);
    for (String id : device.tree().missingFiles(message)) {
      all =
          all.thenCompose(x -> files.fetch(line, id, network.thinking()))
              .thenAccept(
                  right -> {
                    if (right) {
                      device.tree().hasFile(id, files.find(id).flatMap(CheckIns::certifies));
                    }
                  });
    }
    return all;
  }

  /** Whom a certificate is of; empty where a file is none. */
  private static Optional<String> certifies(Path file) {
    try (InputStream in = Files.newInputStream(file)) {
      return CertificateFactory.getInstance("X.509").generateCertificate(in)
              instanceof X509Certificate certificate
          ? Optional.of(Pki.commonName(certificate))
          : Optional.empty();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    } catch (CertificateException e) {
      return Optional.empty();
    }
  }

  private void ended(@Nullable Throwable failure, Outbox outbox) {
    inSession.set(false);
    if (failure != null) {
      LOG.debug("{}: session broken off", state.serial, failure);
      another.set(false);
      network.thinking().schedule(() -> begin(false), backoff.failed(), TimeUnit.MILLISECONDS);
      return;
    }
    backoff.wentWell();
    outbox.told();
    if (party.endedBy(outbox)) {
      return;
    }
    boolean more;
    synchronized (device) {
      // counted once it is over: who waits for one waits for what came of it
      state.sessions++;
      device.tree().keepNamedFiles();
      more = another.getAndSet(false) || Outbox.waits(device);
    }
    party.settle(more);
  }
}
