package dev.pinwright.service.house;

import dev.pinwright.service.house.Connections.Kept;
import dev.pinwright.service.house.Connections.Mail;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Database;
import jakarta.activation.DataHandler;
import jakarta.mail.Message;
import jakarta.mail.MessagingException;
import jakarta.mail.Session;
import jakarta.mail.Transport;
import jakarta.mail.internet.InternetAddress;
import jakarta.mail.internet.MimeBodyPart;
import jakarta.mail.internet.MimeMessage;
import jakarta.mail.internet.MimeMultipart;
import jakarta.mail.util.ByteArrayDataSource;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Optional;
import java.util.Properties;

/** Sends letters through the organisation's mail server. */
public final class Mailer {
  private static final String PATIENCE_MILLIS = "10000";
  private final Connections connections;
  private final String organisation;

  public Mailer(Connections connections, String organisation) {
    this.connections = connections;
    this.organisation = organisation;
  }

  /** A file that goes with a letter. */
  public record Attachment(String name, String type, byte[] bytes) {}

  /** A letter in plain text. */
  public record Letter(String to, String subject, String text, List<Attachment> attachments) {
    public Letter(String to, String subject, String text) {
      this(to, subject, text, List.of());
    }
  }

  /** Whether there is a mail server. */
  public boolean connected() {
    return connections.mail().isPresent();
  }

  /** Where notices go; empty without a mail server or an address. */
  Optional<String> noticesTo() {
    return connections.mail().map(k -> k.settings().noticesTo()).filter(a -> !a.isEmpty());
  }

  /**
   * Sets the mail server up, sending a letter to the sender's own address to try it.
   *
   * @throws Problem 400 for a draft that cannot be right, 502 when the letter is not taken
   */
  public Connections.Shown<Mail> connect(Caller caller, int version, Connections.MailDraft draft) {
    Mail mail = connections.checked(draft);
    String typed = draft.password() == null ? "" : draft.password();
    String password =
        Connections.secret(
            connections.mail(),
            typed,
            mail,
            m -> List.of(m.host(), m.port(), m.security(), m.login()));
    Letter trial =
        new Letter(
            mail.from(),
            "Mail from Pinwright works",
            "This letter was sent to try the mail server of " + organisation + ".");
    try {
      post(new Kept<>(mail, password), trial);
    } catch (MessagingException e) {
      throw new Problem(502, "mail-failed", "The mail server did not take a letter", why(e));
    }
    connections.keep(caller, "mail", version, mail, typed);
    return connections.mail(caller);
  }

  /**
   * Sends a letter.
   *
   * @return what went wrong; empty when the mail server took it
   */
  public Optional<String> send(Letter letter) {
    Optional<Kept<Mail>> kept = connections.mail();
    if (kept.isEmpty()) {
      return Optional.of("There is no mail server; set one up in House.");
    }
    Optional<String> fault = Optional.empty();
    try {
      post(kept.get(), letter);
    } catch (MessagingException e) {
      fault = Optional.of(why(e));
    }
    connections.worked("mail", fault);
    return fault;
  }

  private static String why(MessagingException e) {
    String text = e.getMessage() == null ? e.getClass().getSimpleName() : e.getMessage().strip();
    return text.lines().findFirst().orElse("The mail server failed.");
  }

  private void post(Kept<Mail> kept, Letter letter) throws MessagingException {
    Database.outsideTransactions("the mail server");
    Mail mail = kept.settings();
    Properties p = new Properties();
    String protocol = mail.security().equals("tls") ? "smtps" : "smtp";
    String prefix = "mail." + protocol + ".";
    p.put("mail.transport.protocol", protocol);
    p.put(prefix + "host", mail.host());
    p.put(prefix + "port", Integer.toString(mail.port()));
    p.put(prefix + "connectiontimeout", PATIENCE_MILLIS);
    p.put(prefix + "timeout", PATIENCE_MILLIS);
    p.put(prefix + "writetimeout", PATIENCE_MILLIS);
    p.put(prefix + "ssl.checkserveridentity", "true");
    if (mail.security().equals("starttls")) {
      p.put(prefix + "starttls.enable", "true");
      p.put(prefix + "starttls.required", "true");
    }
    Session session = Session.getInstance(p);
    MimeMessage message = new MimeMessage(session);
    try {
      message.setFrom(new InternetAddress(mail.from(), organisation, "UTF-8"));
    } catch (java.io.UnsupportedEncodingException e) {
      throw new IllegalStateException(e);
    }
    message.setRecipient(Message.RecipientType.TO, new InternetAddress(letter.to()));
    message.setSubject(letter.subject(), StandardCharsets.UTF_8.name());
    message.setSentDate(new java.util.Date());
    MimeMultipart parts = new MimeMultipart();
    MimeBodyPart text = new MimeBodyPart();
    String whom = mail.contact().isEmpty() ? "" : "\nQuestions? Ask " + mail.contact() + "\n";
    text.setText(letter.text() + whom, StandardCharsets.UTF_8.name());
    parts.addBodyPart(text);
    for (Attachment a : letter.attachments()) {
      MimeBodyPart part = new MimeBodyPart();
      part.setDataHandler(new DataHandler(new ByteArrayDataSource(a.bytes(), a.type())));
      part.setFileName(a.name());
      parts.addBodyPart(part);
    }
    message.setContent(parts);
    message.saveChanges();
    try (Transport transport = session.getTransport()) {
      if (mail.login().isEmpty()) {
        transport.connect();
      } else {
        transport.connect(mail.login(), kept.secret());
      }
      transport.sendMessage(message, message.getAllRecipients());
    }
  }
}
