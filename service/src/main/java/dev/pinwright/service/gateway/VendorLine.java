package dev.pinwright.service.gateway;

import com.fasterxml.jackson.databind.JsonNode;
import dev.pinwright.core.Text;
import dev.pinwright.protocol.pki.ClientTls;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Database;
import java.io.IOException;
import java.io.InputStream;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.security.PrivateKey;
import java.security.cert.X509Certificate;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import org.jspecify.annotations.Nullable;

/** HTTPS to a vendor's services, trusting the vendor's own roots and nobody else. */
final class VendorLine {
  private static final Duration PATIENCE = Duration.ofSeconds(20);
  private static final int WORDS = 200;
  private static final int MOST = 32 * 1024 * 1024;
  private final HttpClient http;
  private final String services;

  /**
   * @param services base address, without a slash at its end
   * @param key and certificate to present, or null for none
   */
  VendorLine(
      String services,
      List<X509Certificate> roots,
      @Nullable PrivateKey key,
      @Nullable X509Certificate certificate) {
    this.services = services;
    Optional<Pki.Identity> own =
        key == null || certificate == null
            ? Optional.empty()
            : Optional.of(new Pki.Identity(key, certificate));
    http =
        HttpClient.newBuilder()
            .sslContext(ClientTls.trusting(roots, own))
            .version(HttpClient.Version.HTTP_1_1)
            .connectTimeout(Duration.ofSeconds(5))
            .build();
  }

  /**
   * A call with a bearer token (RFC 6750) and a JSON answer.
   *
   * @throws Problem 502 saying what the vendor's services answered, or that they did not
   */
  JsonNode call(String method, String path, String token, @Nullable Object body) {
    Database.outsideTransactions("a vendor");
    HttpRequest.Builder request =
        HttpRequest.newBuilder(URI.create(services + path))
            .timeout(PATIENCE)
            .header("Authorization", "Bearer " + token)
            .header("Content-Type", "application/json")
            .method(
                method,
                body == null
                    ? HttpRequest.BodyPublishers.noBody()
                    : HttpRequest.BodyPublishers.ofString(Json.write(body)));
    try {
      HttpResponse<InputStream> answer =
          http.send(request.build(), HttpResponse.BodyHandlers.ofInputStream());
      String said = body(answer);
      if (answer.statusCode() == 401 || answer.statusCode() == 403) {
        throw failed("The vendor does not accept the token; get a new one from its portal.");
      }
      if (answer.statusCode() >= 300) {
        String words = Text.cleaned(said, WORDS);
        throw failed(
            "The vendor's services answered "
                + answer.statusCode()
                + (words.isEmpty() ? "." : ": " + words));
      }
      return said.isBlank() ? Json.MAPPER.createObjectNode() : Json.tree(said);
    } catch (IOException e) {
      String why = e.getMessage() == null ? e.getClass().getSimpleName() : e.getMessage();
      throw failed("The vendor's services at " + services + " cannot be reached: " + why + ".");
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw failed("The call was broken off.");
    }
  }

  private static String body(HttpResponse<InputStream> answer) throws IOException {
    try (InputStream in = answer.body()) {
      byte[] read = in.readNBytes(MOST + 1);
      if (read.length > MOST) {
        throw failed("The vendor's services answered with more than can be read.");
      }
      return new String(read, StandardCharsets.UTF_8);
    }
  }

  /** Posts to a push resource (RFC 8030, 5); the answer's status. */
  CompletableFuture<Integer> push(String endpoint, Map<String, String> headers, byte[] body) {
    Database.outsideTransactions("a push service");
    HttpRequest.Builder request =
        HttpRequest.newBuilder(URI.create(endpoint))
            .timeout(PATIENCE)
            .POST(HttpRequest.BodyPublishers.ofByteArray(body));
    headers.forEach(request::header);
    return http.sendAsync(request.build(), HttpResponse.BodyHandlers.discarding())
        .thenApply(HttpResponse::statusCode);
  }

  private static Problem failed(String detail) {
    return new Problem(502, "vendor-failed", "The vendor's services failed", detail);
  }
}
