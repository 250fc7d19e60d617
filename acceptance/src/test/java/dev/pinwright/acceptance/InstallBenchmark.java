package dev.pinwright.acceptance;

import dev.pinwright.client.model.AppDetail;
import dev.pinwright.client.model.Invitation;
import dev.pinwright.client.model.Profile;
import dev.pinwright.protocol.pki.NativeSignatures;
import dev.pinwright.sandbox.device.Agent;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;

/**
 * How long connected devices take to install a package, and what that costs the service: beside the
 * same bytes written to a file and read again on this machine, as often as there are devices.
 */
public final class InstallBenchmark {
  private InstallBenchmark() {}

  /** Takes the number of devices, 1000 unless said otherwise, and the package's MB, 20. */
  public static void main(String[] args) throws Exception {
    int devices = args.length > 0 ? Integer.parseInt(args[0]) : 1_000;
    int megabytes = args.length > 1 ? Integer.parseInt(args[1]) : 20;
    NativeSignatures.install();
    try (Rig rig = new Rig()) {
      rig.server.close();
      try (ServiceProcess service = new ServiceProcess(rig, "-Xmx512m")) {
        run(rig, service, devices, megabytes);
      }
    }
    System.exit(0);
  }

  private static double seconds(long since) {
    return (System.nanoTime() - since) / 1e9;
  }

  private static void run(Rig rig, ServiceProcess service, int devices, int megabytes)
      throws Exception {
    Desk desk = new Desk(rig);
    Invitation invitation = desk.kiosks("Kiosks", devices);
    List<Agent> agents = rig.joinMany(devices, i -> invitation.getLink());
    Rig.eventually(
        () -> desk.fleet().getByStanding().getOrDefault("settled", 0L), n -> n == devices);
    Path file =
        Packages.of("vellmar.guide", "Guide", 1, megabytes * 1_000_000, "", Packages.WORKSHOP);
    AppDetail app = desk.bring(file);
    desk.release(app, 1);
    Profile assigned = desk.assignment(app, "required", Desk.everyone(), Map.of());
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
  }
}
