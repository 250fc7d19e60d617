package dev.pinwright.service.app;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import dev.pinwright.core.app.CodeState;
import dev.pinwright.core.enrollment.InvitationCode;
import dev.pinwright.core.own.OwnDetails;
import dev.pinwright.core.own.Placeholders;
import dev.pinwright.protocol.dm.InstallOrder;
import dev.pinwright.protocol.pack.PrintedConfiguration;
import dev.pinwright.protocol.qr.QrCode;
import dev.pinwright.service.access.Throttle;
import dev.pinwright.service.identity.Authority;
import dev.pinwright.service.print.Cards;
import dev.pinwright.service.rules.Schemas;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Settings;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.app.AppStore;
import dev.pinwright.storage.app.ConfigurationCodeStore;
import dev.pinwright.storage.row.AppRow;
import dev.pinwright.storage.row.ConfigurationCodeRow;
import dev.pinwright.storage.row.UnitRow;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * Codes that are printed and hung up in a unit: an app on a device that is not enrolled reads from
 * one what it is told there.
 */
public final class ConfigurationCodes {
  private static final Duration USUAL = Duration.ofDays(90);
  private static final Duration LONGEST = Duration.ofDays(731);
  private static final int NAME = 80;

  private final UseCases useCases;
  private final Vault vault;
  private final Authority authority;
  private final Settings settings;
  private final Throttle guesses;

  /**
   * @param guesses slows down those who try codes, by address
   */
  public ConfigurationCodes(
      UseCases useCases, Vault vault, Authority authority, Settings settings, Throttle guesses) {
    this.useCases = useCases;
    this.vault = vault;
    this.authority = authority;
    this.settings = settings;
    this.guesses = guesses;
  }

  /**
   * A code as shown.
   *
   * @param codeEnds its last four characters, to tell it by
   * @param link what the printed code holds; for those who may print it, when it is shown by itself
   * @param secrets whether the app is told secrets besides
   * @param readTimes how often an app read it
   */
  public record Shown(
      String id,
      String appId,
      String app,
      String unitId,
      String unitCode,
      String unit,
      String name,
      CodeState state,
      String codeEnds,
      Optional<String> link,
      Object configuration,
      boolean secrets,
      Instant madeAt,
      String madeBy,
      Instant until,
      Optional<Instant> revokedAt,
      long readTimes,
      Optional<Instant> readAt) {}

  /**
   * What is asked for.
   *
   * @param until 90 days from now where it is not said
   * @param configuration JSON object the app is told; may hold {@code {self:Unit}}
   * @param secrets JSON object laid over it, and never shown
   */
  public record Draft(
      @Nullable String appId,
      @Nullable String unitId,
      Optional<String> name,
      Optional<Instant> until,
      Optional<JsonNode> configuration,
      Optional<JsonNode> secrets) {}

  /**
   * Makes a code.
   *
   * @throws Problem 400 saying what is wrong, 409 when the app cannot be told anything
   */
  public Shown make(Caller caller, Draft draft) {
    return useCases.act(
        caller,
        act -> {
          Tx tx = act.tx();
          AppRow app =
              tx.find(AppRow.class, draft.appId() == null ? "" : draft.appId())
                  .orElseThrow(() -> Problem.malformed("/appId", "Name an app by its id."));
          UnitRow unit =
              tx.find(UnitRow.class, draft.unitId() == null ? "" : draft.unitId())
                  .orElseThrow(() -> Problem.malformed("/unitId", "Name a unit by its id."));
          String configuration = object(draft.configuration(), "/configuration");
          String secrets = object(draft.secrets(), "/secrets");
          fits(tx, app, configuration, secrets);
          InvitationCode code = InvitationCode.generate(Vault::randomBelow);
          ConfigurationCodeRow row = new ConfigurationCodeRow();
          row.id = act.newId();
          row.appId = app.id;
          row.unitId = unit.id;
          row.name = name(draft.name(), app, unit);
          row.codeHash = Vault.hash(code.value());
          row.sealedCode = vault.seal(code.value());
          row.configuration = configuration;
          row.sealedSecrets = secrets.equals("{}") ? null : vault.seal(secrets);
          row.madeAt = act.now();
          row.madeBy = act.caller().login();
          row.until = until(draft.until(), act.now());
          tx.insert(row);
          act.done(
              Noun.APP,
              "code-made",
              app.id,
              "Configuration code "
                  + row.name
                  + " made, until "
                  + row.until.toString().substring(0, 10));
          return view(one(tx, row.id), true);
        });
  }

