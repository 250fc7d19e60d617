package dev.pinwright.protocol.dm;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.core.device.Position;
import java.time.Instant;
import java.util.Collections;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class PositionsTest {
  private static final Instant AT = Instant.parse("2026-03-01T10:00:00Z");
  private static final Position QUAY =
      new Position(AT, 47.2335, -20.357, Optional.of(12.5), Position.Source.SATELLITE);

  @Test
  void whatIsWrittenIsReadBack() {
    Position plain = new Position(AT, -90, 180, Optional.empty(), Position.Source.NETWORK);
    assertThat(Positions.read(Positions.write(List.of(QUAY, plain)))).containsExactly(QUAY, plain);
    assertThat(Positions.read(Positions.write(Collections.nCopies(600, QUAY)))).hasSize(500);
  }

  @Test
  void onePositionIsAFeatureWithLongitudeFirst() {
    assertThat(
            Positions.read(
                """
                {"type": "Feature", "geometry": {"type": "Point", "coordinates": [-20.357, 47.2335, 8]},
                 "properties": {"accuracy": 12.5, "source": "satellite", "at": "2026-03-01T11:00:00+01:00"}}
                """
                    .replace("+01:00", "Z")
                    .replace("T11", "T10")))
        .containsExactly(QUAY);
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "",
        "nothing",
        "[]",
        "{\"type\":\"Feature\"}",
        "{\"type\":\"Feature\",\"geometry\":{\"type\":\"Point\",\"coordinates\":[1,2]}}",
        "{\"type\":\"Feature\",\"geometry\":{\"type\":\"Point\",\"coordinates\":[1,91]},"
            + "\"properties\":{\"at\":\"2026-03-01T10:00:00Z\"}}",
        "{\"type\":\"Feature\",\"geometry\":{\"type\":\"Point\",\"coordinates\":[\"1\",\"2\"]},"
            + "\"properties\":{\"at\":\"2026-03-01T10:00:00Z\"}}",
        "{\"type\":\"Feature\",\"geometry\":{\"type\":\"Point\",\"coordinates\":[1,2]},"
            + "\"properties\":{\"at\":\"2026-03-01T10:00:00Z\",\"accuracy\":-1}}",
        "{\"type\":\"Feature\",\"geometry\":{\"type\":\"Point\",\"coordinates\":[1,2]},"
            + "\"properties\":{\"at\":\"+999999999-12-31T23:59:59Z\",\"source\":\"guess\"}}"
      })
  void whatIsNoPositionIsLeftOut(String data) {
    assertThat(Positions.read(data)).isEmpty();
  }
}
