package dev.pinwright.core.session;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.core.session.Holding.Apply;
import dev.pinwright.core.session.Holding.Nothing;
import dev.pinwright.core.session.Holding.Read;
import dev.pinwright.core.session.Holding.TooLarge;
import dev.pinwright.core.session.Verdict.Part;
import dev.pinwright.core.tree.Edit;
import dev.pinwright.core.tree.Leaf;
import dev.pinwright.core.tree.Refused;
import dev.pinwright.core.tree.Tree;
import java.nio.charset.StandardCharsets;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import net.jqwik.api.Arbitraries;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import net.jqwik.api.constraints.IntRange;
import org.junit.jupiter.api.Test;

/** A session with one subtree, from what the device says to what it should hold. */
class HoldingTest {
  private static final int ROOM = 100_000;
  private static final Tree WANTED =
      new Tree(Map.of("./P/a", new Leaf("int", "6"), "./P/b", new Leaf("bool", "true")));

  private static Holding known(Tree tree) {
    return Holding.reporting(Optional.of(tree.digest())).knowing(tree);
  }

  @Test
  void aDeviceThatTellsNothingWeKnowIsAskedOnceAndThenTakenToHoldNothing() {
    Holding silent = Holding.reporting(Optional.empty());
    assertThat(silent.next(WANTED, ROOM)).isInstanceOf(Read.class);
    assertThat(silent.asking().next(WANTED, ROOM))
        .isInstanceOfSatisfying(Apply.class, a -> assertThat(a.edits()).hasSize(2));
  }

  @Test
  void whatIsMissingChangedAndSurplusIsSentAndNothingElse() {
    Tree has = new Tree(Map.of("./P/a", new Leaf("int", "4"), "./P/c", new Leaf("int", "1")));
    assertThat(known(has).next(WANTED, ROOM))
        .isEqualTo(
            new Apply(
                List.of(
                    new Edit.Delete("./P/c"),
                    new Edit.Replace("./P/a", new Leaf("int", "6")),
                    new Edit.Add("./P/b", new Leaf("bool", "true")))));
    assertThat(known(WANTED).next(WANTED, ROOM)).isInstanceOf(Nothing.class);
    assertThat(known(WANTED).matches(WANTED)).isTrue();
  }

  @Test
  void aSetTurnedDownForNoReasonIsNotSentAgain() {
    Holding sent = known(Tree.EMPTY).sending();
    List<Part> parts =
        Edit.between(Tree.EMPTY, WANTED).stream().map(e -> new Part(e, 215)).toList();
    Holding after = sent.after(Verdict.of(507, parts));
    assertThat(after.stuck()).isTrue();
    assertThat(after.next(WANTED, ROOM)).isInstanceOf(Nothing.class);
  }

  @Test
  void whatIsRefusedIsNamedAndTheRestIsNotHeldAgainstIt() {
    List<Part> parts =
        List.of(
            new Part(new Edit.Add("./P/a", new Leaf("int", "6")), 406),
            new Part(new Edit.Add("./P/b", new Leaf("bool", "true")), 216),
            new Part(new Edit.Delete("./P/c"), 405));
    assertThat(Verdict.of(507, parts))
        .isEqualTo(
            new Verdict.Refused(
                List.of(
                    new Verdict.RefusedLeaf(
                        "./P/a", new Leaf("int", "6"), 406, "the device does not support it")),
                List.of()));
    assertThat(known(Tree.EMPTY).after(Verdict.of(507, parts)).stuck()).isFalse();
  }

  @Test
  void whatIsThereAlreadyIsReplaced() {
    Holding sent = known(Tree.EMPTY).sending();
    List<Part> parts =
        List.of(
            new Part(new Edit.Add("./P/a", new Leaf("int", "6")), 418),
            new Part(new Edit.Add("./P/b", new Leaf("bool", "true")), 216));
    Holding after = sent.after(Verdict.of(507, parts));
    assertThat(after.next(WANTED, ROOM))
        .isEqualTo(
            new Apply(
                List.of(
                    new Edit.Replace("./P/a", new Leaf("int", "6")),
                    new Edit.Add("./P/b", new Leaf("bool", "true")))));
    assertThat(after.after(Verdict.of(507, parts)).stuck())
        .as("said again, it leads nowhere")
        .isTrue();
  }

