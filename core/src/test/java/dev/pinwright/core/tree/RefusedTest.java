package dev.pinwright.core.tree;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.HashMap;
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
  void anEntryGoesWholeWhenALeafOfItIsRefused() {
    String networks = "./Vendor/Pinwright/Policy/wifi/";
    Leaf name = new Leaf("chr", "Staff");
    Map<String, Leaf> other =
        Map.of("./Vendor/Pinwright/Policy/passcode/min-length", SIX, networks + "b/network", name);
    Map<String, Leaf> all = new HashMap<>(other);
    all.put(networks + "a/network", name);
    all.put(networks + "a/hidden", ON);
    Refused refused = Refused.NOTHING.and(networks + "a/hidden", ON);
    assertThat(refused.takenOutOf(new Tree(all))).isEqualTo(new Tree(other));
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
