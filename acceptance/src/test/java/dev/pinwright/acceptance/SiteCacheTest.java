package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assumptions.assumeThat;

import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.AppDetail;
import dev.pinwright.client.model.EnrollmentProfile;
import dev.pinwright.client.model.EnrollmentProfileDraft;
import dev.pinwright.client.model.Mode;
import dev.pinwright.client.model.Site;
import dev.pinwright.client.model.SiteCache;
import dev.pinwright.client.model.SiteCachePlace;
import dev.pinwright.client.model.SiteDraft;
import dev.pinwright.client.model.TargetSpec;
import dev.pinwright.sandbox.device.Agent;
import dev.pinwright.sandbox.office.SiteServer;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** A cache at a site: Debian's nginx, set up by the script the service writes. */
class SiteCacheTest {
  private static final int BYTES = 3_000_000;

  private static Rig rig;
  private static Desk desk;
  private static Site ridge;
  private static Path folder;
  private static SiteServer server;

  @BeforeAll
  static void start() throws Exception {
    folder = Files.createTempDirectory("cache");
    server = new SiteServer(folder, Rig.freePort());
    assumeThat(server.able()).as("there is an nginx, or it could be fetched").isTrue();
    rig = new Rig();
    desk = new Desk(rig);
    ridge = rig.client.organisation().addSite(new SiteDraft().name("Skarne ridge"));
  }

  @AfterAll
  static void stop() {
    server.close();
    if (rig != null) {
      rig.close();
    }
  }

  private static void runScript() throws Exception {
    String script = rig.client.organisation().makeSiteCacheScript(ridge.getId()).getText();
    assertThat(server.setUp(script)).isTrue();
  }

  private static SiteCache cache() {
    try {
      return rig.client.organisation().getSiteCache(ridge.getId());
    } catch (ApiException e) {
      throw new IllegalStateException(e);
    }
  }

  private static Agent tablet(int n) throws ApiException {
    EnrollmentProfile there =
        desk.enrollment(
            new EnrollmentProfileDraft()
                .name("Ridge " + n)
                .mode(Mode.SUPERVISED)
                .siteId(ridge.getId()));
    return rig.join(rig.unpackAutomatic("T10"), desk.invite(there, 1).getLink());
  }

  private static String id(Agent tablet) {
    return desk.devices(tablet.screen().serial(), 1).get(0).getId();
  }

  private static boolean has(Agent tablet, String app) {
    return tablet.screen().installed().stream().anyMatch(a -> a.id().equals(app));
  }

  private static AppDetail app(String id) throws Exception {
    AppDetail app = desk.bring(Packages.of(id, id, 1, BYTES, "", Packages.WORKSHOP));
    desk.release(app, 1);
    return app;
  }

  private static void assign(AppDetail app, List<Agent> tablets) throws ApiException {
    List<TargetSpec> to = tablets.stream().map(t -> Desk.device(id(t))).toList();
    desk.publish(desk.assignment(app, "required", to, Map.of()));
  }

  @Test
  void aPackageCrossesTheLineOnceAndADeadCacheIsGoneRound() throws Exception {
    assertThatThrownBy(
            () ->
                rig.client
                    .organisation()
                    .setSiteCache(
                        ridge.getId(), "\"0\"", new SiteCachePlace().address("http://here/x")))
        .hasMessageContaining("such as https://cache.example:8443");
    rig.client
        .organisation()
        .setSiteCache(ridge.getId(), "\"0\"", new SiteCachePlace().address(server.address()));
    runScript();
    Rig.eventually(SiteCacheTest::cache, SiteCache::getWorking);
    List<Agent> tablets = List.of(tablet(1), tablet(2), tablet(3), tablet(4));
    assign(app("vellmar.tour"), tablets);
    Rig.eventually(() -> tablets.stream().allMatch(t -> has(t, "vellmar.tour")), x -> x);
    Rig.eventually(
        SiteCacheTest::cache, c -> c.getServedBytes() > 4 * BYTES && c.getLineBytes() >= BYTES);
    assertThat(cache().getLineBytes())
        .as("once, however many asked at the same time")
        .isBetween((long) BYTES, 2L * BYTES);
    try (Stream<Path> kept = Files.walk(folder.resolve("packages"))) {
      assertThat(kept.filter(Files::isRegularFile)).hasSizeBetween(3, 4);
    }

    runScript();
    assertThat(cache().getWorking()).as("run again, it has another certificate").isTrue();

    server.close();
    AppDetail more = app("vellmar.more");
    long before = System.nanoTime();
    assign(more, tablets);
    Rig.eventually(() -> tablets.stream().allMatch(t -> has(t, "vellmar.more")), x -> x);
    assertThat(TimeUnit.NANOSECONDS.toSeconds(System.nanoTime() - before)).isLessThan(40);
    assertThat(cache().getFault()).isEqualTo("it cannot be reached");

    runScript();
    Rig.eventually(SiteCacheTest::cache, SiteCache::getWorking);
    rig.client.organisation().removeSiteCache(ridge.getId(), Desk.onVersion(cache().getVersion()));
    assertThatThrownBy(() -> rig.client.organisation().getSiteCache(ridge.getId()))
        .hasMessageContaining("404");
    assertThatThrownBy(() -> rig.client.organisation().makeSiteCacheScript(ridge.getId()))
        .hasMessageContaining("404");
    rig.client
        .organisation()
        .setSiteCache(ridge.getId(), "\"0\"", new SiteCachePlace().address(server.address()));
    runScript();
    Rig.eventually(SiteCacheTest::cache, SiteCache::getWorking);
  }
}
