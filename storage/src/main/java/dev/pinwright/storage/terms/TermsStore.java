package dev.pinwright.storage.terms;

import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.TermsRow;
import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** Versions of the terms, their translations, and who accepted which. */
public final class TermsStore {
  private static final long WRITING = 7490;
  private static final int MOST = 200;

  private final Tx tx;

  public TermsStore(Tx tx) {
    this.tx = tx;
  }

  /** Versions, newest first. */
  public List<TermsRow> all() {
    return tx.list(TermsRow.class, "from TermsRow order by version desc", Map.of(), MOST);
  }

  /** The number of the version written next; nobody else writes one until the transaction ends. */
  public int next() {
    tx.advisoryLock(WRITING);
    return tx.value("select coalesce(max(version), 0) + 1 from terms", Integer.class, Map.of());
  }

  /** A version in another language. */
  public record Translation(int version, String language, String title, String text) {}

  /** All translations by version, each version's by language. */
  public Map<Integer, List<Translation>> translations() {
    return tx
        .select(
            Translation.class,
            "select version, language, title, text from terms_translation"
                + " order by version, language",
            Map.of())
        .stream()
        .collect(Collectors.groupingBy(Translation::version));
  }

  /** The translations of a version by language. */
  public Map<String, Translation> translations(int version) {
    return tx
        .select(
            Translation.class,
            "select version, language, title, text from terms_translation where version = :v",
            Map.of("v", version))
        .stream()
        .collect(Collectors.toMap(Translation::language, Function.identity()));
  }

  /** Keeps a translation. */
  public void insert(Translation t) {
    tx.execute(
        "insert into terms_translation (version, language, title, text)"
            + " values (:v, :l, :title, :text)",
        Map.of("v", t.version(), "l", t.language(), "title", t.title(), "text", t.text()));
  }

  private record Counted(int version, long n) {}

  /** On how many managed devices each version is the one accepted last. */
  public Map<Integer, Long> accepted() {
    return tx
        .select(
            Counted.class,
            """
            select version, count(*) as n from (
              select distinct on (a.device_id) a.device_id, a.version
                from terms_acceptance a join device d on d.id = a.device_id
               where d.retired_at is null order by a.device_id, a.id desc) last
             group by version
            """,
            Map.of())
        .stream()
        .collect(Collectors.toMap(Counted::version, Counted::n));
  }

  /** That somebody accepted a version on a device. */
  public record Acceptance(
      long id,
      String deviceId,
      String device,
      Optional<String> person,
      int version,
      String language,
      Instant acceptedAt) {}

  /** Acceptances of a version before a number, newest first. */
  public List<Acceptance> acceptances(int version, long before, int limit) {
    return tx.select(
        Acceptance.class,
        """
        select a.id, a.device_id, d.name as device, p.name as person, a.version, a.language,
               a.accepted_at
          from terms_acceptance a join device d on d.id = a.device_id
          left join person p on p.id = a.person_id
         where a.version = :v and a.id < :b order by a.id desc limit :l
        """,
        Map.of("v", version, "b", before, "l", limit));
  }

  /** Puts an acceptance on file. */
  public void accept(
      String deviceId, @Nullable String personId, int version, String language, Instant now) {
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