  @Provide
  Arbitrary<Tree> trees() {
    Arbitrary<String> paths = Arbitraries.integers().between(0, 12).map(i -> "./P/" + i);
    Arbitrary<Leaf> leaves =
        Arbitraries.of("1", "2", "a & b", "<ü>", "金曜日", "").map(v -> new Leaf("chr", v));
    return Arbitraries.maps(paths, leaves).ofMaxSize(12).map(Tree::new);
  }

  /**
   * A device that refuses some leaves for good and applies the rest, however small its messages:
   * the session ends with exactly what it should hold but for those.
   */
  @Property
  void everySessionEndsWithWhatCanBeHeld(
      @ForAll("trees") Tree has,
      @ForAll("trees") Tree wanted,
      @ForAll Set<@IntRange(max = 12) Integer> refuses,
      @ForAll @IntRange(min = 1, max = 2_000) int room,
      @ForAll boolean tells) {
    Holding holding = tells ? known(has) : Holding.reporting(Optional.empty());
    Tree device = has;
    Refused refused = Refused.NOTHING;
    int messages = 0;
    while (true) {
      Holding.Next next = holding.next(refused.takenOutOf(wanted), room);
      assertThat(++messages).as("it comes to an end").isLessThan(60);
      if (next instanceof Nothing) {
        break;
      } else if (next instanceof Read) {
        holding = holding.asking().knowing(device);
      } else if (next instanceof TooLarge large) {
        Verdict.RefusedLeaf leaf = Verdict.tooLarge(large.edit());
        assertThat(Portion.bytes(large.edit())).isGreaterThan(room);
        refused = refused.and(leaf.path(), leaf.leaf());
      } else if (next instanceof Apply apply) {
        Map<Edit, Integer> codes = new HashMap<>();
        for (Edit e : apply.edits()) {
          boolean no = refuses.contains(Integer.parseInt(e.path().substring(4)));
          codes.put(e, no && !(e instanceof Edit.Delete) ? 406 : 200);
        }
        boolean all = codes.values().stream().allMatch(c -> c == 200);
        Verdict verdict =
            Verdict.of(
                all ? 200 : 507,
                apply.edits().stream()
                    .map(e -> new Part(e, all || codes.get(e) == 406 ? codes.get(e) : 216))
                    .toList());
        if (all) {
          device = Edit.apply(device, apply.edits());
        } else if (verdict instanceof Verdict.Refused r) {
          for (Verdict.RefusedLeaf leaf : r.leaves()) {
            refused = refused.and(leaf.path(), leaf.leaf());
          }
        }
        holding = holding.sending().after(verdict);
      }
    }
    assertThat(device).isEqualTo(refused.takenOutOf(wanted));
    assertThat(holding.digest(refused.takenOutOf(wanted))).contains(device.digest());
  }

  @Property
  void aPortionNeverTakesMoreThanThereIsRoomUnlessOneEditDoes(
      @ForAll("trees") Tree wanted, @ForAll @IntRange(min = 1, max = 3_000) int room) {
    List<Edit> edits = Edit.between(Tree.EMPTY, wanted);
    List<Edit> portion = Portion.of(edits, room);
    assertThat(edits).startsWith(portion.toArray(Edit[]::new));
    int bytes = portion.stream().mapToInt(Portion::bytes).sum();
    if (portion.size() > 1) {
      assertThat(bytes).isLessThanOrEqualTo(room);
    }
    portion.forEach(
        e ->
            assertThat(Portion.bytes(e))
                .isGreaterThanOrEqualTo(
                    Portion.AROUND + e.path().getBytes(StandardCharsets.UTF_8).length));
  }
}
