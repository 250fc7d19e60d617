package dev.pinwright.service.app;

import dev.pinwright.core.Text;
import dev.pinwright.core.Words;
import dev.pinwright.core.app.ByItself;
import dev.pinwright.core.app.Channel;
import dev.pinwright.core.app.Origin;
import dev.pinwright.core.catalog.ValueType.AddressType;
import dev.pinwright.core.change.Confirmation;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.app.AppStore;
import dev.pinwright.storage.row.AppRow;
import dev.pinwright.storage.row.AppSourceRow;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Addresses at which later versions of apps of one's own appear. What lies there is a package like
 * any other: of the app's signer and with a higher code, or it is not taken. It reaches devices
 * when somebody releases it, or by itself where that is said.
 */
public final class AppSources {
  private static final Logger LOG = LoggerFactory.getLogger(AppSources.class);
  private static final AddressType ADDRESS = new AddressType(AddressType.Of.URL);
  private static final Duration PATIENCE = Duration.ofSeconds(20);
  private static final Duration LONGEST = Duration.ofMinutes(10);
  private static final int REASON = 300;
  private static final int MOST = 500;

  private final UseCases useCases;
  private final Apps apps;
  private final Releases releases;
  private final HttpClient http;

  public AppSources(UseCases useCases, Apps apps, Releases releases) {
    this.useCases = useCases;
    this.apps = apps;
    this.releases = releases;
    http =
        HttpClient.newBuilder()
            .connectTimeout(PATIENCE)
            .followRedirects(HttpClient.Redirect.NORMAL)
            .build();
  }

  /**
   * An address that is followed.
   *
   * @param version the one to send in {@code If-Match}
   * @param fault why the last look failed
   */
  public record Shown(
      String address,
      ByItself release,
      int version,
      Optional<Instant> lookedAt,
      Optional<String> fault) {}

  /** What is to be followed, and what becomes of what is found. */
  public record Spec(@Nullable String address, @Nullable ByItself release) {}

  /**
   * What a look brought.
   *
   * @param found the version that was new
   * @param released whether devices get it
   */
  public record Looked(Optional<String> found, boolean released, Optional<String> fault) {}

  /** The address that is followed for an app. */
  public Shown get(Caller caller, String appId) {
    return useCases.read(
        tx ->
            tx.find(AppSourceRow.class, Apps.row(tx, appId).id)
                .map(AppSources::shown)
                .orElseThrow(() -> Problem.notFound("source of the app", appId)));
  }

  private static Shown shown(AppSourceRow row) {
    return new Shown(
        row.address,
        Words.parse(ByItself.class, row.release),
        row.version,
        Optional.ofNullable(row.lookedAt),
        Optional.of(row.fault).filter(f -> !f.isEmpty()));
  }

  /**
   * Follows an address.
   *
   * @param version of what is followed so far; 0 where nothing is
   * @throws Problem 400 for what is no address, 409 where there is no package to know the signer by
   */
  public Shown set(Caller caller, String appId, int version, Spec spec) {
    String address = spec.address() == null ? "" : spec.address().strip();
    if (!ADDRESS.fits(address)) {
      throw Problem.malformed("/address", "Name " + ADDRESS.wanted() + ".");
    }
    return useCases.act(
        caller,
        act -> {
          Tx tx = act.tx();
          AppRow app = tx.lock(AppRow.class, Apps.row(tx, appId).id).orElseThrow();
          if (!app.origin.equals(Words.of(Origin.PACKAGE))) {
            throw Problem.conflict(
                "no-package", "Addresses are followed for packages of one's own alone.");
          }
          Optional<AppSourceRow> there = tx.lock(AppSourceRow.class, appId);
          Known.unchanged("source of the app", version, there.map(r -> r.version).orElse(0));
          AppSourceRow row = there.orElseGet(AppSourceRow::new);
          row.appId = appId;
          row.address = address;
          row.release = Words.of(spec.release() == null ? ByItself.NONE : spec.release());
          row.tag = "";
          row.fault = "";
          row.handled = new AppStore(tx).latest(appId);
          if (there.isEmpty()) {
            row.version = 1;
            tx.insert(row);
          }
          tx.flush();
          act.done(Noun.APP, "followed", appId, "Versions of " + app.name + " are looked for");
          return shown(row);
        });
  }

