package dev.pinwright.client;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.pinwright.client.api.AccessApi;
import dev.pinwright.client.api.ActingApi;
import dev.pinwright.client.api.AppsApi;
import dev.pinwright.client.api.BenchApi;
import dev.pinwright.client.api.CatalogueApi;
import dev.pinwright.client.api.DevicesApi;
import dev.pinwright.client.api.HouseApi;
import dev.pinwright.client.api.IntakeApi;
import dev.pinwright.client.api.OrganisationApi;
import dev.pinwright.client.api.RecordsApi;
import dev.pinwright.client.api.RulesApi;
import dev.pinwright.client.http.ApiClient;
import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.AppBrought;
import dev.pinwright.client.model.StoredFile;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Base64;
import org.jspecify.annotations.Nullable;

/** All calls of the API on one address, signed in by a token. Immutable and thread-safe. */
public final class PinwrightClient {
  private static final Duration UPLOAD = Duration.ofMinutes(10);

  private final ApiClient api;

  /**
   * A client.
   *
   * @param address such as {@code http://127.0.0.1:7480}
   * @param token as told by {@code signIn}; empty before signing in
   */
  public PinwrightClient(String address, String token) {
    api =
        new ApiClient(
            HttpClient.newBuilder()
                .version(HttpClient.Version.HTTP_1_1)
                .connectTimeout(Duration.ofSeconds(10)),
            ApiClient.createDefaultObjectMapper(),
            address.replaceAll("/+$", "") + "/api/v1");
    api.setReadTimeout(Duration.ofMinutes(2));
    if (!token.isEmpty()) {
      api.setRequestInterceptor(r -> r.header("Authorization", "Bearer " + token));
    }
  }

  public AccessApi access() {
    return new AccessApi(api);
  }

  public CatalogueApi catalogue() {
    return new CatalogueApi(api);
  }

  public IntakeApi intake() {
    return new IntakeApi(api);
  }

  public BenchApi bench() {
    return new BenchApi(api);
  }

  public HouseApi house() {
    return new HouseApi(api);
  }

  public DevicesApi devices() {
    return new DevicesApi(api);
  }

  public OrganisationApi organisation() {
    return new OrganisationApi(api);
  }

  public RulesApi rules() {
    return new RulesApi(api);
  }

  public AppsApi apps() {
    return new AppsApi(api);
  }

  public ActingApi acting() {
    return new ActingApi(api);
  }

  public RecordsApi records() {
    return new RecordsApi(api);
  }

  /**
   * Stores a file, read from the disk as it is sent.
   *
   * @param name what it is to be called
   * @param password that opens it, for a PKCS#12; null for none
   * @throws ApiException when the service refuses it
   * @throws IOException when the file cannot be read or the service cannot be reached
   */
  public StoredFile storeFile(Path file, String name, @Nullable String password)
      throws ApiException, IOException {
    String query = "/files?name=" + ApiClient.urlEncode(name);
    HttpRequest.Builder request = uploading(query, "application/octet-stream", file);
    if (password != null) {
      request.header(
          "Pinwright-File-Password",
          Base64.getEncoder().encodeToString(password.getBytes(StandardCharsets.UTF_8)));
    }
    return sent(request, "storeFile", StoredFile.class);
  }

  /**
   * Brings a package of an app, sent as it is read.
   *
   * @throws ApiException saying what is wrong with it
   */
  public AppBrought bringPackage(Path file) throws ApiException, IOException {
    return sent(
        uploading("/apps/packages", "application/vnd.pinwright.package+zip", file),
        "bringPackage",
        AppBrought.class);
  }

  private HttpRequest.Builder uploading(String path, String type, Path file) throws IOException {
    return HttpRequest.newBuilder(URI.create(api.getBaseUri() + path))
        .header("Content-Type", type)
        .timeout(UPLOAD)
        .POST(HttpRequest.BodyPublishers.ofFile(file));
  }

  private <T> T sent(HttpRequest.Builder request, String call, Class<T> type)
      throws ApiException, IOException {
    api.getRequestInterceptor().accept(request);
    try {
      HttpResponse<String> answer =
          api.getHttpClient().send(request.build(), HttpResponse.BodyHandlers.ofString());
      if (answer.statusCode() / 100 != 2) {
        throw new ApiException(answer.statusCode(), call, answer.headers(), answer.body());
      }
      return api.getObjectMapper().readValue(answer.body(), type);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new IOException("interrupted", e);
    }
  }

  /**
   * Something of the contract from JSON.
   *
   * @throws IllegalArgumentException when it is none, with the reason in a line
   */
  public <T> T read(String json, Class<T> type) {
    try {
      return api.getObjectMapper().readValue(json, type);
    } catch (JsonProcessingException e) {
      throw new IllegalArgumentException(e.getOriginalMessage(), e);
    }
  }

  /** An answer as indented JSON. */
  public String json(Object answer) {
    ObjectMapper mapper = api.getObjectMapper();
    try {
      return mapper.writerWithDefaultPrettyPrinter().writeValueAsString(answer);
    } catch (JsonProcessingException e) {
      throw new IllegalStateException(e);
    }
  }
}
