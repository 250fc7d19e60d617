package dev.pinwright.sandbox.device;

import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.Setting;
import dev.pinwright.core.catalog.ValueType;
import dev.pinwright.core.device.DeviceTraits;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.file.StoredFile;
import dev.pinwright.core.own.Placeholders;
import dev.pinwright.core.session.Subtree;
import dev.pinwright.core.tree.Leaf;
import dev.pinwright.core.tree.Tree;
import dev.pinwright.protocol.dm.DeviceSide;
import dev.pinwright.protocol.dm.Dm;
import dev.pinwright.protocol.syncml.Element;
import dev.pinwright.protocol.syncml.Message;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.ToIntFunction;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * The management tree of a device, as its server reads and edits it, and what its server tells the
 * device to do. It takes only what its platform's capability sheet has.
 */
public final class ManagedTree implements DeviceSide {
  private final SimulatedDevice device;
  private final Catalog catalog;
  private final Model model;
  private final State state;
  private final AppBox apps;
  private final KioskBox kiosk;
  private final Passcode passcode;
  private final WorkPart work;
  private final Updates updates;
  private final Operations operations;
  private final Talk talk;

  ManagedTree(
      SimulatedDevice device,
      Catalog catalog,
      Model model,
      State state,
      AppBox apps,
      KioskBox kiosk,
      Passcode passcode,
      WorkPart work,
      Updates updates,
      Operations operations,
      Talk talk) {
    this.device = device;
    this.catalog = catalog;
    this.model = model;
    this.state = state;
    this.apps = apps;
    this.kiosk = kiosk;
    this.passcode = passcode;
    this.work = work;
    this.updates = updates;
    this.operations = operations;
    this.talk = talk;
  }

  /** Digest of a subtree. */
  String digest(Subtree subtree) {
    synchronized (device) {
      return subtree == Subtree.INVENTORY
          ? apps.inventory().digest()
          : tree(held(subtree)).digest();
    }
  }

  /** Files a message names that are still to be fetched. */
  List<String> missingFiles(Message message) {
    synchronized (device) {
      Stream<String> settings =
          message.body().stream()
              .flatMap(e -> e instanceof Element.Atomic a ? a.parts().stream() : Stream.of(e))
              .flatMap(
                  e ->
                      e instanceof Element.Add add
                          ? add.items().stream()
                          : e instanceof Element.Replace r ? r.items().stream() : Stream.empty())
              .flatMap(
                  i -> i.data() == null ? Stream.empty() : named(i.target(), i.data()).stream());
      Stream<String> scripts =
          message.body().stream()
              .flatMap(e -> e instanceof Element.Exec x ? Stream.of(x.item()) : Stream.empty())
              .flatMap(i -> Operations.script(Fields.read(i.data())).stream());
      return Stream.concat(settings, scripts)
          .filter(id -> !state.files.contains(id))
          .distinct()
          .toList();
    }
  }

  /** The file that a setting names; none where its text is no file. */
  private Optional<String> named(@Nullable String uri, String text) {
    return Optional.ofNullable(uri)
        .flatMap(catalog::settingAt)
        .filter(s -> s.type() instanceof ValueType.FileType)
        .flatMap(s -> StoredFile.referred(text));
  }

  /**
   * Says that a file was fetched and is what it should be.
   *
   * @param of whom it is, where it is a certificate
   */
  void hasFile(String id, Optional<String> of) {
    synchronized (device) {
      state.files.add(id);
      of.ifPresent(name -> state.certificates.put(id, name));
    }
  }

  /** Throws away what no setting names any more. */
  void keepNamedFiles() {
    synchronized (device) {
      Set<String> named = new HashSet<>();
      state.policy.forEach((path, leaf) -> named(path, leaf[1]).ifPresent(named::add));
      state.scripts.forEach(run -> named.add(run.file()));
      state.files.retainAll(named);
      state.certificates.keySet().retainAll(named);
    }
  }

  private Map<String, String[]> held(Subtree subtree) {
    return switch (subtree) {
      case SELF -> state.own;
      case POLICY -> state.policy;
      case INVENTORY -> throw new IllegalArgumentException("apps are no leaves to be edited");
    };
  }

  private static Stream<Subtree> edited() {
    return Stream.of(Subtree.values()).filter(Subtree::edited);
  }

  private static Tree tree(Map<String, String[]> held) {
    Map<String, Leaf> leaves = new TreeMap<>();
    held.forEach((p, l) -> leaves.put(p, new Leaf(l[0], l[1])));
    return new Tree(leaves);
  }

  @Override
  public Map<String, Leaf> read(String uri) {
    synchronized (device) {
      Map<String, Leaf> all = new LinkedHashMap<>();
      edited().forEach(subtree -> all.putAll(tree(held(subtree)).leaves()));
      all.putAll(apps.leaves());
      all.putAll(work.leaves());
      new Facts(model, state)
          .read(
              device.noticed().getOrDefault("network", ""),
              !passcode.mustChoose(),
              passcode.until(),
              updates.offered(state.clock().toLocalDate()).map(OsVersion::toString),
              kiosk)
          .forEach((k, v) -> all.put(Dm.FACTS + "/" + k, v));
      devInfo().forEach((k, v) -> all.put(Dm.DEV_INFO + k, new Leaf("chr", v)));
      Map<String, Leaf> out = new LinkedHashMap<>();
      all.forEach(
          (p, l) -> {
            if (p.equals(uri) || p.startsWith(uri + "/")) {
              out.put(p, l);
            }
          });
      if (uri.startsWith(Dm.FACTS)) {
        state.factsChanged = false;
      }
      return out;
    }
  }

