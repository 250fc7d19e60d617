package dev.pinwright.service.bench;

import com.fasterxml.jackson.core.type.TypeReference;
import dev.pinwright.core.Text;
import dev.pinwright.core.Words;
import dev.pinwright.core.bench.CableWork;
import dev.pinwright.core.bench.WorkState;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.file.FileKind;
import dev.pinwright.core.file.StoredFile;
import dev.pinwright.protocol.join.BenchMessages;
import dev.pinwright.service.sheet.Sheet;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.bench.BenchStore;
import dev.pinwright.storage.bench.BenchWorkStore;
import dev.pinwright.storage.bench.BenchWorkStore.Work;
import dev.pinwright.storage.device.ActivityStore;
import dev.pinwright.storage.file.FileStore;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;

/**
 * What the cable of a bench does to devices that are plugged in: to one or to all of them, whether
 * they can be reached, are enrolled, or neither. A device that is on file as its holder's own is
 * left alone, and nothing it tells is kept.
 */
public final class BenchWork {
  private static final int MOST_FACTS = 60;
  private static final int LONGEST = 200;
  private static final int MOST_TOLD = 5_000;
  private static final TypeReference<TreeMap<String, String>> TEXTS = new TypeReference<>() {};

  private final UseCases useCases;
  private final Catalog catalog;
  private final String content;

  /**
   * The work of benches.
   *
   * @param base {@code https://HOST:PORT} as devices reach this
   */
  public BenchWork(UseCases useCases, Catalog catalog, String base) {
    this.useCases = useCases;
    this.catalog = catalog;
    content = base + "/content/sha256/";
  }

  /**
   * What is to be done.
   *
   * @param what in a word, such as {@code update-os}
   * @param value what has to be said besides, such as the version
   * @param serials of which devices; of all that are plugged in without
   * @param confirmDevices how many are erased
   */
  public record Draft(
      @Nullable String what,
      Optional<String> value,
      Optional<List<String>> serials,
      Optional<Long> confirmDevices) {}

  /** How many devices it is done to, and why it is not done to others, a sentence each. */
  public record Ordered(int devices, List<String> left) {}

  /**
   * Has something done to devices that are plugged in.
   *
   * @throws Problem 400, 404, 409 where nothing is plugged in or erasing has to be confirmed
   */
  public Ordered order(Caller caller, String sessionId, Draft draft) {
    CableWork what =
        Problem.reading(
            "/what", () -> Words.parse(CableWork.class, draft.what() == null ? "" : draft.what()));
    String said = Problem.reading("/value", () -> what.read(draft.value().orElse("")));
    return useCases.act(
        caller,
        act -> {
          Tx tx = act.tx();
          BenchStore bench = new BenchStore(tx);
          BenchStore.Session s =
              bench.find(sessionId).orElseThrow(() -> Problem.notFound("bench session", sessionId));
          if (!s.open()) {
            throw Problem.conflict("bench-closed", "The bench session is closed.");
          }
          there(tx, what, said);
          BenchWorkStore store = new BenchWorkStore(tx);
          List<BenchWorkStore.Plugged> to =
              store.plugged(sessionId, draft.serials().orElse(List.of()));
          if (to.isEmpty()) {
            throw Problem.conflict("nothing-plugged-in", "No such device is plugged in.");
          }
          if (what == CableWork.ERASE
              && !draft.confirmDevices().equals(Optional.of((long) to.size()))) {
            throw Problem.conflict(
                    "confirm-devices",
                    "This takes all that is on them from "
                        + Words.counted(to.size(), "device")
                        + "; repeat that number.")
                .with("confirmDevices", to.size());
          }
          List<String> left = new ArrayList<>();
          int done = 0;
          for (BenchWorkStore.Plugged d : to) {
            Optional<String> no =
                what.objection(bench.heldAs(sessionId, d.serial()), d.managed(), d.personal());
            no.ifPresent(why -> left.add(d.serial() + ": " + why));
            done += no.isEmpty() ? 1 : 0;
            store.add(
                sessionId,
                new Work(
                    act.newId(),
                    d.serial(),
                    what,
                    said,
                    no.isEmpty() ? WorkState.QUEUED : WorkState.FAILED,
                    no.orElse(""),
                    act.now(),
                    caller.login(),
                    no.map(x -> act.now())));
          }
          act.done(
              Noun.BENCH,
              "work-ordered",
              sessionId,
              Words.of(what)
                  + (said.isEmpty() ? "" : " " + said)
                  + " by the cable of "
                  + s.name()
                  + ": "
                  + Words.counted(done, "device"));
          return new Ordered(done, left);
        });
  }

  /** Holds what is named against what there is. */
  private void there(Tx tx, CableWork what, String said) {
    switch (what.value()) {
      case VERSION -> {
        boolean known =
            catalog.platforms().stream()
                .anyMatch(p -> p.versions().stream().anyMatch(v -> v.toString().equals(said)));
        if (!known) {
          throw Problem.malformed("/value", "There is no version " + said + " of any platform.");
        }
      }
      case APP ->
          new BenchWorkStore(tx)
              .latest(said)
              .orElseThrow(
                  () -> Problem.malformed("/value", "No package of such an app is kept here."));
      case DOCUMENT -> {
        String id = StoredFile.referred(said).orElseThrow();
        StoredFile.objection(
                FileKind.DOCUMENT, new FileStore(tx).held(List.of(id)).stream().findFirst(), id)
            .ifPresent(
                why -> {
                  throw Problem.malformed("/value", why);
                });
      }
      default -> {
        // nothing is named that has to be there
      }
    }
  }