  private static String name(Optional<String> written, AppRow app, UnitRow unit) {
    String name = written.map(String::strip).filter(n -> !n.isEmpty()).orElse("");
    if (name.length() > NAME) {
      throw Problem.malformed("/name", "A name has at most " + NAME + " characters.");
    }
    String usual = app.name + ", " + unit.name;
    return !name.isEmpty() ? name : usual.length() > NAME ? usual.substring(0, NAME) : usual;
  }

  private static Instant until(Optional<Instant> written, Instant now) {
    Instant until = written.orElseGet(() -> now.plus(USUAL));
    if (!until.isAfter(now) || until.isAfter(now.plus(LONGEST))) {
      throw Problem.malformed("/until", "A code holds until a time within two years from now.");
    }
    return until;
  }

  private static String object(Optional<JsonNode> said, String pointer) {
    JsonNode node = said.filter(n -> !n.isNull()).orElseGet(Json.MAPPER::createObjectNode);
    if (!node.isObject()) {
      throw Problem.malformed(pointer, "Write a JSON object, such as {}.");
    }
    return node.toString();
  }

  private static void fits(Tx tx, AppRow app, String configuration, String secrets) {
    AppStore store = new AppStore(tx);
    AppStore.ReleaseLine release =
        Optional.ofNullable(app.forAll)
            .flatMap(code -> store.release(app.id, code))
            .or(() -> store.releases(app.id, Long.MAX_VALUE, 1).stream().findFirst())
            .filter(r -> r.configuration().isPresent())
            .orElseThrow(
                () ->
                    Problem.conflict(
                        "not-configurable",
                        app.name + " has no version released that can be told anything."));
    String told = InstallOrder.merged(configuration, secrets).orElse("{}");
    if (!Set.of(OwnDetails.UNIT).containsAll(Placeholders.names(told))) {
      throw Problem.malformed(
          "/configuration",
          "A device that is not enrolled has nothing of its own to fill in; the only placeholder"
              + " is {self:"
              + OwnDetails.UNIT
              + "}, the unit the code is of.");
    }
    List<String> faults = Schemas.faults(release.configuration().get(), told);
    if (!faults.isEmpty()) {
      throw Problem.malformed(
          "/configuration",
          app.name
              + " "
              + release.version()
              + " does not take this configuration: "
              + String.join("; ", faults)
              + ".");
    }
  }

  /**
   * Codes, newest first.
   *
   * @param appId of one app; empty for all
   */
  public Page<Shown> page(Caller caller, String appId, Page.Request page) {
    String[] c = page.parts(Page.Part.TEXT);
    return useCases.read(
        tx ->
            Page.of(
                new ConfigurationCodeStore(tx)
                    .page(appId, c.length == 0 ? "~" : c[0], page.limit() + 1),
                page.limit(),
                l -> view(l, false),
                l -> Page.cursor(l.id())));
  }

  /** One code, with its link. */
  public Shown get(Caller caller, String id) {
    return useCases.read(tx -> view(one(tx, id), true));
  }

  private static ConfigurationCodeStore.Line one(Tx tx, String id) {
    return new ConfigurationCodeStore(tx)
        .find(id)
        .orElseThrow(() -> Problem.notFound("configuration code", id));
  }

  private Shown view(ConfigurationCodeStore.Line l, boolean whole) {
    InvitationCode code = new InvitationCode(vault.open(l.sealedCode()));
    return new Shown(
        l.id(),
        l.appId(),
        l.app(),
        l.unitId(),
        l.unitCode(),
        l.unit(),
        l.name(),
        CodeState.of(l.until(), l.revokedAt().isPresent(), useCases.now()),
        code.value().substring(InvitationCode.LENGTH - 4),
        whole ? Optional.of(link(code).toString()) : Optional.empty(),
        Json.tree(l.configuration()),
        l.secrets(),
        l.madeAt(),
        l.madeBy(),
        l.until(),
        l.revokedAt(),
        l.readTimes(),
        l.readAt());
  }

  private PrintedConfiguration.Link link(InvitationCode code) {
    return PrintedConfiguration.Link.of(settings.deviceBase(), code, authority.root());
  }

