package dev.pinwright.core.naming;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.OptionalLong;
import java.util.Set;
import java.util.function.ToLongFunction;

/**
 * Many devices named anew by one pattern, in the order given. A device that has a number of the
 * sequence keeps it; others get the next ones. Two that would be called alike are told apart by a
 * number in brackets, and so is one that would be called like a device that is not renamed.
 */
public final class Renaming {
  private Renaming() {}

  /**
   * A device to be renamed.
   *
   * @param numbers the number it has, by sequence
   */
  public record Device(
      String id, String name, NamePattern.Facts facts, Map<String, Long> numbers) {}

  /**
   * What becomes of one.
   *
   * @param sequence the sequence its number is from; empty where the pattern does not count
   * @param given a number it has only now
   */
  public record Renamed(
      String id, String before, String after, String sequence, OptionalLong given) {}

  /**
   * Names them.
   *
   * @param next gives out the next number of a sequence
   * @param taken names, in small letters, of devices that are not renamed
   */
  public static List<Renamed> of(
      NamePattern pattern, List<Device> devices, ToLongFunction<String> next, Set<String> taken) {
    Set<String> used = new HashSet<>(taken);
    List<Renamed> out = new ArrayList<>();
    for (Device d : devices) {
      String sequence = pattern.counts() ? pattern.sequence(d.facts()) : "";
      OptionalLong given = OptionalLong.empty();
      OptionalLong number = OptionalLong.empty();
      if (!sequence.isEmpty()) {
        Long kept = d.numbers().get(sequence);
        given = kept == null ? OptionalLong.of(next.applyAsLong(sequence)) : OptionalLong.empty();
        number = kept == null ? given : OptionalLong.of(kept);
      }
      String name =
          NamePattern.free(
              pattern.name(d.facts(), number), n -> used.contains(n.toLowerCase(Locale.ROOT)));
      used.add(name.toLowerCase(Locale.ROOT));
      out.add(new Renamed(d.id(), d.name(), name, sequence, given));
    }
    return out;
  }
}
