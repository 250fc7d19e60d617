package dev.pinwright.core.bench;

import dev.pinwright.core.Fault;
import dev.pinwright.core.Text;
import dev.pinwright.core.file.StoredFile;
import java.util.Optional;

/** Something the cable of a bench does to a device, whether it is in reach, enrolled or neither. */
public enum CableWork {
  ERASE("erased", Value.NONE),
  CLEAR_PASSCODE("passcode cleared", Value.NONE),
  /** Gives the device itself a name; one that is managed is renamed where it is managed. */
  RENAME("renamed", Value.NAME),
  UPDATE_OS("OS updated", Value.VERSION),
  APP("app put on", Value.APP),
  DOCUMENT("document put on", Value.DOCUMENT),
  /** Keeps what a device was prepared with, under a name, at the cable. */
  BACK_UP("backed up", Value.NAME),
  RESTORE("restored", Value.NAME);

  private static final int LONGEST_NAME = 80;

  private final String done;
  private final Value value;

  CableWork(String done, Value value) {
    this.done = done;
    this.value = value;
  }

  /** What has to be said besides. */
  public enum Value {
    NONE,
    NAME,
    VERSION,
    /** The id of an app of one's own. */
    APP,
    /** A document on file, {@code sha256:<hex>}. */
    DOCUMENT
  }

  /** In words, once it is done. */
  public String done() {
    return done;
  }

  public Value value() {
    return value;
  }

  /**
   * What was said besides, as it is kept.
   *
   * @throws Fault saying what would be right
   */
  public String read(String written) {
    String said = written.strip();
    boolean right =
        switch (value) {
          case NONE -> said.isEmpty();
          case NAME -> !said.isEmpty() && said.length() <= LONGEST_NAME;
          case VERSION -> said.matches("\\d{1,4}(\\.\\d{1,4}){0,2}");
          case APP -> !said.isEmpty();
          case DOCUMENT -> StoredFile.referred(said).isPresent();
        };
    if (!right) {
      throw new Fault(
          "/value",
          switch (value) {
            case NONE -> "There is nothing to be said besides.";
            case NAME -> "A name has 1 to 80 characters.";
            case VERSION -> "A version is written like 7.2.1.";
            case APP -> "Say which app.";
            case DOCUMENT -> "Say which document on file.";
          });
    }
    return Text.line(said);
  }

  /**
   * Why it is not done to a device; empty when it can be.
   *
   * @param managedAs the name it is managed under at another place than this bench; empty where it
   *     is not
   * @param managed whether it is managed
   * @param personal whether it is on file as its holder's own
   */
  public Optional<String> objection(Optional<String> managedAs, boolean managed, boolean personal) {
    if (personal) {
      return Optional.of("it is its holder's own");
    }
    if (this == ERASE && managedAs.isPresent()) {
      return Optional.of(
          "it is managed as " + managedAs.get() + "; say first that it may be erased");
    }
    return this == RENAME && managed
        ? Optional.of("it is managed; it is renamed on its card")
        : Optional.empty();
  }
}