  /** The QR code of one. */
  public QrCode qr(Caller caller, String id) {
    return new QrCode(get(caller, id).link().orElseThrow());
  }

  /**
   * A sheet of cards to print and hang up.
   *
   * @param ids one to five hundred codes
   */
  public byte[] sheet(Caller caller, List<String> ids) {
    if (ids.isEmpty() || ids.size() > 500) {
      throw Problem.malformed("/id", "Name 1 to 500 codes.");
    }
    return useCases.read(
        tx ->
            Cards.pdf(
                new ConfigurationCodeStore(tx)
                    .named(ids).stream()
                        .map(l -> view(l, true))
                        .map(
                            s ->
                                new Cards.Card(
                                    s.link().orElseThrow(),
                                    s.app(),
                                    "",
                                    List.of(
                                        s.unit(),
                                        "Open the app, and scan this code with it.",
                                        "Until " + s.until().toString().substring(0, 10))))
                        .toList(),
                Cards.Size.CARD));
  }

  /**
   * Takes a code back: nobody can read it any more.
   *
   * @throws Problem 409 when it was before
   */
  public Shown revoke(Caller caller, String id) {
    return useCases.act(
        caller,
        act -> {
          ConfigurationCodeRow row =
              act.tx()
                  .lock(ConfigurationCodeRow.class, id)
                  .orElseThrow(() -> Problem.notFound("configuration code", id));
          if (row.revokedAt != null) {
            throw Problem.conflict("revoked-already", row.name + " was taken back before.");
          }
          row.revokedAt = act.now();
          act.tx().flush();
          act.done(
              Noun.APP, "code-revoked", row.appId, "Configuration code " + row.name + " revoked");
          return view(one(act.tx(), id), true);
        });
  }

  // ---- reading ---------------------------------------------------------------------------------

  /**
   * What an app reads: a JWS, see {@link PrintedConfiguration}.
   *
   * @param typed the code
   * @param address of whoever asks, for slowing down guesses
   * @throws Problem 404 unknown-code, 410 revoked-code or lapsed-code, 429
   */
  public String read(String typed, String address) {
    return useCases.read(tx -> find(tx, typed)).map(this::open).orElseThrow(() -> lost(address));
  }

  private static Optional<ConfigurationCodeRow> find(Tx tx, String typed) {
    return InvitationCode.read(typed)
        .flatMap(c -> new ConfigurationCodeStore(tx).ofHash(Vault.hash(c.value())));
  }

  private Problem lost(String address) {
    Throttle.Tries tries = guesses.count(address);
    return tries.over()
        ? guesses.tooMany(tries)
        : new Problem(
            404,
            "unknown-code",
            "Unknown code",
            "There is no configuration of this code; ask whoever hung it up.");
  }

  private String open(ConfigurationCodeRow row) {
    CodeState state = CodeState.of(row.until, row.revokedAt != null, useCases.now());
    if (state != CodeState.OPEN) {
      throw new Problem(
          410,
          state == CodeState.REVOKED ? "revoked-code" : "lapsed-code",
          "No longer valid",
          (state == CodeState.REVOKED
                  ? "This code was taken back"
                  : "This code held until " + row.until.toString().substring(0, 10))
              + "; ask whoever hung it up for another.");
    }
    PrintedConfiguration printed =
        useCases.act(
            Caller.SERVICE,
            act -> {
              new ConfigurationCodeStore(act.tx()).read(row.id, act.now());
              return printed(one(act.tx(), row.id), row, act.now());
            });
    return printed.sign(authority.signer(), authority.root());
  }

  private PrintedConfiguration printed(
      ConfigurationCodeStore.Line line, ConfigurationCodeRow row, Instant now) {
    String secrets = row.sealedSecrets == null ? "" : vault.open(row.sealedSecrets);
    String told = InstallOrder.merged(row.configuration, secrets).orElse("{}");
    return new PrintedConfiguration(
        line.packageId(),
        line.app(),
        settings.organisation(),
        line.unit(),
        line.unitCode(),
        now,
        row.until,
        Placeholders.fill(told, name -> Optional.of(quoted(line.unit()))));
  }

  /** A text as it stands within the quotes of JSON. */
  private static String quoted(String text) {
    try {
      String json = Json.MAPPER.writeValueAsString(text);
      return json.substring(1, json.length() - 1);
    } catch (JsonProcessingException e) {
      throw new IllegalStateException(e);
    }
  }
}
