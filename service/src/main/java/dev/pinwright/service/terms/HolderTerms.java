package dev.pinwright.service.terms;

import dev.pinwright.catalog.Catalogue;
import dev.pinwright.protocol.join.JoinMessages;
import dev.pinwright.service.sheet.Sheet;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.ManyLines;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.acting.CommandStore;
import dev.pinwright.storage.row.TermsRow;
import dev.pinwright.storage.terms.TermsStore;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** The terms holders accept: versions, languages, and who accepted which. */
public final class HolderTerms {
  private final UseCases useCases;
  private final Catalogue catalogue;

  public HolderTerms(UseCases useCases, Catalogue catalogue) {
    this.useCases = useCases;
    this.catalogue = catalogue;
  }

  /** The terms in one language. */
  public record Text(String language, String title, @ManyLines String text) {}

  /**
   * One version of the terms.
   *
   * @param language of title and text, which a holder reads who speaks none of the translations
   * @param accepted managed devices whose holder has accepted this version last
   */
  public record Shown(
      int version,
      String language,
      String title,
      String text,
      List<Text> translations,
      long accepted,
      Instant createdAt) {}

  /** A new version as written. */
  public record Draft(
      @Nullable String language,
      @Nullable String title,
      @ManyLines @Nullable String text,
      @Nullable List<Text> translations) {}

  /** That somebody accepted a version on a device. */
  public record Acceptance(
      String deviceId,
      String device,
      Optional<String> person,
      int version,
      String language,
      Instant acceptedAt) {}

  /** Every version of the terms, newest first. */
  public List<Shown> all(Caller caller) {
    return useCases.read(
        tx -> {
          TermsStore store = new TermsStore(tx);
          Map<Integer, List<TermsStore.Translation>> translations = store.translations();
          Map<Integer, Long> accepted = store.accepted();
          return store.all().stream()
              .map(
                  t ->
                      new Shown(
                          t.version,
                          t.language,
                          t.title,
                          t.text,
                          translations.getOrDefault(t.version, List.of()).stream()
                              .map(HolderTerms::text)
                              .toList(),
                          accepted.getOrDefault(t.version, 0L),
                          t.createdAt))
              .toList();
        });
  }

  private static Text text(TermsStore.Translation t) {
    return new Text(t.language(), t.title(), t.text());
  }

  /** Writes a new version of the terms. Earlier versions stay as they were. */
  public Shown add(Caller caller, Draft draft) {
    Text main =
        checked(
            "",
            new Text(
                draft.language() == null ? "en" : draft.language(),
                plain(draft.title()),
                plain(draft.text())));
    List<Text> translations = new ArrayList<>();
    Set<String> seen = new HashSet<>(Set.of(main.language()));
    List<Text> told = draft.translations() == null ? List.of() : draft.translations();
    for (int i = 0; i < told.size(); i++) {
      Text t = checked("/translations/" + i, told.get(i));
      if (!seen.add(t.language())) {
        throw Problem.malformed(
            "/translations/" + i + "/language",
            "The language " + t.language() + " is there twice.");
      }
      translations.add(t);
    }
    return useCases.act(
        caller,
        act -> {
          TermsStore store = new TermsStore(act.tx());
          TermsRow row = new TermsRow();
          row.version = store.next();
          row.language = main.language();
          row.title = main.title();
          row.text = main.text();
          row.createdAt = act.now();
          act.tx().insert(row);
          for (Text t : translations) {
            store.insert(
                new TermsStore.Translation(row.version, t.language(), t.title(), t.text()));
          }
          act.done(Noun.TERMS, "written", String.valueOf(row.version), "Terms: " + row.title);
          act.touch(Noun.ENROLLMENT_PROFILE);
          return new Shown(
              row.version, row.language, row.title, row.text, translations, 0, row.createdAt);
        });
  }

  private static String plain(@Nullable String s) {
    return s == null ? "" : s.strip();
  }

  private Text checked(String at, Text t) {
    String language = plain(t.language());
    if (!catalogue.languages().containsKey(language)) {
      throw Problem.malformed(
          at + "/language",
          "Devices do not speak '"
              + language
              + "'; they speak "
              + String.join(", ", catalogue.languages().keySet())
              + ".");
    }
    String title = plain(t.title());
    if (title.isEmpty() || title.length() > 120) {
      throw Problem.malformed(at + "/title", "Terms need a title of 1 to 120 characters.");
    }
    String text = plain(t.text());
    if (text.isEmpty() || text.length() > 20_000) {
      throw Problem.malformed(at + "/text", "Terms need a text of 1 to 20000 characters.");
    }
    return new Text(language, title, text);
  }

  /** Who accepted a version and when, newest first. */
  public Page<Acceptance> acceptances(Caller caller, int version, Page.Request page) {
    String[] c = page.parts(Page.Part.LONG);
    return useCases.read(
        tx ->
            Page.of(
                new TermsStore(tx)
                    .acceptances(
                        version,
                        c.length == 0 ? Long.MAX_VALUE : Long.parseLong(c[0]),
                        page.limit() + 1),
                page.limit(),
                a ->
                    new Acceptance(
                        a.deviceId(),
                        a.device(),
                        a.person(),
                        a.version(),
                        a.language(),
                        a.acceptedAt()),
                a -> Page.cursor(String.valueOf(a.id()))));
  }

  /** All acceptances of a version as a sheet, newest first. */
  public String sheet(Caller caller, int version) {
    return useCases.read(
        tx ->
            Sheet.write(
                List.of("device", "person", "version", "language", "accepted"),
                Sheet.<TermsStore.Acceptance>rows(
                    (after, most) ->
                        new TermsStore(tx)
                            .acceptances(
                                version,
                                after.map(TermsStore.Acceptance::id).orElse(Long.MAX_VALUE),
                                most),
                    a ->
                        Sheet.cells(
                            a.device(), a.person(), a.version(), a.language(), a.acceptedAt()))));
  }

  /**
   * A version as a holder reads it.
   *
   * @param languages BCP 47 tags or ranges (RFC 4647), most wanted first; regions are left aside
   */
  public static Optional<JoinMessages.Terms> read(Tx tx, int version, List<String> languages) {
    Optional<TermsRow> row = tx.find(TermsRow.class, version);
    if (row.isEmpty()) {
      return Optional.empty();
    }
    Map<String, Text> by = new HashMap<>();
    new TermsStore(tx).translations(version).forEach((language, t) -> by.put(language, text(t)));
    Text own = new Text(row.get().language, row.get().title, row.get().text);
    by.put(own.language(), own);
    Text best =
        languages.stream()
            .map(l -> by.get(l.toLowerCase(Locale.ROOT).split("-")[0]))
            .filter(t -> t != null)
            .findFirst()
            .orElse(own);
    return Optional.of(new JoinMessages.Terms(version, best.title(), best.text(), best.language()));
  }

  /** A holder said yes to a command; it is an acceptance when the command asked for one. */
  public static void confirmed(
      Tx tx,
      String deviceId,
      @Nullable String personId,
      String command,
      String language,
      Instant now) {
    new CommandStore(tx)
        .fields(command, "accept-terms")
        .map(fields -> Json.tree(fields).path("version").asText(""))
        .filter(version -> version.matches("\\d{1,6}"))
        .flatMap(version -> read(tx, Integer.parseInt(version), List.of(language)))
        .ifPresent(
            t -> new TermsStore(tx).accept(deviceId, personId, t.version(), t.language(), now));
  }
}
