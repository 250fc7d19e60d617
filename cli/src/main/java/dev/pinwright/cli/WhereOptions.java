package dev.pinwright.cli;

import dev.pinwright.client.model.DeviceFilter;
import dev.pinwright.client.model.Mode;
import dev.pinwright.client.model.Ownership;
import dev.pinwright.client.model.PlatformKey;
import dev.pinwright.client.model.Standing;
import java.util.Map;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Option;
import picocli.CommandLine.TypeConversionException;

/** Every device of a list, as options. */
final class WhereOptions {
  @Option(
      names = "--where",
      paramLabel = "FIELD=VALUE",
      description = {
        "Every device of a list: q, platform, standing, mode, ownership, tag, group, unit,",
        "site, person, attribute, rule or terms-below; can be repeated."
      })
  @Nullable Map<String, String> where;

  /** The filter; null when none is given. */
  @Nullable DeviceFilter filter(Context context) {
    if (where == null) {
      return null;
    }
    DeviceFilter filter = new DeviceFilter();
    where.forEach(
        (field, value) -> {
          switch (field) {
            case "q" -> filter.setQ(value);
            case "platform" ->
                filter.setPlatform(
                    word(field, PlatformKey.values(), PlatformKey::fromValue, value));
            case "standing" ->
                filter.setStanding(word(field, Standing.values(), Standing::fromValue, value));
            case "mode" -> filter.setMode(word(field, Mode.values(), Mode::fromValue, value));
            case "ownership" ->
                filter.setOwnership(word(field, Ownership.values(), Ownership::fromValue, value));
            case "tag" -> filter.setTag(value);
            case "group" -> filter.setGroup(context.group(value).getId());
            case "unit" -> filter.setUnit(context.unit(value).getId());
            case "site" -> filter.setSite(context.site(value).getId());
            case "person" -> filter.setPerson(context.person(value).getId());
            case "attribute" -> filter.addAttributesItem(value);
            case "rule" -> filter.setRule(value);
            case "terms-below" -> filter.setTermsBelow(version(value));
            default ->
                throw new Failure(
                    Failure.REFUSED,
                    "There is no field '"
                        + field
                        + "'; there are q, platform, standing, mode, ownership, tag, group,"
                        + " unit, site, person, attribute, rule and terms-below.");
          }
        });
    return filter;
  }

  private static int version(String value) {
    if (!value.matches("\\d{1,6}")) {
      throw new Failure(
          Failure.REFUSED, "--where terms-below: it has to be a version of the terms, such as 2.");
    }
    return Integer.parseInt(value);
  }

  private static <E> E word(String field, E[] words, Function<String, E> of, String value) {
    try {
      return Context.word(words, of, value);
    } catch (TypeConversionException e) {
      throw new Failure(Failure.REFUSED, "--where " + field + ": " + e.getMessage() + ".");
    }
  }
}
