package dev.pinwright.service.session;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.device.DeviceState;
import dev.pinwright.core.device.Standing;
import dev.pinwright.core.session.CheckIn;
import dev.pinwright.core.session.Subtree;
import dev.pinwright.protocol.dm.Answer;
import dev.pinwright.protocol.dm.Dm;
import dev.pinwright.protocol.dm.Heard;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.protocol.syncml.MalformedMessage;
import dev.pinwright.protocol.syncml.Message;
import dev.pinwright.protocol.syncml.SyncMl;
import dev.pinwright.service.access.Throttle;
import dev.pinwright.service.acting.WipeCourse;
import dev.pinwright.service.device.LastSeen;
import dev.pinwright.service.identity.Authority;
import dev.pinwright.service.identity.DeviceCertificates;
import dev.pinwright.service.journal.Journal;
import dev.pinwright.service.own.RecoveryKeys;
import dev.pinwright.service.own.Selves;
import dev.pinwright.service.own.Trails;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.shape.Shapes;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Together;
import dev.pinwright.service.work.Workers;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.change.Moves;
import dev.pinwright.storage.device.ActivityStore;
import dev.pinwright.storage.device.AnswerStore;
import dev.pinwright.storage.device.DeviceStates;
import dev.pinwright.storage.device.DeviceStore;
import dev.pinwright.storage.identity.CertificateStore;
import dev.pinwright.storage.row.DmSessionRow;
import java.security.cert.X509Certificate;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Base64;
import java.util.EnumMap;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.function.Consumer;

/**
 * The server's end of management sessions.
 *
 * <p>A check-in with nothing to do costs one statement, shared with those that come at the same
 * time: who is it, and is anything outstanding. All else goes through one transaction per message.
 * A message that is repeated gets the answer it got before; a session whose messages come out of
 * order is ended and begun again by the device.
 */
public final class DeviceSessions implements AutoCloseable {
  private static final String RETIRED = "device-retired";
  private static final int MOST_TOGETHER = 64;
  private static final Duration BURST = Duration.ofMinutes(1);
  private static final int LEAST_MESSAGE = 2_000;
  private static final int MOST_WAITING = 10_000;

  private final UseCases useCases;
  private final Authority authority;
  private final DeviceCertificates certificates;
  private final LastSeen lastSeen;
  private final Vault vault;
  private final Journal journal;
  private final Clock clock;
  private final Turn turn;
  private final Throttle strangers;
  private final Cache<String, Boolean> noted =
      Caffeine.newBuilder().expireAfterWrite(BURST).maximumSize(10_000).build();
  private final ExecutorService looker =
      Executors.newSingleThreadExecutor(
          task -> {
            Thread thread = new Thread(task, "check-ins");
            thread.setDaemon(true);
            return thread;
          });
  private final Workers workers;
  private final Together<String, CertificateStore.Known> certificatesKnown;
  private volatile Consumer<String> over = deviceId -> {};

  /**
   * @param base address of the device listener, as devices know it
   * @param atOnce how many messages are worked on at the same time, each with a connection to the
   *     database
   */
  public DeviceSessions(
      UseCases useCases,
      Database database,
      Authority authority,
      DeviceCertificates certificates,
      LastSeen lastSeen,
      Catalog catalog,
      Shapes shapes,
      Selves selves,
      RecoveryKeys recoveryKeys,
      Trails trails,
      WipeCourse wipes,
      String base,
      int atOnce,
      Vault vault,
      Journal journal,
      Clock clock) {
    workers = new Workers("sessions", atOnce, MOST_WAITING);
    this.useCases = useCases;
    this.authority = authority;
    this.certificates = certificates;
    this.lastSeen = lastSeen;
    this.vault = vault;
    this.journal = journal;
    this.clock = clock;
    strangers = new Throttle(database, clock, "strangers", 120, Duration.ofMinutes(1));
    this.turn = new Turn(catalog, shapes, selves, recoveryKeys, trails, wipes, base, vault);
    certificatesKnown =
        new Together<>(
            MOST_TOGETHER,
            looker,
            serials -> useCases.look(look -> CertificateStore.known(look, serials)));
  }