  /** What was done by the cable of a session, and is to be, the latest first. */
  public Page<Work> page(Caller caller, String sessionId, Page.Request page) {
    String[] c = page.parts(Page.Part.TEXT);
    return useCases.read(
        tx ->
            Page.of(
                new BenchWorkStore(tx)
                    .page(sessionId, c.length == 0 ? "~" : c[0], page.limit() + 1),
                page.limit(),
                w -> w,
                w -> Page.cursor(w.id())));
  }

  /** What the devices of a session told, as a sheet: a line for each, a column for each fact. */
  public String facts(Caller caller, String sessionId) {
    List<BenchStore.Told> told = useCases.read(tx -> new BenchStore(tx).told(sessionId, MOST_TOLD));
    TreeSet<String> keys = new TreeSet<>();
    List<Map<String, String>> facts = new ArrayList<>();
    for (BenchStore.Told t : told) {
      Map<String, String> of = Json.read(t.facts(), TEXTS);
      keys.addAll(of.keySet());
      facts.add(of);
    }
    List<String> head = new ArrayList<>(List.of("rack", "slot", "serial"));
    head.addAll(keys);
    List<List<String>> rows = new ArrayList<>();
    for (int i = 0; i < told.size(); i++) {
      BenchStore.Told t = told.get(i);
      List<Object> row = new ArrayList<>(List.of(t.rack(), t.slot(), t.serial()));
      for (String key : keys) {
        row.add(facts.get(i).getOrDefault(key, ""));
      }
      rows.add(Sheet.cells(row.toArray()));
    }
    return Sheet.write(head, rows);
  }

  // ---- the cable
  // -----------------------------------------------------------------------------------

  /** Takes in what a device told by the cable, and how a piece of work ended. */
  void heard(UseCases.Act act, String sessionId, String serial, BenchMessages.Word word) {
    BenchWorkStore store = new BenchWorkStore(act.tx());
    if (word.facts() != null || word.ended() != null) {
      Optional<BenchWorkStore.Plugged> at =
          store.plugged(sessionId, List.of(serial)).stream().findFirst();
      boolean own = at.isEmpty() || at.get().personal();
      if (word.facts() != null && !own) {
        store.facts(sessionId, serial, Json.write(kept(word.facts())));
      }
      BenchMessages.Ended ended = word.ended();
      if (ended != null && ended.work() != null) {
        String words = Text.cleaned(ended.words() == null ? "" : ended.words(), LONGEST);
        store
            .ended(
                sessionId,
                serial,
                ended.work(),
                ended.done() ? WorkState.DONE : WorkState.FAILED,
                ended.done() ? "" : words,
                act.now())
            .ifPresent(w -> told(act, at.flatMap(BenchWorkStore.Plugged::deviceId), w));
      }
    }
  }

  private Map<String, String> kept(Map<String, String> told) {
    Map<String, String> kept = new TreeMap<>();
    told.forEach(
        (key, value) -> {
          if (catalog.fact(key).isPresent() && kept.size() < MOST_FACTS && value != null) {
            kept.put(key, Text.cleaned(value, LONGEST));
          }
        });
    return kept;
  }

  private static void told(UseCases.Act act, Optional<String> device, Work w) {
    device.ifPresent(
        id ->
            new ActivityStore(act.tx())
                .add(
                    id,
                    act.now(),
                    "bench",
                    w.state() == WorkState.DONE
                        ? "By cable, for " + w.orderedBy() + ": " + w.what().done() + said(w)
                        : "By cable, for "
                            + w.orderedBy()
                            + ": not "
                            + w.what().done()
                            + said(w)
                            + ", "
                            + w.reason()));
  }

  private static String said(Work w) {
    return w.said().isEmpty() || w.said().startsWith("sha256:") ? "" : " (" + w.said() + ")";
  }

  /** What the cable is to do to a device next. */
  Optional<BenchMessages.Work> next(UseCases.Act act, String sessionId, String serial) {
    BenchWorkStore store = new BenchWorkStore(act.tx());
    return store
        .next(sessionId, serial, act.now())
        .map(w -> new BenchMessages.Work(w.id(), Words.of(w.what()), fields(store, act.tx(), w)));
  }

  private Map<String, String> fields(BenchWorkStore store, Tx tx, Work w) {
    return switch (w.what().value()) {
      case NONE -> Map.of();
      case NAME -> Map.of("name", w.said());
      case VERSION -> Map.of("version", w.said());
      case APP ->
          store
              .latest(w.said())
              .map(
                  p ->
                      Map.of(
                          "address", content + p.fileId(),
                          "sha256", p.fileId(),
                          "id", p.packageId(),
                          "name", p.name(),
                          "version", p.version()))
              .orElse(Map.of());
      case DOCUMENT -> {
        String id = StoredFile.referred(w.said()).orElse("");
        String name = new FileStore(tx).names(List.of(id)).getOrDefault(id, "Document");
        yield Map.of("address", content + id, "sha256", id, "name", name);
      }
    };
  }
}
