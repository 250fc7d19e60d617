package dev.pinwright.service.house;

import dev.pinwright.core.Versioned;
import dev.pinwright.core.gateway.Linked;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.ManyLines;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.house.ConnectionStore;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/** How outgoing mail and the staff directory are reached. */
public final class Connections {
  private final UseCases useCases;
  private final Vault vault;

  public Connections(UseCases useCases, Vault vault) {
    this.useCases = useCases;
    this.vault = vault;
  }

  /**
   * Outgoing mail (SMTP, RFC 5321).
   *
   * @param security {@code none}, {@code starttls} or {@code tls}
   * @param from address letters come from
   * @param noticesTo address notices go to; empty for none
   * @param contact whom to ask, as it stands below every letter; empty for nobody
   */
  public record Mail(
      String host,
      int port,
      String security,
      String login,
      String from,
      String noticesTo,
      String contact) {
    /** Kept before there was somebody to ask. */
    public Mail {
      contact = contact == null ? "" : contact;
    }
  }

  /**
   * The staff directory (LDAP, RFC 4511), with people as {@code inetOrgPerson} (RFC 2798).
   *
   * @param address {@code ldap://} or {@code ldaps://} with host and port
   * @param base below which people and groups are
   * @param login distinguished name that may search
   * @param unitAttribute attribute of a person that holds the code of their unit
   * @param roots certificates in PEM that vouch for the directory; empty for the system's own
   */
  public record Directory(
      String address, String base, String login, String unitAttribute, String roots) {}

  /** A connection as kept. The secret is never shown. */
  public record Kept<T>(T settings, String secret) {
    @Override
    public String toString() {
      return "Kept[" + settings + "]";
    }
  }

  /**
   * A connection as shown.
   *
   * @param version how often it was set up, 0 where it is missing
   */
  public record Shown<T>(
      Linked state,
      Optional<T> settings,
      boolean secretKept,
      Optional<Instant> checkedAt,
      Optional<String> fault,
      int version)
      implements Versioned {}

  /** Outgoing mail as written; port 25 and no security unless said otherwise. */
  public record MailDraft(
      @Nullable String host,
      @Nullable Integer port,
      @Nullable String security,
      @Nullable String login,
      @Nullable String password,
      @Nullable String from,
      @Nullable String noticesTo,
      @ManyLines @Nullable String contact) {}

  /** The staff directory as written. */
  public record DirectoryDraft(
      @Nullable String address,
      @Nullable String base,
      @Nullable String login,
      @Nullable String password,
      @Nullable String unitAttribute,
      @ManyLines @Nullable String roots) {}

  Optional<Kept<Mail>> mail() {
    return kept("mail", Mail.class);
  }

  /** The staff directory, when there is one. */
  public Optional<Kept<Directory>> directory() {
    return kept("directory", Directory.class);
  }

  private <T> Optional<Kept<T>> kept(String kind, Class<T> type) {
    return useCases
        .read(tx -> new ConnectionStore(tx).find(kind))
        .map(
            c -> new Kept<>(Json.read(c.settings(), type), c.secret().map(vault::open).orElse("")));
  }

  /** Outgoing mail as shown. */
  public Shown<Mail> mail(Caller caller) {
    return shown(caller, "mail", Mail.class);
  }

  /** The staff directory as shown. */
  public Shown<Directory> directory(Caller caller) {
    return shown(caller, "directory", Directory.class);
  }

  private <T> Shown<T> shown(Caller caller, String kind, Class<T> type) {
    return useCases
        .read(tx -> new ConnectionStore(tx).find(kind))
        .map(
            c ->
                new Shown<>(
                    Linked.of(true, c.fault()),
                    Optional.of(Json.read(c.settings(), type)),
                    c.secret().isPresent(),
                    c.checkedAt(),
                    Optional.of(c.fault()).filter(t -> !t.isEmpty()),
                    c.version()))
        .orElseGet(
            () ->
                new Shown<>(
                    Linked.MISSING,
                    Optional.empty(),
                    false,
                    Optional.empty(),
                    Optional.empty(),
                    0));
  }

