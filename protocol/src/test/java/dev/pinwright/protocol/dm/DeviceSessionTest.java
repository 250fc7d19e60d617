package dev.pinwright.protocol.dm;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.core.session.Subtree;
import dev.pinwright.core.tree.Leaf;
import dev.pinwright.protocol.syncml.Element;
import dev.pinwright.protocol.syncml.Element.Item;
import dev.pinwright.protocol.syncml.Element.Results;
import dev.pinwright.protocol.syncml.Element.Status;
import dev.pinwright.protocol.syncml.Message;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;

class DeviceSessionTest {
  @Test
  void aReportThatIsNoCodeIsAFailureInItsWords() {
    assertThat(Heard.Report.of("c", "200")).isEqualTo(new Heard.Report("c", 200, ""));
    assertThat(Heard.Report.of("c", "500 the speaker is missing"))
        .isEqualTo(new Heard.Report("c", 500, "the speaker is missing"));
    assertThat(Heard.Report.of("c", "")).isEqualTo(new Heard.Report("c", 200, ""));
    assertThat(Heard.Report.of("c", "could not"))
        .isEqualTo(new Heard.Report("c", 500, "could not"));
  }

  /** A device that refuses every path with "no" in it. */
  private static final class Device implements DeviceSide {
    private final TreeMap<String, Leaf> tree = new TreeMap<>();
    private final Map<String, String> done = new LinkedHashMap<>();

    @Override
    public Map<String, Leaf> read(String uri) {
      Map<String, Leaf> out = new TreeMap<>();
      tree.forEach(
          (p, l) -> {
            if (p.startsWith(uri)) {
              out.put(p, l);
            }
          });
      return out;
    }

    @Override
    public int put(String uri, Leaf leaf, boolean mayExist) {
      if (uri.contains("no")) {
        return Dm.NOT_SUPPORTED;
      }
      tree.put(uri, leaf);
      return Dm.OK;
    }

    @Override
    public int delete(String uri) {
      return tree.remove(uri) == null ? Dm.NOT_FOUND : Dm.OK;
    }

    @Override
    public int exec(String uri, @Nullable String data, @Nullable String correlator) {
      done.put(String.valueOf(correlator), uri);
      return Dm.ACCEPTED;
    }

    @Override
    public int show(String text, @Nullable String correlator) {
      done.put(String.valueOf(correlator), text);
      return Dm.OK;
    }

    @Override
    public int choose(String text, java.util.List<String> choices, String correlator) {
      return 406;
    }

    @Override
    public int confirm(String text, @Nullable String correlator) {
      done.put(String.valueOf(correlator), "asked " + text);
      return Dm.ACCEPTED;
    }

    @Override
    public Object snapshot() {
      return new TreeMap<>(tree);
    }

    @Override
    public boolean restore(Object snapshot) {
      tree.clear();
      ((TreeMap<?, ?>) snapshot).forEach((k, v) -> tree.put((String) k, (Leaf) v));
      return true;
    }
  }

  private final Device device = new Device();
  private final DeviceSession session =
      new DeviceSession(device, "7", "SERIAL:X", "https://s/dm", 9000);

  private static Message server(boolean last, Element... body) {
    return new Message(
        new Message.Header("7", 1, "SERIAL:X", "https://s/dm", 9000), List.of(body), last);
  }

  private Map<String, Integer> codes(Message server) {
    Map<String, Integer> codes = new TreeMap<>();
    session
        .next(server)
        .orElseThrow()
        .body()
        .forEach(
            e -> {
              if (e instanceof Status s) {
                codes.put(s.cmdRef(), s.code());
              }
            });
    return codes;
  }

  private static Element add(String id, String path) {
    return new Element.Add(id, List.of(Item.put(path, "int", "1")));
  }

  @Test
  void packageOneTellsWhyItComesWhoItIsAndWhatIsOutstanding() {
    Message one =
        session.open(
            true,
            Map.of("Man", "Arbor"),
            List.of(new DeviceSession.Outstanding(Dm.TYPE_TREE_DIGEST, "ab", Optional.empty())));
    Heard heard = Heard.of(one);
    assertThat(((Element.Alert) one.body().get(0)).code()).isEqualTo(1200);
    assertThat(heard.devInfo()).containsEntry("Man", "Arbor");
    assertThat(heard.digests()).containsEntry(Subtree.POLICY, "ab");
    assertThat(heard.acknowledge()).hasSize(3);
  }

  @Test
  void anAtomicThatFailsLeavesTheTreeAsItWas() {
    device.tree.put("./old", new Leaf("int", "0"));
    Element atomic =
        new Element.Atomic("1", List.of(add("2", "./a"), add("3", "./no"), add("4", "./b")));
    assertThat(codes(server(true, atomic)))
        .containsEntry("1", 507)
        .containsEntry("2", 216)
        .containsEntry("3", 406)
        .containsEntry("4", 215);
    assertThat(device.tree).containsOnlyKeys("./old");
  }

  @Test
  void anAtomicThatHoldsIsAppliedWhole() {
    assertThat(
            codes(server(true, new Element.Atomic("1", List.of(add("2", "./a"), add("3", "./b"))))))
        .containsValue(200)
        .doesNotContainValue(507);
    assertThat(device.tree).containsOnlyKeys("./a", "./b");
  }

  @Test
  void aSubtreeIsReadAtOnce() {
    device.tree.put("./f/x", new Leaf("chr", "1"));
    device.tree.put("./f/y/z", new Leaf("chr", "2"));
    Message answer =
        session
            .next(server(true, new Element.Get("5", List.of(Item.at("./f" + Dm.STRUCT_DATA)))))
            .orElseThrow();
    Results results =
        (Results)
            answer.body().stream().filter(e -> e instanceof Results).findFirst().orElseThrow();
    assertThat(results.items()).extracting(Item::source).containsExactly("./f/x", "./f/y/z");
    assertThat(results.cmdRef()).isEqualTo("5");
  }

  @Test
  void theSessionIsOverWhenOnlyStatusesCome() {
    Element status = new Status("1", "1", "0", "SyncHdr", null, null, 212, List.of());
    assertThat(session.next(server(true, status))).isEmpty();
    Message more = session.next(server(false, status)).orElseThrow();
    assertThat(more.body().get(1)).isInstanceOf(Element.Alert.class);
    assertThat(((Element.Alert) more.body().get(1)).code()).isEqualTo(1222);
  }

  @Test
  void aServerHearsReportsByTheirCorrelator() {
    Message report =
        session.open(
            false,
            Map.of(),
            List.of(new DeviceSession.Outstanding(Dm.TYPE_OPERATION, "500", Optional.of("01J-1"))));
    assertThat(Heard.of(report).reports()).containsExactly(new Heard.Report("01J-1", 500, ""));
  }
}
