package dev.pinwright.acceptance;

import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.AppDetail;
import dev.pinwright.client.model.EnrollmentProfile;
import dev.pinwright.client.model.EnrollmentProfileDraft;
import dev.pinwright.client.model.Invitation;
import dev.pinwright.client.model.Mode;
import dev.pinwright.client.model.Profile;
import dev.pinwright.client.model.Site;
import dev.pinwright.client.model.SiteCache;
import dev.pinwright.client.model.SiteCachePlace;
import dev.pinwright.client.model.SiteDraft;
import dev.pinwright.protocol.pki.NativeSignatures;
import dev.pinwright.sandbox.device.Agent;
import dev.pinwright.sandbox.office.SiteServer;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * How long connected devices take to install a package, what that costs the service, and how much
 * of it does not cross the line where their site has a cache; or whether each installation ends
 * once where the service is killed again and again.
 */
public final class InstallBenchmark {
  private static final int KILLED_AT = 6;

  private InstallBenchmark() {}

  /**
   * Takes the number of devices, 1000 unless said otherwise, the package's MB, 20, and {@code
   * cached} where they are at a site with a cache, or {@code killed} where the service is.
   */
  public static void main(String[] args) throws Exception {
    int devices = args.length > 0 ? Integer.parseInt(args[0]) : 1_000;
    int megabytes = args.length > 1 ? Integer.parseInt(args[1]) : 20;
    NativeSignatures.install();
    try (Rig rig = new Rig()) {
      rig.server.close();
      if (args.length > 2 && args[2].equals("killed")) {
        killed(rig, devices, megabytes);
        System.exit(0);
      }
      try (ServiceProcess service = new ServiceProcess(rig, "-Xmx512m")) {
        if (args.length > 2 && args[2].equals("cached")) {
          Path folder = Files.createTempDirectory("cache");
          try (SiteServer server = new SiteServer(folder, Rig.freePort())) {
            run(rig, service, devices, megabytes, Optional.of(server));
          }
        } else {
          run(rig, service, devices, megabytes, Optional.empty());
        }
      }
    }
    System.exit(0);
  }

  /** Kills the service, as often as it comes to, while a package is installed everywhere. */
  private static void killed(Rig rig, int devices, int megabytes) throws Exception {
    ServiceProcess service = new ServiceProcess(rig, "-Xmx512m");
    try {
      Desk desk = new Desk(rig);
      Invitation invitation = desk.kiosks("Kiosks", devices);
      List<Agent> agents = rig.joinMany(devices, i -> invitation.getLink());
      Rig.eventually(
          () -> desk.fleet().getByStanding().getOrDefault("settled", 0L), n -> n == devices);
      AppDetail app =
          desk.bring(
              Packages.of(
                  "vellmar.guide", "Guide", 1, megabytes * 1_000_000, "", Packages.WORKSHOP));
      desk.release(app, 1);
      String change =
          desk.publish(desk.assignment(app, "required", Desk.everyone(), Map.of()))
              .getChange()
              .getId();
      int kills = 0;
      for (int part = 1; part < KILLED_AT; part++) {
        long due = (long) devices * part / KILLED_AT;
        Rig.eventually(() -> installed(agents), n -> n >= due);
        if (installed(agents) < devices) {
          service.kill();
          kills++;
          service = new ServiceProcess(rig, "-Xmx512m");
        }
      }
      Rig.eventually(() -> desk.change(change).getDone(), n -> n == devices);
      long once =
          agents.stream().filter(a -> a.screen().runs().equals(Map.of("install", 1))).count();
      System.out.printf(
          "The service was killed %d times while %d devices installed a package of %d MB: %d have it,"
              + " %d were told to install it exactly once, and %s ended in one attempt%n",
          kills,
          devices,
          megabytes,
          installed(agents),
          once,
          Sql.text(rig, "select count(*) from app_attempt where state = 'done' and tries = 1"));
    } finally {
      service.kill();
    }
  }

  private static long installed(List<Agent> agents) {
    return agents.stream().filter(a -> !a.screen().installed().isEmpty()).count();
  }

  private static double seconds(long since) {
    return (System.nanoTime() - since) / 1e9;
  }

  private static void setUp(Rig rig, Site site, SiteServer server) throws Exception {
    rig.client
        .organisation()
        .setSiteCache(site.getId(), "\"0\"", new SiteCachePlace().address(server.address()));
    server.setUp(rig.client.organisation().makeSiteCacheScript(site.getId()).getText());
    Rig.eventually(() -> cache(rig, site), SiteCache::getWorking);
  }

  private static SiteCache cache(Rig rig, Site site) {
    try {
      return rig.client.organisation().getSiteCache(site.getId());
    } catch (ApiException e) {
      throw new IllegalStateException(e);
    }
  }

  private static void run(
      Rig rig, ServiceProcess service, int devices, int megabytes, Optional<SiteServer> cache)
      throws Exception {
    Desk desk = new Desk(rig);
    Site site = rig.client.organisation().addSite(new SiteDraft().name("Skarne ridge"));
    EnrollmentProfile there =
        desk.enrollment(
            new EnrollmentProfileDraft().name("Kiosks").mode(Mode.SUPERVISED).siteId(site.getId()));
    Invitation invitation = desk.invite(there, devices);
    List<Agent> agents = rig.joinMany(devices, i -> invitation.getLink());
    Rig.eventually(
        () -> desk.fleet().getByStanding().getOrDefault("settled", 0L), n -> n == devices);
    Path file =
        Packages.of("vellmar.guide", "Guide", 1, megabytes * 1_000_000, "", Packages.WORKSHOP);
    AppDetail app = desk.bring(file);
    desk.release(app, 1);
    Profile assigned = desk.assignment(app, "required", Desk.everyone(), Map.of());
    if (cache.isPresent()) {
      setUp(rig, site, cache.get());
    }
    long[] before = service.memory();
    long start = System.nanoTime();
    String change = desk.publish(assigned).getChange().getId();
    double half = 0;
    double most = 0;
    long done = 0;
    while (done < agents.size()) {
      Thread.sleep(200);
      done = desk.change(change).getDone();
      half = half == 0 && done * 2 >= agents.size() ? seconds(start) : half;
      most = most == 0 && done * 100 >= agents.size() * 95L ? seconds(start) : most;
    }
    double last = seconds(start);
    long[] after = service.memory();
    long bytes = Files.size(file);
    System.out.printf(
        "%d devices installed a package of %.1f MB: half in %.1f s, 95 of 100 in %.1f s, the last in"
            + " %.1f s; %.2f GB served, %.0f MB a second; memory of the service %d MB before, %d MB"
            + " after, %d MB at most%n",
        agents.size(),
        bytes / 1e6,
        half,
        most,
        last,
        bytes * agents.size() / 1e9,
        bytes * agents.size() / 1e6 / last,
        before[1] >> 20,
        after[1] >> 20,
        after[0] >> 20);
    long runs = agents.stream().mapToLong(a -> a.screen().runs().getOrDefault("install", 0)).sum();
    System.out.printf("  %d installations were ordered, one for each device%n", runs);
    if (cache.isPresent()) {
      SiteCache used =
          Rig.eventually(
              () -> cache(rig, site),
              c -> c.getServedBytes() >= bytes * devices && c.getLineBytes() >= bytes);
      System.out.printf(
          "  %.1f MB crossed the line to the site's cache, %.2f GB came from it: %.2f %% did not"
              + " cross the line%n",
          used.getLineBytes() / 1e6,
          used.getServedBytes() / 1e9,
          100 - 100.0 * used.getLineBytes() / used.getServedBytes());
    }
  }
}