  /** What a draft says once it is checked; the secret is null where the kept one stays. */
  Mail checked(MailDraft d) {
    String host = plain(d.host());
    if (host.isEmpty() || host.length() > 200 || host.matches(".*[\\s/].*")) {
      throw Problem.malformed("/host", "Name the mail server, such as mail.vellmar.example.");
    }
    int port = d.port() == null ? 25 : d.port();
    if (port < 1 || port > 65_535) {
      throw Problem.malformed("/port", "A port is from 1 to 65535.");
    }
    String security = plain(d.security()).isEmpty() ? "none" : plain(d.security());
    if (!List.of("none", "starttls", "tls").contains(security)) {
      throw Problem.malformed("/security", "security has to be one of none, starttls, tls.");
    }
    return new Mail(
        host,
        port,
        security,
        plain(d.login()),
        address("/from", d.from(), true),
        address("/noticesTo", d.noticesTo(), false),
        contact(d.contact()));
  }

  private static String contact(@Nullable String written) {
    String contact = plain(written);
    if (contact.length() > 200) {
      throw Problem.malformed("/contact", "Whom to ask has at most 200 characters.");
    }
    return contact;
  }

  private static String address(String where, @Nullable String text, boolean needed) {
    String address = plain(text);
    if (address.isEmpty() ? needed : !address.matches("[^@\\s]{1,64}@[^@\\s]{1,190}")) {
      throw Problem.malformed(where, "This has to be a mail address, such as it@vellmar.example.");
    }
    return address;
  }

  /** The directory a draft describes. */
  public static Directory checked(DirectoryDraft d) {
    String address = plain(d.address());
    if (!address.matches("ldaps?://[^/\\s:]+(:\\d{1,5})?/?")) {
      throw Problem.malformed(
          "/address",
          "The directory has an address such as ldaps://directory.vellmar.example:636.");
    }
    if (plain(d.base()).isEmpty()) {
      throw Problem.malformed("/base", "Say below which entry people are, such as dc=vellmar.");
    }
    String unit =
        plain(d.unitAttribute()).isEmpty() ? "departmentNumber" : plain(d.unitAttribute());
    if (!unit.matches("[A-Za-z][A-Za-z0-9-]{0,60}")) {
      throw Problem.malformed("/unitAttribute", "This has to be the name of an attribute.");
    }
    return new Directory(
        address.replaceFirst("/$", ""), plain(d.base()), plain(d.login()), unit, plain(d.roots()));
  }

  /**
   * The secret to sign in with: what was typed, or else the kept one, which goes only where it went
   * before.
   *
   * @param reaches what decides who gets to see the secret
   * @throws Problem 400 when it would go elsewhere
   */
  public static <T> String secret(
      Optional<Kept<T>> kept, String typed, T settings, Function<T, List<Object>> reaches) {
    if (!typed.isEmpty() || kept.map(k -> k.secret().isEmpty()).orElse(true)) {
      return typed;
    }
    if (!reaches.apply(kept.get().settings()).equals(reaches.apply(settings))) {
      throw Problem.malformed(
          "/password",
          "It would sign in elsewhere, or be trusted otherwise, than before; type the password"
              + " again.");
    }
    return kept.get().secret();
  }

  private static String plain(@Nullable String s) {
    return s == null ? "" : s.strip();
  }

  /**
   * Keeps a connection that was tried and works. An empty secret keeps the one there is.
   *
   * @throws Problem 412 when someone else set it up after {@code version}
   */
  public void keep(Caller caller, String kind, int version, Object settings, String secret) {
    useCases.run(
        caller,
        act -> {
          ConnectionStore store = new ConnectionStore(act.tx());
          Known.unchanged("connection", version, store.lock(kind).map(c -> c.version()).orElse(0));
          store.keep(
              kind,
              Json.write(settings),
              secret.isEmpty() ? Optional.empty() : Optional.of(vault.seal(secret)),
              act.now());
          act.done(Noun.CONNECTION, "changed", kind, "Connection to " + kind + " set up");
        });
  }

  /** Puts on file whether a connection worked when it was used last. */
  public void worked(String kind, Optional<String> fault) {
    useCases.run(
        Caller.SERVICE,
        act -> {
          if (new ConnectionStore(act.tx()).fared(kind, fault.orElse(""), act.now())) {
            act.touch(Noun.CONNECTION);
          }
        });
  }
}
