package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.pinwright.protocol.dm.DeviceSession;
import dev.pinwright.protocol.dm.DeviceSide;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.protocol.syncml.Message;
import dev.pinwright.protocol.syncml.SyncMl;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.security.KeyPair;
import java.security.KeyStore;
import java.security.PrivateKey;
import java.security.cert.X509Certificate;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import javax.net.ssl.KeyManagerFactory;
import javax.net.ssl.SSLContext;
import javax.net.ssl.TrustManagerFactory;

/** A device client that is not ours: plain HTTPS, JSON and XML as the protocol's page has them. */
final class Wire {
  static final ObjectMapper JSON = new ObjectMapper();
  private final String base;
  private final HttpClient http;

  /** An answer. */
  record Answer(int status, HttpResponse<String> response) {
    JsonNode json() {
      try {
        return JSON.readTree(response.body());
      } catch (IOException e) {
        throw new IllegalStateException(response.body(), e);
      }
    }

    /** The end of the problem's type. */
    String problem() {
      String type = json().path("type").asText();
      return type.substring(type.lastIndexOf('/') + 1);
    }

    String detail() {
      return json().path("detail").asText();
    }

    String header(String name) {
      return response.headers().firstValue(name).orElse("");
    }
  }

  /** A client that trusts one root and may present a certificate. */
  Wire(String base, X509Certificate root, PrivateKey key, X509Certificate certificate) {
    this.base = base;
    try {
      KeyStore trust = KeyStore.getInstance("PKCS12");
      trust.load(null, null);
      trust.setCertificateEntry("root", root);
      TrustManagerFactory t = TrustManagerFactory.getInstance("PKIX");
      t.init(trust);
      KeyManagerFactory k = KeyManagerFactory.getInstance("PKIX");
      KeyStore own = KeyStore.getInstance("PKCS12");
      own.load(null, null);
      if (key != null) {
        own.setKeyEntry("own", key, new char[0], new X509Certificate[] {certificate});
      }
      k.init(own, new char[0]);
      SSLContext tls = SSLContext.getInstance("TLS");
      tls.init(k.getKeyManagers(), t.getTrustManagers(), null);
      http = HttpClient.newBuilder().sslContext(tls).version(HttpClient.Version.HTTP_1_1).build();
    } catch (Exception e) {
      throw new IllegalStateException(e);
    }
  }

  Answer send(String method, String path, Map<String, String> headers, byte[] body) {
    try {
      HttpRequest.Builder r =
          HttpRequest.newBuilder(URI.create(base + path))
              .method(method, HttpRequest.BodyPublishers.ofByteArray(body));
      headers.forEach(r::header);
      HttpResponse<String> response = http.send(r.build(), HttpResponse.BodyHandlers.ofString());
      return new Answer(response.statusCode(), response);
    } catch (IOException e) {
      throw new IllegalStateException(e);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new IllegalStateException(e);
    }
  }

  /** What a WebSocket at this address is refused with; 101 where it is opened. */
  int socket(String path) {
    return Watcher.refused(http, base + path);
  }

  Answer get(String path) {
    return send("GET", path, Map.of(), new byte[0]);
  }

  Answer join(String code, Object body) {
    try {
      return send(
          "POST",
          "/join/" + code,
          Map.of("Content-Type", "application/json"),
          JSON.writeValueAsBytes(body));
    } catch (IOException e) {
      throw new IllegalStateException(e);
    }
  }

  Answer enroll(String user, String password, String csr) {
    String basic =
        Base64.getEncoder()
            .encodeToString((user + ":" + password).getBytes(StandardCharsets.UTF_8));
    return send(
        "POST",
        "/.well-known/est/simpleenroll",
        Map.of("Content-Type", "application/pkcs10", "Authorization", "Basic " + basic),
        csr.getBytes(StandardCharsets.US_ASCII));
  }

  Answer dm(String xml) {
    return send(
        "POST",
        "/dm",
        Map.of("Content-Type", "application/vnd.syncml.dm+xml; charset=utf-8"),
        xml.getBytes(StandardCharsets.UTF_8));
  }

  /** Device JSON of the join exchange. */
  static Map<String, Object> device(String platform, String os, String kind, String serial) {
    return Map.of(
        "platform",
        platform,
        "osVersion",
        os,
        "kind",
        kind,
        "maker",
        "Arbor",
        "model",
        "T10",
        "identifiers",
        List.of(Map.of("kind", "serial", "value", serial)));
  }