  /** Tells from now on, by its id, that the session of a device is over. */
  public void whenOver(Consumer<String> over) {
    this.over = over;
  }

  /** Ends its threads. */
  @Override
  public void close() {
    looker.shutdown();
    workers.close();
  }

  /**
   * Recognises a device by its certificate.
   *
   * @return the device's id
   * @throws Problem 401 without a certificate, 403 when it is not one that counts
   */
  public String recognise(X509Certificate[] chain, String address) {
    return known(chain, address).id();
  }

  private CertificateStore.Known known(X509Certificate[] chain, String address) {
    String serial = ours(chain, address);
    return counting(chain, address, serial, certificatesKnown.ask(serial).join());
  }

  /** The serial of a certificate that is ours. */
  private String ours(X509Certificate[] chain, String address) {
    try {
      return DeviceCertificates.serial(authority.ours(chain));
    } catch (Problem p) {
      throw refused(chain, address, p);
    }
  }

  /** The device, when its certificate counts. */
  private CertificateStore.Known counting(
      X509Certificate[] chain,
      String address,
      String serial,
      Optional<CertificateStore.Known> found) {
    try {
      CertificateStore.Known known =
          found.orElseThrow(
              () ->
                  new Problem(
                      403,
                      "unknown-certificate",
                      "Not known here",
                      "No device here has this certificate."));
      if (known.standing() == Standing.RETIRED) {
        throw letGo(known.id());
      }
      if (known.certificateState().equals("revoked")) {
        throw new Problem(
            403,
            "certificate-revoked",
            "The certificate no longer holds",
            "The certificate was replaced or withdrawn; join again.");
      }
      if (known.certificateState().equals("issued")) {
        certificates.activate(serial, known.id());
      }
      return known;
    } catch (Problem p) {
      throw refused(chain, address, p);
    }
  }

  /** Notes that a device heard of the end of its management, and says what it is told. */
  private Problem letGo(String deviceId) {
    return useCases.act(
        Caller.ofDevice(deviceId),
        act -> {
          if (new DeviceStore(act.tx()).letGo(deviceId, act.now())) {
            new ActivityStore(act.tx())
                .add(deviceId, act.now(), "let-go", "It was told that its management ended");
            act.touch(Noun.DEVICE);
          }
          return retired(
              new DeviceStates(act.tx())
                  .find(deviceId)
                  .map(DeviceState::standingReason)
                  .orElse(""));
        });
  }

  static Problem retired(String reason) {
    return new Problem(
        403,
        RETIRED,
        "No longer managed",
        "This device is no longer managed%s. To bring it back, join by an invitation or ask IT."
            .formatted(reason.isEmpty() ? "" : " (" + reason + ")"));
  }

  private Problem refused(X509Certificate[] chain, String address, Problem p) {
    Throttle.Tries tries = strangers.count(address);
    if (tries.over()) {
      return strangers.tooMany(tries);
    }
    String who =
        chain.length == 0 ? "unknown" : Pki.commonName(chain[0]).replaceAll("[^A-Za-z0-9-]", "");
    String actor = "device:" + (who.length() > 40 ? who.substring(0, 40) : who);
    // a burst of the same is noted once
    if (noted.asMap().putIfAbsent(address + " " + actor + " " + p.type(), true) == null) {
      note(actor, p);
    }
    return p;
  }

  private void note(String actor, Problem p) {
    journal.note(actor, "session.refused", actor, p.type() + ": " + p.getMessage());
  }

