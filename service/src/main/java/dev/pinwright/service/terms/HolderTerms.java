package dev.pinwright.service.terms;

import dev.pinwright.catalog.Catalogue;
import dev.pinwright.protocol.join.JoinMessages;
import dev.pinwright.service.journal.Journal;
import dev.pinwright.service.live.Events;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.ManyLines;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Role;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.TermsRow;
import java.time.Clock;
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
  private final Database database;
  private final Catalogue catalogue;
  private final Journal journal;
  private final Events events;
  private final Clock clock;

  public HolderTerms(
      Database database, Catalogue catalogue, Journal journal, Events events, Clock clock) {
    this.database = database;
    this.catalogue = catalogue;
    this.journal = journal;
    this.events = events;
    this.clock = clock;
  }

  /** The terms in one language. */
  public record Text(String language, String title, String text) {}

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
    caller.needs(Role.READER);
    return database.call(
        tx -> {
          Map<Integer, List<Text>> translations = new HashMap<>();
          tx.rows(
                  "select version, language, title, text from terms_translation"
                      + " order by version, language",
                  Map.of())
              .forEach(
                  r ->
                      translations
                          .computeIfAbsent((Integer) r[0], k -> new ArrayList<>())
                          .add(new Text((String) r[1], (String) r[2], (String) r[3])));
          Map<Integer, Long> accepted = new HashMap<>();
          tx.rows(
                  """
                  select version, count(*) from (
                    select distinct on (a.device_id) a.device_id, a.version
                      from terms_acceptance a join device d on d.id = a.device_id
                     where d.retired_at is null order by a.device_id, a.id desc) last
                   group by version
                  """,
                  Map.of())
              .forEach(r -> accepted.put((Integer) r[0], ((Number) r[1]).longValue()));
          return tx
              .list(TermsRow.class, "from TermsRow order by version desc", Map.of(), Page.MAX)
              .stream()
              .map(
                  t ->
                      new Shown(
                          t.version,
                          t.language,
                          t.title,
                          t.text,
                          translations.getOrDefault(t.version, List.of()),
                          accepted.getOrDefault(t.version, 0L),
                          t.createdAt))
              .toList();
        });
  }

  /** Writes a new version of the terms. Earlier versions stay as they were. */
  public Shown add(Caller caller, Draft draft) {
    caller.needs(Role.OPERATOR);
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
    Shown made =
        database.call(
            tx -> {
              tx.rows("select 1, cast(pg_advisory_xact_lock(7490) as text)", Map.of());
              TermsRow row = new TermsRow();
              row.version =
                  tx.value(
                      "select coalesce(max(version), 0) + 1 from terms", Integer.class, Map.of());
              row.language = main.language();
              row.title = main.title();
              row.text = main.text();
              row.createdAt = clock.instant();
              tx.insert(row);
              tx.flush();
              for (Text t : translations) {
                tx.execute(
                    "insert into terms_translation (version, language, title, text)"
                        + " values (:v, :l, :title, :text)",
                    Map.of(
                        "v", row.version, "l", t.language(), "title", t.title(), "text", t.text()));
              }
              journal.write(
                  tx, caller, "terms.written", "terms:" + row.version, "Terms: " + row.title);
              return new Shown(
                  row.version, row.language, row.title, row.text, translations, 0, row.createdAt);
            });
    events.touch("enrollment-profiles");
    return made;
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
    caller.needs(Role.READER);
    String[] c = page.parts(Page.Part.LONG);
    List<Object[]> rows =
        database.call(
            tx ->
                tx.rows(
                    """
                    select a.id, a.device_id, d.name, p.name, a.version, a.language, a.accepted_at
                      from terms_acceptance a join device d on d.id = a.device_id
                      left join person p on p.id = a.person_id
                     where a.version = :v and a.id < :b order by a.id desc limit :l
                    """,
                    Map.of(
                        "v",
                        version,
                        "b",
                        c.length == 0 ? Long.MAX_VALUE : Long.parseLong(c[0]),
                        "l",
                        page.limit() + 1)));
    return Page.of(
        rows,
        page.limit(),
        r ->
            new Acceptance(
                (String) r[1],
                (String) r[2],
                Optional.ofNullable((String) r[3]),
                (Integer) r[4],
                (String) r[5],
                (Instant) r[6]),
        r -> Page.cursor(r[0].toString()));
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
    tx.rows(
            "select language, title, text from terms_translation where version = :v",
            Map.of("v", version))
        .forEach(r -> by.put((String) r[0], new Text((String) r[0], (String) r[1], (String) r[2])));
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
    tx.rows(
            "select cast(d.fields as text), 1 from command c join dispatch d on d.id = c.dispatch_id"
                + " where c.id = :c and c.command = 'accept-terms'",
            Map.of("c", command))
        .forEach(
            r -> {
              String version = Json.tree((String) r[0]).path("version").asText("");
              if (version.matches("\\d{1,6}")) {
                HolderTerms.read(tx, Integer.parseInt(version), List.of(language))
                    .ifPresent(
                        t -> accepted(tx, deviceId, personId, t.version(), t.language(), now));
              }
            });
  }

  /** Puts on file that a device's holder has accepted a version. */
  public static void accepted(
      Tx tx,
      String deviceId,
      @Nullable String personId,
      int version,
      String language,
      Instant now) {
    Map<String, Object> p = new HashMap<>();
    p.put("d", deviceId);
    p.put("p", personId);
    p.put("v", version);
    p.put("l", language);
    p.put("now", now);
    tx.execute(
        "insert into terms_acceptance (version, device_id, person_id, language, accepted_at)"
            + " values (:v, :d, cast(:p as text), :l, :now)",
        p);
  }
}