  /** A device that has joined: its id, key and certificate. */
  record Joined(String id, KeyPair keys, X509Certificate certificate, Wire wire) {
    /**
     * Holds a session to its end, as a device with this tree.
     *
     * @param most bytes of the largest message it takes
     * @return messages it sent
     */
    int session(
        DeviceSide side, String sessionId, int most, List<DeviceSession.Outstanding> alerts) {
      DeviceSession session = new DeviceSession(side, sessionId, "SERIAL:X", "https://x/dm", most);
      Optional<Message> next = Optional.of(session.open(false, Map.of("Man", "Arbor"), alerts));
      int messages = 0;
      while (next.isPresent()) {
        messages++;
        Answer a = wire.dm(new String(SyncMl.write(next.get()), StandardCharsets.UTF_8));
        assertThat(a.status()).as(a.response().body()).isEqualTo(200);
        assertThat(a.response().body().getBytes(StandardCharsets.UTF_8))
            .as("bytes of a message to a device that takes " + most)
            .hasSizeLessThanOrEqualTo(most);
        next = session.next(read(a));
      }
      return messages;
    }

    /** Sends package 1 and hears nothing of the answer. */
    void unheard(DeviceSide side, String sessionId, List<DeviceSession.Outstanding> alerts) {
      Message first =
          new DeviceSession(side, sessionId, "SERIAL:X", "https://x/dm", 60_000)
              .open(false, Map.of("Man", "Arbor"), alerts);
      wire.dm(new String(SyncMl.write(first), StandardCharsets.UTF_8));
    }

    private static Message read(Answer a) {
      try {
        return SyncMl.read(a.response().body().getBytes(StandardCharsets.UTF_8));
      } catch (Exception e) {
        throw new IllegalStateException(a.response().body(), e);
      }
    }
  }

  /** A generic alert of package 1. */
  static DeviceSession.Outstanding alert(String type, String data) {
    return new DeviceSession.Outstanding(type, data, Optional.empty());
  }

  /** Joins by a code and enrolls. */
  Joined joined(String code, String serial, X509Certificate root) {
    Answer a =
        join(code, Map.of("device", device("tarn", "7.2", "tablet", serial), "termsAccepted", 1));
    if (a.status() != 201) {
      throw new IllegalStateException(a.response().body());
    }
    KeyPair keys = Pki.newKey();
    String id = a.json().path("commonName").asText();
    Answer e =
        enroll(
            a.json().at("/est/username").asText(),
            a.json().at("/est/password").asText(),
            Pki.base64(Pki.newRequest(id, keys)));
    X509Certificate c = Pki.readEstCertificates(e.response().body()).get(0);
    return new Joined(id, keys, c, new Wire(base, root, keys.getPrivate(), c));
  }

  /** Package 1 with a digest alert, or without one when it is empty. */
  static String packageOne(String session, int msgId, String digest) {
    String alert =
        digest.isEmpty()
            ? ""
            : "<Alert><CmdID>3</CmdID><Data>1226</Data><Item><Meta><Type"
                + " xmlns=\"syncml:metinf\">urn:pinwright:at:tree-digest:1</Type></Meta><Data>"
                + digest
                + "</Data></Item></Alert>";
    return message(
        session,
        msgId,
        "<Alert><CmdID>1</CmdID><Data>1201</Data></Alert><Replace><CmdID>2</CmdID><Item><Source>"
            + "<LocURI>./DevInfo/Man</LocURI></Source><Data>Arbor</Data></Item></Replace>"
            + alert);
  }

  static String message(String session, int msgId, String body) {
    return "<?xml version=\"1.0\" encoding=\"UTF-8\"?><SyncML xmlns=\"SYNCML:SYNCML1.2\"><SyncHdr>"
        + "<VerDTD>1.2</VerDTD><VerProto>DM/1.2</VerProto><SessionID>"
        + session
        + "</SessionID><MsgID>"
        + msgId
        + "</MsgID><Target><LocURI>https://127.0.0.1/dm</LocURI></Target><Source><LocURI>SERIAL:X"
        + "</LocURI></Source></SyncHdr><SyncBody>"
        + body
        + "<Final/></SyncBody></SyncML>";
  }
}
