package dev.pinwright.cli;

import dev.pinwright.client.model.DeviceFilter;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Option;

/** Every device of a list, as options. */
final class WhereOptions {
  @Option(
      names = "--where",
      paramLabel = "FIELD=VALUE",
      description = {
        "Every device of a list: q, platform, standing, mode, ownership, tag, group, unit,",
        "site, person or attribute; can be repeated."
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
            case "platform" -> filter.setPlatform(value);
            case "standing" -> filter.setStanding(value);
            case "mode" -> filter.setMode(value);
            case "ownership" -> filter.setOwnership(value);
            case "tag" -> filter.setTag(value);
            case "group" -> filter.setGroup(context.group(value).getId());
            case "unit" -> filter.setUnit(context.unit(value).getId());
            case "site" -> filter.setSite(context.site(value).getId());
            case "person" -> filter.setPerson(context.person(value).getId());
            case "attribute" -> filter.addAttributesItem(value);
            default ->
                throw new Failure(
                    Failure.REFUSED,
                    "There is no field '"
                        + field
                        + "'; there are q, platform, standing, mode, ownership, tag, group,"
                        + " unit, site, person and attribute.");
          }
        });
    return filter;
  }
}
