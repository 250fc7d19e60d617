package dev.pinwright.acceptance;

import dev.pinwright.client.model.CommandKey;
import dev.pinwright.client.model.DispatchOrder;
import dev.pinwright.client.model.Invitation;
import dev.pinwright.client.model.Profile;
import dev.pinwright.protocol.pki.NativeSignatures;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.sandbox.device.Agent;
import java.security.KeyPair;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.FutureTask;

/**
 * How fast devices join over the wire, beside a bare run of what their certificates cost: checking
 * the request and its key, and signing. Both on this machine, one after the other.
 */
public final class JoinBenchmark {
  private static final int LOCKS = 20;

  private JoinBenchmark() {}

  /** Takes the number of devices; 2000 unless said otherwise. */
  public static void main(String[] args) throws Exception {
    int devices = args.length > 0 ? Integer.parseInt(args[0]) : 2_000;
    int cores = Runtime.getRuntime().availableProcessors();
    NativeSignatures.install();
    double bare = bare(devices, cores);
    double joined = joined(devices);
    System.out.printf(
        "%d devices joined over the wire: %.1f a second (service, devices and database on %d"
            + " cores)%n",
        devices, joined, cores);
    System.out.printf(
        "The same certificates, key check and signature alone: %.0f a second; a join costs %.0f"
            + " times as much%n",
        bare, bare / joined);
    System.exit(0);
  }

  /** Certificates a second, on all cores; the requests are made beforehand. */
  private static double bare(int devices, int cores) throws Exception {
    Instant now = Instant.now();
    Pki.Identity root = Pki.newRoot("Root", now, now.plus(Duration.ofDays(1)));
    List<byte[]> requests = new ArrayList<>();
    for (int i = 0; i < devices; i++) {
      KeyPair pair = Pki.newKey();
      requests.add(Base64.getMimeDecoder().decode(Pki.base64(Pki.newRequest("d" + i, pair))));
    }
    ExecutorService workers = Executors.newFixedThreadPool(cores);
    issue(requests, root, workers, cores); // to warm up
    long start = System.nanoTime();
    issue(requests, root, workers, cores);
    double seconds = (System.nanoTime() - start) / 1e9;
    workers.shutdown();
    return devices / seconds;
  }

  private static void issue(
      List<byte[]> requests, Pki.Identity root, ExecutorService workers, int cores)
      throws Exception {
    List<Future<?>> running = new ArrayList<>();
    for (int w = 0; w < cores; w++) {
      int first = w;
      running.add(
          workers.submit(
              () -> {
                Instant now = Instant.now();
                for (int i = first; i < requests.size(); i += cores) {
                  Pki.estCertificates(
                      List.of(
                          Pki.issueDevice(
                              root,
                              "d" + i,
                              Pki.checkRequest(requests.get(i), "d" + i),
                              now,
                              now.plus(Duration.ofDays(365)))));
                }
                return null;
              }));
    }
    for (Future<?> f : running) {
      f.get();
    }
  }

  /**
   * Joins a second, from the code to the certificate; and prints how long what the devices are told
   * afterwards takes to reach them.
   */
  private static double joined(int devices) throws Exception {
    try (Rig rig = new Rig()) {
      // a process of its own: both ends of so many connections are more than one may have open
      rig.server.close();
      try (ServiceProcess service = new ServiceProcess(rig, "-Xmx1g")) {
        return joined(rig, devices);
      }
    }
  }

  private static double joined(Rig rig, int devices) throws Exception {
    Desk desk = new Desk(rig);
    Invitation invitation = desk.kiosks("Kiosks", devices);
    long start = System.nanoTime();
    List<Agent> agents = rig.joinMany(devices, i -> invitation.getLink());
    double joins = devices / seconds(start);
    Rig.eventually(
        () -> desk.fleet().getByStanding().getOrDefault("settled", 0L), n -> n == devices);
    published(desk, agents);
    int some = Math.min(LOCKS, agents.size() / 2);
    locked(desk, agents.subList(0, some), "with nothing else going on");
    ordered(
        desk,
        agents.size(),
        () -> locked(desk, agents.subList(some, 2 * some), "while all of them are sent a message"));
    return joins;
  }

  private static double seconds(long since) {
    return (System.nanoTime() - since) / 1e9;
  }

  private static void published(Desk desk, List<Agent> agents) throws Exception {
    Profile profile = desk.profile("Baseline", Desk.BASELINE, Desk.everyone());
    long start = System.nanoTime();
    String change = desk.publish(profile).getChange().getId();
    Rig.eventually(
        () -> agents.stream().anyMatch(a -> a.screen().notices("camera-gone")), any -> any);
    double first = seconds(start);
    double slowest = 0;
    double half = 0;
    double most = 0;
    long done = 0;
    while (done < agents.size()) {
      long asked = System.nanoTime();
      desk.devices("", 100);
      slowest = Math.max(slowest, seconds(asked));
      done = desk.change(change).getDone();
      half = half == 0 && done * 2 >= agents.size() ? seconds(start) : half;
      most = most == 0 && done * 100 >= agents.size() * 95L ? seconds(start) : most;
      Thread.sleep(200);
    }
    System.out.printf(
        "Of %d connected devices a publication reached the first in %.1f s, half in %.1f s, 95 of"
            + " 100 in %.1f s and the last in %.1f s; slowest page of 100 devices meanwhile %.0f"
            + " ms%n",
        agents.size(), first, half, most, seconds(start), slowest * 1e3);
  }

  /** Something else that goes on. */
  private interface Beside {
    void go() throws Exception;
  }

  private static void ordered(Desk desk, long devices, Beside beside) throws Exception {
    DispatchOrder message =
        new DispatchOrder()
            .command(CommandKey.MESSAGE)
            .fields(Map.of("text", "benchmark"))
            .confirmDevices(devices)
            .targets(List.of(Desk.everyone()));
    long start = System.nanoTime();
    String id = desk.order(message, "benchmark").getId();
    double ordered = seconds(start);
    FutureTask<Void> other =
        new FutureTask<>(
            () -> {
              beside.go();
              return null;
            });
    new Thread(other, "beside").start();
    double half = 0;
    double most = 0;
    long done = 0;
    while (done < devices) {
      done = desk.dispatch(id).getStates().getOrDefault("done", 0L);
      half = half == 0 && done * 2 >= devices ? seconds(start) : half;
      most = most == 0 && done * 100 >= devices * 95L ? seconds(start) : most;
      Thread.sleep(100);
    }
    System.out.printf(
        "A message to %d connected devices was ordered in %.1f s, done on half in %.1f s, on 95 of"
            + " 100 in %.1f s and on the last in %.1f s%n",
        devices, ordered, half, most, seconds(start));
    other.get();
  }

  private static void locked(Desk desk, List<Agent> agents, String when) throws Exception {
    List<Double> times = new ArrayList<>();
    for (Agent agent : agents) {
      DispatchOrder lock =
          new DispatchOrder()
              .command(CommandKey.LOCK)
              .reason("benchmark")
              .serials(List.of(agent.screen().serial()));
      long start = System.nanoTime();
      desk.order(lock, agent.screen().serial());
      Rig.eventually(agent::screen, s -> s.screen().equals("locked"));
      times.add(seconds(start));
    }
    times.sort(null);
    System.out.printf(
        "From ordering a lock to the locked screen, %s: median %.2f s, slowest of %d %.2f s%n",
        when, times.get(times.size() / 2), times.size(), times.get(times.size() - 1));
  }
}
