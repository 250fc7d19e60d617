package dev.pinwright.core.app;

import dev.pinwright.core.Text;
import java.util.Map;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * How an installation or a removal ended.
 *
 * @param code the result code of the device (OMA SCOMO 1.0, result codes)
 * @param reason why it failed, in words that follow a colon; empty when it did not
 */
public record Outcome(int code, String reason) {
  /** It was done. */
  public static final int DONE = 1200;

  /** The holder cancelled it. */
  public static final int CANCELLED = 1401;

  /** The package could not be fetched. */
  public static final int DOWNLOAD_FAILED = 1402;

  /** Whoever has the package does not give it to this device. */
  public static final int NOT_GIVEN = 1403;

  /** There is no room to fetch the package. */
  public static final int NO_ROOM_TO_DOWNLOAD = 1404;

  /** It could not be installed. */
  public static final int INSTALL_FAILED = 1405;

  /** There is no room to install it. */
  public static final int NO_ROOM_TO_INSTALL = 1406;

  /** The package is not what its digest or its signature says; our own, of the vendor's range. */
  public static final int NOT_WHOLE = 1450;

  /** The package is for another platform, OS or mode; our own. */
  public static final int NOT_FOR_THIS = 1451;

  /** A later version, or one of another signer, is there; our own. */
  public static final int STANDS_AGAINST = 1452;

  /** It is part of the OS and cannot be removed; our own. */
  public static final int PART_OF_THE_OS = 1453;

  /** What a device is to be told about an app fits into no message that it takes; never sent. */
  public static final Outcome TOO_LARGE =
      new Outcome(1400, "what it would be told is larger than a message the device takes");

  private static final int MOST_SAID = 200;
  private static final Pattern CODE_AND_WORDS = Pattern.compile("(?s)(\\d{4})(?:\\s+(.*))?");
  private static final Set<Integer> LASTING =
      Set.of(CANCELLED, NOT_WHOLE, NOT_FOR_THIS, STANDS_AGAINST, PART_OF_THE_OS);
  private static final Map<Integer, String> REASONS =
      Map.ofEntries(
          Map.entry(1400, "the device could not do it"),
          Map.entry(CANCELLED, "the holder cancelled it"),
          Map.entry(DOWNLOAD_FAILED, "the package could not be fetched"),
          Map.entry(NOT_GIVEN, "the package was not given to the device"),
          Map.entry(NO_ROOM_TO_DOWNLOAD, "there is no room for the package"),
          Map.entry(INSTALL_FAILED, "the device could not install it"),
          Map.entry(NO_ROOM_TO_INSTALL, "there is no room to install it"),
          Map.entry(NOT_WHOLE, "the package is not what its signer made"),
          Map.entry(NOT_FOR_THIS, "the package is not for this device"),
          Map.entry(STANDS_AGAINST, "what is there may not be replaced by it"),
          Map.entry(PART_OF_THE_OS, "it is part of the OS"));

  /** A result code alone. */
  public static Outcome of(int code) {
    return of(code, "");
  }

  /** A result code with what the device said besides. */
  public static Outcome of(int code, String said) {
    if (done(code)) {
      return new Outcome(code, "");
    }
    String words = Text.cleaned(said, MOST_SAID);
    String reason = REASONS.getOrDefault(code, "the device answered " + code);
    return new Outcome(code, words.isEmpty() ? reason : reason + " (" + words + ")");
  }

  /** Reads the data of {@code OperationComplete}; what begins with no code counts as failed. */
  public static Outcome read(String data) {
    Matcher m = CODE_AND_WORDS.matcher(data.strip());
    return m.matches()
        ? of(Integer.parseInt(m.group(1)), m.group(2) == null ? "" : m.group(2))
        : of(1400, data);
  }

  /** What a status code of the representation protocol means for an operation it was sent for. */
  public static Outcome ofStatus(int status, String words) {
    return status >= 200 && status < 300
        ? of(DONE)
        : new Outcome(status == 420 ? NO_ROOM_TO_DOWNLOAD : 1400, words);
  }

  /** Whether it was done. */
  public boolean done() {
    return done(code);
  }

  private static boolean done(int code) {
    return code >= 1200 && code < 1300;
  }

  /** Whether trying again would end the same way. */
  public boolean lasting() {
    return LASTING.contains(code);
  }
}
