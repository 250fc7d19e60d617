package dev.pinwright.cli;

import java.io.File;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;

/** Files that commands read from and write to. */
final class FileText {
  private FileText() {}

  /**
   * The text of a file.
   *
   * @param what it is read for, for the message when there is none
   */
  static String read(Path file, String what) throws IOException {
    if (!Files.isReadable(file)) {
      throw new Failure(Failure.USAGE, "There is no file " + file + " to read " + what + " from.");
    }
    return Files.readString(file);
  }

  /** Puts what was fetched where it was wanted. */
  static int keep(Context context, File fetched, Path wanted) throws IOException {
    Files.move(fetched.toPath(), wanted, StandardCopyOption.REPLACE_EXISTING);
    context.line("Written to %s.", wanted);
    return 0;
  }
}
