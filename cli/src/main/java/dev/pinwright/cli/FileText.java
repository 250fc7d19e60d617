package dev.pinwright.cli;

import java.io.File;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.nio.file.AccessDeniedException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;

/** Files that commands read from and write to. */
final class FileText {
  private FileText() {}

  /**
   * The text of a file, in UTF-8, or in UTF-16 with a byte order mark.
   *
   * @param what it is read for, for the message when there is none
   * @throws Failure when there is no such file, it cannot be read or is no text
   */
  static String read(Path file, String what) {
    String no = "There is no file " + file + " to read " + what + " from.";
    if (Files.isDirectory(file)) {
      throw new Failure(Failure.USAGE, file + " is a folder; name a file in it.");
    }
    try {
      byte[] bytes = Files.readAllBytes(file);
      Charset charset =
          begins(bytes, 0xff, 0xfe)
              ? StandardCharsets.UTF_16LE
              : begins(bytes, 0xfe, 0xff) ? StandardCharsets.UTF_16BE : StandardCharsets.UTF_8;
      String text = charset.newDecoder().decode(ByteBuffer.wrap(bytes)).toString();
      return text.startsWith("\ufeff") ? text.substring(1) : text;
    } catch (NoSuchFileException e) {
      throw new Failure(Failure.USAGE, no);
    } catch (AccessDeniedException e) {
      throw new Failure(Failure.USAGE, "You may not read " + file + ".");
    } catch (CharacterCodingException e) {
      throw new Failure(Failure.USAGE, file + " is not text in UTF-8; save it as UTF-8.");
    } catch (IOException e) {
      throw new Failure(Failure.USAGE, file + " cannot be read: " + e.getMessage() + ".");
    }
  }

  private static boolean begins(byte[] bytes, int first, int second) {
    return bytes.length > 1 && (bytes[0] & 0xff) == first && (bytes[1] & 0xff) == second;
  }

  /**
   * Writes a text, in UTF-8.
   *
   * @throws Failure when nothing can be written there
   */
  static void write(Path file, String text) {
    try {
      Files.writeString(file, text);
    } catch (NoSuchFileException e) {
      throw new Failure(Failure.USAGE, "There is no folder for " + file + ".");
    } catch (IOException e) {
      throw new Failure(Failure.USAGE, file + " cannot be written: " + e.getMessage() + ".");
    }
  }

  /**
   * Puts what was fetched where it was wanted.
   *
   * @throws Failure when nothing can be written there
   */
  static int keep(Context context, File fetched, Path wanted) {
    try {
      if (Files.isDirectory(wanted)) {
        throw new Failure(Failure.USAGE, wanted + " is a folder; name a file in it.");
      }
      Files.move(fetched.toPath(), wanted, StandardCopyOption.REPLACE_EXISTING);
    } catch (NoSuchFileException e) {
      throw new Failure(Failure.USAGE, "There is no folder for " + wanted + ".");
    } catch (AccessDeniedException e) {
      throw new Failure(Failure.USAGE, "You may not write " + wanted + ".");
    } catch (IOException e) {
      throw new Failure(Failure.USAGE, wanted + " cannot be written: " + e.getMessage() + ".");
    }
    context.line("Written to %s.", wanted);
    return 0;
  }
}