  /** Follows an address no longer. */
  public void forget(Caller caller, String appId, int version) {
    useCases.run(
        caller,
        act -> {
          AppSourceRow row =
              Known.locked(
                  act.tx(),
                  AppSourceRow.class,
                  "source of the app",
                  appId,
                  version,
                  r -> r.version);
          act.tx().delete(row);
          act.done(
              Noun.APP,
              "not-followed",
              appId,
              "Versions of " + Apps.row(act.tx(), appId).name + " are not looked for any more");
        });
  }

  /**
   * Looks whether there is a later version.
   *
   * @throws Problem 404 where nothing is followed
   */
  public Looked look(Caller caller, String appId) {
    AppSourceRow source =
        useCases.read(
            tx ->
                tx.find(AppSourceRow.class, appId)
                    .orElseThrow(() -> Problem.notFound("source of the app", appId)));
    String tag = source.tag;
    Optional<Apps.Brought> brought = Optional.empty();
    Optional<String> fault = Optional.empty();
    long handled = source.handled;
    try {
      HttpResponse<InputStream> answer = fetch(source);
      try (InputStream content = answer.body()) {
        CompletableFuture.delayedExecutor(LONGEST.toSeconds(), TimeUnit.SECONDS)
            .execute(() -> close(content));
        if (answer.statusCode() == 200) {
          brought = apps.bringLater(caller, appId, content);
          tag = answer.headers().firstValue("ETag").filter(t -> t.length() <= REASON).orElse("");
        } else if (answer.statusCode() != 304) {
          fault = Optional.of("the address answered " + answer.statusCode());
        }
      }
      handled =
          released(caller, appId, Words.parse(ByItself.class, source.release), source.handled);
    } catch (Problem p) {
      fault = Optional.of(Text.cleaned(String.valueOf(p.getMessage()), REASON));
    } catch (IOException | UncheckedIOException e) {
      fault = Optional.of("the address cannot be reached");
      LOG.debug("{} cannot be read", source.address, e);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      fault = Optional.of("the look was interrupted");
    }
    note(caller, source, handled, fault.isPresent() ? source.tag : tag, fault.orElse(""));
    return new Looked(brought.map(b -> b.version().version()), handled > source.handled, fault);
  }

  private HttpResponse<InputStream> fetch(AppSourceRow source)
      throws IOException, InterruptedException {
    HttpRequest.Builder request =
        HttpRequest.newBuilder(URI.create(source.address)).timeout(PATIENCE);
    if (!source.tag.isEmpty()) {
      request.header("If-None-Match", source.tag);
    }
    return http.send(request.build(), HttpResponse.BodyHandlers.ofInputStream());
  }

  /** Whoever sends slowly is not waited for: a read that hangs ends with this. */
  private static void close(InputStream content) {
    try {
      content.close();
    } catch (IOException e) {
      LOG.debug("an answer could not be closed", e);
    }
  }

  /**
   * Releases the latest version where that is said, once: who goes back to the one before is not
   * overruled. What fails is tried again with the next look.
   *
   * @return the code of the latest version that needs nothing more
   */
  private long released(Caller caller, String appId, ByItself how, long handled) {
    if (how == ByItself.NONE) {
      return handled;
    }
    Apps.Detail app = apps.get(caller, appId);
    long latest = app.latest().map(Apps.Version::code).orElse(0L);
    if (latest > handled) {
      releases.release(
          caller,
          appId,
          app.version(),
          latest,
          how == ByItself.ALL ? Channel.ALL : Channel.EARLY,
          Confirmation.NONE,
          Optional.empty());
    }
    return latest;
  }

  private void note(Caller caller, AppSourceRow source, long handled, String tag, String fault) {
    useCases.run(
        caller,
        act -> {
          if (new AppStore(act.tx()).looked(source.appId, handled, tag, fault, act.now())) {
            act.touch(Noun.APP);
          }
        });
  }

  /** Looks at every address that is followed. */
  public void follow() {
    useCases
        .read(tx -> new AppStore(tx).sources(MOST))
        .forEach(
            source -> {
              try {
                look(Caller.SERVICE, source.appId);
              } catch (Problem p) {
                LOG.warn("versions of {}: {}", source.appId, p.getMessage());
              }
            });
  }
}
