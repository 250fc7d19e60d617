package dev.pinwright.core.target;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalArgumentException;

import dev.pinwright.core.target.Target.Kind;
import java.util.List;
import org.junit.jupiter.api.Test;

class AssignmentTest {
  private static final Target EVERYONE = new Target(Kind.EVERYONE, "");
  private static final Target QUAY = new Target(Kind.GROUP, "quay");
  private static final Target GALLERY = new Target(Kind.TAG, "gallery");
  private static final Target TABLET = new Target(Kind.DEVICE, "d1");

  @Test
  void theNearestOfSeveralTargetsCounts() {
    Assignment a = new Assignment(List.of(EVERYONE, QUAY, TABLET), List.of());
    assertThat(a.reaches(List.of(EVERYONE, QUAY))).hasValue(3);
    assertThat(a.reaches(List.of(EVERYONE, QUAY, TABLET))).hasValue(5);
    assertThat(new Assignment(List.of(QUAY), List.of()).reaches(List.of(EVERYONE))).isEmpty();
  }

  @Test
  void anExclusionBeatsHoweverNearATarget() {
    Assignment a = new Assignment(List.of(EVERYONE, TABLET), List.of(GALLERY));
    assertThat(a.reaches(List.of(EVERYONE, GALLERY, TABLET))).isEmpty();
    assertThat(a.reaches(List.of(EVERYONE, TABLET))).hasValue(5);
  }

  @Test
  void aTargetNamesWhatItMeans() {
    assertThatIllegalArgumentException().isThrownBy(() -> new Target(Kind.GROUP, ""));
    assertThatIllegalArgumentException().isThrownBy(() -> new Target(Kind.EVERYONE, "x"));
  }
}
