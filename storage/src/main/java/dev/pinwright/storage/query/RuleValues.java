package dev.pinwright.storage.query;

import dev.pinwright.core.query.RuleLanguage.Value;
import dev.pinwright.storage.Tx;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/** What there is here that a rule could name. */
public final class RuleValues {
  private RuleValues() {}

  /**
   * Something a rule could name.
   *
   * @param value as it stands in the rule
   * @param note what else it is called; often nothing
   */
  public record Found(String value, String note) {}

  /** A list with two columns and what its rows are found by. */
  private static Optional<String> list(Value sort) {
    return Optional.ofNullable(
        switch (sort) {
          case UNIT -> "select code, name from unit";
          case SITE -> "select name, '' from site";
          case PERSON ->
              "select coalesce(login, name), case when login is null then '' else name end"
                  + " from person where removed_at is null";
          case GROUP -> "select name, '' from device_group";
          case PROFILE -> "select name, '' from enrollment_profile where removed_at is null";
          case TAG -> "select distinct tag, '' from device_tag";
          case ATTRIBUTE -> "select name, type from attribute where kind = 'device'";
          case APP ->
              "select package_id, name from app union select distinct x.app, x.name from device_app x"
                  + " where not exists (select 1 from app a where a.package_id = x.app)";
          case MAKER -> "select distinct maker, '' from device";
          case MODEL -> "select distinct model, maker from device";
          default -> null;
        });
  }

  /**
   * Things of a sort with these letters in them, those that begin with them first.
   *
   * @param limit how many at most
   */
  public static List<Found> of(Tx tx, Value sort, String typed, int limit) {
    String letters = typed.strip().toLowerCase(Locale.ROOT).replaceAll("([%_\\\\])", "\\\\$1");
    return list(sort)
        .map(
            rows ->
                tx.select(
                    Found.class,
                    "select value, note from ("
                        + rows
                        + ") x(value, note) where lower(value) like :in or lower(note) like :in"
                        + " order by lower(value) not like :begin, lower(value) limit :n",
                    Map.of("in", "%" + letters + "%", "begin", letters + "%", "n", limit)))
        .orElse(List.of());
  }
}
