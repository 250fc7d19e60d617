package dev.pinwright.core.catalog;

import dev.pinwright.core.Words;
import dev.pinwright.core.access.Role;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.Ownership;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.UnaryOperator;

/**
 * A kind of command, as the catalogue defines it.
 *
 * @param key such as {@code lock}
 * @param title the verb on the button
 * @param help what it does and what it costs
 * @param delivery how it travels
 * @param path LocURI executed, for {@link Delivery#EXEC}; otherwise empty
 * @param fields what the administrator fills in
 * @param reasonRequired whether a reason has to be given
 * @param danger what a slip would cost
 * @param cost what it costs or loses, as a sentence; empty where it is not dangerous
 * @param holder what the holder notices, as a sentence; empty where nothing is to be seen
 * @param waits how long it waits for a device unless said otherwise
 * @param role the least role that may order it
 * @param modes modes in which it works
 * @param ownerships ownerships on which it is allowed
 * @param most for how many devices it is ordered at a time; empty for any number
 */
public record CommandSpec(
    String key,
    String title,
    String help,
    Delivery delivery,
    String path,
    List<Field> fields,
    boolean reasonRequired,
    Danger danger,
    String cost,
    String holder,
    Duration waits,
    Role role,
    Set<Mode> modes,
    Set<Ownership> ownerships,
    Optional<Integer> most) {
  public CommandSpec {
    fields = List.copyOf(fields);
    modes = Set.copyOf(modes);
    ownerships = Set.copyOf(ownerships);
  }

  /** What ordering it by mistake would cost. */
  public enum Danger {
    /** Nothing: it can be ordered again or taken back. */
    NONE,
    /** The holder is interrupted, and what was not saved may be gone. */
    DISTURBS,
    /** Something is gone that does not come back by itself. */
    LOSES,
    /** What the organisation has on the device is gone, or all of it, or its management. */
    WIPES
  }

  /** How a command travels in a management session. */
  public enum Delivery {
    /** An {@code Exec} on {@link #path}, its fields as the item's data. */
    EXEC,
    /** A user-interaction {@code Alert 1100} showing the field {@code text}. */
    SHOW,
    /** A user-interaction {@code Alert 1101} that the holder answers yes or no. */
    CONFIRM,
    /**
     * A user-interaction {@code Alert 1103} whose choices are the lines of the field {@code
     * choices}, or 1101 where there are none.
     */
    ASK,
    /** No node of its own: the server reads everything again. */
    READ
  }

  /**
   * One field of a command's form.
   *
   * @param type what it takes
   * @param required whether it has to be given
   * @param told whether the device is told it; what is not is for the service itself
   * @param secret whether it is kept sealed and never shown again
   * @param corporateOnly texts of it that are allowed on corporate devices alone
   * @param spoken whether it is said to the holder: in several languages, with what is each
   *     device's own in it
   */
  public record Field(
      String key,
      String title,
      ValueType type,
      boolean required,
      boolean told,
      boolean secret,
      Set<String> corporateOnly,
      boolean spoken) {
    public Field {
      corporateOnly = Set.copyOf(corporateOnly);
    }

    /** One the device is told and everybody may see. */
    public Field(String key, String title, ValueType type, boolean required) {
      this(key, title, type, required, true, false, Set.of(), false);
    }
  }

  /** The word of the least role that may order it. */
  public String roleWord() {
    return Words.of(role);
  }

  /** Whether something that was filled in is allowed on corporate devices alone. */
  public boolean corporateOnly(Map<String, String> filled) {
    return fields.stream()
        .anyMatch(f -> f.corporateOnly().contains(filled.getOrDefault(f.key(), "")));
  }

  /** Whether something of it is said to the holder. */
  public boolean speaks() {
    return fields.stream().anyMatch(Field::spoken);
  }

  /** Whether what is filled in under a key, perhaps in some language, is said to the holder. */
  public boolean speaks(String written) {
    return field(Wordings.key(written).field()).filter(Field::spoken).isPresent();
  }

  /** The field of this key. */
  public Optional<Field> field(String fieldKey) {
    return fields.stream().filter(f -> f.key().equals(fieldKey)).findFirst();
  }

  /** Whether something that is filled in is secret. */
  public boolean secrets() {
    return fields.stream().anyMatch(Field::secret);
  }

  /** What was filled in, each secret as something else. */
  public Map<String, String> secretsAs(Map<String, String> filled, UnaryOperator<String> other) {
    Map<String, String> out = new TreeMap<>(filled);
    out.replaceAll(
        (key, text) -> field(key).filter(Field::secret).isPresent() ? other.apply(text) : text);
    return out;
  }

  /** Of what was filled in, what the device is told. */
  public Map<String, String> told(Map<String, String> filled) {
    Map<String, String> out = new TreeMap<>(filled);
    out.keySet().removeIf(key -> field(key).filter(f -> !f.told()).isPresent());
    return out;
  }
}
