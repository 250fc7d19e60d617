package dev.pinwright.protocol.join;

import com.fasterxml.jackson.annotation.JsonInclude;
import org.jspecify.annotations.Nullable;

/** What a bench's cable and the server say to each other, as it stands on the wire. */
public final class BenchMessages {
  private BenchMessages() {}

  /**
   * Body of {@code POST /join/CODE/bench}.
   *
   * @param rack counted from 1
   * @param slot 1 to 16
   * @param stage {@code plugged}, {@code erasing}, {@code erased} or {@code unplugged}
   */
  @JsonInclude(JsonInclude.Include.NON_NULL)
  public record Word(
      @Nullable Integer rack,
      @Nullable Integer slot,
      @Nullable String serial,
      @Nullable String stage) {}

  /**
   * The answer.
   *
   * @param erase whether the device is to be erased
   * @param wifi the network it is to use, if any
   * @param leave whether it is to be left alone: it is managed, and nobody has said that it may be
   *     erased; the cable may ask again
   */
  public record Order(String session, boolean erase, @Nullable Wifi wifi, boolean leave) {}

  /** A Wi-Fi network. Never printed. */
  public record Wifi(String name, String secret) {
    @Override
    public String toString() {
      return "Wifi[" + name + "]";
    }
  }
}
