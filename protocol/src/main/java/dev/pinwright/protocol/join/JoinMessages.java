package dev.pinwright.protocol.join;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Bodies of the join exchange, as they stand on the wire. */
public final class JoinMessages {
  private JoinMessages() {}

  /** Answer to {@code GET /join/CODE}. */
  @JsonInclude(JsonInclude.Include.ALWAYS)
  public record Offer(
      String service,
      String organisation,
      OfferedProfile profile,
      String signIn,
      @Nullable Terms terms,
      List<String> visible,
      List<String> never,
      String est,
      String dm,
      String wake,
      String root) {}

  /** What the holder may know of the enrollment profile. */
  public record OfferedProfile(
      String name, String ownership, String mode, List<String> platforms) {}

  /** Terms to be accepted. */
  public record Terms(int version, String title, String text) {}

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
