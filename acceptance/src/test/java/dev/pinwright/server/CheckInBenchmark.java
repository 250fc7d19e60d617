package dev.pinwright.server;

import dev.pinwright.core.access.Role;
import dev.pinwright.core.enrollment.EnrollmentForm;
import dev.pinwright.core.tree.Tree;
import dev.pinwright.protocol.join.JoinMessages;
import dev.pinwright.protocol.join.JoinMessages.Admission;
import dev.pinwright.protocol.pki.NativeSignatures;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.service.Pinwright;
import dev.pinwright.service.arrival.Joining;
import dev.pinwright.service.invitation.Invitations;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Settings;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.TestDatabase;
import io.javalin.Javalin;
import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.security.KeyPair;
import java.security.KeyStore;
import java.security.cert.X509Certificate;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import javax.net.ssl.KeyManagerFactory;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLSocket;
import javax.net.ssl.TrustManagerFactory;
import org.eclipse.jetty.http.HttpHeader;
import org.eclipse.jetty.io.Content;
import org.eclipse.jetty.server.Handler;
import org.eclipse.jetty.server.Request;
import org.eclipse.jetty.server.Response;
import org.eclipse.jetty.util.Callback;

/**
 * How many idle check-ins a node answers a second, beside two bare handlers of the same listener
 * that read the same body and answer as many bytes, one a route as other calls are, one before all
 * routes: mutual TLS, connections kept open, all after the virtual machine has warmed up; and how
 * many statements a check-in costs.
 */
public final class CheckInBenchmark {
  private static final String TYPE = "application/vnd.syncml.dm+xml";
  private static final int DEVICES = 40;
  private static final int WARM_ROUNDS = 12;
  private static final Duration BURST = Duration.ofSeconds(2);
  private static final Duration MEASURED = Duration.ofSeconds(5);
  private static final int ROUNDS = 5;
  private static final Caller OWNER = new Caller("owner-id", "owner", Role.OWNER);

  private CheckInBenchmark() {}

  /** Takes nothing. */
  public static void main(String[] args) throws Exception {
    NativeSignatures.install();
    String url = TestDatabase.create();
    Settings settings =
        new Settings(
            Files.createTempDirectory("pinwright-check-ins"),
            TestDatabase.address(url, 8),
            "127.0.0.1",
            0,
            List.of("127.0.0.1"),
            "",
            "127.0.0.1",
            7480,
            "Vellmar Museums",
            "a long enough password",
            false,
            Duration.ofDays(7),
            List.of());
    try (Pinwright pinwright = new Pinwright(settings, Clock.systemUTC());
        AssistRelay relay = new AssistRelay(pinwright.assists(), pinwright.accounts());
        Database database = TestDatabase.open(url)) {
      List<Device> devices = devices(pinwright);
      database.run(
          tx ->
              tx.execute(
                  "update device_state set standing = 'settled', facts_at = now(),"
                      + " reported_digest = desired_digest",
                  Map.of()));
      byte[] answer = new byte[0];
      Javalin probe = DeviceListener.create(pinwright, new Metrics(pinwright), relay).start();
      try (Line line = new Line(probe.port(), devices.get(0), "/dm")) {
        answer = line.ask();
      } finally {
        probe.stop();
      }
      byte[] same = answer;
      Javalin listener =
          DeviceListener.create(
                  pinwright,
                  new Metrics(pinwright),
                  relay,
                  config -> {
                    config.routes.post(
                        "/bare",
                        ctx -> {
                          ctx.bodyAsBytes();
                          ctx.contentType(TYPE);
                          ctx.result(same);
                        });
                    config.jetty.modifyServer(server -> server.insertHandler(new Barest(same)));
                  })
              .start();
      try {
        measure(listener.port(), devices, database);
      } finally {
        listener.stop();
      }
    }
    System.exit(0);
  }

