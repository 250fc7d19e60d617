package dev.pinwright.core.organisation;

import java.util.Arrays;
import java.util.Collection;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;

/** Tags as people write them, wherever they do: on devices, in enrollment profiles, in sheets. */
public final class TagList {
  /** The most tags one thing can have. */
  public static final int MOST = 30;

  private static final String TAG = "[\\p{L}\\p{N} ._-]{1,40}";

  private TagList() {}

  /** Whether a text can be a tag: 1 to 40 letters, digits, spaces, dots or hyphens. */
  public static boolean isTag(String text) {
    return text.matches(TAG) && !text.isBlank();
  }

  /**
   * Tags in the form they are kept in: without blanks around them, each once, in the order given.
   *
   * @throws IllegalArgumentException when there are too many, or one cannot be a tag
   */
  public static List<String> sound(Collection<String> written) {
    Set<String> tags = new LinkedHashSet<>();
    written.stream().map(String::strip).forEach(tags::add);
    if (tags.size() > MOST || !tags.stream().allMatch(TagList::isTag)) {
      throw new IllegalArgumentException(
          "tags are at most "
              + MOST
              + ", each of 1 to 40 letters, digits, spaces, dots or hyphens");
    }
    return List.copyOf(tags);
  }

  /**
   * The tags of one cell of a sheet, separated by commas, semicolons, bars or lines.
   *
   * @throws IllegalArgumentException as {@link #sound} does
   */
  public static List<String> ofCell(String cell) {
    return sound(Arrays.stream(cell.split("[,;|\n]")).filter(tag -> !tag.isBlank()).toList());
  }
}
