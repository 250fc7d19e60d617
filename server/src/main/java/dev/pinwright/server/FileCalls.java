package dev.pinwright.server;

import static dev.pinwright.server.Calls.*;

import dev.pinwright.service.file.StoredFiles;
import dev.pinwright.service.work.Problem;
import io.javalin.http.Context;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.Base64;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Files devices are handed. */
final class FileCalls {
  private static final String PASSWORD = "Pinwright-File-Password";

  private final StoredFiles files;

  FileCalls(StoredFiles files) {
    this.files = files;
  }

  private record Name(@Nullable String name) {}

  void install(Routes r) {
    r.get(
        ROOT + "/files",
        ctx -> json(ctx, files.page(caller(ctx), query(ctx, "q"), query(ctx, "kind"), page(ctx))));
    r.post(ROOT + "/files", this::store);
    r.get(ROOT + "/files/{id}", ctx -> shown(ctx, files.get(caller(ctx), id(ctx))));
    r.put(
        ROOT + "/files/{id}",
        ctx ->
            shown(
                ctx,
                files.rename(
                    caller(ctx), id(ctx), ifMatch(ctx), text(body(ctx, Name.class).name()))));
    r.delete(
        ROOT + "/files/{id}",
        ctx -> {
          files.delete(caller(ctx), id(ctx), ifMatch(ctx));
          ctx.status(204);
        });
    r.get(ROOT + "/files/{id}/content", this::content);
  }

  private static void shown(Context ctx, StoredFiles.Detail detail) {
    versioned(ctx, detail.file().version(), detail);
  }

  private void store(Context ctx) {
    String type = ctx.contentType();
    if (type == null || !type.startsWith("application/octet-stream")) {
      throw new Problem(
          415, "wrong-media-type", "Wrong media type", "Send application/octet-stream.");
    }
    String kind = query(ctx, "kind");
    StoredFiles.Kept kept =
        files.keep(
            caller(ctx),
            new StoredFiles.Brought(
                query(ctx, "name"),
                kind.isEmpty() ? Optional.empty() : Optional.of(StoredFiles.kind(kind)),
                password(ctx)),
            ctx.bodyInputStream());
    ctx.status(kept.before() ? 200 : 201);
    versioned(ctx, kept.file());
  }

  private static Optional<String> password(Context ctx) {
    String sent = text(ctx.header(PASSWORD));
    try {
      return Optional.of(new String(Base64.getDecoder().decode(sent), StandardCharsets.UTF_8))
          .filter(p -> !p.isEmpty());
    } catch (IllegalArgumentException e) {
      throw Problem.malformed("/password", PASSWORD + " has to be UTF-8 in base64.");
    }
  }

  /** RFC 6266 and RFC 8187: the name as it is, whatever letters it has. */
  private void content(Context ctx) {
    var content = files.content(id(ctx)).orElseThrow(() -> Problem.notFound("file", id(ctx)));
    String name = URLEncoder.encode(content.name(), StandardCharsets.UTF_8).replace("+", "%20");
    ctx.header("Content-Disposition", "attachment; filename*=UTF-8''" + name);
    ctx.header("Cache-Control", "private, max-age=86400, immutable");
    ctx.header("Content-Length", String.valueOf(content.bytes()));
    ctx.contentType(content.mediaType());
    ctx.result(content.open(0, content.bytes()));
  }
}
