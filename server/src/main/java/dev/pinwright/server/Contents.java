package dev.pinwright.server;

import dev.pinwright.service.cache.SiteCaches;
import dev.pinwright.service.file.FileContent;
import dev.pinwright.service.file.StoredFiles;
import dev.pinwright.service.work.Problem;
import java.io.InputStream;
import java.security.cert.X509Certificate;
import java.util.List;
import java.util.Optional;
import org.eclipse.jetty.http.ByteRange;
import org.eclipse.jetty.http.HttpField;
import org.eclipse.jetty.http.HttpFields;
import org.eclipse.jetty.http.HttpHeader;
import org.eclipse.jetty.http.HttpMethod;
import org.eclipse.jetty.http.HttpStatus;
import org.eclipse.jetty.io.ByteBufferPool;
import org.eclipse.jetty.io.Content;
import org.eclipse.jetty.io.EndPoint;
import org.eclipse.jetty.io.content.InputStreamContentSource;
import org.eclipse.jetty.server.Handler;
import org.eclipse.jetty.server.Request;
import org.eclipse.jetty.server.Response;
import org.eclipse.jetty.util.Callback;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * What devices fetch: {@code /content/sha256/<hex>}, with ranges (RFC 9110, 14) and for any cache
 * to keep for ever. Whoever knows the digest may read. However slowly somebody reads, no worker and
 * no connection to the database waits for them.
 */
final class Contents extends Handler.Wrapper {
  static final String ROOT = "/content/sha256/";

  private static final Logger LOG = LoggerFactory.getLogger(Contents.class);
  private static final int PART = 64 * 1024;

  private final StoredFiles files;
  private final SiteCaches caches;

  Contents(StoredFiles files, SiteCaches caches, Handler.Singleton next) {
    super(next);
    this.files = files;
    this.caches = caches;
  }

  @Override
  public boolean handle(Request request, Response response, Callback callback) throws Exception {
    String path = Request.getPathInContext(request);
    if (!path.startsWith(ROOT)) {
      return super.handle(request, response, callback);
    }
    try {
      answer(request, path.substring(ROOT.length()), response, callback);
    } catch (Problem p) {
      refuse(response, p, callback);
    } catch (RuntimeException e) {
      LOG.warn("a file cannot be read", e);
      refuse(
          response,
          new Problem(503, "busy", "Busy", "The file cannot be read now; ask again soon.")
              .with("retryAfter", 10),
          callback);
    }
    return true;
  }

  private void answer(Request request, String digest, Response response, Callback callback) {
    boolean head = HttpMethod.HEAD.is(request.getMethod());
    if (!head && !HttpMethod.GET.is(request.getMethod())) {
      response.getHeaders().put(HttpHeader.ALLOW, "GET, HEAD");
      throw new Problem(405, "method-not-allowed", "Not allowed", "A file is read by GET or HEAD.");
    }
    FileContent content =
        Optional.of(digest)
            .filter(d -> d.matches("[0-9a-f]{64}"))
            .flatMap(files::content)
            .orElseThrow(
                () ->
                    new Problem(
                        404,
                        "not-found",
                        "Not found",
                        "There is no file of this digest; it is 64 lower-case hexadecimal digits."));
    String tag = "\"" + digest + "\"";
    HttpFields.Mutable headers = response.getHeaders();
    headers.put(HttpHeader.ETAG, tag);
    headers.put(HttpHeader.CACHE_CONTROL, "public, max-age=31536000, immutable");
    headers.put(HttpHeader.ACCEPT_RANGES, "bytes");
    headers.put("X-Content-Type-Options", "nosniff");
    if (named(request, HttpHeader.IF_NONE_MATCH, tag)) {
      response.setStatus(HttpStatus.NOT_MODIFIED_304);
      callback.succeeded();
      return;
    }
    headers.put(HttpHeader.CONTENT_TYPE, content.mediaType());
    long from = 0;
    long bytes = content.bytes();
    Optional<ByteRange> range = range(request, tag, bytes);
    if (range.isPresent()) {
      from = range.get().first();
      bytes = range.get().getLength();
      headers.put(HttpHeader.CONTENT_RANGE, range.get().toHeaderValue(content.bytes()));
      response.setStatus(HttpStatus.PARTIAL_CONTENT_206);
    }
    headers.put(HttpHeader.CONTENT_LENGTH, bytes);
    if (head) {
      callback.succeeded();
      return;
    }
    caches.sending(chain(request), bytes);
    InputStream in = content.open(from, bytes);
    ByteBufferPool.Sized pool =
        new ByteBufferPool.Sized(request.getComponents().getByteBufferPool(), false, PART);
    Content.copy(new InputStreamContentSource(in, pool), response, callback);
  }

  /** What a cache or a device presented; nothing mostly: the digest is the right to read. */
  static X509Certificate[] chain(Request request) {
    return request.getAttribute(EndPoint.SslSessionData.ATTRIBUTE)
                instanceof EndPoint.SslSessionData tls
            && tls.peerCertificates() != null
        ? tls.peerCertificates()
        : new X509Certificate[0];
  }

  private static boolean named(Request request, HttpHeader header, String tag) {
    List<String> tags = request.getHeaders().getCSV(header, true);
    return tags.stream().anyMatch(t -> t.equals("*") || t.replaceFirst("^W/", "").equals(tag));
  }

  /**
   * The one range that is asked for; of several nothing is made, which leaves the whole (RFC 9110,
   * 14.2). What cannot be understood counts as not said.
   *
   * @throws Problem 416 when it begins behind the end
   */
  private static Optional<ByteRange> range(Request request, String tag, long bytes) {
    String said = request.getHeaders().get(HttpHeader.RANGE);
    String only = request.getHeaders().get(HttpHeader.IF_RANGE);
    if (said == null
        || !said.matches("bytes=(\\d{1,18}-\\d{0,18}|-\\d{1,18})")
        || only != null && !only.equals(tag)) {
      return Optional.empty();
    }
    List<ByteRange> ranges = ByteRange.parse(List.of(said), bytes);
    if (ranges.isEmpty()) {
      throw new Problem(416, "no-such-range", "No such range", "The file has " + bytes + " bytes.")
          .with("bytes", bytes);
    }
    return Optional.of(ranges.get(0));
  }

  private static void refuse(Response response, Problem problem, Callback callback) {
    HttpFields.Mutable headers = response.getHeaders();
    headers.remove(HttpHeader.ETAG);
    headers.put(HttpHeader.CACHE_CONTROL, "no-store");
    if (problem.status() == HttpStatus.RANGE_NOT_SATISFIABLE_416) {
      headers.put(
          new HttpField(HttpHeader.CONTENT_RANGE, "bytes */" + problem.extras().get("bytes")));
    }
    Problems.answer(problem, ROOT, response, callback);
  }
}
