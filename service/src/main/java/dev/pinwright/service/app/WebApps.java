package dev.pinwright.service.app;

import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.pinwright.core.Words;
import dev.pinwright.core.app.Origin;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.Platform;
import dev.pinwright.core.file.FileKind;
import dev.pinwright.protocol.pack.Manifest;
import dev.pinwright.protocol.pack.PackageFile;
import dev.pinwright.protocol.pack.PackageMaker;
import dev.pinwright.protocol.pack.PackageRefused;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.service.file.ArrivedFile;
import dev.pinwright.service.file.FileContent;
import dev.pinwright.service.file.StoredFiles;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.app.AppStore;
import dev.pinwright.storage.row.AppRow;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.text.Normalizer;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * Pages of the web that open like apps. Each is made into a package here and signed, so that it
 * installs, is offered, is updated and lies in kiosks as any other does.
 */
public final class WebApps {
  private static final String PICTURE = "icon.png";
  private static final String START = "start.html";
  private static final int SLUG = 32;

  private final UseCases useCases;
  private final Catalog catalog;
  private final Apps apps;
  private final StoredFiles files;
  private final Pki.Identity signer;

  public WebApps(
      UseCases useCases, Catalog catalog, Apps apps, StoredFiles files, Pki.Identity signer) {
    this.useCases = useCases;
    this.catalog = catalog;
    this.apps = apps;
    this.files = files;
    this.signer = signer;
  }

  /**
   * A page of the web as it is to be an app.
   *
   * @param address what it opens, {@code https} or {@code http}
   * @param platforms it is for; all where none is said
   * @param icon SHA-256 of a picture among the files, a PNG; none for one drawn from its name
   */
  public record Spec(
      Optional<String> name,
      Optional<String> address,
      Optional<List<String>> platforms,
      Optional<String> publisher,
      Optional<String> summary,
      Optional<String> category,
      Optional<String> icon) {}

  /**
   * Makes an app of a page; it is released to all and can be assigned.
   *
   * @throws Problem 400 saying what is wrong with it
   */
  public Apps.Detail make(Caller caller, Spec spec) {
    String name = said(spec.name(), "/name", "Say what the app is called.");
    String id = useCases.read(tx -> free(tx, "web." + slug(name)));
    return packed(
        spec,
        id,
        1,
        Optional.empty(),
        (arrived, read) ->
            useCases.act(
                caller,
                act -> {
                  Apps.Brought brought = apps.bring(act, arrived, read, Origin.WEB);
                  AppRow row = act.tx().lock(AppRow.class, brought.app().app().id()).orElseThrow();
                  row.forAll = brought.version().code();
                  row.forEarly = row.forAll;
                  act.tx().flush();
                  return apps.detail(act.tx(), row);
                }));
  }

  /**
   * Brings another version of such an app; what is not said stays as it is. Devices get it once it
   * is released.
   *
   * @param version of the app's record as it was seen
   * @throws Problem 400 saying what is wrong with it, 409 when it is no page of the web, 412 when
   *     someone else changed it meanwhile
   */
  public Apps.Brought change(Caller caller, String appId, int version, Spec spec) {
    AppRow row =
        useCases.read(
            tx -> {
              AppRow found = Apps.row(tx, appId);
              if (!found.origin.equals(Words.of(Origin.WEB))) {
                throw Problem.conflict("no-web-app", found.name + " is no page of the web.");
              }
              return found;
            });
    Apps.Version before =
        useCases.read(
            tx ->
                new AppStore(tx)
                    .releases(appId, Long.MAX_VALUE, 1).stream()
                        .findFirst()
                        .map(Apps.Version::of)
                        .orElseThrow());
    Spec whole =
        new Spec(
            spec.name().or(() -> Optional.of(row.name)),
            spec.address().or(before::opens),
            spec.platforms().or(() -> Optional.of(List.copyOf(before.lowestOs().keySet()))),
            spec.publisher().or(() -> Optional.of(row.publisher)),
            spec.summary().or(() -> Optional.of(row.summary)),
            spec.category().or(() -> Optional.of(row.category)),
            spec.icon());
    return packed(
        whole,
        row.packageId,
        before.code() + 1,
        Optional.ofNullable(row.icon),
        (arrived, read) ->
            useCases.act(
                caller,
                act -> {
                  Known.locked(act.tx(), AppRow.class, "app", appId, version, r -> r.version);
                  return apps.bring(act, arrived, read, Origin.WEB);
                }));
  }

  private static String said(Optional<String> text, String pointer, String ask) {
    return text.map(String::strip)
        .filter(t -> !t.isEmpty())
        .orElseThrow(() -> Problem.malformed(pointer, ask));
  }