  /**
   * Answers one message. A check-in with nothing to do is answered as soon as the device is known;
   * all else is worked on by threads of its own, so that no thread of the listener ever waits.
   *
   * @param chain client certificate chain, leaf first; empty without one
   * @param body SyncML XML
   * @return SyncML XML; ends with a {@link Problem} 400 or 413 for a message that cannot be read or
   *     comes out of order, 401, 403
   */
  public CompletableFuture<byte[]> answer(X509Certificate[] chain, byte[] body, String address) {
    String serial = ours(chain, address);
    Said said = said(body);
    return certificatesKnown
        .ask(serial)
        .thenCompose(
            found ->
                idle(found, said)
                    .map(CompletableFuture::completedFuture)
                    .orElseGet(
                        () ->
                            workers.ask(
                                () ->
                                    answer(counting(chain, address, serial, found), body, said))));
  }

  /** A message as it was read, or what is wrong with it. */
  private record Said(
      Optional<Message> message, Optional<Heard> heard, Optional<MalformedMessage> fault) {}

  private static Said said(byte[] body) {
    try {
      Message message = SyncMl.read(body);
      return new Said(Optional.of(message), Optional.of(Heard.of(message)), Optional.empty());
    } catch (MalformedMessage e) {
      return new Said(Optional.empty(), Optional.empty(), Optional.of(e));
    }
  }

  /** The answer to a check-in with nothing to do; empty when there is something. */
  private Optional<byte[]> idle(Optional<CertificateStore.Known> found, Said said) {
    boolean nothing =
        found.filter(k -> k.certificateState().equals("active")).isPresent()
            && said.message().filter(m -> m.header().msgId() == 1).isPresent()
            && checkIn(found.get(), said.message().get(), said.heard().orElseThrow()).idle();
    if (!nothing) {
      return Optional.empty();
    }
    lastSeen.heard(found.get().id(), clock.instant());
    over.accept(found.get().id());
    return Optional.of(
        SyncMl.write(
            acknowledged(said.message().orElseThrow(), said.heard().orElseThrow()).build(true)));
  }

  private byte[] answer(CertificateStore.Known known, byte[] body, Said said) {
    lastSeen.heard(known.id(), clock.instant());
    try {
      if (said.fault().isPresent()) {
        throw malformed(said.fault().get());
      }
      Reply reply =
          useCases.act(
              Caller.ofDevice(known.id()),
              act ->
                  exchange(
                      act,
                      known.id(),
                      said.message().orElseThrow(),
                      said.heard().orElseThrow(),
                      body));
      if (reply.over()) {
        over.accept(known.id());
      }
      return reply.message();
    } catch (Problem p) {
      over.accept(known.id());
      note("device:" + known.id(), p);
      // retired while it spoke: it hears of it now
      throw p.type().equals(RETIRED) ? letGo(known.id()) : p;
    }
  }

  private static Problem malformed(MalformedMessage e) {
    String detail = e.getMessage();
    String sentence = Character.toUpperCase(detail.charAt(0)) + detail.substring(1) + ".";
    return switch (e.fault()) {
      case TOO_LARGE -> new Problem(413, "message-too-large", "Too large", sentence);
      case FORBIDDEN_XML -> new Problem(400, "forbidden-xml", "Forbidden XML", sentence);
      case NOT_XML -> new Problem(400, "not-xml", "Not XML", sentence);
      case NOT_SYNCML -> new Problem(400, "not-syncml", "Not SyncML DM 1.2", sentence);
    };
  }

  /** A message body over the bound, noticed before it was read whole. */
  public Problem tooLarge(X509Certificate[] chain, String address) {
    CertificateStore.Known known = known(chain, address);
    Problem p =
        malformed(
            new MalformedMessage(
                MalformedMessage.Fault.TOO_LARGE,
                "a message has at most " + SyncMl.MAX_BYTES + " bytes"));
    note("device:" + known.id(), p);
    return p;
  }

  private static CheckIn checkIn(CertificateStore.Known known, Message message, Heard heard) {
    return new CheckIn(
        known.standing(),
        known.factsKnown(),
        known.commandsQueued() || known.orderDue() || known.appsDue(),
        known.openSession().filter(message.header().sessionId()::equals).isPresent(),
        message.last(),
        heard.news(),
        expected(known),
        heard.digests());
  }