  private static void measure(int port, List<Device> devices, Database database) throws Exception {
    warmUp(port, devices);
    List<Double> ofRoute = new ArrayList<>();
    List<Double> ofBarest = new ArrayList<>();
    for (int i = 0; i < ROUNDS; i++) {
      double barest = rate(port, devices, Barest.PATH, MEASURED);
      double bare = rate(port, devices, "/bare", MEASURED);
      double checkIns = rate(port, devices, "/dm", MEASURED);
      System.out.printf(
          "Idle check-ins: %.0f a second; a bare route of the same listener %.0f, a handler before"
              + " all routes %.0f%n",
          checkIns, bare, barest);
      ofRoute.add(checkIns / bare);
      ofBarest.add(checkIns / barest);
    }
    System.out.printf(
        "Idle check-ins beside a bare route: %s; beside a handler before all routes: %s%n",
        median(ofRoute), median(ofBarest));
    database.run(tx -> tx.execute("create extension if not exists pg_stat_statements", Map.of()));
    String counted =
        "select coalesce(sum(calls), 0) from pg_stat_statements s join pg_database d"
            + " on d.oid = s.dbid where d.datname = current_database() and s.query %s";
    database.run(
        tx -> tx.column(String.class, "select cast(pg_stat_statements_reset() as text)", Map.of()));
    long before = asked;
    rate(port, devices, "/dm", MEASURED);
    long n = asked - before;
    double statements =
        database.call(
            tx ->
                tx.value(counted.formatted("like '%device_certificate%'"), Double.class, Map.of()));
    double all =
        database.call(tx -> tx.value(counted.formatted("is not null"), Double.class, Map.of()));
    System.out.printf(
        "Statements for each of %d check-ins: %.2f that recognise the device, %.2f in all (with"
            + " what jobs and the times of hearing cost, and what begins and ends transactions)%n",
        n, statements / n, all / n);
  }

  /**
   * Load with pauses in between: under full load the compiler gets hardly any time on few cores,
   * and minutes later much would still be interpreted.
   */
  private static void warmUp(int port, List<Device> devices) throws Exception {
    for (int i = 0; i < WARM_ROUNDS; i++) {
      for (String path : List.of(Barest.PATH, "/bare", "/dm")) {
        rate(port, devices, path, BURST);
        Thread.sleep(BURST.toMillis());
      }
    }
  }

  private static String median(List<Double> ratios) {
    ratios.sort(Double::compare);
    return "median ratio %.2f (%.2f to %.2f in %d rounds)"
        .formatted(ratios.get(ROUNDS / 2), ratios.get(0), ratios.get(ROUNDS - 1), ROUNDS);
  }

  /** Reads a body and answers, with nothing in between. */
  private static final class Barest extends Handler.Wrapper {
    static final String PATH = "/barest";
    private final byte[] answer;

    private Barest(byte[] answer) {
      this.answer = answer;
    }

    @Override
    public boolean handle(Request request, Response response, Callback callback) throws Exception {
      if (!Request.getPathInContext(request).equals(PATH)) {
        return super.handle(request, response, callback);
      }
      try (InputStream in = Content.Source.asInputStream(request)) {
        in.readAllBytes();
      }
      response.getHeaders().put(HttpHeader.CONTENT_TYPE, TYPE);
      response.getHeaders().put(HttpHeader.CONTENT_LENGTH, answer.length);
      response.write(true, ByteBuffer.wrap(answer), callback);
      return true;
    }
  }

  private static volatile long asked;

  /** Answers a second, over all devices, each on a connection of its own. */
  private static double rate(int port, List<Device> devices, String path, Duration during)
      throws Exception {
    ExecutorService threads = Executors.newFixedThreadPool(devices.size());
    long start = System.nanoTime();
    long end = start + during.toNanos();
    List<Future<Long>> running = new ArrayList<>();
    for (Device d : devices) {
      running.add(
          threads.submit(
              () -> {
                long n = 0;
                try (Line line = new Line(port, d, path)) {
                  while (System.nanoTime() < end) {
                    line.ask();
                    n++;
                  }
                }
                return n;
              }));
    }
    long total = 0;
    for (Future<Long> f : running) {
      total += f.get();
    }
    threads.shutdown();
    asked += total;
    return total / ((System.nanoTime() - start) / 1e9);
  }

  /** A device that has joined, and what it says when nothing is new. */
  private record Device(KeyPair keys, X509Certificate certificate, X509Certificate root) {
    byte[] says(String path) {
      String body =
          "<?xml version=\"1.0\" encoding=\"UTF-8\"?><SyncML xmlns=\"SYNCML:SYNCML1.2\">"
              + "<SyncHdr><VerDTD>1.2</VerDTD><VerProto>DM/1.2</VerProto><SessionID>7</SessionID>"
              + "<MsgID>1</MsgID><Target><LocURI>https://127.0.0.1/dm</LocURI></Target><Source>"
              + "<LocURI>SERIAL:X</LocURI></Source></SyncHdr><SyncBody><Alert><CmdID>1</CmdID>"
              + "<Data>1201</Data></Alert><Replace><CmdID>2</CmdID><Item><Source><LocURI>"
              + "./DevInfo/Man</LocURI></Source><Data>Arbor</Data></Item></Replace><Alert><CmdID>3"
              + "</CmdID><Data>1226</Data><Item><Meta><Type xmlns=\"syncml:metinf\">"
              + "urn:pinwright:at:tree-digest:1</Type></Meta><Data>"
              + Tree.EMPTY.digest()
              + "</Data></Item></Alert><Final/></SyncBody></SyncML>";
      return ("POST "
              + path
              + " HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: application/vnd.syncml.dm+xml;"
              + " charset=utf-8\r\nContent-Length: "
              + body.length()
              + "\r\n\r\n"
              + body)
          .getBytes(StandardCharsets.US_ASCII);
    }
  }

