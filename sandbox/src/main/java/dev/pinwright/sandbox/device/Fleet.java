package dev.pinwright.sandbox.device;

import dev.pinwright.catalog.Catalogue;
import dev.pinwright.core.catalog.Platform;
import dev.pinwright.core.device.Identifier;
import dev.pinwright.protocol.join.JoinLink;
import dev.pinwright.protocol.pki.NativeSignatures;
import dev.pinwright.sandbox.file.PrivateFiles;
import dev.pinwright.sandbox.link.Network;
import dev.pinwright.sandbox.vendor.Vendors;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ConcurrentSkipListMap;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** All simulated devices of one process, kept in a directory over restarts. */
public final class Fleet implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(Fleet.class);
  private static final String TEST_ALLOCATION = "00440123";

  private final Catalogue catalogue;
  private final @Nullable Vendors vendors;
  private final Path directory;
  private final FetchedFiles files;
  private final Network network = new Network();
  private final Map<String, Agent> agents = new ConcurrentSkipListMap<>();
  private final Set<String> serials = ConcurrentHashMap.newKeySet();
  private final Set<String> unsaved = ConcurrentHashMap.newKeySet();
  private volatile Consumer<String> listener = id -> {};

  /** Loads what was kept and connects it; without the clouds outside. */
  public Fleet(Catalogue catalogue, Path directory) {
    this(catalogue, directory, null);
  }

  /** Loads what was kept and connects it. */
  public Fleet(Catalogue catalogue, Path directory, @Nullable Vendors vendors) {
    NativeSignatures.install();
    this.catalogue = catalogue;
    this.directory = directory;
    this.vendors = vendors;
    files = new FetchedFiles(directory.resolve("content"));
    try {
      PrivateFiles.directory(directory);
      try (Stream<Path> files = Files.list(directory)) {
        files.filter(f -> f.toString().endsWith(".json")).forEach(this::load);
      }
    } catch (IOException e) {
      throw new UncheckedIOException("the devices in " + directory + " cannot be read", e);
    }
    network.thinking().scheduleWithFixedDelay(this::save, 500, 500, TimeUnit.MILLISECONDS);
    network
        .thinking()
        .scheduleWithFixedDelay(
            () -> agents.values().forEach(Agent::live), 10, 10, TimeUnit.SECONDS);
  }

  private void load(Path file) {
    try {
      State kept = Fields.MAPPER.readValue(file.toFile(), State.class);
      if (kept.server.isEmpty() && kept.link != null) {
        JoinLink link = JoinLink.parse(kept.link);
        kept.server = link.base();
        kept.fingerprint = link.fingerprint();
      }
      add(kept);
    } catch (IOException e) {
      LOG.warn("{} cannot be read and is left out: {}", file, e.getMessage());
    }
  }

  private Agent add(State state) {
    SimulatedDevice device = new SimulatedDevice(catalogue, state, this::changed);
    serials.add(state.serial);
    Agent agent = new Agent(network, vendors, files, device, this::changed);
    agents.put(state.id, agent);
    agent.resume();
    return agent;
  }

  /**
   * What is asked for when a device is made; all but the model may be left open.
   *
   * @param boots whether it is turned on at once, and so asks its maker's registrar
   */
  public record Wish(
      String model,
      @Nullable String osVersion,
      @Nullable String serial,
      @Nullable Boolean automaticHolder,
      @Nullable Long holderDelayMillis,
      @Nullable Boolean boots) {
    public Wish(
        String model,
        @Nullable String osVersion,
        @Nullable String serial,
        @Nullable Boolean automaticHolder,
        @Nullable Long holderDelayMillis) {
      this(model, osVersion, serial, automaticHolder, holderDelayMillis, null);
    }
  }

  /**
   * Makes a factory-new device. Its numbers follow from its place in the fleet.
   *
   * @throws IllegalArgumentException for an unknown model, OS version or a serial in use
   */
  public synchronized Agent make(Wish wish) {
    Model model = Model.named(wish.model());
    Platform platform = catalogue.catalog().platform(model.platform()).orElseThrow();
    int number = agents.size() + 1;
    Random random = new Random(number * 7919L);
    State s = new State();
    s.id = String.format("d%05d", number);
    while (agents.containsKey(s.id)) {
      s.id = String.format("d%05d", ++number);
    }
    s.model = model.name();
    String last = platform.versions().get(platform.versions().size() - 1).toString();
    s.osVersion = wish.osVersion() == null ? last : wish.osVersion();
    if (platform.versions().stream().noneMatch(v -> v.toString().equals(s.osVersion))) {
      throw new IllegalArgumentException(
          model.platform() + " has no version " + s.osVersion + "; it has " + platform.versions());
    }
    String letters =
        (model.maker().substring(0, 2) + model.name().replaceAll("[^0-9]", "")).toUpperCase();
    s.serial =
        wish.serial() == null
            ? String.format("%s-%04d-%04d", letters, number, random.nextInt(10_000))
            : Identifier.of(Identifier.Kind.SERIAL, wish.serial()).value();
    if (!serials.add(s.serial)) {
      throw new IllegalArgumentException("there is a device " + s.serial + " already");
    }
    if (model.cellular()) {
      String first = String.format("%s%06d", TEST_ALLOCATION, number % 1_000_000);
      s.imei = first + Identifier.checkDigit(first);
    }
    s.wifiAddress =
        String.format(
            "02:00:5e:%02x:%02x:%02x", number >> 16 & 255, number >> 8 & 255, number & 255);
    s.automaticHolder = Boolean.TRUE.equals(wish.automaticHolder());
    s.holderDelayMillis = wish.holderDelayMillis() == null ? 1_500 : wish.holderDelayMillis();
    s.battery = 35 + random.nextInt(64);
    s.storageUsed = model.capacity() / 10 * (2 + random.nextInt(6));
    Agent agent = add(s);
    changed(agent.device());
    if (Boolean.TRUE.equals(wish.boots())) {
      agent.boot();
    }
    return agent;
  }

  /** A device by id. */
  public Optional<Agent> find(String id) {
    return Optional.ofNullable(agents.get(id));
  }

  /** All devices by id. */
  public List<Agent> all() {
    return List.copyOf(agents.values());
  }

  /** A file that a device has fetched. */
  public Optional<Path> file(String id) {
    return files.find(id);
  }

  /** The threads devices run on. */
  public Network network() {
    return network;
  }

  /** Throws a device away. */
  public void remove(String id) {
    Agent agent = agents.remove(id);
    if (agent != null) {
      serials.remove(agent.device().state().serial);
      agent.close();
      try {
        Files.deleteIfExists(directory.resolve(id + ".json"));
      } catch (IOException e) {
        throw new UncheckedIOException(e);
      }
    }
  }

  /** Calls a listener with the id of each device that changes. */
  public void onChange(Consumer<String> listener) {
    this.listener = listener;
  }

  private void changed(SimulatedDevice device) {
    unsaved.add(device.id());
    listener.accept(device.id());
  }

  private synchronized void save() {
    for (String id : unsaved) {
      unsaved.remove(id);
      Agent agent = agents.get(id);
      if (agent == null) {
        continue;
      }
      try {
        byte[] json;
        synchronized (agent.device()) {
          json = Fields.MAPPER.writeValueAsBytes(agent.device().state());
        }
        PrivateFiles.replace(directory.resolve(id + ".json"), json);
      } catch (IOException e) {
        LOG.warn("{} could not be kept: {}", id, e.getMessage());
        unsaved.add(id);
        return;
      }
    }
  }

  @Override
  public void close() {
    agents.values().forEach(Agent::close);
    save();
    network.close();
  }
}
