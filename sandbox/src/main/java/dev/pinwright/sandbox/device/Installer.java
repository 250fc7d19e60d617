package dev.pinwright.sandbox.device;

import dev.pinwright.core.app.Outcome;
import dev.pinwright.core.tree.Leaf;
import dev.pinwright.protocol.dm.InstallOrder;
import dev.pinwright.protocol.pack.PackageFile;
import dev.pinwright.sandbox.link.HttpLine;
import dev.pinwright.sandbox.link.Network;
import java.net.URI;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.function.Function;

/** Fetches and installs what a device was ordered to install, one package after the other. */
final class Installer {
  private static final String MAIL = "./Vendor/Pinwright/Self/Mail";
  private static final int RETRY_SECONDS = 2;
  private static final int MOST_RETRIES = 30;

  private final Network network;
  private final FetchedFiles files;
  private final SimulatedDevice device;
  private final Function<URI, Optional<HttpLine>> lines;
  private final Runnable report;
  private final AtomicBoolean busy = new AtomicBoolean();

  /**
   * @param lines a way to a server, while the device is online
   * @param report tells the server how it ended
   */
  Installer(
      Network network,
      FetchedFiles files,
      SimulatedDevice device,
      Function<URI, Optional<HttpLine>> lines,
      Runnable report) {
    this.network = network;
    this.files = files;
    this.device = device;
    this.lines = lines;
    this.report = report;
  }

  /** Begins with what is to be installed next, unless it is at something. */
  void go() {
    Optional<State.Job> next;
    synchronized (device) {
      next = device.apps().next();
    }
    if (next.isPresent() && busy.compareAndSet(false, true)) {
      network.thinking().execute(() -> install(next.get(), 0));
    }
  }

  private void install(State.Job job, int tries) {
    InstallOrder order = InstallOrder.read(job.opts());
    Optional<String> noRoom;
    boolean has;
    synchronized (device) {
      has = device.apps().has(job);
      noRoom = has ? Optional.empty() : device.apps().noRoom(job);
    }
    if (has) {
      ended(job, () -> device.apps().configure(job));
    } else if (noRoom.isPresent()) {
      ended(job, () -> device.apps().done(job, Outcome.NO_ROOM_TO_DOWNLOAD, noRoom.get()));
    } else {
      fetch(job, order, tries);
    }
  }

  private void fetch(State.Job job, InstallOrder order, int tries) {
    URI from;
    try {
      from = URI.create(job.url());
    } catch (IllegalArgumentException e) {
      ended(job, () -> device.apps().done(job, Outcome.DOWNLOAD_FAILED, "its address is none"));
      return;
    }
    Optional<HttpLine> line = lines.apply(from);
    if (line.isEmpty()) {
      again(job, tries);
      return;
    }
    CompletableFuture<Boolean> whole =
        files.fetchPackage(
            device.id(),
            line.get(),
            from.getRawPath(),
            order.sha256(),
            holder(),
            network.thinking(),
            percent -> device.fetched(job.id(), percent));
    whole.whenCompleteAsync(
        (right, failure) -> {
          line.get().close();
          if (failure != null && failure.getCause() instanceof FetchedFiles.Refused refused) {
            ended(
                job,
                () ->
                    device
                        .apps()
                        .done(job, Outcome.NOT_GIVEN, String.valueOf(refused.getMessage())));
          } else if (failure != null) {
            again(job, tries);
          } else if (!right) {
            ended(
                job,
                () ->
                    device.apps().done(job, Outcome.NOT_WHOLE, "its SHA-256 is not what was told"));
          } else {
            read(job, order);
          }
        },
        network.thinking());
  }

  /** Who is signed in to the store on it: whoever holds it. */
  private Optional<String> holder() {
    synchronized (device) {
      return Optional.ofNullable(device.tree().read(MAIL).get(MAIL)).map(Leaf::value);
    }
  }

  private void read(State.Job job, InstallOrder order) {
    Optional<PackageFile> read;
    String wrong = "";
    try {
      read = files.read(order.sha256());
    } catch (FetchedFiles.Unreadable e) {
      read = Optional.empty();
      wrong = String.valueOf(e.getMessage());
    }
    String why = wrong;
    Optional<PackageFile> file = read;
    ended(
        job,
        () ->
            file.ifPresentOrElse(
                p -> device.apps().install(job, p),
                () -> device.apps().done(job, Outcome.NOT_WHOLE, why)));
  }

  /** Goes on where it stopped, a little later; gives up when that does not help. */
  private void again(State.Job job, int tries) {
    boolean ordered;
    synchronized (device) {
      ordered = device.state().jobs.containsKey(job.correlator());
    }
    if (!ordered) {
      busy.set(false);
      go();
    } else if (tries >= MOST_RETRIES && !device.state().offline) {
      ended(job, () -> device.apps().done(job, Outcome.DOWNLOAD_FAILED, ""));
    } else {
      int next = device.state().offline ? 0 : tries + 1;
      network.thinking().schedule(() -> install(job, next), RETRY_SECONDS, TimeUnit.SECONDS);
    }
  }

  private void ended(State.Job job, Runnable how) {
    synchronized (device) {
      if (device.state().jobs.containsKey(job.correlator())) {
        how.run();
      }
    }
    device.fetched(job.id(), 0);
    busy.set(false);
    report.run();
  }
}
