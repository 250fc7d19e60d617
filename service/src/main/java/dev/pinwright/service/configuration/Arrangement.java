package dev.pinwright.service.configuration;

import com.fasterxml.jackson.core.type.TypeReference;
import dev.pinwright.core.configuration.Loading;
import dev.pinwright.core.configuration.Part;
import dev.pinwright.service.work.Json;
import java.util.Collections;
import java.util.EnumMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * All that is arranged, by part and by what tells things apart.
 *
 * @param parts those that are there; a part that is absent is not spoken of
 */
record Arrangement(Map<Part, Map<String, Placed>> parts) {
  private static final TypeReference<Map<String, Object>> TREE = new TypeReference<>() {};

  /** A thing and the file it is in. */
  record Placed(Thing thing, String file) {}

  Arrangement {
    Map<Part, Map<String, Placed>> copy = new EnumMap<>(Part.class);
    copy.putAll(parts);
    parts = copy;
  }

  /** Things by part, in files of the usual names. */
  static Arrangement of(Map<Part, List<? extends Thing>> things) {
    Map<Part, Map<String, Placed>> parts = new EnumMap<>(Part.class);
    things.forEach(
        (part, list) -> {
          Map<String, Placed> placed = new LinkedHashMap<>();
          Set<String> taken = new HashSet<>();
          list.forEach(t -> placed.put(t.key(), new Placed(t, free(part, t.key(), taken))));
          parts.put(part, placed);
        });
    return new Arrangement(parts);
  }

  private static String free(Part part, String key, Set<String> taken) {
    String file = part.file(key);
    for (int nr = 2; part.inFolder() && !taken.add(file); nr++) {
      file = part.file(key + " " + nr);
    }
    return file;
  }

  /** The things of a part by key; none where it is not spoken of. */
  Map<String, Placed> of(Part part) {
    return parts.getOrDefault(part, Collections.emptyMap());
  }

  /** What each thing says, to be compared. */
  Map<Part, Map<String, Loading.Entry>> entries() {
    Map<Part, Map<String, Loading.Entry>> entries = new EnumMap<>(Part.class);
    parts.forEach(
        (part, things) -> {
          Map<String, Loading.Entry> all = new LinkedHashMap<>();
          things.forEach(
              (key, p) ->
                  all.put(
                      key, new Loading.Entry(Json.MAPPER.convertValue(p.thing(), TREE), p.file())));
          entries.put(part, all);
        });
    return entries;
  }

  /** One thing of a part. */
  Optional<Thing> one(Part part, String key) {
    return Optional.ofNullable(of(part).get(key)).map(Placed::thing);
  }
}
