package dev.pinwright.core.tree;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import net.jqwik.api.Arbitraries;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.Combinators;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import org.junit.jupiter.api.Test;

class TreeTest {
  @Test
  void theDigestIsTheOneOthersCompute() {
    // printf './a=bool:true\n./b=int:6\n' | sha256sum
    Tree tree = new Tree(Map.of("./b", new Leaf("int", "6"), "./a", new Leaf("bool", "true")));
    assertThat(tree.digest())
        .isEqualTo("41dde6585fe90440d2b80b537011251244538fc383b413c4dd16f1b3c91cc8b9");
    // printf '' | sha256sum
    assertThat(Tree.EMPTY.digest())
        .isEqualTo("e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855");
  }

  @Test
  void leavesAreOrderedByBytesNotByUtf16() {
    // U+FF21 is EF BC A1, U+1D400 is F0 9D 90 80: UTF-16 would put them the other way round
    Tree tree =
        new Tree(Map.of("./\uFF21", new Leaf("chr", ""), "./\uD835\uDC00", new Leaf("chr", "")));
    assertThat(tree.leaves().keySet()).containsExactly("./\uFF21", "./\uD835\uDC00");
  }

  @Provide
  Arbitrary<Tree> trees() {
    return Arbitraries.maps(
            Arbitraries.of("./a", "./a/b", "./c", "./d/e", "./f"),
            Combinators.combine(
                    Arbitraries.of("chr", "int"), Arbitraries.of("", "1", "2", "x=y", "ü"))
                .as(Leaf::new))
        .map(Tree::new);
  }

  @Property
  void theDifferenceAppliedToAnyReportedTreeGivesTheDesiredTree(
      @ForAll("trees") Tree reported, @ForAll("trees") Tree desired) {
    List<Edit> edits = Edit.between(reported, desired);
    assertThat(Edit.apply(reported, edits)).isEqualTo(desired);
    assertThat(edits.isEmpty()).isEqualTo(reported.equals(desired));
  }

  @Property
  void equalTreesAndOnlyTheyHaveEqualDigests(
      @ForAll("trees") Tree one, @ForAll("trees") Tree other) {
    assertThat(one.digest().equals(other.digest())).isEqualTo(one.equals(other));
  }
}