  Map<String, String> devInfo() {
    synchronized (device) {
      Map<String, String> out = new LinkedHashMap<>();
      out.put("DevId", "SERIAL:" + state.serial);
      out.put("Man", model.maker());
      out.put("Mod", model.name());
      out.put("DmV", "1.2");
      out.put("Lang", state.language);
      return out;
    }
  }

  @Override
  public int put(String uri, Leaf leaf, boolean mayExist) {
    synchronized (device) {
      if (uri.equals(Dm.READY_GATE)) {
        state.gate = leaf.value();
        device.changed();
        return Dm.OK;
      }
      if (uri.equals(Dm.COMPLIANCE_STATE) || uri.equals(Dm.COMPLIANCE_REASONS)) {
        state.order = uri.equals(Dm.COMPLIANCE_STATE) ? leaf.value() : state.order;
        state.orderReasons = uri.equals(Dm.COMPLIANCE_REASONS) ? leaf.value() : state.orderReasons;
        device.changed();
        return Dm.OK;
      }
      if (uri.startsWith(Dm.DOWNLOAD) || uri.startsWith(Dm.SHELF)) {
        int code =
            uri.startsWith(Dm.DOWNLOAD)
                ? apps.put(uri, leaf.value())
                : apps.offer(uri, leaf.value());
        device.changed();
        return code;
      }
      if (uri.startsWith(Subtree.SELF.root() + "/")) {
        return keep(state.own, uri, leaf, mayExist);
      }
      Setting setting = catalog.settingAt(uri).orElse(null);
      if (setting == null || state.stubborn.contains(uri) || !Placeholders.allKnown(leaf.value())) {
        return Dm.NOT_SUPPORTED;
      }
      Mode mode =
          state.offer == null
              ? Mode.STANDARD
              : Words.parse(Mode.class, state.offer.profile().mode());
      DeviceTraits traits =
          new DeviceTraits(model.platform(), mode, OsVersion.parse(state.osVersion));
      if (setting.objection(traits).isPresent()) {
        return Dm.NOT_ALLOWED;
      }
      if (named(uri, leaf.value()).filter(id -> !state.files.contains(id)).isPresent()) {
        return Dm.NOT_FOUND;
      }
      if (setting.section().equals("kiosk")) {
        kiosk.enter(); // another kiosk than the one that was left
      }
      return keep(state.policy, uri, leaf, mayExist);
    }
  }

  private int keep(Map<String, String[]> held, String uri, Leaf leaf, boolean mayExist) {
    if (!mayExist && held.containsKey(uri)) {
      return Dm.EXISTS;
    }
    held.put(uri, new String[] {leaf.format(), leaf.value()});
    device.changed();
    return Dm.OK;
  }

  @Override
  public int delete(String uri) {
    synchronized (device) {
      boolean gone = false;
      List<Map<String, ?>> all = new ArrayList<>(List.of(state.shelf));
      edited().forEach(subtree -> all.add(held(subtree)));
      for (Map<String, ?> held : all) {
        gone |= held.keySet().removeIf(p -> p.equals(uri) || p.startsWith(uri + "/"));
      }
      device.changed();
      return gone ? Dm.OK : Dm.NOT_FOUND;
    }
  }

  @Override
  public int exec(String uri, @Nullable String data, @Nullable String correlator) {
    synchronized (device) {
      return once(
          correlator,
          known -> {
            state.factsChanged = true;
            return AppBox.operates(uri)
                ? apps.start(uri, known)
                : operations.start(uri, Fields.read(data), known);
          });
    }
  }

  @Override
  public int show(String text, @Nullable String correlator) {
    synchronized (device) {
      return once(correlator, known -> talk.show(text, known));
    }
  }

  @Override
  public int confirm(String text, @Nullable String correlator) {
    synchronized (device) {
      return once(correlator, known -> talk.confirm(text, known));
    }
  }

  @Override
  public int choose(String text, List<String> choices, @Nullable String correlator) {
    synchronized (device) {
      return once(correlator, known -> talk.choose(text, choices, known));
    }
  }

  /** Does what is told again with the same correlator no second time. */
  private int once(@Nullable String correlator, ToIntFunction<String> deed) {
    Integer before = correlator == null ? null : state.carriedOut.get(correlator);
    if (before != null) {
      return before;
    }
    int code = deed.applyAsInt(correlator == null ? "" : correlator);
    operations.remember(correlator, code);
    device.changed();
    return code;
  }

  private record Held(Map<String, String[]> policy, Map<String, String[]> own) {}

  @Override
  public Object snapshot() {
    synchronized (device) {
      return new Held(new TreeMap<>(state.policy), new TreeMap<>(state.own));
    }
  }

  @Override
  public boolean restore(Object snapshot) {
    synchronized (device) {
      if (snapshot instanceof Held before) {
        state.policy.clear();
        state.policy.putAll(before.policy());
        state.own.clear();
        state.own.putAll(before.own());
        device.changed();
        return true;
      }
      return false;
    }
  }
}
