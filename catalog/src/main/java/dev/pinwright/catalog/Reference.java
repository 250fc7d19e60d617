package dev.pinwright.catalog;

import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.MergeRule;
import dev.pinwright.core.catalog.Section;
import dev.pinwright.core.catalog.Setting;
import dev.pinwright.core.catalog.ValueType;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;

/** Writes the page that lists every setting of the catalogue. */
public final class Reference {
  private static final Map<MergeRule, String> MERGED =
      Map.of(
          MergeRule.LEAST, "the smaller, or the first of the choices",
          MergeRule.GREATEST, "the larger, or the last of the choices",
          MergeRule.ANY, "on if any says on",
          MergeRule.ALL, "on only if all say on",
          MergeRule.UNION, "everything any lists",
          MergeRule.INTERSECTION, "only what all list",
          MergeRule.NEAREST, "the nearest");

  private Reference() {}

  /** The page, in Markdown. */
  public static String page(Catalogue catalogue) {
    var catalog = catalogue.catalog();
    StringBuilder out = new StringBuilder();
    out.append("# Every setting\n\n");
    out.append(
        "%d settings in %d sections. This page is made from the catalogue; a test holds it to that.\n"
            .formatted(catalog.settings().size(), catalog.sections().size()));
    out.append(
        "The leaf of a setting is `./Vendor/Pinwright/Policy/<section>/<name>`, in a collection"
            + " `…/<section>/<entry>/<name>`.\nWhere several profiles set the same, the last column"
            + " says which value counts.\n");
    for (Section s : catalog.sections()) {
      out.append("\n## ").append(s.title()).append("\n\n").append(s.help());
      s.entries()
          .ifPresent(
              e ->
                  out.append(" A collection: up to ")
                      .append(e.most())
                      .append(", each ")
                      .append("aeiou".indexOf(e.noun().charAt(0)) < 0 ? "a " : "an ")
                      .append(e.noun())
                      .append(" with a key.")
                      .append(
                          e.decides()
                              .map(
                                  d ->
                                      " Of several of one key, that counts whose `%s` comes first in its list, then the nearest."
                                          .formatted(d))
                              .orElse("")));
      out.append(s.apart() ? " These are no leaves of a device's policy." : "");
      out.append("\n\n| Setting | Value | Works on | Of several |\n|---|---|---|---|\n");
      catalog.settings().stream()
          .filter(x -> x.section().equals(s.key()))
          .forEach(x -> out.append(row(x)));
    }
    return out.toString();
  }

  private static String row(Setting s) {
    return "| **%s** `%s`<br>%s%s | %s | %s | %s |\n"
        .formatted(
            s.title(),
            s.key(),
            s.help(),
            s.required() ? " Every entry needs it." : "",
            values(s.type()),
            works(s.support()),
            MERGED.get(s.merge()));
  }

  private static String values(ValueType type) {
    if (type instanceof ValueType.FlagType) {
      return "on or off";
    } else if (type instanceof ValueType.WholeType w) {
      return w.min() + " to " + w.max() + (w.unit().isEmpty() ? "" : " " + w.unit());
    } else if (type instanceof ValueType.TextType t) {
      return "text of " + t.minLength() + " to " + t.maxLength() + " characters";
    } else if (type instanceof ValueType.SecretType t) {
      return "a secret of " + t.minLength() + " to " + t.maxLength() + " characters";
    } else if (type instanceof ValueType.ChoiceType c) {
      return c.choices().stream()
          .map(x -> "`" + x.key() + "` " + x.title())
          .collect(Collectors.joining("<br>"));
    } else if (type instanceof ValueType.ItemsType i) {
      return "up to " + i.maxItems() + ", each: " + values(i.of());
    } else if (type instanceof ValueType.Formed f) {
      return f.wanted();
    }
    throw new IllegalArgumentException("no words for " + type);
  }

  private static String works(List<Setting.Support> support) {
    return support.stream()
        .map(
            s ->
                "%s %s: %s"
                    .formatted(
                        s.platform(),
                        s.since(),
                        s.modes().stream()
                            .sorted()
                            .map(Words::of)
                            .collect(Collectors.joining(", "))))
        .collect(Collectors.joining("<br>"));
  }

  /** Writes the page, and the schema of profile files, into a folder. */
  public static void main(String[] args) throws IOException {
    Catalogue catalogue = Catalogue.load();
    Path folder = Path.of(args[0]);
    Files.writeString(folder.resolve("settings.md"), page(catalogue));
    Files.writeString(folder.resolve("profile.schema.json"), ProfileSchema.published(catalogue));
    Files.writeString(
        folder.resolve("configuration.schema.json"), ConfigurationSchema.published(catalogue));
  }
}
