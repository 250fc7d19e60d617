package dev.pinwright.sandbox;

import dev.pinwright.sandbox.demo.Scenario;
import dev.pinwright.sandbox.device.Agent;
import dev.pinwright.sandbox.device.Fleet;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

/** Starts the sandbox. */
@Command(
    name = "sandbox",
    description = "Simulated devices that speak the real wire, and their hand-held view.",
    mixinStandardHelpOptions = true)
public final class Main implements Callable<Integer> {
  private static final int AT_ONCE = 40;

  @Option(names = "--port", description = "Port of the hand-held view.", defaultValue = "7490")
  int port;

  @Option(
      names = "--home",
      description = "Where devices are kept.",
      defaultValue = ".pinwright/sandbox")
  Path home = Path.of(".pinwright/sandbox");

  @Option(
      names = "--devices",
      description = "Make this many devices that join by --join and look after themselves.")
  int devices;

  @Option(names = "--join", description = "Join link for --devices.")
  @Nullable String join;

  @Option(names = "--model", description = "Model for --devices.", defaultValue = "T10")
  String model = "T10";

  @Option(names = "--demo", description = "Write the demo into the service at this address.")
  @Nullable String demo;

  /** Entry point. */
  public static void main(String[] args) {
    // the one group whose keys are native; hundreds of devices begin to talk at the same time
    System.setProperty("jdk.tls.namedGroups", "secp256r1");
    int code = new CommandLine(new Main()).execute(args);
    if (code != 0) {
      System.exit(code);
    }
  }

  @Override
  public Integer call() throws InterruptedException {
    if (devices > 0 && join == null) {
      System.err.println("--devices needs --join, the link of an invitation with enough uses.");
      return 2;
    }
    Outside outside;
    try {
      outside = new Outside(home, port);
    } catch (RuntimeException e) {
      System.err.println(
          "The sandbox cannot start on the ports from " + port + ": " + root(e) + ".");
      return 1;
    }
    Runtime.getRuntime().addShutdownHook(new Thread(outside::close));
    System.out.println("Hand-held view  http://127.0.0.1:" + outside.port());
    if (demo != null) {
      String password = System.getenv("PINWRIGHT_OWNER_PASSWORD");
      System.out.println(
          new Scenario(outside, demo, "owner", password == null ? "" : password)
              .write()
              .map(Main::written)
              .orElse("The demo was there already."));
    }
    if (devices > 0 && join != null) {
      enroll(outside.fleet(), join);
    }
    new CountDownLatch(1).await();
    return 0;
  }

  private static String written(List<String> missing) {
    return missing.isEmpty()
        ? "The demo is written."
        : "The demo is written, but for this:\n  " + String.join("\n  ", missing);
  }

  private static String root(Throwable e) {
    Throwable t = e;
    while (t.getCause() != null) {
      t = t.getCause();
    }
    return String.valueOf(t.getMessage());
  }

  private void enroll(Fleet fleet, String link) {
    long start = System.nanoTime();
    List<CompletableFuture<?>> batch = new ArrayList<>();
    for (int i = 0; i < devices; i++) {
      Agent agent = fleet.make(new Fleet.Wish(model, null, null, true, 200L));
      batch.add(agent.take(link).thenCompose(x -> agent.accept(null)));
      if (batch.size() == AT_ONCE || i == devices - 1) {
        CompletableFuture.allOf(batch.toArray(CompletableFuture[]::new))
            .orTimeout(5, TimeUnit.MINUTES)
            .join();
        batch.clear();
      }
    }
    long joined = fleet.all().stream().filter(a -> a.screen().managed()).count();
    double seconds = (System.nanoTime() - start) / 1e9;
    System.out.printf(
        "%d devices are managed; %d were made and asked in %.1f s (%.1f a second)%n",
        joined, devices, seconds, devices / seconds);
  }
}
