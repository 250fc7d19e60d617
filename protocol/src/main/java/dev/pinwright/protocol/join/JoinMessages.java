package dev.pinwright.protocol.join;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Bodies of the join exchange, as they stand on the wire. */
public final class JoinMessages {
  private JoinMessages() {}

  /**
   * Answer to {@code GET /join/CODE} and {@code GET /join/by-identifier}.
   *
   * @param may what the organisation can do on the device, in plain words
   * @param mayNot what it cannot
   */
  @JsonInclude(JsonInclude.Include.ALWAYS)
  public record Offer(
      String service,
      String organisation,
      OfferedProfile profile,
      String signIn,
      @Nullable Terms terms,
      List<String> visible,
      List<String> never,
      List<String> may,
      List<String> mayNot,
      FirstRun firstRun,
      String est,
      String dm,
      String wake,
      String root) {}

  /**
   * What the holder may know of the enrollment profile.
   *
   * @param removable whether the holder may end management
   */
  public record OfferedProfile(
      String name, String ownership, String mode, List<String> platforms, boolean removable) {}

  /** Terms to be accepted, in the language that suits the device best. */
  public record Terms(int version, String title, String text, String language) {}

  /**
   * What the device does between joining and the first use.
   *
   * @param skip keys of the first-run screens to leave out
   * @param language BCP 47 tag to start in; empty leaves it to the holder
   * @param region ISO 3166-1 code; empty leaves it to the holder
   * @param wallpaper empty for the device's own
   * @param readyGate whether the device waits at the ready gate before it is handed over
   */
  public record FirstRun(
      List<String> skip, String language, String region, String wallpaper, boolean readyGate) {}

  /**
   * What a device at the ready gate is told, as the text of the leaf {@code
   * ./Vendor/Pinwright/ReadyGate}.
   */
  public record Gate(boolean open, List<GateStep> steps) {}

  /**
   * One thing to be finished.
   *
   * @param wanted OS version to update to; only with the key {@code os-update}
   * @param why what keeps it from being finished, and what may be done
   */
  @JsonInclude(JsonInclude.Include.NON_NULL)
  public record GateStep(
      String key, String title, boolean done, @Nullable String wanted, @Nullable String why) {}

  /** Body of {@code POST /join/CODE}. */
  @JsonInclude(JsonInclude.Include.NON_NULL)
  public record Request(
      @Nullable Device device, @Nullable SignIn signIn, @Nullable Integer termsAccepted) {}

  /** The device that asks. */
  public record Device(
      @Nullable String platform,
      @Nullable String osVersion,
      @Nullable String kind,
      @Nullable String maker,
      @Nullable String model,
      @Nullable List<Ident> identifiers) {}

  /** One identifier: {@code serial}, {@code imei} or {@code asset}. */
  public record Ident(@Nullable String kind, @Nullable String value) {}

  /** The holder's sign-in. Never printed. */
  @JsonInclude(JsonInclude.Include.NON_NULL)
  public record SignIn(@Nullable String login, @Nullable String secret) {
    @Override
    public String toString() {
      return "SignIn[…]";
    }
  }

  /** Answer 201. */
  public record Admission(String device, String commonName, EstGrant est) {}

  /** A password for one certificate, good for fifteen minutes. Never printed. */
  public record EstGrant(String url, String username, String password) {
    @Override
    public String toString() {
      return "EstGrant[…]";
    }
  }

  /** The join file. */
  public record JoinFile(String format, String link, String root) {
    /** The only format there is. */
    public static final String FORMAT = "pinwright-join/1";
  }
}
