package dev.pinwright.core.policy;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.policy.Shape.Part;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;

class ShapeTest {
  private static Shape shape(Part... parts) {
    return new Shape("tarn", Mode.SUPERVISED, OsVersion.parse("7.2"), List.of(parts));
  }

  @Test
  void theOrderOfProfilesDoesNotMatter() {
    Part a = new Part("a", 1, 1);
    Part b = new Part("b", 4, 3);
    assertThat(shape(a, b)).isEqualTo(shape(b, a));
    assertThat(shape(a, b).key()).isEqualTo(shape(b, a).key()).hasSize(32);
  }

  @Test
  void everythingThatDecidesSettingsIsInTheKey() {
    Shape plain = shape(new Part("a", 1, 1));
    assertThat(
            List.of(
                shape(),
                shape(new Part("a", 2, 1)),
                shape(new Part("a", 1, 2)),
                shape(new Part("b", 1, 1)),
                new Shape("fjell", plain.mode(), plain.osLevel(), plain.parts()),
                new Shape("tarn", Mode.STANDARD, plain.osLevel(), plain.parts()),
                new Shape("tarn", plain.mode(), OsVersion.parse("7.0"), plain.parts())))
        .extracting(Shape::key)
        .doesNotContain(plain.key())
        .doesNotHaveDuplicates();
  }

  @Test
  void aProfileIsReplacedAddedOrTakenAway() {
    Shape two = shape(new Part("a", 1, 1), new Part("b", 1, 1));
    assertThat(two.with("a", Optional.of(new Part("a", 2, 3))))
        .isEqualTo(shape(new Part("a", 2, 3), new Part("b", 1, 1)));
    assertThat(two.with("b", Optional.empty())).isEqualTo(shape(new Part("a", 1, 1)));
    assertThat(shape().with("c", Optional.of(new Part("c", 1, 5))))
        .isEqualTo(shape(new Part("c", 1, 5)));
  }

  @Test
  void aShapeReadsBackFromItsText() {
    for (Shape s :
        List.of(
            shape(),
            shape(new Part("01JA", 3, 1)),
            shape(new Part("b", 4, 3), new Part("a", 1, 5)))) {
      assertThat(Shape.parse(s.text())).isEqualTo(s);
    }
    assertThat(shape(new Part("b", 4, 3)).text()).isEqualTo("tarn|supervised|7.2|b:4:3");
  }
}
