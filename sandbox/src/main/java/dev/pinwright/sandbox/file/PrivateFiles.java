package dev.pinwright.sandbox.file;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.FileAttribute;
import java.nio.file.attribute.PosixFilePermissions;

/** Directories and files that their owner alone may enter and read. */
public final class PrivateFiles {
  private PrivateFiles() {}

  private static FileAttribute<?> only(String permissions) {
    return PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString(permissions));
  }

  /** Makes a directory, and those above it, where they are missing; shuts it to others. */
  public static void directory(Path directory) throws IOException {
    Files.createDirectories(directory, only("rwx------"));
    Files.setPosixFilePermissions(directory, PosixFilePermissions.fromString("rwx------"));
  }

  /**
   * Puts a file in the place of another in one step, so that a kill leaves one of the two whole.
   */
  public static void replace(Path file, byte[] content) throws IOException {
    Path fresh = file.resolveSibling(file.getFileName() + ".new");
    Files.deleteIfExists(fresh);
    Files.createFile(fresh, only("rw-------"));
    Files.write(fresh, content);
    Files.move(fresh, file, StandardCopyOption.REPLACE_EXISTING);
  }
}
