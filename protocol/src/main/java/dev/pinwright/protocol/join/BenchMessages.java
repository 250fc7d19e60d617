package dev.pinwright.protocol.join;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** What a bench's cable and the server say to each other, as it stands on the wire. */
public final class BenchMessages {
  private BenchMessages() {}

  /**
   * Body of {@code POST /join/CODE/bench}.
   *
   * @param rack counted from 1
   * @param slot 1 to 16
   * @param stage {@code plugged}, {@code erasing}, {@code erased}, {@code there}, which is still
   *     plugged in, or {@code unplugged}
   * @param facts what the device tells of itself, as in {@code ./Vendor/Pinwright/Facts}
   * @param ended the end of a piece of work
   */
  @JsonInclude(JsonInclude.Include.NON_NULL)
  public record Word(
      @Nullable Integer rack,
      @Nullable Integer slot,
      @Nullable String serial,
      @Nullable String stage,
      @Nullable Map<String, String> facts,
      @Nullable Ended ended) {
    /** One that tells a stage and no more. */
    public Word(
        @Nullable Integer rack,
        @Nullable Integer slot,
        @Nullable String serial,
        @Nullable String stage) {
      this(rack, slot, serial, stage, null, null);
    }
  }

  /**
   * The end of a piece of work.
   *
   * @param done whether it was done
   * @param words why not, if it was not
   */
  public record Ended(@Nullable String work, boolean done, @Nullable String words) {}

  /**
   * A piece of work.
   *
   * @param what {@code erase}, {@code clear-passcode}, {@code rename}, {@code update-os}, {@code
   *     app}, {@code document}, {@code back-up} or {@code restore}
   * @param fields what it takes: {@code name}, {@code version}, or {@code address} and {@code
   *     sha256} of what is put on it
   */
  public record Work(String id, String what, Map<String, String> fields) {}

  /**
   * The answer.
   *
   * @param erase whether the device is to be erased
   * @param wifi the network it is to use, if any
   * @param leave whether it is to be left alone: it is managed, and nobody has said that it may be
   *     erased; the cable may ask again
   * @param work what is to be done to it, one at a time; it is asked for as long as it is plugged
   *     in
   */
  @JsonInclude(JsonInclude.Include.NON_NULL)
  public record Order(
      String session, boolean erase, @Nullable Wifi wifi, boolean leave, @Nullable Work work) {}

  /** A Wi-Fi network. Never printed. */
  public record Wifi(String name, String secret) {
    @Override
    public String toString() {
      return "Wifi[" + name + "]";
    }
  }
}
