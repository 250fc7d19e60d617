package dev.pinwright.core.tree;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Map;
import org.junit.jupiter.api.Test;

class RefusedTest {
  private static final Leaf SIX = new Leaf("int", "6");
  private static final Leaf ON = new Leaf("bool", "true");
  private static final Tree TREE = new Tree(Map.of("./P/min-length", SIX, "./P/camera-off", ON));

  @Test
  void whatIsRefusedIsTakenOutOfWhatIsExpected() {
    Refused refused = Refused.NOTHING.and("./P/camera-off", ON);
    assertThat(refused.takenOutOf(TREE)).isEqualTo(new Tree(Map.of("./P/min-length", SIX)));
  }

  @Test
  void anotherValueOfTheSameSettingIsTriedAgain() {
    Refused refused = Refused.NOTHING.and("./P/min-length", new Leaf("int", "9"));
    assertThat(refused.takenOutOf(TREE)).isEqualTo(TREE);
  }

  @Test
  void whatIsNoLongerAskedForIsForgotten() {
    Refused refused = Refused.NOTHING.and("./P/camera-off", ON).and("./P/gone", ON);
    assertThat(refused.among(TREE)).isEqualTo(Refused.NOTHING.and("./P/camera-off", ON));
  }

  @Test
  void theOrderInWhichThingsWereRefusedDoesNotMatterAndTheTextReadsBack() {
    Refused one = Refused.NOTHING.and("./P/a", ON).and("./P/b", SIX);
    Refused other = Refused.NOTHING.and("./P/b", SIX).and("./P/a", ON);
    assertThat(one).isEqualTo(other);
    assertThat(Refused.parse(one.text())).isEqualTo(one);
    assertThat(Refused.parse("")).isEqualTo(Refused.NOTHING);
  }
}
