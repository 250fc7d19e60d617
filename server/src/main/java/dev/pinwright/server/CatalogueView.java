package dev.pinwright.server;

import dev.pinwright.catalog.Catalogue;
import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.CommandSpec;
import dev.pinwright.core.catalog.FactField;
import dev.pinwright.core.catalog.Platform;
import dev.pinwright.core.catalog.Section;
import dev.pinwright.core.catalog.Setting;
import dev.pinwright.core.catalog.SettingValue;
import dev.pinwright.core.catalog.SystemApp;
import dev.pinwright.core.catalog.ValueType;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** The catalogue as the API shows it. */
record CatalogueView(
    List<PlatformView> platforms,
    Collection<Section> sections,
    List<SettingView> settings,
    List<FactView> facts,
    List<CommandView> commands,
    List<FirstRunView> firstRun,
    List<LanguageView> languages,
    List<Catalogue.Word> modes,
    List<Catalogue.Word> ownerships,
    List<Catalogue.Word> kinds) {

  record FirstRunView(
      String key, String title, String text, List<String> platforms, boolean always) {}

  record LanguageView(String key, String title) {}

  record PlatformView(
      String key,
      String name,
      List<String> kinds,
      List<String> modes,
      List<String> versions,
      List<String> commands,
      List<SystemApp> apps) {}

  record SupportView(String platform, List<String> modes, String since) {}

  record SettingView(
      String key,
      String section,
      String title,
      String help,
      List<String> words,
      Map<String, Object> type,
      Object fallback,
      List<SupportView> support,
      String merge,
      String path,
      boolean sensitive,
      boolean required) {}

  record FactView(String key, String title, String unit, List<String> collectedOn) {}

  record FieldView(
      String key,
      String title,
      Map<String, Object> type,
      boolean required,
      boolean secret,
      List<String> corporateOnly,
      boolean spoken) {}

  record CommandView(
      String key,
      String title,
      String help,
      List<FieldView> fields,
      boolean reasonRequired,
      String danger,
      String cost,
      String holder,
      long expiresInMinutes,
      String role,
      List<String> modes,
      List<String> ownerships,
      Optional<Integer> most) {}

  static CatalogueView of(Catalogue catalogue) {
    Catalog c = catalogue.catalog();
    return new CatalogueView(
        c.platforms().stream().map(CatalogueView::platform).toList(),
        c.sections(),
        c.settings().stream().map(CatalogueView::setting).toList(),
        c.facts().stream().map(CatalogueView::fact).toList(),
        c.commands().stream().map(CatalogueView::command).toList(),
        catalogue.firstRun().stream()
            .map(
                s ->
                    new FirstRunView(
                        s.key(),
                        s.title(),
                        s.text(),
                        s.platforms().stream().sorted().toList(),
                        s.always()))
            .toList(),
        catalogue.languages().entrySet().stream()
            .map(e -> new LanguageView(e.getKey(), e.getValue()))
            .toList(),
        catalogue.modes(),
        catalogue.ownerships(),
        catalogue.kinds());
  }

  private static List<String> words(Collection<? extends Enum<?>> constants) {
    return constants.stream().sorted().map(Words::of).toList();
  }

  private static PlatformView platform(Platform p) {
    return new PlatformView(
        p.key(),
        p.name(),
        words(p.kinds()),
        words(p.modes()),
        p.versions().stream().map(Object::toString).toList(),
        p.commands().stream().sorted().toList(),
        p.apps());
  }

  static SettingView setting(Setting s) {
    return new SettingView(
        s.key(),
        s.section(),
        s.title(),
        s.help(),
        s.searchWords(),
        type(s.type()),
        plain(s.fallback()),
        s.support().stream()
            .map(x -> new SupportView(x.platform(), words(x.modes()), x.since().toString()))
            .toList(),
        Words.of(s.merge()),
        s.path(),
        s.sensitive(),
        s.required());
  }

  private static Map<String, Object> type(ValueType type) {
    Map<String, Object> out = new LinkedHashMap<>();
    if (type instanceof ValueType.WholeType w) {
      out.put("kind", "whole");
      out.put("min", w.min());
      out.put("max", w.max());
      out.put("unit", w.unit());
    } else if (type instanceof ValueType.TextType t) {
      out.put("kind", "text");
      out.put("min", t.minLength());
      out.put("max", t.maxLength());
      out.put("multiline", t.multiline());
    } else if (type instanceof ValueType.ChoiceType c) {
      out.put("kind", "choice");
      out.put("choices", c.choices());
    } else if (type instanceof ValueType.ItemsType i) {
      out.put("kind", "items");
      out.put("maxItems", i.maxItems());
      out.put("of", type(i.of()));
    } else if (type instanceof ValueType.SecretType s) {
      out.put("kind", "secret");
      out.put("min", s.minLength());
      out.put("max", s.maxLength());
    } else if (type instanceof ValueType.Formed formed) {
      out.put("kind", kind(formed));
      out.put("wanted", formed.wanted());
      if (formed instanceof ValueType.FileType file) {
        out.put("file", file.of());
      }
    } else {
      out.put("kind", "flag");
    }
    return out;
  }

  private static String kind(ValueType.Formed type) {
    if (type instanceof ValueType.FileType) {
      return "file";
    } else if (type instanceof ValueType.AddressType) {
      return "address";
    } else if (type instanceof ValueType.HoursType) {
      return "hours";
    }
    if (type instanceof ValueType.CellType) {
      return "cell";
    }
    return type instanceof ValueType.AppType ? "app" : "place";
  }

  private static Object plain(SettingValue v) {
    if (v instanceof SettingValue.Flag f) {
      return f.on();
    }
    if (v instanceof SettingValue.Whole w) {
      return w.number();
    }
    return v instanceof SettingValue.Items i ? i.items() : v.text();
  }

  private static FactView fact(FactField f) {
    return new FactView(f.key(), f.title(), f.unit(), words(f.collectedOn()));
  }

  private static CommandView command(CommandSpec c) {
    return new CommandView(
        c.key(),
        c.title(),
        c.help(),
        c.fields().stream()
            .map(
                f ->
                    new FieldView(
                        f.key(),
                        f.title(),
                        type(f.type()),
                        f.required(),
                        f.secret(),
                        f.corporateOnly().stream().sorted().toList(),
                        f.spoken()))
            .toList(),
        c.reasonRequired(),
        Words.of(c.danger()),
        c.cost(),
        c.holder(),
        c.waits().toMinutes(),
        Words.of(c.role()),
        words(c.modes()),
        words(c.ownerships()),
        c.most());
  }
}