  private static List<Device> devices(Pinwright pinwright) {
    String profile =
        pinwright
            .enrollmentProfiles()
            .add(OWNER, Json.request("{\"name\":\"Kiosks\"}", EnrollmentForm.class))
            .id();
    String code =
        pinwright
            .invitations()
            .add(OWNER, new Invitations.Draft(profile, DEVICES, null, null, null, null))
            .code()
            .orElseThrow();
    List<Device> out = new ArrayList<>();
    for (int i = 0; i < DEVICES; i++) {
      Admission a =
          pinwright
              .joining()
              .join(
                  new Joining.Asking(code, "127.0.0.1"),
                  new JoinMessages.Request(
                      new JoinMessages.Device(
                          "tarn",
                          "7.2.1",
                          "tablet",
                          "Arbor",
                          "T10",
                          List.of(new JoinMessages.Ident("serial", "AR10-%04d".formatted(i)))),
                      null,
                      null))
              .admission()
              .orElseThrow();
      KeyPair keys = Pki.newKey();
      String certificates =
          pinwright
              .certificates()
              .enroll(
                  a.est().username(),
                  a.est().password(),
                  Pki.base64(Pki.newRequest(a.device(), keys)));
      X509Certificate certificate = Pki.readEstCertificates(certificates).get(0);
      // the first use of a certificate is more than an idle check-in
      pinwright.sessions().recognise(new X509Certificate[] {certificate}, "127.0.0.1");
      out.add(new Device(keys, certificate, pinwright.authority().root()));
    }
    return out;
  }

  /** A connection of one device that is kept open. */
  private static final class Line implements AutoCloseable {
    private final SSLSocket socket;
    private final InputStream in;
    private final OutputStream out;
    private final byte[] request;

    Line(int port, Device d, String path) throws Exception {
      KeyStore trust = KeyStore.getInstance("PKCS12");
      trust.load(null, null);
      trust.setCertificateEntry("root", d.root());
      TrustManagerFactory t = TrustManagerFactory.getInstance("PKIX");
      t.init(trust);
      KeyStore own = KeyStore.getInstance("PKCS12");
      own.load(null, null);
      own.setKeyEntry(
          "own", d.keys().getPrivate(), new char[0], new X509Certificate[] {d.certificate()});
      KeyManagerFactory k = KeyManagerFactory.getInstance("PKIX");
      k.init(own, new char[0]);
      SSLContext tls = SSLContext.getInstance("TLS");
      tls.init(k.getKeyManagers(), t.getTrustManagers(), null);
      socket = (SSLSocket) tls.getSocketFactory().createSocket("127.0.0.1", port);
      socket.setTcpNoDelay(true);
      in = new BufferedInputStream(socket.getInputStream(), 16 * 1024);
      out = socket.getOutputStream();
      request = d.says(path);
    }

    /** Sends the request and reads the answer, whose body is returned. */
    byte[] ask() throws IOException {
      out.write(request);
      out.flush();
      String status = line();
      if (!status.startsWith("HTTP/1.1 200")) {
        throw new IOException(status);
      }
      int length = -1;
      for (String header = line(); !header.isEmpty(); header = line()) {
        if (header.regionMatches(true, 0, "Content-Length:", 0, 15)) {
          length = Integer.parseInt(header.substring(15).strip());
        }
      }
      return in.readNBytes(length);
    }

    private String line() throws IOException {
      StringBuilder text = new StringBuilder();
      for (int c = in.read(); c != '\n'; c = in.read()) {
        if (c < 0) {
          throw new IOException("the listener closed the connection");
        }
        if (c != '\r') {
          text.append((char) c);
        }
      }
      return text.toString();
    }

    @Override
    public void close() throws IOException {
      socket.close();
    }
  }
}
