package dev.pinwright.server;

import static dev.pinwright.server.Calls.*;

import dev.pinwright.core.file.StoredFile;
import dev.pinwright.service.configuration.Configurations;
import dev.pinwright.service.file.StoredFiles;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Problem;
import io.javalin.http.Context;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.Map;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;

/** The configuration as files. */
final class ConfigurationCalls {
  /** What a configuration is sent as: it may be larger than other requests. */
  static final String TYPE = "application/vnd.pinwright.configuration+json";

  private static final int MOST_BYTES = 16 << 20;

  private final Configurations configurations;
  private final StoredFiles files;

  ConfigurationCalls(Configurations configurations, StoredFiles files) {
    this.configurations = configurations;
    this.files = files;
  }

  void install(Routes r) {
    r.get(ROOT + "/configuration", ctx -> json(ctx, configurations.write(caller(ctx))));
    r.post(ROOT + "/configuration", ctx -> json(ctx, configurations.load(caller(ctx), sent(ctx))));
    r.post(
        ROOT + "/configuration/rehearsal",
        ctx -> json(ctx, configurations.rehearse(caller(ctx), sent(ctx))));
    r.get(ROOT + "/configuration.zip", this::archive);
    r.get(ROOT + "/configuration/schema", ctx -> json(ctx, configurations.schema()));
  }

  /** Written as it is read: never more than a part of a file is in memory. */
  private void archive(Context ctx) throws IOException {
    Configurations.Files all = configurations.write(caller(ctx));
    ctx.contentType("application/zip");
    ctx.header("Content-Disposition", "attachment; filename=\"pinwright.zip\"");
    try (ZipOutputStream zip = new ZipOutputStream(ctx.outputStream(), StandardCharsets.UTF_8)) {
      for (Map.Entry<String, String> text : all.texts().entrySet()) {
        zip.putNextEntry(new ZipEntry(text.getKey()));
        zip.write(text.getValue().getBytes(StandardCharsets.UTF_8));
      }
      for (StoredFile f : all.files()) {
        var content = files.content(f.id());
        if (content.isPresent()) {
          zip.putNextEntry(new ZipEntry("files/" + f.name()));
          try (InputStream in = content.get().open(0, content.get().bytes())) {
            in.transferTo(zip);
          }
        }
      }
    }
  }

  private static Configurations.Load sent(Context ctx) {
    try (InputStream in = ctx.bodyInputStream()) {
      byte[] body = in.readNBytes(MOST_BYTES + 1);
      if (body.length > MOST_BYTES) {
        throw new Problem(
            413,
            "too-large",
            "Too large",
            "A configuration has at most " + (MOST_BYTES >> 20) + " MiB of text.");
      }
      return Json.request(new String(body, StandardCharsets.UTF_8), Configurations.Load.class);
    } catch (IOException e) {
      throw Problem.malformed("", "The configuration broke off; send it again.");
    }
  }
}
