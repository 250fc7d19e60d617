package dev.pinwright.cli;

/** Why a command ends without having done what it was asked; {@code code} is the exit code. */
final class Failure extends RuntimeException {
  static final int REFUSED = 1;
  static final int USAGE = 2;
  static final int NOT_SIGNED_IN = 3;
  static final int UNREACHABLE = 4;
  static final int SOME_FAILED = 5;
  static final int BROKEN = 6;

  private final int code;

  Failure(int code, String message) {
    super(message, null, false, false);
    this.code = code;
  }

  int code() {
    return code;
  }
}
