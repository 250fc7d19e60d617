package dev.pinwright.service.rules;

import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.Setting;
import dev.pinwright.core.catalog.SettingValue;
import dev.pinwright.core.catalog.ValueType;
import dev.pinwright.core.file.StoredFile;
import dev.pinwright.service.shape.ProfileContent;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.file.FileStore;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;

/** The files that settings name. */
final class NamedFiles {
  private final Catalog catalog;

  NamedFiles(Catalog catalog) {
    this.catalog = catalog;
  }

  private Optional<ValueType.FileType> type(String key) {
    return catalog
        .setting(key)
        .map(Setting::type)
        .filter(ValueType.FileType.class::isInstance)
        .map(ValueType.FileType.class::cast);
  }

  private Map<String, String> ids(Map<String, SettingValue> settings) {
    Map<String, String> ids = new HashMap<>();
    settings.forEach(
        (key, value) ->
            type(key)
                .flatMap(t -> StoredFile.referred(value.text()))
                .ifPresent(id -> ids.put(key, id)));
    return ids;
  }

  /**
   * Goes on when every file that is named is there and of the right kind; it stays until the
   * transaction ends.
   *
   * @throws Problem 400 naming every one that is not
   */
  void require(Tx tx, Map<String, SettingValue> settings) {
    Map<String, String> ids = ids(settings);
    if (ids.isEmpty()) {
      return;
    }
    Map<String, StoredFile> there =
        new FileStore(tx)
            .held(ids.values()).stream()
                .collect(Collectors.toMap(StoredFile::id, Function.identity()));
    List<Map<String, String>> faults = new ArrayList<>();
    ids.forEach(
        (key, id) ->
            StoredFile.objection(
                    type(key).orElseThrow().of(), Optional.ofNullable(there.get(id)), id)
                .ifPresent(o -> faults.add(Map.of("pointer", "/settings/" + key, "detail", o))));
    if (!faults.isEmpty()) {
      String detail = String.join(" ", faults.stream().map(f -> f.get("detail")).toList());
      throw Problem.malformed("", detail).with("errors", faults);
    }
  }

  /** Settings in words for people, files by their names. */
  Map<String, String> words(Tx tx, ProfileContent content) {
    Map<String, String> words = content.words(catalog);
    Map<String, String> ids = ids(content.settings());
    if (!ids.isEmpty()) {
      Map<String, String> names = new FileStore(tx).names(ids.values());
      ids.forEach(
          (key, id) -> Optional.ofNullable(names.get(id)).ifPresent(n -> words.put(key, n)));
    }
    return words;
  }
}
