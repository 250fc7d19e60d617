package dev.pinwright.acceptance;

import dev.pinwright.client.model.Invitation;
import dev.pinwright.protocol.pki.NativeSignatures;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.sandbox.device.Agent;
import dev.pinwright.sandbox.device.Screen;
import java.security.KeyPair;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;

/**
 * How fast devices join over the wire, beside a bare run of what their certificates cost: checking
 * the request and its key, and signing. Both on this machine, one after the other.
 */
public final class JoinBenchmark {
  private static final int AT_ONCE = 40;

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

  /** Joins a second, from the code to the certificate. */
  private static double joined(int devices) throws Exception {
    try (Rig rig = new Rig()) {
      Desk desk = new Desk(rig);
      Invitation invitation = desk.kiosks("Kiosks", devices);
      List<Agent> agents = new ArrayList<>();
      for (int i = 0; i < devices; i++) {
        agents.add(rig.unpackAutomatic("T10"));
      }
      long start = System.nanoTime();
      for (int i = 0; i < devices; i += AT_ONCE) {
        CompletableFuture.allOf(
                agents.subList(i, Math.min(devices, i + AT_ONCE)).stream()
                    .map(a -> a.take(invitation.getLink()).thenCompose(x -> a.accept(null)))
                    .toArray(CompletableFuture[]::new))
            .join();
      }
      double seconds = (System.nanoTime() - start) / 1e9;
      long managed = agents.stream().map(Agent::screen).filter(Screen::managed).count();
      if (managed != devices) {
        throw new IllegalStateException(managed + " of " + devices + " joined");
      }
      return devices / seconds;
    }
  }
}
