package dev.pinwright.core.catalog;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/**
 * Finds settings by words people use: those of key, title, help, section and search words. A word
 * that is nowhere is taken for a slip of the keyboard where another is close to it.
 */
final class SettingSearch {
  private static final int SHORTEST_SLIP = 4;
  private static final int LONG = 7;

  private final List<Sought> all = new ArrayList<>();

  /** A setting with all its words in small letters. */
  private record Sought(Setting setting, String title, String text, List<String> words) {}

  SettingSearch(Collection<Setting> settings, Map<String, Section> sections) {
    for (Setting s : settings) {
      Section section = sections.get(s.section());
      String text =
          String.join(
                  " ",
                  s.key(),
                  s.title(),
                  s.help(),
                  section == null ? "" : section.title(),
                  String.join(" ", s.searchWords()))
              .toLowerCase(Locale.ROOT);
      all.add(
          new Sought(
              s,
              s.title().toLowerCase(Locale.ROOT),
              text,
              Arrays.stream(text.split("[^\\p{L}\\p{N}]+")).distinct().toList()));
    }
  }

  /** Settings with every word, best first; all for no word. */
  List<Setting> find(String typed) {
    List<String> words =
        Arrays.stream(typed.toLowerCase(Locale.ROOT).split("\\s+"))
            .filter(w -> !w.isBlank())
            .toList();
    List<String> slips =
        words.stream().filter(w -> all.stream().noneMatch(s -> s.text.contains(w))).toList();
    return all.stream()
        .filter(
            s ->
                words.stream().allMatch(w -> s.text.contains(w) || slips.contains(w) && near(s, w)))
        .sorted(Comparator.comparingInt(s -> -score(s, words)))
        .map(Sought::setting)
        .toList();
  }

  private static int score(Sought s, List<String> words) {
    int score = 0;
    for (String w : words) {
      score += s.title.contains(w) ? 4 : 0;
      score += s.setting.searchWords().stream().anyMatch(x -> x.startsWith(w)) ? 2 : 0;
      score += s.setting.key().contains(w) ? 1 : 0;
    }
    return score;
  }

  private static boolean near(Sought s, String word) {
    int most = word.length() < SHORTEST_SLIP ? 0 : word.length() < LONG ? 1 : 2;
    return most > 0 && s.words.stream().anyMatch(w -> apart(w, word, most) <= most);
  }

  /**
   * How many letters have to be put in, taken out, changed or swapped with the next one to make one
   * word of the other; more than {@code most} for any that are further apart.
   */
  static int apart(String a, String b, int most) {
    if (Math.abs(a.length() - b.length()) > most) {
      return most + 1;
    }
    int[][] d = new int[a.length() + 1][b.length() + 1];
    for (int i = 0; i <= a.length(); i++) {
      for (int j = 0; j <= b.length(); j++) {
        if (i == 0 || j == 0) {
          d[i][j] = i + j;
          continue;
        }
        int change = a.charAt(i - 1) == b.charAt(j - 1) ? 0 : 1;
        d[i][j] = Math.min(Math.min(d[i - 1][j] + 1, d[i][j - 1] + 1), d[i - 1][j - 1] + change);
        if (i > 1
            && j > 1
            && a.charAt(i - 1) == b.charAt(j - 2)
            && a.charAt(i - 2) == b.charAt(j - 1)) {
          d[i][j] = Math.min(d[i][j], d[i - 2][j - 2] + 1);
        }
      }
    }
    return d[a.length()][b.length()];
  }
}
