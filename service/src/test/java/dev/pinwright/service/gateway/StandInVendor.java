package dev.pinwright.service.gateway;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpsConfigurator;
import com.sun.net.httpserver.HttpsParameters;
import com.sun.net.httpserver.HttpsServer;
import dev.pinwright.protocol.pki.AnyClient;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.protocol.pki.Pki.Identity;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.security.KeyPair;
import java.security.KeyStore;
import java.security.cert.X509Certificate;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CopyOnWriteArrayList;
import javax.net.ssl.KeyManagerFactory;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLParameters;
import javax.net.ssl.TrustManager;

/** A vendor that answers as told over real TLS, and keeps what it was asked. */
final class StandInVendor implements AutoCloseable {
  static final String TOKEN = "token of the harbour";
  private final Identity root;
  private final HttpsServer server;
  final List<String> asked = new CopyOnWriteArrayList<>();
  final Map<String, String> answers = new ConcurrentHashMap<>();
  volatile int pushAnswer = 201;

  StandInVendor(Instant now) throws Exception {
    root =
        Pki.newRoot("Maker of Tarn", now.minus(Duration.ofDays(1)), now.plus(Duration.ofDays(900)));
    Identity host =
        Pki.newServer(
            root,
            List.of("127.0.0.1"),
            Instant.now().minus(Duration.ofDays(1)),
            Instant.now().plus(Duration.ofDays(30)));
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
    tls.init(keys.getKeyManagers(), new TrustManager[] {new AnyClient()}, null);
    server = HttpsServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
    server.setHttpsConfigurator(
        new HttpsConfigurator(tls) {
          @Override
          public void configure(HttpsParameters parameters) {
            SSLParameters p = tls.getDefaultSSLParameters();
            p.setWantClientAuth(true);
            parameters.setSSLParameters(p);
          }
        });
    server.createContext("/", this::answer);
    server.start();
  }

  private void answer(HttpExchange x) throws IOException {
    String body = new String(x.getRequestBody().readAllBytes(), StandardCharsets.ISO_8859_1);
    String call = x.getRequestMethod() + " " + x.getRequestURI();
    boolean push = call.contains("/push/");
    asked.add(
        push
            ? call + " TTL=" + x.getRequestHeaders().getFirst("TTL") + " " + body.length()
            : call + " " + body);
    String bearer = x.getRequestHeaders().getFirst("Authorization");
    int status = push ? pushAnswer : ("Bearer " + TOKEN).equals(bearer) ? 200 : 401;
    byte[] answer =
        answers
            .getOrDefault(x.getRequestMethod() + " " + x.getRequestURI().getPath(), "{}")
            .getBytes(StandardCharsets.UTF_8);
    x.sendResponseHeaders(status, answer.length);
    x.getResponseBody().write(answer);
    x.close();
  }

  String address() {
    return "https://127.0.0.1:" + server.getAddress().getPort() + "/tarn";
  }

  String rootPem() {
    return Pki.pem(root.certificate());
  }

  /** Signs a request under an account. */
  String sign(String account, String request, Instant until) {
    return Pki.pem(
        Pki.issueClient(
            root,
            "tarn." + account.hashCode(),
            account,
            Pki.requestedKey(request),
            Instant.EPOCH,
            until));
  }

  /** What a device of its making presents. */
  List<X509Certificate> identity(String serial) {
    KeyPair pair = Pki.newKey();
    return List.of(Pki.issueIdentity(root, "Arbor", serial, pair.getPublic(), Instant.EPOCH));
  }

  /** Lists devices as registered: serial and whether it is assigned. */
  void registered(String... serials) {
    StringBuilder items = new StringBuilder();
    for (String s : serials) {
      boolean assigned = !s.startsWith("-");
      items
          .append(items.isEmpty() ? "" : ",")
          .append("{\"serial\":\"")
          .append(s.replaceFirst("^-", ""))
          .append("\",\"model\":\"T10\",\"kind\":\"tablet\",\"order\":\"VM-114\",")
          .append("\"registeredAt\":\"2026-03-01T08:00:00Z\",\"assigned\":")
          .append(assigned)
          .append('}');
    }
    answers.put("GET /tarn/registrar/devices", "{\"items\":[" + items + "]}");
  }

  @Override
  public void close() {
    server.stop(0);
  }
}