  private static Map<Subtree, String> expected(CertificateStore.Known known) {
    Map<Subtree, String> expected = new EnumMap<>(Subtree.class);
    expected.put(Subtree.POLICY, known.desired());
    known.own().filter(own -> !known.ownDue()).ifPresent(own -> expected.put(Subtree.SELF, own));
    known.inventory().ifPresent(apps -> expected.put(Subtree.INVENTORY, apps));
    return expected;
  }

  static Answer acknowledged(Message message, Heard heard) {
    Answer answer =
        new Answer(message, message.header().msgId(), SyncMl.MAX_BYTES, Dm.AUTHENTICATED);
    heard.acknowledge().forEach(a -> answer.status(a.element(), a.code()));
    return answer;
  }

  /**
   * What a message is answered with.
   *
   * @param over whether the session is over with it
   */
  private record Reply(byte[] message, boolean over) {}

  private Reply exchange(
      UseCases.Act act, String deviceId, Message message, Heard heard, byte[] body) {
    Tx tx = act.tx();
    act.touch(Noun.DEVICE);
    // before any row is held, so that a publication and a session never wait for each other
    Moves.besideRules(tx);
    String requestHash = Vault.hash(body);
    Message.Header h = message.header();
    if (h.maxMsgSize() > 0 && h.maxMsgSize() < LEAST_MESSAGE) {
      throw new Problem(
          400,
          "message-size-too-small",
          "Too small",
          "MaxMsgSize has to be at least " + LEAST_MESSAGE + " bytes, or left out.");
    }
    Optional<DmSessionRow> open = tx.lock(DmSessionRow.class, deviceId);
    boolean same = open.filter(s -> s.sessionId.equals(h.sessionId())).isPresent();
    if (same && h.msgId() <= open.get().msgId) {
      Optional<byte[]> before =
          new AnswerStore(tx)
              .find(deviceId, h.sessionId(), h.msgId())
              .filter(a -> a.requestHash().equals(requestHash))
              .map(a -> Base64.getDecoder().decode(vault.open(a.response())));
      if (before.isPresent()) {
        return new Reply(before.get(), false);
      }
    }
    Conversation conversation;
    if (h.msgId() == 1) {
      conversation = turn.begin(act, deviceId, heard);
    } else if (same && h.msgId() == open.get().msgId + 1) {
      String state = vault.open(Base64.getDecoder().decode(open.get().state));
      conversation = Json.read(state, Conversation.class);
    } else {
      throw new Problem(
          400,
          "out-of-order",
          "Out of order",
          same
              ? "Message "
                  + h.msgId()
                  + " came where "
                  + (open.get().msgId + 1)
                  + " was due; begin a new session with message 1."
              : "No session " + h.sessionId() + " is open; begin one with message 1.");
    }
    Answer answer = acknowledged(message, heard);
    boolean last = turn.take(act, deviceId, message, heard, conversation, answer);
    byte[] response = SyncMl.write(answer.build(last));
    remember(tx, deviceId, open, h, conversation);
    new AnswerStore(tx)
        .keep(
            deviceId,
            h.sessionId(),
            h.msgId(),
            new AnswerStore.Answered(
                requestHash, vault.seal(Base64.getEncoder().encodeToString(response))));
    return new Reply(response, answer.asksNothing());
  }

  private void remember(
      Tx tx,
      String deviceId,
      Optional<DmSessionRow> open,
      Message.Header h,
      Conversation conversation) {
    DmSessionRow row = open.orElseGet(DmSessionRow::new);
    row.deviceId = deviceId;
    row.sessionId = h.sessionId();
    row.msgId = h.msgId();
    row.state = Base64.getEncoder().encodeToString(vault.seal(Json.write(conversation)));
    row.changedAt = Instant.now(clock);
    if (open.isEmpty()) {
      tx.insert(row);
    }
  }
}
