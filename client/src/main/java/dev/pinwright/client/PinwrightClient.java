package dev.pinwright.client;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.pinwright.client.api.AccessApi;
import dev.pinwright.client.api.ActingApi;
import dev.pinwright.client.api.AppsApi;
import dev.pinwright.client.api.BenchApi;
import dev.pinwright.client.api.CatalogueApi;
import dev.pinwright.client.api.DevicesApi;
import dev.pinwright.client.api.HolderApi;
import dev.pinwright.client.api.HouseApi;
import dev.pinwright.client.api.IntakeApi;
import dev.pinwright.client.api.OrganisationApi;
import dev.pinwright.client.api.RecordsApi;
import dev.pinwright.client.api.RulesApi;
import dev.pinwright.client.http.ApiClient;
import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.AppBrought;
import dev.pinwright.client.model.StoredFile;
import dev.pinwright.client.model.Upload;
import dev.pinwright.client.model.UploadDraft;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.ByteBuffer;
import java.nio.channels.SeekableByteChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Base64;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** All calls of the API on one address, signed in by a token. Immutable and thread-safe. */
public final class PinwrightClient {
  private static final Duration UPLOAD = Duration.ofMinutes(10);
  private static final int PART = 4 << 20;
  private static final int MOST_BREAKS = 12;
  private static final Duration MOST_PAUSE = Duration.ofSeconds(20);

  /** Answers that say nothing of what was asked: busy, or not there at the moment. */
  private static final Set<Integer> PASSING = Set.of(502, 503, 504);

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

  public HolderApi holder() {
    return new HolderApi(api);
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

  /** Told how much of an upload is there. */
  public interface Progress {
    /**
     * Called after each part.
     *
     * @param upload what is to be said to go on with it
     */
    void at(String upload, long there, long bytes);
  }

  /** Brings a package of an app, see {@link #bringPackage(Path, String, Progress)}. */
  public AppBrought bringPackage(Path file) throws ApiException, IOException {
    return bringPackage(file, null, (upload, there, bytes) -> {});
  }

  /**
   * Brings a package of an app, sent in parts; where the line breaks it goes on where it stopped,
   * for some minutes.
   *
   * @param upload one that was begun before, of the same file; null to begin one
   * @throws ApiException saying what is wrong with it
   * @throws IOException when the service could not be reached for long
   */
  public AppBrought bringPackage(Path file, @Nullable String upload, Progress progress)
      throws ApiException, IOException {
    long bytes = Files.size(file);
    Upload at =
        upload == null
            ? apps().beginUpload(new UploadDraft().bytes(bytes))
            : apps().getUpload(upload);
    try (SeekableByteChannel content = Files.newByteChannel(file)) {
      int broken = 0;
      while (at.getThere() < bytes) {
        content.position(at.getThere());
        ByteBuffer part = ByteBuffer.allocate((int) Math.min(PART, bytes - at.getThere()));
        while (part.hasRemaining() && content.read(part) >= 0) {
          continue;
        }
        try {
          at = sendPart(at, part.array());
          broken = 0;
          progress.at(at.getId(), at.getThere(), bytes);
        } catch (IOException e) {
          if (++broken > MOST_BREAKS) {
            throw e;
          }
          at = there(at, broken);
        } catch (ApiException e) {
          if (!PASSING.contains(e.getCode()) || ++broken > MOST_BREAKS) {
            throw e;
          }
          at = there(at, broken);
        }
      }
    }
    return apps().bringUpload(at.getId());
  }

  /** How far an upload is after a break; as it was where the service cannot be reached. */
  private Upload there(Upload at, int broken) throws ApiException, IOException {
    try {
      Thread.sleep(Math.min(MOST_PAUSE.toMillis(), 250L << broken));
      return apps().getUpload(at.getId());
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new IOException("interrupted", e);
    } catch (ApiException e) {
      if (e.getCode() != 0) {
        throw e;
      }
      return at;
    }
  }

  /**
   * Sends the next part of an upload.
   *
   * @return how far it is then
   */
  public Upload sendPart(Upload at, byte[] content) throws ApiException, IOException {
    String path = "/uploads/" + at.getId() + "/parts?from=" + at.getThere();
    return sent(
        HttpRequest.newBuilder(URI.create(api.getBaseUri() + path))
            .header("Content-Type", "application/octet-stream")
            .timeout(UPLOAD)
            .POST(HttpRequest.BodyPublishers.ofByteArray(content)),
        "sendPart",
        Upload.class);
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
