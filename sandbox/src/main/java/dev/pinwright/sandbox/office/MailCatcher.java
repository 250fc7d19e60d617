package dev.pinwright.sandbox.office;

import com.icegreen.greenmail.util.GreenMail;
import com.icegreen.greenmail.util.ServerSetup;
import jakarta.mail.BodyPart;
import jakarta.mail.MessagingException;
import jakarta.mail.Multipart;
import jakarta.mail.internet.MimeMessage;
import java.io.IOException;
import java.util.ArrayList;
import java.util.Base64;
import java.util.Collections;
import java.util.List;

/** A mail server (SMTP, RFC 5321) that delivers nothing and shows everything. */
public final class MailCatcher implements AutoCloseable {
  private final GreenMail mail;

  /** Starts; a port of 0 takes any. */
  public MailCatcher(int port) {
    mail = new GreenMail(new ServerSetup(port, "127.0.0.1", ServerSetup.PROTOCOL_SMTP));
    mail.start();
  }

  /** A letter as caught. {@code attachments} are base64 with their names. */
  public record Letter(
      String to, String from, String subject, String text, List<Attachment> attachments) {}

  /** A file that came with a letter. */
  public record Attachment(String name, String type, String base64) {}

  public int port() {
    return mail.getSmtp().getPort();
  }

  /** Everything caught, newest first. */
  public List<Letter> letters() {
    List<Letter> out = new ArrayList<>();
    for (MimeMessage m : mail.getReceivedMessages()) {
      out.add(letter(m));
    }
    Collections.reverse(out);
    return out;
  }

  private static Letter letter(MimeMessage m) {
    try {
      String text = "";
      List<Attachment> attachments = new ArrayList<>();
      if (m.getContent() instanceof Multipart parts) {
        for (int i = 0; i < parts.getCount(); i++) {
          BodyPart part = parts.getBodyPart(i);
          if (part.getFileName() == null) {
            text = String.valueOf(part.getContent());
          } else {
            attachments.add(
                new Attachment(
                    part.getFileName(),
                    part.getContentType().split(";")[0],
                    Base64.getEncoder().encodeToString(part.getInputStream().readAllBytes())));
          }
        }
      } else {
        text = String.valueOf(m.getContent());
      }
      return new Letter(
          m.getAllRecipients()[0].toString(),
          m.getFrom()[0].toString(),
          m.getSubject(),
          text.replace("\r\n", "\n"),
          attachments);
    } catch (MessagingException | IOException e) {
      throw new IllegalStateException("a letter cannot be read", e);
    }
  }

  @Override
  public void close() {
    mail.stop();
  }
}
