package dev.pinwright.core.place;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import java.util.Optional;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.DoubleRange;
import org.junit.jupiter.api.Test;

/** What lies within the outline of a site, and what can be a map. */
class OutlineTest {
  private static final Outline SQUARE =
      Outline.flat(List.of(-20.4, 47.1, -20.3, 47.1, -20.3, 47.2, -20.4, 47.2));

  /** Like a U, open to the north. */
  private static final Outline HORSESHOE =
      Outline.flat(
          List.of(0.0, 0.0, 3.0, 0.0, 3.0, 3.0, 2.0, 3.0, 2.0, 1.0, 1.0, 1.0, 1.0, 3.0, 0.0, 3.0));

  @Property
  void aSquareHasWhatIsBetweenItsSides(
      @ForAll @DoubleRange(min = 47.0, max = 47.3) double lat,
      @ForAll @DoubleRange(min = -20.5, max = -20.2) double lon) {
    boolean in = lat > 47.1 && lat < 47.2 && lon > -20.4 && lon < -20.3;
    boolean edge = lat == 47.1 || lat == 47.2 || lon == -20.4 || lon == -20.3;
    if (!edge) {
      assertThat(SQUARE.contains(lat, lon)).isEqualTo(in);
    }
  }

  @Test
  void itIsReadFromWellKnownTextAndWrittenAsSuch() {
    String text = "POLYGON ((-20.51 47.19, -20.4 47.19, -20.4 47.25, -20.51 47.19))";
    Outline read = Outline.ofText(text);
    assertThat(read.corners())
        .containsExactly(List.of(-20.51, 47.19), List.of(-20.4, 47.19), List.of(-20.4, 47.25));
    assertThat(read.text()).isEqualTo(text);
    assertThat(Outline.ofText(" polygon((-20.51 47.19,-20.4   47.19,-20.4 47.25)) "))
        .as("in other writing, and not closed")
        .isEqualTo(read);
    for (String wrong :
        List.of(
            "POINT (1 2)",
            "POLYGON ((1 2, 3 4))",
            "POLYGON ((1 2, 3 4, 5 6), (1 2, 3 4, 5 6))",
            "POLYGON ((1 2, 3 4, 5))",
            "POLYGON ((1 2, 3 4, 5 NaN))",
            "POLYGON ((1 2, 3 4, 500 6))",
            "POLYGON ((" + "1 2, ".repeat(9_000) + "1 2))")) {
      assertThatThrownBy(() -> Outline.ofText(wrong)).isInstanceOf(IllegalArgumentException.class);
    }
  }

  @Test
  void whatABayTakesOutIsNotIn() {
    assertThat(HORSESHOE.contains(0.5, 1.5)).isTrue();
    assertThat(HORSESHOE.contains(2.0, 1.5)).as("the bay").isFalse();
    assertThat(HORSESHOE.contains(2.0, 0.5)).isTrue();
    assertThat(HORSESHOE.contains(2.0, 2.5)).isTrue();
  }

  @Test
  void theBoxAroundItIsTold() {
    assertThat(List.of(SQUARE.south(), SQUARE.west(), SQUARE.north(), SQUARE.east()))
        .containsExactly(47.1, -20.4, 47.2, -20.3);
    assertThat(Outline.flat(SQUARE.flat())).isEqualTo(SQUARE);
    assertThat(Outline.flat(List.of(0.0, 0.0, 1.0, 0.0, 1.0, 1.0, 0.0, 0.0)).corners())
        .as("a ring that is closed is the same as one that is not")
        .hasSize(3);
  }

  @Test
  void whatIsNoOutlineIsRefused() {
    assertThatThrownBy(() -> Outline.flat(List.of(0.0, 0.0, 1.0, 1.0)))
        .hasMessageContaining("3 to 200");
    assertThatThrownBy(() -> Outline.flat(List.of(0.0, 0.0, 181.0, 1.0, 2.0, 2.0)))
        .hasMessageContaining("longitude from -180");
    assertThatThrownBy(() -> new Outline(List.of(List.of(1.0), List.of(2.0), List.of(3.0))))
        .hasMessageContaining("a corner is");
  }

  @Test
  void comingAndLeavingIsToldOnce() {
    Fence quay = new Fence("s1", "Norhaven quay", SQUARE);
    assertThat(Fence.around(List.of(quay), 47.15, -20.35)).contains(quay);
    assertThat(Fence.around(List.of(quay), 48, -20.35)).isEmpty();
    assertThat(Fence.told(Optional.empty(), Optional.of("Ulby")))
        .containsExactly("It came to Ulby");
    assertThat(Fence.told(Optional.of("Ulby"), Optional.of("Tollen")))
        .containsExactly("It left Ulby", "It came to Tollen");
    assertThat(Fence.told(Optional.of("Ulby"), Optional.of("Ulby"))).isEmpty();
  }
}