  private static String slug(String name) {
    String plain =
        Normalizer.normalize(name, Normalizer.Form.NFD)
            .replaceAll("\\p{M}", "")
            .toLowerCase(Locale.ROOT)
            .replaceAll("[^a-z0-9]+", "-")
            .replaceAll("^[-0-9]+|-+$", "");
    String slug = plain.isEmpty() ? "page" : plain;
    return slug.length() > SLUG ? slug.substring(0, SLUG).replaceAll("-+$", "") : slug;
  }

  private static String free(Tx tx, String wanted) {
    String id = wanted;
    for (int n = 2; new AppStore(tx).ofPackage(id).isPresent(); n++) {
      id = wanted + "-" + n;
    }
    return id;
  }

  // ---- the package -----------------------------------------------------------------------------

  private interface Taking<T> {
    T take(ArrivedFile arrived, PackageFile read);
  }

  private <T> T packed(
      Spec spec, String id, long code, Optional<byte[]> iconBefore, Taking<T> taking) {
    Optional<byte[]> icon = spec.icon().map(this::picture).or(() -> iconBefore);
    Path folder = null;
    Path made = null;
    try {
      folder = Files.createTempDirectory("pinwright-web-");
      made = Files.createTempFile("pinwright-web-", ".pkg");
      String address = said(spec.address(), "/address", "Say which address it opens.");
      Files.writeString(folder.resolve(START), start(address));
      if (icon.isPresent()) {
        Files.write(folder.resolve(PICTURE), icon.get());
      }
      Files.writeString(folder.resolve(Manifest.FILE), manifest(spec, id, code, icon.isPresent()));
      PackageMaker.make(folder, made);
      PackageMaker.sign(made, signer.key(), List.of(signer.certificate()));
      try (InputStream in = Files.newInputStream(made);
          ArrivedFile arrived = ArrivedFile.of(in, FileKind.PACKAGE.most())) {
        return taking.take(arrived, Apps.read(arrived));
      }
    } catch (PackageRefused e) {
      throw Problem.malformed("", e.getMessage().replace("In the manifest, opens", "The address"));
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    } finally {
      forget(folder);
      forget(made);
    }
  }

  private byte[] picture(String sha256) {
    FileContent content =
        files
            .content(sha256)
            .filter(c -> c.mediaType().equals("image/png"))
            .orElseThrow(
                () ->
                    Problem.malformed(
                        "/icon", "There is no PNG picture of this digest among the files."));
    try (InputStream in = content.open(0, content.bytes())) {
      return in.readAllBytes();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private String manifest(Spec spec, String id, long code, boolean icon) {
    ObjectNode root = Json.MAPPER.createObjectNode();
    root.put("id", id);
    root.put("name", said(spec.name(), "/name", "Say what the app is called."));
    spec.publisher().ifPresent(p -> root.put("publisher", p));
    spec.summary().ifPresent(t -> root.put("summary", t));
    root.put("category", spec.category().filter(c -> !c.isBlank()).orElse("web"));
    root.put("version", code + ".0");
    root.put("versionCode", code);
    platforms(spec).forEach(root.putArray("platforms")::add);
    root.put("opens", spec.address().orElseThrow().strip());
    if (icon) {
      root.put("icon", PICTURE);
    }
    return root.toString();
  }

  private List<String> platforms(Spec spec) {
    List<String> known = catalog.platforms().stream().map(Platform::key).toList();
    List<String> wanted = spec.platforms().filter(p -> !p.isEmpty()).orElse(known);
    wanted.stream()
        .filter(p -> !known.contains(p))
        .findFirst()
        .ifPresent(
            p -> {
              throw Problem.malformed(
                  "/platforms",
                  "There is no platform " + p + "; known are " + String.join(", ", known) + ".");
            });
    return wanted.stream().distinct().sorted().toList();
  }

  /** For devices that do not know what {@code opens} is: a page that goes on to it. */
  private static String start(String address) {
    String safe = address.replace("&", "&amp;").replace("<", "&lt;").replace("\"", "&quot;");
    return "<!doctype html><meta charset=\"utf-8\"><meta http-equiv=\"refresh\" content=\"0; url="
        + safe
        + "\"><a href=\""
        + safe
        + "\">"
        + safe
        + "</a>\n";
  }

  private static void forget(@Nullable Path path) {
    if (path == null) {
      return;
    }
    try (Stream<Path> all = Files.walk(path)) {
      for (Path p : all.sorted(Comparator.reverseOrder()).toList()) {
        Files.deleteIfExists(p);
      }
    } catch (IOException e) {
      path.toFile().deleteOnExit();
    }
  }
}
